#include "core/following/following.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "core/following/repeatability.hpp"
#include "core/judging/ride.hpp"
#include "core/judging/sides.hpp"

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, 7> kStageWords{"noticed", "confirmed",  "in_work",      "holding",
                                                      "settled", "back_again", "overcorrected"};
constexpr std::array<std::string_view, 7> kStageSpoken{"noticed", "confirmed",  "in work",      "holding",
                                                       "settled", "back again", "overcorrected"};
constexpr std::array<std::string_view, 5> kRideVerdictWords{"not_judged", "inside", "borderline", "outside",
                                                            "other_side"};
constexpr int kFewMoments = 3;    // below, a typical spread stands in for one that cannot be seen
constexpr double kTOfFew = 2.92;  // t with two degrees of freedom

/// A value counted the way round that lies nearest to another.
double near(double value, double other, bool full_turn) {
    return full_turn ? other + std::remainder(value - other, 360.0) : value;
}

/// What all moments share and no number of them averages out.
double common_error(const std::vector<MomentValue>& moments) {
    struct Camera {
        int n = 0;
        double sd = 0;
    };
    std::map<int, Camera> stretches;
    double build = 0;
    for (const MomentValue& m : moments) {
        Camera& c = stretches[m.stretch];
        ++c.n;
        c.sd += m.sd_camera;
        build += m.sd_build;
    }
    const auto n = static_cast<double>(moments.size());
    double squares = (build / n) * (build / n);
    for (const auto& [stretch, c] : stretches) squares += (c.sd / n) * (c.sd / n);  // n_k / n * mean sd_k
    return std::sqrt(squares);
}

double typical_spread(const MeasureInfo& measure, const Body& body) {
    return measure.unit == "%" ? body.typical_spread_pct : body.typical_spread_deg;
}

/// The limit of a fault's own measure, certain past the other side of what the fault names.
bool past_the_other(const Fault& fault, const Judged& j) {
    if (j.verdict != Verdict::outside || fault.when.size() != 1) return false;
    using S = Condition::Side;
    return (fault.when.front().side == S::below && j.beyond == Beyond::above) ||
           (fault.when.front().side == S::above && j.beyond == Beyond::below);
}

}  // namespace

std::string_view word(Stage s) { return kStageWords[static_cast<std::size_t>(s)]; }
std::string_view spoken(Stage s) { return kStageSpoken[static_cast<std::size_t>(s)]; }
std::optional<Stage> stage_from(std::string_view word) {
    const auto at = std::ranges::find(kStageWords, word);
    if (at == kStageWords.end()) return std::nullopt;
    return static_cast<Stage>(at - kStageWords.begin());
}
std::string_view word(RideVerdict v) { return kRideVerdictWords[static_cast<std::size_t>(v)]; }

double t_quantile_95(int df) {
    if (df <= 1) return 6.314;
    if (df == 2) return kTOfFew;
    const double z = kNinetyPercent, n = df;
    const double z3 = z * z * z, z5 = z3 * z * z, z7 = z5 * z * z;
    return z + (z3 + z) / (4 * n) + (5 * z5 + 16 * z3 + 3 * z) / (96 * n * n) +
           (3 * z7 + 19 * z5 + 17 * z3 - 15 * z) / (384 * n * n * n);
}

std::optional<ReviewValue> mean_of(const std::vector<MomentValue>& moments, const Band& band,
                                   const MeasureInfo& measure, const Body& body) {
    if (moments.empty()) return std::nullopt;
    const auto n = static_cast<double>(moments.size());
    const double first = moments.front().value;
    double sum = 0, random = 0;
    for (const MomentValue& m : moments) {
        sum += near(m.value, first, measure.full_turn);
        random += m.sd_random * m.sd_random;
    }
    ReviewValue out;
    out.value = sum / n;
    out.moments = static_cast<int>(moments.size());
    out.band = band;
    double spread = 0;
    for (const MomentValue& m : moments) {
        const double off = near(m.value, first, measure.full_turn) - out.value;
        spread += off * off;
    }
    if (n > 1) spread /= n - 1;
    double s2 = std::max(spread, random / n);
    double t = kTOfFew;
    if (out.moments < kFewMoments)
        s2 += typical_spread(measure, body) * typical_spread(measure, body);
    else
        t = t_quantile_95(out.moments - 1);
    const double common = kNinetyPercent * common_error(moments);
    const double half = std::sqrt(t * t * s2 / n + common * common);
    if (measure.full_turn) out.value = std::remainder(out.value, 360.0);
    out.sd = half / kNinetyPercent;
    out.verdict = verdict_of(measure.full_turn ? beside(out.value, band) : out.value, out.sd, band);
    return out;
}

