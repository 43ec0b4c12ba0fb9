#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/body/figure.hpp"
#include "core/body/stretches.hpp"
#include "core/judging/said.hpp"
#include "core/motion/capture_map.hpp"
#include "core/training/practice.hpp"

/// The yard's records as plain values. Days are ISO 8601 ("2026-11-24"), instants too
/// ("2026-11-24T17:05:12"); empty text means not known. A new field is added here, in fields.hpp and in a
/// migration.
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
using RideId = Id<struct RideTag>;
using ClipId = Id<struct ClipTag>;
using MomentId = Id<struct MomentTag>;
using CorrectionId = Id<struct CorrectionTag>;
using PrescriptionId = Id<struct PrescriptionTag>;
using NoteId = Id<struct NoteTag>;
using RemarkId = Id<struct RemarkTag>;
using FindingId = Id<struct FindingTag>;
using EventId = Id<struct EventTag>;
using AnswerId = Id<struct AnswerTag>;
using SketchId = Id<struct SketchTag>;
using RepeatId = Id<struct RepeatTag>;
using LimitationId = Id<struct LimitationTag>;
using StirrupId = Id<struct StirrupTag>;
using GroundMarkId = Id<struct GroundMarkTag>;
using LaidArenaId = Id<struct LaidArenaTag>;
using ArenaMarkId = Id<struct ArenaMarkTag>;
using AskedLineId = Id<struct AskedLineTag>;
using SignOffId = Id<struct SignOffTag>;
using PracticeId = Id<struct PracticeTag>;
using RiderPlanId = Id<struct RiderPlanTag>;
using LessonId = Id<struct LessonTag>;
using LessonPlaceId = Id<struct LessonPlaceTag>;
using CorrectionWordId = Id<struct CorrectionWordTag>;
using MilestoneId = Id<struct MilestoneTag>;
using PromiseId = Id<struct PromiseTag>;
using OutgoingId = Id<struct OutgoingTag>;
using DrillId = Id<struct DrillTag>;
using ConsentId = Id<struct ConsentTag>;
using DepartureId = Id<struct DepartureTag>;
using SpokenId = Id<struct SpokenTag>;
using FaceMarkId = Id<struct FaceMarkTag>;
using ParcelId = Id<struct ParcelTag>;

struct Rider {
    RiderId id;
    std::string name;
    std::optional<int> birth_year;
    std::string school;  ///< usual school, proposed for new rides
    std::string level;   ///< beginner, novice, established or ""
    std::string goal;
    bool trashed = false;
    std::optional<int> height_cm{};
    /// Whose card it is in every copy of the yard, whatever name and number it has there; given by the store.
    std::string key{};
};

/// What a rider's body does not allow, in free words ("left hip", "knee replacement").
struct Limitation {
    LimitationId id;
    RiderId rider;
    std::string words;
    std::string side;          ///< left, right, both or ""
    std::string since, until;  ///< days
    /// What it keeps from being loaded, as the coach said it: parts of the body by blanks, or "nothing"; ""
    /// where the words speak for themselves.
    std::string loads{};
    /// Who said that work may go on though it holds it, from which day and until which; "" for nobody yet.
    std::string cleared_by{}, cleared_from{}, cleared_until{};
    friend bool operator==(const Limitation&, const Limitation&) = default;
};

struct Horse {
    HorseId id;
    std::string name;
    std::optional<int> height_cm;
    std::string words;
    std::string stage{};       ///< green, schooled, established or ""
    std::string stiff_side{};  ///< left, right or ""
    bool half_seat_better = false, cold_backed = false;
    bool trashed = false;
};

/// What the rider says of this day: what it is for, what is asked, what hurts. Free words.
struct OwnSide {
    std::string goal, question, hurts;
    friend bool operator==(const OwnSide&, const OwnSide&) = default;
};

enum class RideState { fresh, started, done };
enum class Place { unknown, lesson, home, show };

