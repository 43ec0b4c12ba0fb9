#include "core/following/following.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace aspen::core {
namespace {
constexpr std::array<std::string_view, 6> kStageWords{"noticed", "confirmed", "in_work",
                                                      "holding", "settled",   "back_again"};
constexpr std::array<std::string_view, 6> kStageSpoken{"noticed", "confirmed", "in work",
                                                       "holding", "settled",   "back again"};
}  // namespace

std::string_view word(Stage s) { return kStageWords[static_cast<std::size_t>(s)]; }
std::string_view spoken(Stage s) { return kStageSpoken[static_cast<std::size_t>(s)]; }

std::optional<ReviewValue> mean_of(const std::vector<MomentValue>& moments, const Band& band) {
    if (moments.empty()) return std::nullopt;
    const double n = static_cast<double>(moments.size());
    double sum = 0, squares = 0;
    for (const MomentValue& m : moments) {
        sum += m.value;
        squares += m.sd * m.sd;
    }
    ReviewValue out;
    out.value = sum / n;
    out.moments = static_cast<int>(moments.size());
    out.band = band;
    double spread = 0;
    for (const MomentValue& m : moments) spread += (m.value - out.value) * (m.value - out.value);
    if (n > 1) spread /= n - 1;
    const double single = std::sqrt(squares / n);
    out.sd = std::max(std::sqrt((single * single + spread) / n), single / 2);
    out.verdict = verdict_of(out.value, out.sd, band);
    return out;
}

Stage stage_of(const std::vector<Verdict>& reviews, bool accepted, bool prescribed) {
    int run = 0;
    bool held_once = false;
    bool out_last = true;
    for (const Verdict v : reviews) {
        if (v == Verdict::inside) {
            ++run;
            out_last = false;
            held_once = true;
        } else if (v == Verdict::outside) {
            run = 0;
            out_last = true;
        }
    }
    if (!out_last) return run >= kSettledAfter ? Stage::settled : Stage::holding;
    if (held_once) return Stage::back_again;
    if (prescribed) return Stage::in_work;
    return accepted ? Stage::confirmed : Stage::noticed;
}

bool changed(const ReviewValue& a, const ReviewValue& b) {
    return std::abs(a.value - b.value) > 1.96 * std::hypot(a.sd, b.sd);
}

}  // namespace aspen::core
