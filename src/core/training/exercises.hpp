#pragma once

#include <array>
#include <iosfwd>
#include <map>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/judging/faults.hpp"
#include "core/training/body_words.hpp"

namespace aspen::core {

/// What a rung is ridden in, as far as the load and the order of a session go.
/// The running walk is a gaited horse's faster gait: as much work as a trot.
enum class Work { unmounted, halt, walk, running_walk, trot, canter, jump };
std::string_view word(Work work);
/// Faster than a walk.
inline bool fast(Work work) { return work >= Work::running_walk; }

/// One step of a ladder, with what is done of it in every ride.
struct Rung {
    std::string words;
    Work work = Work::walk;
    int bouts = 1, minutes = 1;  ///< in every ride: so many bouts, each of so many minutes
    int good = 3, of = 4;        ///< a good ride: so many good tries of so many
    int hold = 0;                ///< strides to hold it; 0 where nothing is held
    bool stirrups = true;
    std::string reins = "both";         ///< both, one or none
    std::vector<std::string> before;    ///< what must stand first, beside what the exercise asks
    std::vector<std::string> gates;     ///< of those, what the coach signs off
    std::vector<std::string> levels{};  ///< for whom alone; empty: for whom the exercise is
    bool from_trot = false;             ///< a fence that is trotted in to: no canter comes before it
    /// What a gaited horse does instead: for it a trot is a break of gait. "": the rung as it is.
    std::string gaited_words{};
    Work gaited_work = Work::running_walk;
    int seconds() const { return 60 * bouts * minutes; }
};

struct Dose {
    int weeks = 0;             ///< until it is looked at again
    std::vector<Rung> ladder;  ///< easiest first
    std::string up, down;      ///< when to climb, when to come down a step
    bool once = false;         ///< done after one good ride: nothing to be trained
};

/// A measure that must stand first: its upper 90 % limit on this side, over so many strides, on this horse
/// and not long ago. What was never measured is shut until the coach signs it off.
struct MeasureGate {
    std::string measure, gait, seat;  ///< in the gaited school the running walk takes the trot's place
    double below = 0;                 ///< the value and its 90 % error must lie below
    int strides = 0;                  ///< fewer strides say nothing
    std::string says;
    std::string sign_off{};  ///< the gate that opens it without a measure
    std::string fault{};     ///< confirmed on this horse, by eye or by measure, it is shut
};

/// The same exercise where the first way is not to be had.
struct Variants {
    std::string stock, lunge, mechanical_horse, no_arena;
};

struct Exercise {
    std::string id, name, purpose, next_clip, caution;
    std::vector<std::string> answers;  ///< fault ids, the one it answers best first
    std::vector<std::string> worse{};  ///< fault ids it would make worse: not while one is about
    std::vector<std::string> where, equipment, people, before, not_for, levels;
    std::string cue_picture, cue_plain;    ///< one image, one plain instruction
    std::vector<std::string> gates;        ///< of `before`, those that the coach signs off, as ids
    std::vector<std::string> not_horse;    ///< green, cold_backed
    std::vector<std::string> spares;       ///< the parts of the body that `not_for` names
    std::vector<std::string> not_saddle;   ///< stock …
    std::vector<std::string> not_school;   ///< ids of schools it does not fit: gaited, stock …
    std::vector<std::string> for_horse{};  ///< it does the horse good: any, stiff, green, gaited
    int from_age = 0;
    std::vector<MeasureGate> measured_gates;
    Variants variants;
    std::map<std::string, std::string> school_notes;  ///< by school's id: what it does otherwise, and why
    Dose dose;
    bool hidden = false;  ///< by the coach: still there for what was given
    /// Ridden there alone.
    bool on_mechanical_horse() const { return where.size() == 1 && where.front() == "mechanical horse"; }
};

/// When to stop, on everything a rider takes home (common practice, no source).
inline constexpr std::string_view kStopRule =
    "Stop on pain, dizziness, a frightened or tired horse, when you are tired, in heat, after an iron lost "
    "three "
    "times, or when the horse is not level.";

/// What the coach signs off, dated, for a rider on a horse: ids. The words stand in the exercises' `before`.
inline constexpr std::array<std::string_view, 7> kGates{"canter", "no_stirrups", "no_reins", "jump",
                                                        "alone",  "sits_trot",   "two_point"};
/// "may canter", "may work without stirrups"; an unknown id as it is.
std::string_view spoken_gate(std::string_view gate);

/// What was said of a rider's body: on the card, or of a day.
struct BodySaid {
    std::string words, side{};
    /// What it keeps from being loaded, as the coach said it: parts of the body by blanks, or "nothing"; ""
    /// where the words speak for themselves.
    std::string loads{};
    std::string since{};  ///< the day it began, ISO 8601, or ""
    /// Who said that work may go on, from which day and until which. A clearance that names nobody, or has no
    /// end, is none.
    std::string cleared_by{}, cleared_from{}, cleared_until{};
    bool cleared_on(std::string_view day) const {
        return !cleared_by.empty() && !cleared_until.empty() && cleared_from <= day && day <= cleared_until;
    }
};

/// What a rider's body does not allow, or what hurts today, in free words and as it is understood.
struct Limitation {
    std::string words, side;         ///< side: left, right, both or ""
    std::vector<std::string> parts;  ///< of the body, as the exercises' not_for has them
    std::string holds{};  ///< why all work waits, unmounted too, until somebody clears it; "": it does not
};

/// A measure over strides as it was last measured for a rider on a horse.
struct MeasuredOnce {
    std::string measure, gait, seat;
    double value = 0, sd = 0;
    int strides = 0;
};

/// What of the rider, the horse and the place decides which exercise fits.
struct RiderNeeds {
    std::string level;  ///< beginner, novice or established; "" when not known
    std::vector<Limitation> limitations;
    std::vector<std::string> signed_off{};  ///< gates, on this horse
    int age = 0;                            ///< 0 when not known
    std::string horse_stage{};              ///< green, schooled, established or ""
    bool cold_backed = false, mechanical = false;
    std::string saddle{}, school{};
    std::vector<MeasuredOnce> measured{};    ///< on this horse, in the last four weeks
    std::vector<std::string> seen_faults{};  ///< faults that the coach confirmed on this horse since then
    std::string
        uneven_on{};  ///< the day on which this horse's trot was uneven, and nobody has looked since; ""
};

/// Why this rider does no work at all, unmounted either, in one sentence; "" where nothing holds it.
std::string held_by(const RiderNeeds& rider);

/// An exercise offered, or set aside with the reason.
struct Offer {
    const Exercise* exercise = nullptr;
    std::string set_aside;  ///< empty: it fits
    std::string gate{};     ///< sign-offs are all that is missing, this one first; "" for anything else
};

class ExerciseBook {
  public:
    ExerciseBook() = default;
    /// Throws Refused naming file, entry and field; every answered fault must be in the book.
    ExerciseBook(std::istream& in, const std::string& file, const FaultBook& faults);