/// One rider on one horse on one day at one place: the unit that is judged. Any number of clips and pictures.
struct Ride {
    RideId id;
    RiderId rider;
    HorseId horse;  ///< none on the mechanical horse
    core::Mount mount = core::Mount::horse;
    std::string saddle, day;
    Place place = Place::unknown;
    std::string school;
    std::string level;  ///< that day
    OwnSide own{};
    std::string coach_word;
    std::string promised;  ///< the day by which the coach promised an answer
    RideState state = RideState::fresh;

    /// What is still to be said of the ride, in the order in which it is asked: rider, horse, school.
    std::vector<std::string> missing() const;
    friend bool operator==(const Ride&, const Ride&) = default;
};

/// Who told when a clip was recorded.
enum class ToldBy { nobody, container, file, coach };

/// A film, or a still picture as a film of one frame.
struct Clip {
    ClipId id;
    std::string path;  ///< absolute, or relative to the yard's folder for clips kept there
    std::string hash;  ///< SHA-256 of the file
    std::int64_t bytes = 0;
    std::string recorded_at;  ///< an instant, or only its day
    ToldBy told_by = ToldBy::nobody;
    int clock_off_s = 0;     ///< what the recorder's clock was late by, said for a whole batch
    std::int64_t batch = 0;  ///< clips that came in together share a number
    std::string added_on;
    int last_frame = 0;
    bool trashed = false;
    double duration_s = 0;    ///< the stream's own seconds; 0 while not indexed
    int frames = 0;           ///< 0 while not indexed
    core::Capture capture{};  ///< slow motion, where the coach said so
    double px_per_m = 0,
           px_per_m_sd = 0;  ///< scale at the rider, from the horse's height or a pole; 0: not said

    /// The day of recording with the clock's correction; the day it came in when that is not known.
    std::string day() const;
    friend bool operator==(const Clip&, const Clip&) = default;
};

/// A rider's place in a clip: whose ride the figure with this number belongs to.
struct Slot {
    ClipId clip;
    int slot = 0;
    RideId ride;
    friend bool operator==(const Slot&, const Slot&) = default;
};

struct Moment {
    MomentId id;
    ClipId clip;
    int frame = 0;
    double time_s = 0;
    std::string phase;
    core::Figure figure;  ///< view, travel and camera are the stretch's
    int field = 0;        ///< 1: the second field of an interlaced frame, half a frame later
    int slot = 0;         ///< whose figure in a clip of several riders
    std::optional<core::Point> head_top =
        std::nullopt;  ///< clicked to lay or propose the figure, display pixels
};

enum class NoteKind { good, look, words };
/// Said while looking through a clip, at this instant; or in a lesson, at this time of the wall clock, until
/// a clip is laid under it.
struct Note {
    NoteId id;
    ClipId clip;
    int frame = 0;
    NoteKind kind = NoteKind::look;
    std::string words;
    int slot = 0;
    RideId ride{};     ///< where there is no clip
    std::string at{};  ///< wall clock, where there is no clip
};

enum class RemarkKind { finding, strength };
/// A finding or strength in the coach's own words at a part of the body, with the moment it was seen at.
struct Remark {
    RemarkId id;
    RideId ride;
    RemarkKind kind = RemarkKind::finding;
    std::string part;  ///< a body part's word
    std::string words;
    ClipId clip{};  ///< none: of the ride as a whole
    int frame = 0;
};

/// What the coach's eye said of a check, fault, strength, state or horse's answer on a frame.
struct Answer {
    AnswerId id;
    ClipId clip;
    int slot = 0;  ///< whose, in a clip of several riders
    int frame = 0;
    std::string check;
    core::CheckAnswer::Said said = core::CheckAnswer::Said::good;
    friend bool operator==(const Answer&, const Answer&) = default;
};

enum class SketchKind { arrow, circle, words };
/// What the coach drew beside the findings on a frame, display pixels: an arrow from a to b, a circle around
/// a through b, words at a.
struct Sketch {
    SketchId id;
    ClipId clip;
    int slot = 0;
    int frame = 0;
    SketchKind kind = SketchKind::arrow;
    core::Point a, b;
    std::string words;
};

