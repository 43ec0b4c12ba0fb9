#include "core/ride/stirrup.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/ride/ride.hpp"

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, 4> kJobs{"flat work", "general work", "jumping", "galloping"};
/// Where the tread hangs for a job, centimetres above the ankle bone (from memory).
constexpr std::array<double, 4> kTreadCm{-2.0, 0.0, 2.5, 10.0};

constexpr double kThighShare = 0.245, kShankShare = 0.246;  // of the height
constexpr int kHeightCm = 170, kMostUp = 4;

/// Hip to ankle with the knee at an angle, centimetres.
double reach_cm(double knee_deg, double height_cm) {
    const double t = kThighShare * height_cm, s = kShankShare * height_cm,
                 k = knee_deg * std::numbers::pi / 180;
    return std::sqrt(t * t + s * s - 2 * t * s * std::cos(k));
}

/// By how many holes the knee would come to the middle of its band, up positive; 1 at least.
int holes_by_knee(const RideAssessment& assessment, bool up, std::optional<int> height_cm) {
    double sum = 0;
    int n = 0;
    for (const auto& moment : assessment.judged) {
        for (const Judged& j : moment) {
            if (j.measured.info->id != "knee_angle" || !j.measured.value || !j.band || !j.band->lo ||
                !j.band->hi)
                continue;
            const double h = height_cm.value_or(kHeightCm), middle = (*j.band->lo + *j.band->hi) / 2;
            sum += reach_cm(*j.measured.value, h) - reach_cm(middle, h);
            ++n;
        }
    }
    const double cm = n > 0 ? sum / n : 0;
    return std::clamp(static_cast<int>(std::lround(10 * (up ? cm : -cm) / kHoleMm)), 1, kMostUp);
}

std::string sentence(int holes, StirrupJob job) {
    if (holes == 0) return fmt::format("The stirrups are right for {}.", spoken(job));
    const int n = std::abs(holes);
    return fmt::format("Stirrups {} {} {}, both sides, for {}; then check that both feel the same.",
                       n == 1 ? std::string("one") : std::to_string(n), n == 1 ? "hole" : "holes",
                       holes > 0 ? "up" : "down", spoken(job));
}

}  // namespace

std::string_view spoken(StirrupJob job) { return kJobs[static_cast<std::size_t>(job)]; }

StirrupJob stirrup_job(const Setting& s) {
    if (s.gait == Gait::jump || s.seat == Seat::two_point) return StirrupJob::jump;
    const bool jumps = s.school == "hunter" || s.school == "jumper";
    if (s.seat == Seat::half) return jumps ? StirrupJob::jump : StirrupJob::general;
    const bool long_leg = s.school == "classical" || s.school == "stock";
    return long_leg ? StirrupJob::flat : StirrupJob::general;
}

StirrupAdvice stirrup_advice(StirrupJob job, double tread_above_bone_cm) {
    const double short_by_cm = kTreadCm[static_cast<std::size_t>(job)] - tread_above_bone_cm;
    const int holes = static_cast<int>(std::lround(10 * short_by_cm / kHoleMm));
    return {holes, sentence(holes, job)};
}

std::optional<StirrupAdvice> stirrup_advice(const RideData& ride, const RideAssessment& assessment,
                                            std::optional<int> height_cm) {
    using Said = CheckAnswer::Said;
    std::optional<Said> low, high;
    std::size_t at = 0;
    for (const CheckAnswer& c : ride.checks) {
        if (c.said == Said::cannot_see || (c.id != "tread_too_low" && c.id != "tread_too_high")) continue;
        (c.id == "tread_too_low" ? low : high) = c.said;
        at = c.moment;
    }
    if (!low && !high) return std::nullopt;
    const StirrupJob job = stirrup_job(ride.moments[at].setting);
    const bool drawn_up = std::ranges::any_of(assessment.findings, [](const RideFinding& f) {
        return f.said() && f.said()->id == "leg_drawn_up" && f.found.verdict == Verdict::outside;
    });
    if (low == Said::fault) {
        const int up = holes_by_knee(assessment, true, height_cm);
        return StirrupAdvice{
            up, sentence(up, job) +
                    (up > 1 ? fmt::format(" That is about {:.0f} cm.", up * kHoleMm / 10) : std::string())};
    }
    if (high == Said::fault && !drawn_up) {
        // A leg needs time to grow long: one hole now, whatever is missing.
        const int down = holes_by_knee(assessment, false, height_cm);
        std::string more;
        if (down > 1) more = fmt::format(" About {} are missing: one at a time, some rides between.", down);
        return StirrupAdvice{-1, sentence(-1, job) + more};
    }
    if (drawn_up)
        return StirrupAdvice{
            0, "The stirrups stay: the leg is drawn up, and a longer leather would only be lost."};
    return StirrupAdvice{0, sentence(0, job)};
}

}  // namespace aspen::core
