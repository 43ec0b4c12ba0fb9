#include "core/judging/judgement.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, 5> kVerdictWords{"inside", "borderline", "outside", "no_band",
                                                        "not_judged"};

/// A doubtful value tends to a side only when it lies past that limit itself; one inside whose interval is
/// wide cannot be told.
Beyond tends(double value, const Band& band) {
    if (band.lo && value < *band.lo) return Beyond::below;
    return band.hi && value > *band.hi ? Beyond::above : Beyond::neither;
}

/// What of the situation changes how the figure is measured.
MeasuredIn measured_in(const Setting& setting, const Schools& schools) {
    MeasuredIn out;
    out.turned = setting.movement == "circle" || setting.movement == "turn";
    const BandOrReason lean = schools.band("trunk_lean", setting);
    if (const Band* b = std::get_if<Band>(&lean); b && b->lo && b->hi)
        out.trunk_lean_deg = (*b->lo + *b->hi) / 2;
    return out;
}

}  // namespace

Judged judge_value(Measured measured, const Setting& setting, const Schools& schools) {
    Judged out;
    out.measured = std::move(measured);
    const BandHere here = schools.here(out.measured.info->id, setting);
    if (!here.suspended.empty()) {
        if (out.measured.value) out.measured.reason = here.suspended;
        out.measured.value.reset();
    } else if (const Band* b = std::get_if<Band>(&here.band)) {
        out.band = *b;
    }
    if (!out.measured.value) {
        out.reason = out.measured.reason;
        return out;
    }
    if (!out.band) {
        out.verdict = Verdict::no_band;
        out.reason = std::get<std::string>(here.band);
        return out;
    }
    out.reason = out.band->note;
    const double value = out.info().full_turn ? beside(*out.measured.value, *out.band) : *out.measured.value;
    out.verdict = verdict_of(value, out.measured.sd, *out.band);
    if (out.measured.axis_unknown && out.verdict == Verdict::outside) out.verdict = Verdict::borderline;
    if (out.verdict == Verdict::inside) return out;
    out.beyond = tends(value, *out.band);
    if (out.verdict == Verdict::outside) {
        const double past = out.beyond == Beyond::below ? *out.band->lo - value : value - *out.band->hi;
        out.severity = std::max(0.0, past - kNinetyPercent * out.measured.sd) / out.band->half_width;
    }
    return out;
}

std::string_view word(Verdict v) { return kVerdictWords[static_cast<std::size_t>(v)]; }

Verdict verdict_of(double value, double sd, const Band& band) {
    const double low = value - kNinetyPercent * sd;
    const double high = value + kNinetyPercent * sd;
    if ((band.lo && high < *band.lo) || (band.hi && low > *band.hi)) return Verdict::outside;
    if ((band.lo && low < *band.lo) || (band.hi && high > *band.hi)) return Verdict::borderline;
    return Verdict::inside;
}

double beside(double angle_deg, const Band& band) {
    const double near = band.lo && band.hi ? (*band.lo + *band.hi) / 2
                        : band.lo          ? *band.lo
                                           : band.hi.value_or(0);
    return near + std::remainder(angle_deg - near, 360.0);
}

std::vector<Judged> judge(const Figure& figure, const Setting& setting, const Body& body,
                          const Schools& schools) {
    std::vector<Judged> out;
    for (Measured& m : measure(figure, body, measured_in(setting, schools)))
        out.push_back(judge_value(std::move(m), setting, schools));
    return out;
}

const Judged* find(const std::vector<Judged>& judged, std::string_view measure) {
    const auto it = std::ranges::find_if(judged, [&](const Judged& j) { return j.info().id == measure; });
    return it == judged.end() ? nullptr : &*it;
}

}  // namespace aspen::core