/// A joint that the coach marked again without seeing the first mark, both in pixels of a picture whose
/// shorter side is 1080: what the coach's own error is learned from.
struct Repeat {
    RepeatId id;
    ClipId clip;
    int slot = 0;
    int frame = 0;
    std::string landmark;
    core::Point first, again;
    std::string marked_on;
};

using core::Decision;
using core::SeenIn;

/// A fault in a ride's review: what was measured when the coach decided, and what the coach said.
struct Finding {
    FindingId id;
    RideId ride;
    std::string fault;
    SeenIn seen;
    std::string measured_verdict;  ///< outside, borderline, or "" for one the coach added
    double measured_severity = 0;
    Decision decision = Decision::open;
    std::string changed_to;  ///< the fault the coach calls it instead
    std::string decided_on;
    ClipId clip{};   ///< of the moment attached to it
    int frame = -1;  ///< the moment attached to it; -1 none
    friend bool operator==(const Finding&, const Finding&) = default;
};

/// Kept by rider, horse, fault, side, gait and seat: a fault on one horse is not the rider's habit.
struct Correction {
    CorrectionId id;
    RiderId rider;
    HorseId horse;  ///< none: on the mechanical horse
    std::string fault;
    SeenIn seen;
    std::string noticed_on;
    bool focus = false;
    RideId focus_since{};
};

struct Prescription {
    PrescriptionId id;
    CorrectionId correction;
    std::string exercise;
    std::string given_on, until;
    int step = 0;  ///< of the ladder, from 0
    bool withdrawn = false;
    RideId ride{};
};

/// Something that happened: in a clip at its time, or in a lesson at the wall clock.
struct Event {
    EventId id;
    RideId ride;
    ClipId clip{};
    int slot = 0;
    double time_s = 0;
    std::string at{};  ///< wall clock, where there is no clip
    std::string event, detail;
    friend bool operator==(const Event&, const Event&) = default;
};

/// At which hole of the leathers a rider rides in a saddle for a job; the last one said holds.
struct Stirrup {
    StirrupId id;
    RiderId rider;
    std::string saddle;  ///< the coach's word for it; "" when not said
    std::string job;     ///< flat, general, jump, gallop
    double left_hole = 0, right_hole = 0;
    std::string day;
    friend bool operator==(const Stirrup&, const Stirrup&) = default;
};

/// The coach's word that a rider may do something on a horse: dated, taken back by taking it away.
struct SignOff {
    SignOffId id;
    RiderId rider;
    HorseId horse;
    std::string gate;  ///< of core::kGates
    std::string day;
    friend bool operator==(const SignOff&, const SignOff&) = default;
};

/// Two points on the ground of a clip: the line a lap is counted by (one a clip), or two prints of hooves on
/// a frame, of a fore and the hind foot of the same side that follows it, or of one step and the next.
enum class GroundMarkKind { lap_line, overstep, step };
struct GroundMark {
    GroundMarkId id;
    ClipId clip;
    int slot = 0;
    int frame = 0;
    GroundMarkKind kind = GroundMarkKind::lap_line;
    core::Point a, b;  ///< display pixels
    friend bool operator==(const GroundMark&, const GroundMark&) = default;
};

/// The arena as it lies in a clip: its measures, and what is said of the camera.
struct LaidArena {
    LaidArenaId id;
    ClipId clip;
    double length_m = 40, width_m = 20;
    /// Of a hall of own measures or a field with cones, "A 0 0;C 24 0"; "" where the letters stand as the
    /// rule books have them.
    std::string places{};
    double height_m = 0;  ///< of the camera above the ground; 0: not said
    double wide_deg = 0;  ///< across the picture's longer side; 0: not said
    friend bool operator==(const LaidArena&, const LaidArena&) = default;
};
/// Something seen on the ground: a named place of the arena, a known length from end to end, or the point
/// between the hooves of the horse of this slot.
enum class ArenaMarkKind { place, length, horse };
struct ArenaMark {
    ArenaMarkId id;
    ClipId clip;
    int slot = 0;
    int frame = 0;
    ArenaMarkKind kind = ArenaMarkKind::place;
    std::string name{};
    core::Point a, b;  ///< display pixels; b of a length alone
    double length_m = 0, sd_px = 2;
    friend bool operator==(const ArenaMark&, const ArenaMark&) = default;
};
/// A figure the rider was asked to ride, and between which frames.
struct AskedLine {
    AskedLineId id;
    ClipId clip;
    int slot = 0;
    std::string kind{};  ///< a word of core::FigureKind
    int from_frame = 0, to_frame = 0;
    double diameter_m = 0;  ///< of a circle; 0: as it was ridden
    std::string at{},
        until{};  ///< places: where a circle touches; where a line begins and ends; a wall's side
    friend bool operator==(const AskedLine&, const AskedLine&) = default;
};

