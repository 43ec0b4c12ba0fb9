#pragma once

#include <array>
#include <string_view>

#include "store/records.hpp"

/// The words that stand for enumerations in the tables. Internal to store.
namespace aspen::store {

inline constexpr std::array<std::string_view, 3> kRideStates{"fresh", "started", "done"};
inline constexpr std::array<std::string_view, 4> kPlaces{"", "lesson", "home", "show"};
inline constexpr std::array<std::string_view, 4> kTellers{"", "container", "file", "coach"};
inline constexpr std::array<std::string_view, 5> kDecisions{"open", "accepted", "changed", "rejected",
                                                            "asked_back"};
inline constexpr std::array<std::string_view, 3> kNoteKinds{"good", "look", "words"};
inline constexpr std::array<std::string_view, 2> kRemarkKinds{"finding", "strength"};

inline constexpr std::array<std::string_view, 3> kSketchKinds{"arrow", "circle", "words"};
inline constexpr std::array<std::string_view, 3> kGroundMarkKinds{"lap_line", "overstep", "step"};
inline constexpr std::array<std::string_view, 3> kArenaMarkKinds{"place", "length", "horse"};
inline std::string_view word(ArenaMarkKind v) { return kArenaMarkKinds[static_cast<std::size_t>(v)]; }
inline std::string_view word(GroundMarkKind v) { return kGroundMarkKinds[static_cast<std::size_t>(v)]; }
inline std::string_view word(SketchKind v) { return kSketchKinds[static_cast<std::size_t>(v)]; }
inline constexpr std::array<std::string_view, 3> kSaid{"good", "fault", "cannot_see"};

inline std::string_view word(core::CheckAnswer::Said v) { return kSaid[static_cast<std::size_t>(v)]; }
inline std::string_view word(RideState v) { return kRideStates[static_cast<std::size_t>(v)]; }
inline std::string_view word(Place v) { return kPlaces[static_cast<std::size_t>(v)]; }
inline std::string_view word(ToldBy v) { return kTellers[static_cast<std::size_t>(v)]; }
inline std::string_view word(Decision v) { return kDecisions[static_cast<std::size_t>(v)]; }
inline std::string_view word(NoteKind v) { return kNoteKinds[static_cast<std::size_t>(v)]; }
inline std::string_view word(RemarkKind v) { return kRemarkKinds[static_cast<std::size_t>(v)]; }

template <typename Enum, std::size_t N>
void take(const std::array<std::string_view, N>& words, std::string_view w, Enum& into) {
    for (std::size_t i = 0; i < N; ++i) {
        if (words[i] == w) into = static_cast<Enum>(i);
    }
}
inline void take(std::string_view w, core::CheckAnswer::Said& v) { take(kSaid, w, v); }
inline void take(std::string_view w, ArenaMarkKind& v) { take(kArenaMarkKinds, w, v); }
inline void take(std::string_view w, GroundMarkKind& v) { take(kGroundMarkKinds, w, v); }
inline void take(std::string_view w, SketchKind& v) { take(kSketchKinds, w, v); }
inline void take(std::string_view w, RideState& v) { take(kRideStates, w, v); }
inline void take(std::string_view w, Place& v) { take(kPlaces, w, v); }
inline void take(std::string_view w, ToldBy& v) { take(kTellers, w, v); }
inline void take(std::string_view w, Decision& v) { take(kDecisions, w, v); }
inline void take(std::string_view w, NoteKind& v) { take(kNoteKinds, w, v); }
inline void take(std::string_view w, RemarkKind& v) { take(kRemarkKinds, w, v); }
inline void take(std::string_view w, core::Travel& v) {
    v = core::travel_from(w).value_or(core::Travel::unknown);
}
inline void take(std::string_view w, core::Origin& v) {
    v = core::origin_from(w).value_or(core::Origin::clicked);
}
template <typename Enum>
requires(core::kWordCount<Enum> > 0) void take(std::string_view w, Enum& v) {
    if (const auto found = core::from_word<Enum>(w)) v = *found;
}

}  // namespace aspen::store
