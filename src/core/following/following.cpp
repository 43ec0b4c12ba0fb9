#include "core/following/following.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "core/following/repeatability.hpp"
#include "core/judging/sides.hpp"
#include "core/measures/student.hpp"
#include "core/ride/ride.hpp"

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, 7> kStageWords{"noticed", "confirmed",  "in_work",      "holding",
                                                      "settled", "back_again", "overcorrected"};
constexpr std::array<std::string_view, 7> kStageSpoken{"noticed", "confirmed",  "in work",      "holding",
                                                       "settled", "back again", "overcorrected"};
constexpr std::array<std::string_view, 6> kRideVerdictWords{"not_judged", "inside",     "borderline",
                                                            "outside",    "other_side", "unsteady"};
constexpr int kFewMoments = 3;    // below, a typical spread stands in for one that cannot be seen
constexpr double kTOfFew = 2.92;  // t with two degrees of freedom
constexpr double kFewTell = 3;    // forms of a difference that one or two moments can carry

/// A value counted the way round that lies nearest to another.
double near(double value, double other, bool full_turn) {
    return full_turn ? other + std::remainder(value - other, 360.0) : value;
}

/// What all moments share and no number of them averages out.
double common_error(const std::vector<MomentValue>& moments) {
    std::map<int, double> rolls, yaws;  // by mark: sums of the errors of its moments
    double build = 0;
    for (const MomentValue& m : moments) {
        rolls[m.roll_mark] += m.sd_roll;
        yaws[m.yaw_mark] += m.sd_yaw;
        build += m.sd_build;
    }
    const auto n = static_cast<double>(moments.size());
    double squares = (build / n) * (build / n);
    for (const auto& marks : {rolls, yaws}) {
        for (const auto& [mark, sum] : marks) squares += (sum / n) * (sum / n);  // n_k / n * mean sd_k
    }
    return std::sqrt(squares);
}

double typical_spread(const MeasureInfo& measure, const Body& body) {
    return measure.unit == "%" ? body.typical_spread_pct : body.typical_spread_deg;
}

/// Shipped faults of the other side of the same measure.
std::vector<const Fault*> others_of(const Fault& fault, const FaultBook& book) {
    std::vector<const Fault*> out;
    if (fault.when.size() != 1 || leading_measure(fault).empty()) return out;
    using S = Condition::Side;
    const S side = fault.when.front().side;
    const S other = side == S::below ? S::above : side == S::above ? S::below : S::either;
    if (other == S::either) return out;
    for (const Fault& f : book.faults()) {
        if (f.when.size() == 1 && leading_measure(f) == leading_measure(fault) &&
            f.when.front().side == other)
            out.push_back(&f);
    }
    return out;
}

/// The finding of a fault, or of one that it is a part of, where it is certain and not seen once.
const FoundFault* certain_of(const Fault& fault, const MergedFaults& merged) {
    const auto there = [](const FoundFault& f) { return f.certain > 0 && !f.seen_once; };
    for (const FoundFault& f : merged.found) {
        if (f.fault == &fault && there(f)) return &f;
    }
    if (std::ranges::find(merged.covered, &fault) == merged.covered.end()) return nullptr;
    for (const FoundFault& f : merged.found) {
        const auto& parts = f.fault->covers;
        if (there(f) && std::ranges::find(parts, fault.id) != parts.end()) return &f;
    }
    return nullptr;
}

const FoundFault* unsteady_of(const Fault& fault, const MergedFaults& merged) {
    const std::string id = fmt::format("unsteady_{}", leading_measure(fault));
    for (const FoundFault& f : merged.found) {
        if (f.fault->id == id && std::ranges::find(f.fault->covers, fault.id) != f.fault->covers.end())
            return &f;
    }
    return nullptr;
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
    out.sd_common = common_error(moments);
    const double common = kNinetyPercent * out.sd_common;
    const double half = std::sqrt(t * t * s2 / n + common * common);
    if (measure.full_turn) out.value = std::remainder(out.value, 360.0);
    out.sd = half / kNinetyPercent;
    out.verdict = verdict_of(measure.full_turn ? beside(out.value, band) : out.value, out.sd, band);
    return out;
}

std::optional<ReviewValue> mean_of_strides(std::span<const std::optional<double>> by_stride, double sd,
                                           const Band& band) {
    ReviewValue out;
    double sum = 0, squares = 0;
    for (const auto& v : by_stride) {
        if (v) sum += *v, ++out.moments;
    }
    if (out.moments < kFewMoments) return std::nullopt;
    out.value = sum / out.moments;
    for (const auto& v : by_stride) squares += v ? (*v - out.value) * (*v - out.value) : 0;
    const double m = worth(out.moments, neighbours_correlation(by_stride));
    const double reach = t_quantile_95(std::max(1.0, m - 1)) / kNinetyPercent;
    out.sd_common = sd;
    out.sd = std::sqrt(reach * reach * squares / (out.moments - 1) / m + sd * sd);
    out.band = band;
    out.verdict = verdict_of(out.value, out.sd, band);
    return out;
}

std::vector<ObservedMoment> observed_of(const RideData& ride, const std::vector<std::vector<Judged>>& judged,
                                        const Knowledge& knowledge) {
    std::vector<ObservedMoment> out;
    for (std::size_t i = 0; i < ride.moments.size(); ++i)
        out.push_back(observe_moment(ride, i, judged[i], knowledge));
    return out;
}

RideSays verdict_on(const std::string& id, const SeenIn& seen, const RideData& ride,
                    const std::vector<std::vector<Judged>>& judged, const Knowledge& knowledge) {
    return verdict_on(id, seen, ride, judged, observed_of(ride, judged, knowledge), knowledge);
}

