#include "core/judging/judgement.hpp"

#include <algorithm>
#include <array>

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, 5> kVerdictWords{"inside", "borderline", "outside", "no_band",
                                                        "not_judged"};

Beyond tends(double value, double sd, const Band& band) {
    const double reach = kNinetyPercent * sd;
    const double under = band.lo ? *band.lo - (value - reach) : -1e300;
    const double over = band.hi ? (value + reach) - *band.hi : -1e300;
    if (under <= 0 && over <= 0) return Beyond::neither;
    return under > over ? Beyond::below : Beyond::above;
}

Judged judge_one(Measured measured, const Setting& setting, const Schools& schools) {
    Judged out;
    out.measured = std::move(measured);
    const BandOrReason band = schools.band(out.measured.info->id, setting);
    if (const Band* b = std::get_if<Band>(&band)) out.band = *b;
    if (!out.measured.value) {
        out.reason = out.measured.reason;
        return out;
    }
    if (!out.band) {
        out.verdict = Verdict::no_band;
        out.reason = std::get<std::string>(band);
        return out;
    }
    const double value = *out.measured.value;
    out.verdict = verdict_of(value, out.measured.sd, *out.band);
    if (out.verdict == Verdict::inside) return out;
    out.beyond = tends(value, out.measured.sd, *out.band);
    if (out.verdict == Verdict::outside) {
        const double past = out.beyond == Beyond::below ? *out.band->lo - value : value - *out.band->hi;
        out.severity = std::max(0.0, past - kNinetyPercent * out.measured.sd) / out.band->half_width;
    }
    return out;
}

}  // namespace

std::string_view word(Verdict v) { return kVerdictWords[static_cast<std::size_t>(v)]; }

Verdict verdict_of(double value, double sd, const Band& band) {
    const double low = value - kNinetyPercent * sd;
    const double high = value + kNinetyPercent * sd;
    if ((band.lo && high < *band.lo) || (band.hi && low > *band.hi)) return Verdict::outside;
    if ((band.lo && low < *band.lo) || (band.hi && high > *band.hi)) return Verdict::borderline;
    return Verdict::inside;
}

std::vector<Judged> judge(const Figure& figure, const Setting& setting, const Body& body,
                          const Schools& schools) {
    std::vector<Judged> out;
    for (Measured& m : measure(figure, body)) out.push_back(judge_one(std::move(m), setting, schools));
    return out;
}

const Judged* find(const std::vector<Judged>& judged, std::string_view measure) {
    const auto it = std::ranges::find_if(judged, [&](const Judged& j) { return j.info().id == measure; });
    return it == judged.end() ? nullptr : &*it;
}

}  // namespace aspen::core
