#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/capture_map.hpp"
#include "core/figure.hpp"
#include "core/stretches.hpp"

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
using NoteId = Id<struct NoteTag>;
using RemarkId = Id<struct RemarkTag>;

struct Rider {
    RiderId id;
    std::string name;
    std::optional<int> birth_year;
    std::string school;  ///< usual school, proposed for new clips
    std::string level;   ///< beginner, novice, established or ""
    std::string goal;
    std::string limitations;  ///< words separated by commas, as in the exercises' not_for
    std::string consent_by, consent_on, consent_until;
    bool trashed = false;
};

struct Horse {
    HorseId id;
    std::string name;
    std::optional<int> height_cm;
    std::string note;
};

/// What the rider says of this clip: what it is for, what is asked, what hurts. Free words.
struct OwnSide {
    std::string goal, question, hurts;
    friend bool operator==(const OwnSide&, const OwnSide&) = default;
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
    core::Capture capture{};  ///< slow motion, where the coach said so
    OwnSide own{};
    double px_per_m = 0,
           px_per_m_sd = 0;  ///< scale at the rider, from the horse's height or a pole; 0: not said

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
    double duration_s = 0;  ///< the stream's own seconds; 0 while not indexed
};

struct Moment {
    MomentId id;
    ClipId clip;
    int frame = 0;
    double time_s = 0;
    std::string phase;
    core::Figure figure;  ///< view, travel and camera are the clip's
    int field = 0;        ///< 1: the second field of an interlaced frame, half a frame later
    int slot = 0;  ///< whose figure in a clip of several riders: 0 the clip's rider, then its companions
    std::optional<core::Point> head_top =
        std::nullopt;  ///< clicked to lay or propose the figure, display pixels
};

/// Another rider in the same clip, with a figure and findings of their own.
struct Companion {
    int slot = 1;
    RiderId rider;
    HorseId horse;
    friend bool operator==(const Companion&, const Companion&) = default;
};

enum class NoteKind { good, look, words };
/// Said while looking through: at this instant, good, look here, or in words.
struct Note {
    NoteId id;
    ClipId clip;
    int frame = 0;
    NoteKind kind = NoteKind::look;
    std::string words;
    int slot = 0;
};

enum class RemarkKind { finding, strength };
/// A finding or strength in the coach's own words at a part of the body, with the moment it was seen at.
struct Remark {
    RemarkId id;
    ClipId clip;
    RemarkKind kind = RemarkKind::finding;
    std::string part;  ///< a body part's word
    std::string words;
    int frame = 0;
    int slot = 0;
};

/// `asked_back`: waiting for the rider's answer to "did you ask for that?".
enum class Decision { open, accepted, changed, rejected, asked_back };

/// A fault in a clip's review: what was measured when the coach decided, and what the coach said.
struct Finding {
    ClipId clip;
    std::string fault;
    std::string measured_verdict;  ///< outside, borderline, or "" for one the coach added
    double measured_severity = 0;
    Decision decision = Decision::open;
    std::string changed_to;  ///< the fault the coach calls it instead
    std::string decided_on;
    int slot = 0;
    int frame = -1;  ///< the moment attached to it; -1 none
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