namespace {

/// What moments and strides of one gait, seat and side say together of one fault of them.
RideSays says_of(const Fault& fault, const MergedFaults& merged, const FaultBook& book) {
    if (const FoundFault* both = unsteady_of(fault, merged)) return {RideVerdict::unsteady, both->certain};
    const FoundFault* own = certain_of(fault, merged);
    for (const Fault* other : others_of(fault, book)) {
        const FoundFault* past = certain_of(*other, merged);
        if (past && own) return {RideVerdict::unsteady, past->certain + own->certain};
        if (past) return {RideVerdict::other_side, past->certain};
    }
    if (own) return {RideVerdict::outside, own->certain};
    const auto tally = merged.tallies.find(&fault);
    if (tally == merged.tallies.end()) {
        // Only a part of something else that was seen once: there, and not certain.
        const bool part = std::ranges::find(merged.covered, &fault) != merged.covered.end();
        return part ? RideSays(RideVerdict::borderline) : RideSays();
    }
    const auto& [within, past, judged] = tally->second;
    return within > 0 && past == 0 ? RideSays(RideVerdict::inside, within, judged)
                                   : RideSays(RideVerdict::borderline);
}

}  // namespace

RideSays verdict_on(const std::string& id, const SeenIn& seen, const RideData& ride,
                    const std::vector<std::vector<Judged>>& judged,
                    const std::vector<ObservedMoment>& observed, const Knowledge& knowledge) {
    const Fault* fault = knowledge.faults.find(id);
    if (!fault) return {};
    const SeenIn wanted = seen_for(*fault, seen);
    std::vector<ObservedMoment> moments;
    for (std::size_t i = 0; i < ride.moments.size() && i < judged.size(); ++i) {
        if (seen_for(*fault, ride.moments[i].seen) == wanted) moments.push_back(observed[i]);
    }
    // Faults of one measure share its part of the body, and so its side.
    const auto others = others_of(*fault, knowledge.faults);
    for (SeenStride& s : observe_strides(ride, knowledge)) {
        const bool of_it = s.said.fault == fault || std::ranges::find(others, s.said.fault) != others.end();
        if (of_it && seen_for(*fault, s.seen) == wanted) moments.push_back({{std::move(s.said)}, {}, {}});
    }
    return says_of(*fault, knowledge.faults.merge(std::move(moments)), knowledge.faults);
}

Stage stage_of(const std::vector<RideSays>& rides, bool accepted, bool prescribed) {
    int in_row = 0, out_row = 0;
    bool was_out = false, holds = false, held = false, back = false, past = false;
    for (const RideSays& r : rides) {
        const bool carries = r.by >= kCarriesARide, alone = r.by >= kCarriesAlone;
        if (r.verdict == RideVerdict::inside) {
            past = false;
            if (!carries) continue;
            out_row = 0;
            ++in_row;
            const bool few_doubts = r.of - r.by <= kInDoubtAlone * r.of;
            if (was_out && ((alone && few_doubts) || in_row >= kRidesInARow))
                holds = held = true, back = false;
        } else if (r.verdict == RideVerdict::outside || r.verdict == RideVerdict::unsteady) {
            past = holds = false;
            was_out = true;
            in_row = 0;
            out_row += carries ? 1 : 0;
            if (held && carries && (alone || out_row >= kRidesInARow)) back = true;
        } else if (r.verdict == RideVerdict::other_side) {
            past = true;
            holds = false;
            in_row = 0;
        }
    }
    if (past) return Stage::overcorrected;
    if (holds) return in_row >= kSettledAfter ? Stage::settled : Stage::holding;
    if (back) return Stage::back_again;
    if (prescribed) return Stage::in_work;
    return accepted ? Stage::confirmed : Stage::noticed;
}

double usual_form(const MeasureInfo& measure, const Body& body) {
    if (measure.unit == "%") return body.form_pct;
    if (measure.unit == "ms") return body.form_ms;
    if (measure.unit == "stride") return body.form_stride;
    if (measure.unit == "per_min") return body.form_per_min;
    return body.form_deg;
}

double difference(const ReviewValue& a, const ReviewValue& b, bool full_turn) {
    return near(b.value, a.value, full_turn) - a.value;
}
double smallest_change(const ReviewValue& a, const ReviewValue& b, double form) {
    const double told = kDetectable * std::sqrt(a.sd * a.sd + b.sd * b.sd + 2 * form * form);
    const bool few = std::min(a.moments, b.moments) < kFewMoments;
    return few ? std::max(told, kFewTell * std::sqrt(2.0) * form) : told;
}
bool changed(const ReviewValue& a, const ReviewValue& b, double form, bool full_turn) {
    return std::abs(difference(a, b, full_turn)) > smallest_change(a, b, form);
}

std::optional<int> moments_to_tell(const ReviewValue& a, const ReviewValue& b, double form, bool full_turn) {
    const double by = std::abs(difference(a, b, full_turn));
    if (by > smallest_change(a, b, form)) return 0;
    constexpr int kMany = 20;
    for (int more = 1; more <= kMany; ++more) {
        ReviewValue later = b;
        later.moments = b.moments + more;
        const double own2 = std::max(0.0, b.sd * b.sd - b.sd_common * b.sd_common);
        later.sd = std::sqrt(own2 * b.moments / later.moments + b.sd_common * b.sd_common);
        if (by > smallest_change(a, later, form)) return more;
    }
    return std::nullopt;
}

}  // namespace aspen::core
