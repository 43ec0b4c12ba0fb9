#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/capture_map.hpp"
#include "core/figure.hpp"

/// The yard's records as plain values. Dates are ISO 8601 ("2026-11-24"); empty text means not known.
namespace aspen::store {

/// A row's number, a distinct type for every table, so that a rider is never looked up as a clip.
template <typename Tag>
struct Id {
    std::int64_t value = 0;
    explicit operator bool() const { return value != 0; }
    friend auto operator<=>(const Id&, const Id&) = default;
};
using RiderId = Id<struct RiderTag>;
using HorseId = Id<struct HorseTag>;
using ClipId = Id<struct ClipTag>;
using MomentId = Id<struct MomentTag>;
using CorrectionId = Id<struct CorrectionTag>;
using PrescriptionId = Id<struct PrescriptionTag>;

struct Rider {
    RiderId id;
    std::string name;
    std::optional<int> birth_year;
    std::string school;       ///< usual school, proposed for new clips
    std::string level;        ///< beginner, novice, established or ""
    std::string goal;
    std::string limitations;  ///< words separated by commas, as in the exercises' not_for
    std::string consent_by, consent_on, consent_until;
};

struct Horse {
    HorseId id;
    std::string name;
    std::optional<int> height_cm;
    std::string note;
};

/// What decides bands and signs. Nothing is assumed: each stays empty until it is said.
struct ClipContext {
    RiderId rider;
    HorseId horse;
    std::string school;
    std::optional<core::Gait> gait;
    std::optional<core::Seat> seat;
    core::View view = core::View::side;
    core::Travel travel = core::Travel::unknown;  ///< from the side only
    core::CameraPose camera;
    core::Capture capture;  ///< slow motion, where the coach said so

    /// What is still to be said, in the order in which it is asked: rider, horse, school, gait, seat, travel.
    std::vector<std::string> missing() const;
    friend bool operator==(const ClipContext&, const ClipContext&) = default;
};

enum class ClipState { fresh, started, done };

struct Clip {
    ClipId id;
    std::string path;  ///< absolute, or relative to the yard's folder for clips kept there
    std::string hash;  ///< SHA-256 of the file
    std::int64_t bytes = 0;
    std::string filmed_on, added_on;
    ClipState state = ClipState::fresh;
    ClipContext context;
    int last_frame = 0;
    bool trashed = false;
};

struct Moment {
    MomentId id;
    ClipId clip;
    int frame = 0;
    double time_s = 0;
    std::string phase;
    core::Figure figure;  ///< view, travel and camera are the clip's
    int field = 0;        ///< 1: the second field of an interlaced frame, half a frame later
};

enum class Decision { open, accepted, changed, rejected };

/// A fault in a clip's review: what was measured when the coach decided, and what the coach said.
struct Finding {
    ClipId clip;
    std::string fault;
    std::string measured_verdict;  ///< outside, borderline, or "" for one the coach added
    double measured_severity = 0;
    Decision decision = Decision::open;
    std::string changed_to;        ///< the fault the coach calls it instead
    std::string decided_on;
    friend bool operator==(const Finding&, const Finding&) = default;
};

/// Kept by rider, fault, side, gait and horse: a fault on one horse is not the rider's habit.
struct Correction {
    CorrectionId id;
    RiderId rider;
    HorseId horse;
    std::string fault;
    core::Travel travel = core::Travel::unknown;
    core::Gait gait = core::Gait::walk;
    core::View view = core::View::side;
    core::Seat seat = core::Seat::sitting;
    std::string noticed_on;
    bool focus = false;
};

struct Prescription {
    PrescriptionId id;
    CorrectionId correction;
    std::string exercise;
    std::string given_on, until;
    int step = 0;  ///< of the ladder, from 0
    bool withdrawn = false;
};

}  // namespace aspen::store