    /// With those that the coach hid.
    const std::vector<Exercise>& all() const { return exercises_; }
    const Exercise* find(std::string_view id) const;
    /// The exercise as this rider rides it (a gaited horse does not trot); nothing where there is none.
    const Exercise* find(std::string_view id, const RiderNeeds& rider) const;
    /// The same of one that is at hand, itself where it is not of the book.
    const Exercise& as_ridden(const Exercise& exercise, const RiderNeeds& rider) const;
    /// Exercises that answer a fault, those that fit the rider first, best answer first; then those set
    /// aside: everything while what is said of the body holds all work; for a part of the body, for level and
    /// age (unknown ones too, where they matter), and what stands behind a gate that was not signed off.
    std::vector<Offer> offers(std::string_view fault, const RiderNeeds& rider) const;
    /// One exercise, whether it answers anything or not.
    Offer offer(const Exercise& exercise, const RiderNeeds& rider) const;
    /// What keeps this rider from a rung, in words; "" where it may be ridden. `gate`: the first sign-off
    /// that is missing, where nothing else is.
    Offer rung_offer(const Exercise& exercise, int rung, const RiderNeeds& rider) const;

    /// The same of plain work, that of no exercise: an easy canter asks for the same words.
    Offer work_offer(Work work, bool stirrups, const RiderNeeds& rider) const;

    /// What the coach has to have signed off before a rung is ridden: by what is done in it (gait, stirrups,
    /// reins, fence, alone), and what its words ask besides, each once.
    std::vector<std::string> gates_of(const Exercise& exercise, const Rung& rung,
                                      const RiderNeeds& rider) const;

    /// What must have been measured before a rung: what the exercise asks, and the steady seat before a
    /// canter.
    std::vector<const MeasureGate*> measures_before(const Exercise& exercise, const Rung& rung,
                                                    const RiderNeeds& rider) const;

    /// What takes a measure that way when a rider changes to another school, the best first (a habit is no
    /// fault: what mends the fault may teach the old seat). Empty where nothing is said of it.
    const std::vector<std::string>& for_school_change(std::string_view measure, bool toward_more) const;

    /// How free words are read.
    const BodyWords& body() const { return body_; }
    /// Every part that words can name.
    std::vector<std::string> parts() const { return body_.parts(); }
    /// A limitation as it is understood for a day: what its words hold, until it is cleared for that day;
    /// what the coach said that it keeps from being loaded, else its own words. Nothing where it keeps
    /// nothing from being loaded. A side that stands in the words alone is read there.
    std::optional<Limitation> understood(const BodySaid& said, const std::string& day) const;

  private:
    void read_school_changes(const nlohmann::json& list, const std::string& file);
    std::string set_aside(const Exercise& exercise, const RiderNeeds& rider) const;
    void shut(Offer& out, const Exercise& exercise, const Rung& rung, const RiderNeeds& rider) const;
    std::vector<Exercise> exercises_;
    std::vector<Exercise> gaited_;  ///< each as it is ridden on a gaited horse
    BodyWords body_;
    std::optional<MeasureGate> before_canter_;
    std::map<std::pair<std::string, bool>, std::vector<std::string>> school_changes_;
};

/// "in every ride, 3 bouts of 2 minutes".
std::string spoken(const Rung& rung);
/// The first rung, and when it is looked at again.
std::string spoken(const Dose& dose);
/// "a good ride: 3 of 4, each held for 10 strides".
std::string good_ride(const Rung& rung);

}  // namespace aspen::core