/// What was practised of an exercise in a ride, by whom it was written down.
struct PracticeEntry {
    PracticeId id;
    RiderId rider;
    HorseId horse;  ///< none where it was not said, or on the mechanical horse
    RideId ride{};  ///< a lesson's, where it was written down in one
    core::Practice done{};
};

/// How a rider's weeks look: one a rider.
struct RiderPlan {
    RiderPlanId id;
    RiderId rider;
    std::string days;     ///< on which the rider rides: of "mon tue wed thu fri sat sun", by blanks
    int minutes = 45;     ///< of a ride
    std::string starts;   ///< day
    std::string clip_on;  ///< day of the next clip; "" until it is reckoned
    bool arena = true, helper = true;
    std::string session{};  ///< the coach's own order of blocks, as JSON; "" as planned
    /// Exercises that go home beside the focus: one for the horse, one off it; "" for none.
    std::string for_horse{}, off_horse{};
    friend bool operator==(const RiderPlan&, const RiderPlan&) = default;
};

/// A lesson at the ring: what it is for, its clock, and the session all ride.
struct Lesson {
    LessonId id;
    std::string day, task;
    std::string started_at, ended_at;  ///< wall clock; "" not yet
    std::string session{};             ///< blocks, as JSON
    int block = 0;                     ///< the one that is ridden
    std::string block_since{};         ///< wall clock; "" while the clock stands
    int block_used_s = 0;              ///< of it, before the clock was last started
    friend bool operator==(const Lesson&, const Lesson&) = default;
};

/// A rider in a lesson: the ride of that day, in turn.
struct LessonPlace {
    LessonPlaceId id;
    LessonId lesson;
    RideId ride;
    int turn = 0;
    bool absent = false;
    std::string variant;   ///< what this rider does of the common task
    std::string looked{};  ///< what was looked at before mounting, by blanks
    std::string ground{};  ///< the lunge's or the mechanical horse's sheet: key=value by blanks
    std::string said{};    ///< the one line at the end
    friend bool operator==(const LessonPlace&, const LessonPlace&) = default;
};

/// What the coach says of a correction: its stage from that day on, or a word on what one ride showed.
struct CorrectionWord {
    CorrectionWordId id;
    CorrectionId correction;
    RideId ride{};  ///< the last one that was known when it was said
    std::string day;
    std::string stage{};  ///< of core::Stage; "" for words alone
    std::string words{};
    friend bool operator==(const CorrectionWord&, const CorrectionWord&) = default;
};

/// What happened to a rider or a horse and may explain a change: another saddle or bit, an injury, a pause.
struct Milestone {
    MilestoneId id;
    RiderId rider{};  ///< of either, or both
    HorseId horse{};
    std::string day, until{};
    std::string kind;  ///< saddle, bit, horse, injury, pause, other
    std::string words{};
    friend bool operator==(const Milestone&, const Milestone&) = default;
};

/// A clip that a rider was asked for. Which one kept the promise is found from the rides that came in.
struct Promise {
    PromiseId id;
    RiderId rider;
    HorseId horse{};
    CorrectionId correction{};
    std::string asked_on, due_on;
    std::string shots{};      ///< what to film, a shot a line
    std::string closed_on{};  ///< day on which the coach no longer waits
    friend bool operator==(const Promise&, const Promise&) = default;
};

