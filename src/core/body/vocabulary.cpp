#include "core/body/vocabulary.hpp"

#include <algorithm>

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, 11> kGaitWords{"halt", "walk",      "trot",      "canter",
                                                      "jump", "slow_walk", "flat_walk", "running_walk",
                                                      "pace", "step_pace", "rack"};
constexpr std::array<std::string_view, 11> kGaitSpoken{"halt", "walk",      "trot",      "canter",
                                                       "jump", "slow walk", "flat walk", "running walk",
                                                       "pace", "step pace", "rack"};
constexpr std::array<std::string_view, 4> kSeatWords{"sitting", "rising", "two_point", "half"};
constexpr std::array<std::string_view, 4> kSeatSpoken{"sitting", "rising", "two-point", "half seat"};
constexpr std::array<std::string_view, 3> kReinWords{"left", "right", "straight"};
constexpr std::array<std::string_view, 3> kViewWords{"side", "front", "rear"};
constexpr std::array<std::string_view, 18> kMovements{
    "straight",    "circle",    "turn",          "serpentine",       "leg_yield", "shoulder_in",
    "haunches_in", "half_pass", "side_pass",     "turn_on_forehand", "rein_back", "transition",
    "lengthen",    "shorten",   "flying_change", "counter_canter",   "poles",     "fence"};
constexpr std::array<std::string_view, 17> kPhases{
    "rise_top", "rise_bottom", "beat_1",    "beat_2",     "beat_3",    "suspension",
    "beat_4",   "approach",    "take_off",  "top",        "landing",   "departure",
    "halt",     "left_hind",   "left_fore", "right_hind", "right_fore"};
constexpr std::array<std::string_view, 17> kPhasesSpoken{
    "top of the rise",  "bottom of the rise", "first beat", "second beat",     "third beat",
    "suspension",       "fourth beat",        "approach",   "take-off",        "top of the jump",
    "landing",          "departure",          "standing",   "left hind lands", "left fore lands",
    "right hind lands", "right fore lands"};
constexpr std::array<std::string_view, 3> kDiagonals{"beat_1", "beat_2", "suspension"};
constexpr std::array<std::string_view, 4> kCanterBeats{"beat_1", "beat_2", "beat_3", "suspension"};

template <typename Enum, std::size_t N>
std::optional<Enum> find(const std::array<std::string_view, N>& words, std::string_view w) {
    const auto it = std::ranges::find(words, w);
    if (it == words.end()) return std::nullopt;
    return static_cast<Enum>(it - words.begin());
}

}  // namespace

std::string_view word(Gait g) { return kGaitWords[static_cast<std::size_t>(g)]; }
std::string_view word(Seat s) { return kSeatWords[static_cast<std::size_t>(s)]; }
std::string_view word(Rein r) { return kReinWords[static_cast<std::size_t>(r)]; }
std::string_view word(View v) { return kViewWords[static_cast<std::size_t>(v)]; }
std::string_view word(Stirrups s) { return s == Stirrups::on ? "on" : "off"; }
std::string_view word(ReinsHeld r) {
    constexpr std::string_view words[] = {"both", "one", "none"};
    return words[static_cast<std::size_t>(r)];
}
std::string_view word(Hands h) {
    constexpr std::string_view words[] = {"reins", "saddle", "strap", "mane", "out", "thigh"};
    return words[static_cast<std::size_t>(h)];
}
std::string_view word(Line l) {
    constexpr std::string_view words[] = {"free", "lunge", "lead"};
    return words[static_cast<std::size_t>(l)];
}
std::string_view word(Mount m) { return m == Mount::horse ? "horse" : "mechanical"; }
std::string_view word(CircleLeg c) { return c == CircleLeg::inner ? "inner" : "outer"; }
std::string_view word(Travel t) { return t == Travel::left ? "left" : t == Travel::right ? "right" : ""; }
std::string_view spoken(Gait g) { return kGaitSpoken[static_cast<std::size_t>(g)]; }
std::string_view spoken(Seat s) { return kSeatSpoken[static_cast<std::size_t>(s)]; }

std::optional<Gait> gait_from(std::string_view w) { return find<Gait>(kGaitWords, w); }
std::optional<Seat> seat_from(std::string_view w) { return find<Seat>(kSeatWords, w); }
std::optional<Rein> rein_from(std::string_view w) { return find<Rein>(kReinWords, w); }
std::optional<View> view_from(std::string_view w) { return find<View>(kViewWords, w); }
std::optional<Travel> travel_from(std::string_view w) {
    if (w == "left") return Travel::left;
    if (w == "right") return Travel::right;
    return std::nullopt;
}

std::span<const std::string_view> movements() { return kMovements; }
std::span<const std::string_view> all_phases() { return kPhases; }
bool is_movement(std::string_view w) { return std::ranges::find(kMovements, w) != kMovements.end(); }
bool is_phase(std::string_view w) { return std::ranges::find(kPhases, w) != kPhases.end(); }

std::string_view spoken_phase(std::string_view phase) {
    const auto it = std::ranges::find(kPhases, phase);
    return it == kPhases.end() ? phase : kPhasesSpoken[static_cast<std::size_t>(it - kPhases.begin())];
}
std::string_view spoken(Rein r) {
    constexpr std::string_view words[] = {"left rein", "right rein", "straight"};
    return words[static_cast<std::size_t>(r)];
}

std::span<const std::string_view> phases(Gait g, Seat s) {
    const std::span<const std::string_view> all(kPhases);
    switch (g) {
        case Gait::halt:
            return all.subspan(12, 1);
        case Gait::jump:
            return all.subspan(7, 5);
        case Gait::canter:
            return kCanterBeats;
        case Gait::trot:
            return s == Seat::rising ? all.subspan(0, 2) : std::span<const std::string_view>(kDiagonals);
        default:
            return all.subspan(13, 4);  // four feet, one after the other
    }
}

double typical_tempo_per_min(Gait g) {
    switch (g) {
        case Gait::halt:
            return 0;
        case Gait::walk:
        case Gait::slow_walk:
            return 55;
        case Gait::trot:
            return 80;
        case Gait::canter:
        case Gait::jump:
            return 100;
        case Gait::flat_walk:
            return 65;  // 60 to 70, from memory
        case Gait::running_walk:
            return 82;  // 75 to 90, from memory
        default:
            return 85;
    }
}

}  // namespace aspen::core
