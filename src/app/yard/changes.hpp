#pragma once

#include "app/yard/yard.hpp"

/// The changes a person makes, each one step. All throw core::Refused where the records refuse, and change
/// nothing then.
namespace aspen::app {

// Riders and horses.
store::RiderId add_rider(Yard& yard, const store::Rider& rider);
void change_rider(Yard& yard, const store::Rider& rider);
/// Limitations as words separated by commas; those that stay keep what else is known of them.
void set_limitations(Yard& yard, store::RiderId rider, const QString& words);
void set_limitations(Yard& yard, store::RiderId rider, const std::vector<store::Limitation>& after);
QString limitations_in_words(Yard& yard, store::RiderId rider);
/// The holes of a rider's leathers; the last said for a saddle and job hold.
void put_stirrup(Yard& yard, const store::Stirrup& stirrup);
/// The coach's word, from today on; the second takes it back.
void sign_off(Yard& yard, store::RiderId rider, store::HorseId horse, const std::string& gate);
void take_back_sign_off(Yard& yard, const store::SignOff& sign_off);
/// What this rider may do on this horse.
std::vector<std::string> signed_off(Yard& yard, store::RiderId rider, store::HorseId horse);
store::HorseId add_horse(Yard& yard, const store::Horse& horse);
void change_horse(Yard& yard, const store::Horse& horse);
void merge_riders(Yard& yard, store::RiderId from, store::RiderId into);
void merge_horses(Yard& yard, store::HorseId from, store::HorseId into);

// Rides and clips.
void change_ride(Yard& yard, const store::Ride& ride, const QString& what);
/// Says who rides; where that rider already has a ride on this horse that day, the two become one. Gives the
/// ride it is part of then.
store::RideId set_pair(Yard& yard, store::RideId ride, store::RiderId rider, store::HorseId horse,
                       const QString& what);
/// Says who rides, with what follows from it where it was not said: the rider's school, goal, and what hurt
/// last time.
store::RideId say_rider(Yard& yard, store::RideId ride, store::RiderId rider);
void join_rides(Yard& yard, store::RideId from, store::RideId into);
/// Gives every clip of the ride one of its own; the first keeps the ride and what was decided on it.
void split_ride(Yard& yard, store::RideId ride);
/// Another rider in a clip, with a ride of their own; gives the slot.
int add_companion(Yard& yard, store::ClipId clip, store::RiderId rider, store::HorseId horse);
void change_clip(Yard& yard, const store::Clip& clip, const QString& what);
/// The recorder's clock was late by so many seconds, for all clips that came in with this one.
void set_clock(Yard& yard, store::ClipId clip, int late_by_s);
void trash_clip(Yard& yard, store::ClipId id);
void trash_ride(Yard& yard, store::RideId id);
void promise(Yard& yard, store::RideId id, const std::string& day);

// Not undoable: what the program itself brings in or notes.
/// A clip that came in, with a ride of its own.
store::ClipId take_in_clip(Yard& yard, const store::Clip& clip);
/// What lies in the trash stays there, unless it was brought in anew.
void move_clip(Yard& yard, store::ClipId id, const QString& new_path, bool out_of_trash = false);
void leave_at(Yard& yard, store::ClipId id, int frame);
void set_length(Yard& yard, store::ClipId id, double duration_s, int frames);
void set_ride_state(Yard& yard, store::RideId id, store::RideState state);

// Moments and joints.
store::MomentId add_moment(Yard& yard, store::Moment moment);
void remove_moment(Yard& yard, const store::Moment& moment);
void set_phase(Yard& yard, const store::Moment& moment, const std::string& phase);
void put_mark(Yard& yard, const store::Moment& moment, core::Landmark landmark, const core::Mark& after,
              int gesture = 0);
/// Many joints and the head's top at once; the moment is as it was read.
void put_figure(Yard& yard, const store::Moment& moment, const core::Figure& after,
                std::optional<core::Point> head_top, const QString& what, int gesture = 0);

// Stretches, notes, remarks, decisions.
void set_stretches(Yard& yard, store::ClipId clip, const core::Stretches& stretches, const QString& what,
                   int gesture = 0);
store::NoteId add_note(Yard& yard, const store::Note& note);
void remove_note(Yard& yard, const store::Note& note);
/// Counts the words among the coach's own phrases.
void add_remark(Yard& yard, const store::Remark& remark);
void remove_remark(Yard& yard, const store::Remark& remark);
void decide(Yard& yard, const store::Finding& finding);

// Corrections and exercises.
struct Accepted {
    std::string fault;
    store::SeenIn seen;
};
/// What the coach's eye said on a frame; the same said again is taken back.
void answer(Yard& yard, const store::Answer& answer, const QString& words);

// What happens, and what is marked on the ground.
store::EventId add_event(Yard& yard, const store::Event& event, const QString& words);
/// One that is dragged is one step, however often it is written: they share the gesture.
void change_event(Yard& yard, const store::Event& event, int gesture = 0);
void remove_event(Yard& yard, const store::Event& event, const QString& words);
void add_ground_mark(Yard& yard, const store::GroundMark& mark);
void remove_ground_mark(Yard& yard, const store::GroundMark& mark);

void add_sketch(Yard& yard, const store::Sketch& sketch);
void remove_sketch(Yard& yard, const store::Sketch& sketch);

/// Keeps the focus: makes corrections of the accepted faults, marks one as the focus of this rider on this
/// horse and gives the exercise; the ride is done. `focus` is among the accepted.
void prescribe(Yard& yard, store::RideId ride, const Accepted& focus, const std::vector<Accepted>& accepted,
               const core::Exercise& exercise);
void withdraw(Yard& yard, const store::Prescription& prescription);
/// Another exercise for what is in work already; what was given before is withdrawn.
void give_exercise(Yard& yard, const store::Correction& correction, const core::Exercise& exercise);

// Practice and plans.
store::PracticeId add_practice(Yard& yard, const store::PracticeEntry& entry);
void remove_practice(Yard& yard, store::PracticeId id);
void put_plan(Yard& yard, const store::RiderPlan& plan);

// How corrections go on.
/// The coach's word on a correction: a stage, words on a ride's entry, or both.
store::CorrectionWordId say_of(Yard& yard, const store::CorrectionWord& word);
store::MilestoneId add_milestone(Yard& yard, const store::Milestone& milestone);
void remove_milestone(Yard& yard, store::MilestoneId id);
/// Asks a rider for a clip: the promise, and the message in the outbox, as one step.
store::PromiseId ask_for_clip(Yard& yard, const store::Promise& promise, const store::Outgoing& message);
/// Waits no longer for a promised clip.
void close_promise(Yard& yard, const store::Promise& promise);
void put_in_outbox(Yard& yard, const store::Outgoing& outgoing);
void withdraw(Yard& yard, const store::Outgoing& outgoing);
/// What was written as a file is marked so; that cannot be taken back, as little as a letter.
void mark_written(Yard& yard, const store::Outgoing& outgoing);
store::DrillId add_drill(Yard& yard, const store::DrillAnswer& answer);

// The trash, and what goes for good.
void trash_rider(Yard& yard, store::RiderId id);
void put_back(Yard& yard, store::RiderId id);
void put_back(Yard& yard, store::ClipId id);
/// False when another moment has taken its frame.
bool put_back(Yard& yard, const store::Moment& moment);
/// What would go with a clip or rider, in words for the one question that is asked before.
QString what_goes_with(Yard& yard, store::ClipId id);
QString what_goes_with(Yard& yard, store::RiderId id);
/// With copy, small pictures, previews and frame lists. Cannot be taken back, and neither can what was done
/// before.
void delete_for_good(Yard& yard, store::ClipId id);
void delete_for_good(Yard& yard, store::RiderId id);

// Backup.
/// A whole, consistent copy of the records. An earlier file of that name is there until the new one is.
/// Throws.
void back_up(Yard& yard, const QString& file);
/// Makes a backup the yard's records at the next start, and keeps the present ones beside them. Refused in
/// one line when the file is no yard or damaged; empty when it will be done.
QString restore_at_start(const QString& folder, const QString& backup);

}  // namespace aspen::app