/// Something for a rider that waits in the outbox or left it. Nothing is really sent: it is written as a
/// file.
struct Outgoing {
    OutgoingId id;
    RiderId rider;
    std::string kind;  ///< ask, message, page, clip, bundle
    std::string made_at, due_on{};
    std::string to{};  ///< to whom, as the coach wrote it
    std::string subject{}, words{};
    std::string file{};      ///< beneath the outbox folder, once written
    std::string state{};     ///< waiting, written, withdrawn
    std::string attached{};  ///< a file that goes with it, beneath the yard's folder
    std::string others{};    ///< who else is in it: ids of riders, a blank before and after each
    /// What the gate was asked for when it was made, and the fingerprint of its answer; "" of a message that
    /// shows nobody.
    std::string going{}, fingerprint{};
    friend bool operator==(const Outgoing&, const Outgoing&) = default;
};

/// One answer of a coach in a drill for the eye.
struct DrillAnswer {
    DrillId id;
    std::string at;       ///< instant
    std::string coach{};  ///< "" for the yard's own
    std::string kind;     ///< of core::DrillKind
    std::string about{};  ///< measure, fault or event
    std::string source;   ///< what was shown, the same for everybody who is shown it
    ClipId clip{};        ///< none: the simulator's
    int frame = 0;
    std::string said, truth;
    double off = 0;      ///< said less true, for what is a number; 0 or 1 wrong for what is a word
    double seconds = 0;  ///< until it was answered
    friend bool operator==(const DrillAnswer&, const DrillAnswer&) = default;
};

/// What a rider, or whoever may speak for them, agreed to. Withdrawn, it stays as what once held.
struct Consent {
    ConsentId id;
    RiderId rider;
    std::string use;       ///< page, clip, teaching
    std::string given_by;  ///< who agreed
    std::string given_on;
    std::string until{};  ///< the last day on which it holds; "" until it is withdrawn
    bool face = false;    ///< the face may be seen
    std::string withdrawn_on{};
    friend bool operator==(const Consent&, const Consent&) = default;
};

/// What was said last of a use, by the day on which it was given or withdrawn; of one day the later record.
std::optional<Consent> newest_word(const std::vector<Consent>& consents, std::string_view use);

/// Something of a rider that left this machine, a row for each rider in it. Never changed.
struct Departure {
    DepartureId id;
    std::string at;  ///< instant
    RiderId rider;
    std::string use;      ///< as of Consent
    std::string what{};   ///< page, review, picture, stretch, marks, events, tracks, table, bundle, message
    std::string about{};  ///< the clip and frames, the ride's day: what it was made of
    std::string file{};   ///< as it was named
    std::string sha256{};
    std::string faces{};  ///< covered, bare, none
    friend bool operator==(const Departure&, const Departure&) = default;
};

/// A review that the coach spoke over a clip: what was done and said, and where the voice is kept.
struct Spoken {
    SpokenId id;
    ClipId clip;
    int slot = 0;
    std::string made_at;
    std::string title{};
    std::string timeline;  ///< of core::Telling, as JSON
    std::string sound{};   ///< the voice beneath the yard's folder; "" for a review in captions alone
    friend bool operator==(const Spoken&, const Spoken&) = default;
};

/// Where the coach set an ellipse round a face on one frame, or said that it is not in the picture.
struct FaceMark {
    FaceMarkId id;
    ClipId clip;
    int person = 0;  ///< the slot of a rider; below 0 somebody else in the picture
    int frame = 0;
    double x = 0, y = 0, half_wide = 0, half_high = 0;  ///< px of the shown picture
    bool gone = false;                                  ///< not in the picture from here on
    friend bool operator==(const FaceMark&, const FaceMark&) = default;
};

/// A ride that came from another yard, with what its coach said of it, apart from our own words.
struct Parcel {
    ParcelId id;
    std::string at;
    std::string sender;  ///< the coach who sent it
    std::string sha256;  ///< of the manifest, so that the same is not opened twice
    RideId ride;
    std::string words{};  ///< JSON: the sender's notes, remarks, decisions
    friend bool operator==(const Parcel&, const Parcel&) = default;
};

}  // namespace aspen::store