std::vector<ObservedMoment> observed_of(const RideData& ride, const std::vector<std::vector<Judged>>& judged,
                                        const Knowledge& knowledge) {
    std::vector<ObservedMoment> out;
    for (std::size_t i = 0; i < ride.moments.size(); ++i)
        out.push_back(observe_moment(ride, i, judged[i], knowledge));
    return out;
}

RideVerdict verdict_on(const std::string& id, const SeenIn& seen, const RideData& ride,
                       const std::vector<std::vector<Judged>>& judged, const Knowledge& knowledge) {
    return verdict_on(id, seen, ride, judged, observed_of(ride, judged, knowledge), knowledge);
}

RideVerdict verdict_on(const std::string& id, const SeenIn& seen, const RideData& ride,
                       const std::vector<std::vector<Judged>>& judged,
                       const std::vector<ObservedMoment>& observed, const Knowledge& knowledge) {
    const Fault* fault = knowledge.faults.find(id);
    if (!fault) return RideVerdict::not_judged;
    const SeenIn wanted = seen_for(*fault, seen);
    std::vector<ObservedMoment> moments;
    int other = 0, measured = 0;
    for (std::size_t i = 0; i < ride.moments.size(); ++i) {
        if (seen_for(*fault, ride.moments[i].seen) != wanted) continue;
        moments.push_back(observed[i]);
        const Judged* j = find(judged[i], leading_measure(*fault));
        if (!j || !j->band || !j->measured.value) continue;
        ++measured;
        other += past_the_other(*fault, *j);
    }
    for (SeenStride& s : observe_strides(ride, knowledge)) {
        if (s.said.fault == fault && seen_for(*fault, s.seen) == wanted)
            moments.push_back({{std::move(s.said)}, {}, {}});
    }
    const MergedFaults merged = knowledge.faults.merge(std::move(moments));
    if (other > 0 && 3 * other >= measured) return RideVerdict::other_side;
    const auto tally = merged.tallies.find(fault);
    if (tally == merged.tallies.end()) {
        const bool part = std::ranges::find(merged.covered, fault) != merged.covered.end();
        return part ? RideVerdict::outside : RideVerdict::not_judged;
    }
    for (const FoundFault& f : merged.found) {
        if (f.fault == fault && f.certain > 0)
            return f.seen_once ? RideVerdict::borderline : RideVerdict::outside;
    }
    const bool inside = tally->second.inside > 0 && tally->second.past_limit == 0;
    return inside ? RideVerdict::inside : RideVerdict::borderline;
}

Stage stage_of(const std::vector<RideVerdict>& rides, bool accepted, bool prescribed) {
    int run = 0;
    bool was_out = false, held = false;
    RideVerdict last = RideVerdict::not_judged;
    for (const RideVerdict v : rides) {
        if (v == RideVerdict::not_judged || v == RideVerdict::borderline) continue;
        last = v;
        run = v == RideVerdict::inside ? run + 1 : 0;
        held = held || (was_out && v == RideVerdict::inside);
        was_out = was_out || v == RideVerdict::outside;
    }
    if (last == RideVerdict::other_side) return Stage::overcorrected;
    if (last == RideVerdict::inside && was_out) return run >= kSettledAfter ? Stage::settled : Stage::holding;
    if (last == RideVerdict::outside && held) return Stage::back_again;
    if (prescribed) return Stage::in_work;
    return accepted ? Stage::confirmed : Stage::noticed;
}

double difference(const ReviewValue& a, const ReviewValue& b, bool full_turn) {
    return near(b.value, a.value, full_turn) - a.value;
}
double smallest_change(const ReviewValue& a, const ReviewValue& b) {
    return kDetectable * std::hypot(a.sd, b.sd);
}
bool changed(const ReviewValue& a, const ReviewValue& b, bool full_turn) {
    return std::abs(difference(a, b, full_turn)) > smallest_change(a, b);
}

}  // namespace aspen::core
