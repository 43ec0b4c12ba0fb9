#include "core/training/stirrup.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/judging/ride.hpp"

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, 4> kJobs{"flat work", "general work", "jumping", "galloping"};
/// Where the tread hangs for a job, centimetres above the ankle bone (from memory).
constexpr std::array<double, 4> kTreadCm{-2.0, 0.0, 2.5, 10.0};

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
    return s.school == "classical" ? StirrupJob::flat : StirrupJob::general;
}

StirrupAdvice stirrup_advice(StirrupJob job, double tread_above_bone_cm) {
    const double short_by_cm = kTreadCm[static_cast<std::size_t>(job)] - tread_above_bone_cm;
    const int holes = static_cast<int>(std::lround(10 * short_by_cm / kHoleMm));
    return {holes, sentence(holes, job)};
}

std::optional<StirrupAdvice> stirrup_advice(const RideData& ride, const RideAssessment& assessment) {
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
    if (low == Said::fault) return StirrupAdvice{1, sentence(1, job)};
    if (high == Said::fault && !drawn_up) return StirrupAdvice{-1, sentence(-1, job)};
    if (drawn_up)
        return StirrupAdvice{
            0, "The stirrups stay: the leg is drawn up, and a longer leather would only be lost."};
    return StirrupAdvice{0, sentence(0, job)};
}

}  // namespace aspen::core
