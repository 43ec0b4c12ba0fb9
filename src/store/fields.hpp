#pragma once

#include "store/records.hpp"

/// Which column holds which field, once for reading, adding and changing. Internal to store.
/// `f(column, field)` is called for every column but the row's own number, in the table's order.
namespace aspen::store {

template <typename F>
void fields(Rider& r, F f) {
    f("name", r.name);
    f("birth_year", r.birth_year);
    f("school", r.school);
    f("level", r.level);
    f("goal", r.goal);
    f("trashed", r.trashed);
    f("height_cm", r.height_cm);
    f("key", r.key);
}
template <typename F>
void fields(Limitation& l, F f) {
    f("rider", l.rider);
    f("words", l.words);
    f("side", l.side);
    f("since", l.since);
    f("until", l.until);
    f("loads", l.loads);
    f("cleared_by", l.cleared_by);
    f("cleared_from", l.cleared_from);
    f("cleared_until", l.cleared_until);
}
template <typename F>
void fields(Horse& h, F f) {
    f("name", h.name);
    f("height_cm", h.height_cm);
    f("words", h.words);
    f("stage", h.stage);
    f("stiff_side", h.stiff_side);
    f("half_seat_better", h.half_seat_better);
    f("cold_backed", h.cold_backed);
    f("trashed", h.trashed);
}
template <typename F>
void fields(Ride& r, F f) {
    f("rider", r.rider);
    f("horse", r.horse);
    f("mount", r.mount);
    f("saddle", r.saddle);
    f("day", r.day);
    f("place", r.place);
    f("school", r.school);
    f("level", r.level);
    f("goal", r.own.goal);
    f("question", r.own.question);
    f("hurts", r.own.hurts);
    f("coach_word", r.coach_word);
    f("promised", r.promised);
    f("state", r.state);
}
template <typename F>
void fields(Clip& c, F f) {
    f("path", c.path);
    f("hash", c.hash);
    f("bytes", c.bytes);
    f("recorded_at", c.recorded_at);
    f("told_by", c.told_by);
    f("clock_off_s", c.clock_off_s);
    f("batch", c.batch);
    f("added_on", c.added_on);
    f("last_frame", c.last_frame);
    f("trashed", c.trashed);
    f("duration_s", c.duration_s);
    f("frames", c.frames);
    f("filmed_fps", c.capture.filmed_fps);
    f("slow_from_s", c.capture.from_s);
    f("slow_to_s", c.capture.to_s);
    f("px_per_m", c.px_per_m);
    f("px_per_m_sd", c.px_per_m_sd);
}
template <typename F>
void fields(Slot& s, F f) {
    f("clip", s.clip);
    f("slot", s.slot);
    f("ride", s.ride);
}
template <typename F>
void fields(core::Stretch& s, F f) {
    f("first", s.first);
    f("gait", s.gait);
    f("seat", s.seat);
    f("rein", s.rein);
    f("asked", s.asked);
    f("shown", s.shown);
    f("name", s.name);
    f("judged", s.judged);
    f("view", s.view);
    f("travel", s.travel);
    f("roll_deg", s.camera.roll_deg);
    f("roll_sd_deg", s.camera.roll_sd_deg);
    f("roll_marked", s.camera.roll_marked);
    f("yaw_deg", s.camera.yaw_deg);
    f("yaw_sd_deg", s.camera.yaw_sd_deg);
    f("yaw_marked", s.camera.yaw_marked);
    f("stirrups", s.stirrups);
    f("reins", s.reins);
    f("hands", s.hands);
    f("line", s.line);
    f("circle_leg", s.circle_leg);
}
template <typename F>
void fields(Moment& m, F f) {
    f("clip", m.clip);
    f("frame", m.frame);
    f("time_s", m.time_s);
    f("phase", m.phase);
    f("field", m.field);
    f("slot", m.slot);
    f("top", m.head_top);
}
template <typename F>
void fields(core::Mark& m, F f) {
    f("x", m.at.x);
    f("y", m.at.y);
    f("visibility", m.visibility);
    f("sd_px", m.sd_px);
    f("origin", m.origin);
    f("confirmed", m.confirmed);
    f("put", m.put_at);
}
template <typename F>
void fields(Note& n, F f) {
    f("clip", n.clip);
    f("frame", n.frame);
    f("kind", n.kind);
    f("words", n.words);
    f("slot", n.slot);
    f("ride", n.ride);
    f("at", n.at);
}
template <typename F>
void fields(Remark& r, F f) {
    f("ride", r.ride);
    f("kind", r.kind);
    f("part", r.part);
    f("words", r.words);
    f("clip", r.clip);
    f("frame", r.frame);
}
template <typename F>
void fields(SeenIn& s, F f) {
    f("gait", s.gait);
    f("seat", s.seat);
    f("side", s.side);
}
template <typename F>
void fields(Finding& d, F f) {
    f("ride", d.ride);
    f("fault", d.fault);
    fields(d.seen, f);
    f("measured_verdict", d.measured_verdict);
    f("measured_severity", d.measured_severity);
    f("decision", d.decision);
    f("changed_to", d.changed_to);
    f("decided_on", d.decided_on);
    f("clip", d.clip);
    f("frame", d.frame);
}
template <typename F>
void fields(Correction& c, F f) {
    f("rider", c.rider);
    f("horse", c.horse);
    f("fault", c.fault);
    fields(c.seen, f);
    f("noticed_on", c.noticed_on);
    f("focus", c.focus);
    f("focus_since", c.focus_since);
}
template <typename F>
void fields(Prescription& p, F f) {
    f("correction", p.correction);
    f("exercise", p.exercise);
    f("given_on", p.given_on);
    f("until", p.until);
    f("step", p.step);
    f("withdrawn", p.withdrawn);
    f("ride", p.ride);
}
template <typename F>
void fields(Event& e, F f) {
    f("ride", e.ride);
    f("clip", e.clip);
    f("slot", e.slot);
    f("time_s", e.time_s);
    f("at", e.at);
    f("event", e.event);
    f("detail", e.detail);
}
template <typename F>
void fields(Answer& a, F f) {
    f("clip", a.clip);
    f("slot", a.slot);
    f("frame", a.frame);
    f("name", a.check);
    f("said", a.said);
}
template <typename F>
void fields(Sketch& s, F f) {
    f("clip", s.clip);
    f("slot", s.slot);
    f("frame", s.frame);
    f("kind", s.kind);
    f("x1", s.a.x);
    f("y1", s.a.y);
    f("x2", s.b.x);
    f("y2", s.b.y);
    f("words", s.words);
}
template <typename F>
void fields(Stirrup& s, F f) {
    f("rider", s.rider);
    f("saddle", s.saddle);
    f("job", s.job);
    f("left_hole", s.left_hole);
    f("right_hole", s.right_hole);
    f("day", s.day);
}
template <typename F>
void fields(SignOff& s, F f) {
    f("rider", s.rider);
    f("horse", s.horse);
    f("gate", s.gate);
    f("day", s.day);
}
template <typename F>
void fields(LaidArena& a, F f) {
    f("clip", a.clip);
    f("length_m", a.length_m);
    f("width_m", a.width_m);
    f("places", a.places);
    f("height_m", a.height_m);
    f("wide_deg", a.wide_deg);
}
template <typename F>
void fields(ArenaMark& m, F f) {
    f("clip", m.clip);
    f("slot", m.slot);
    f("frame", m.frame);
    f("kind", m.kind);
    f("name", m.name);
    f("x1", m.a.x);
    f("y1", m.a.y);
    f("x2", m.b.x);
    f("y2", m.b.y);
    f("length_m", m.length_m);
    f("sd_px", m.sd_px);
}
template <typename F>
void fields(AskedLine& l, F f) {
    f("clip", l.clip);
    f("slot", l.slot);
    f("kind", l.kind);
    f("from_frame", l.from_frame);
    f("to_frame", l.to_frame);
    f("diameter_m", l.diameter_m);
    f("at", l.at);
    f("until", l.until);
}
template <typename F>
void fields(GroundMark& g, F f) {
    f("clip", g.clip);
    f("slot", g.slot);
    f("frame", g.frame);
    f("kind", g.kind);
    f("x1", g.a.x);
    f("y1", g.a.y);
    f("x2", g.b.x);
    f("y2", g.b.y);
}
template <typename F>
void fields(Repeat& r, F f) {
    f("clip", r.clip);
    f("slot", r.slot);
    f("frame", r.frame);
    f("landmark", r.landmark);
    f("x1", r.first.x);
    f("y1", r.first.y);
    f("x2", r.again.x);
    f("y2", r.again.y);
    f("marked_on", r.marked_on);
}
template <typename F>
void fields(PracticeEntry& p, F f) {
    f("rider", p.rider);
    f("horse", p.horse);
    f("ride", p.ride);
    f("day", p.done.day);
    f("exercise", p.done.exercise);
    f("rung", p.done.rung);
    f("attempts", p.done.attempts);
    f("good", p.done.good);
    f("held", p.done.held);
    f("guess", p.done.guess);
    f("feel", p.done.feel);
    f("pain", p.done.pain);
    f("tired_rider", p.done.tired_rider);
    f("tired_horse", p.done.tired_horse);
    f("by_rider", p.done.by_rider);
    f("words", p.done.words);
}
template <typename F>
void fields(RiderPlan& p, F f) {
    f("rider", p.rider);
    f("days", p.days);
    f("minutes", p.minutes);
    f("starts", p.starts);
    f("clip_on", p.clip_on);
    f("arena", p.arena);
    f("helper", p.helper);
    f("session", p.session);
    f("for_horse", p.for_horse);
    f("off_horse", p.off_horse);
}
template <typename F>
void fields(Lesson& l, F f) {
    f("day", l.day);
    f("task", l.task);
    f("started_at", l.started_at);
    f("ended_at", l.ended_at);
    f("session", l.session);
    f("block", l.block);
    f("block_since", l.block_since);
    f("block_used_s", l.block_used_s);
}
template <typename F>
void fields(LessonPlace& p, F f) {
    f("lesson", p.lesson);
    f("ride", p.ride);
    f("turn", p.turn);
    f("absent", p.absent);
    f("variant", p.variant);
    f("looked", p.looked);
    f("ground", p.ground);
    f("said", p.said);
}

template <typename F>
void fields(CorrectionWord& w, F f) {
    f("correction", w.correction);
    f("ride", w.ride);
    f("day", w.day);
    f("stage", w.stage);
    f("words", w.words);
}
template <typename F>
void fields(Milestone& m, F f) {
    f("rider", m.rider);
    f("horse", m.horse);
    f("day", m.day);
    f("until", m.until);
    f("kind", m.kind);
    f("words", m.words);
}
template <typename F>
void fields(Promise& p, F f) {
    f("rider", p.rider);
    f("horse", p.horse);
    f("correction", p.correction);
    f("asked_on", p.asked_on);
    f("due_on", p.due_on);
    f("shots", p.shots);
    f("closed_on", p.closed_on);
}
template <typename F>
void fields(Outgoing& o, F f) {
    f("rider", o.rider);
    f("kind", o.kind);
    f("made_at", o.made_at);
    f("due_on", o.due_on);
    f("to_whom", o.to);
    f("subject", o.subject);
    f("words", o.words);
    f("file", o.file);
    f("state", o.state);
    f("attached", o.attached);
    f("others", o.others);
    f("going", o.going);
    f("fingerprint", o.fingerprint);
}
template <typename F>
void fields(DrillAnswer& d, F f) {
    f("at", d.at);
    f("coach", d.coach);
    f("kind", d.kind);
    f("about", d.about);
    f("source", d.source);
    f("clip", d.clip);
    f("frame", d.frame);
    f("said", d.said);
    f("truth", d.truth);
    f("off", d.off);
    f("seconds", d.seconds);
}

template <typename F>
void fields(Consent& c, F f) {
    f("rider", c.rider);
    f("use", c.use);
    f("given_by", c.given_by);
    f("given_on", c.given_on);
    f("until", c.until);
    f("face", c.face);
    f("withdrawn_on", c.withdrawn_on);
}
template <typename F>
void fields(Departure& d, F f) {
    f("at", d.at);
    f("rider", d.rider);
    f("use", d.use);
    f("what", d.what);
    f("about", d.about);
    f("file", d.file);
    f("sha256", d.sha256);
    f("faces", d.faces);
}
template <typename F>
void fields(Spoken& s, F f) {
    f("clip", s.clip);
    f("slot", s.slot);
    f("made_at", s.made_at);
    f("title", s.title);
    f("timeline", s.timeline);
    f("sound", s.sound);
}
template <typename F>
void fields(FaceMark& m, F f) {
    f("clip", m.clip);
    f("person", m.person);
    f("frame", m.frame);
    f("x", m.x);
    f("y", m.y);
    f("half_wide", m.half_wide);
    f("half_high", m.half_high);
    f("gone", m.gone);
}
template <typename F>
void fields(Parcel& p, F f) {
    f("at", p.at);
    f("sender", p.sender);
    f("sha256", p.sha256);
    f("ride", p.ride);
    f("words", p.words);
}

/// The table of a record.
template <typename Record>
inline constexpr const char* kTable = nullptr;
template <>
inline constexpr const char* kTable<Rider> = "rider";
template <>
inline constexpr const char* kTable<Limitation> = "limitation";
template <>
inline constexpr const char* kTable<Horse> = "horse";
template <>
inline constexpr const char* kTable<Ride> = "ride";
template <>
inline constexpr const char* kTable<Clip> = "clip";
template <>
inline constexpr const char* kTable<Slot> = "slot";
template <>
inline constexpr const char* kTable<core::Stretch> = "stretch";
template <>
inline constexpr const char* kTable<Moment> = "moment";
template <>
inline constexpr const char* kTable<core::Mark> = "mark";
template <>
inline constexpr const char* kTable<Note> = "note";
template <>
inline constexpr const char* kTable<Remark> = "remark";
template <>
inline constexpr const char* kTable<Finding> = "finding";
template <>
inline constexpr const char* kTable<Correction> = "correction";
template <>
inline constexpr const char* kTable<Prescription> = "prescription";
template <>
inline constexpr const char* kTable<Event> = "event";
template <>
inline constexpr const char* kTable<Answer> = "answer";
template <>
inline constexpr const char* kTable<Stirrup> = "stirrup";
template <>
inline constexpr const char* kTable<SignOff> = "sign_off";
template <>
inline constexpr const char* kTable<GroundMark> = "ground_mark";
template <>
inline constexpr const char* kTable<LaidArena> = "laid_arena";
template <>
inline constexpr const char* kTable<ArenaMark> = "arena_mark";
template <>
inline constexpr const char* kTable<AskedLine> = "asked_line";
template <>
inline constexpr const char* kTable<PracticeEntry> = "practice";
template <>
inline constexpr const char* kTable<RiderPlan> = "rider_plan";
template <>
inline constexpr const char* kTable<Lesson> = "lesson";
template <>
inline constexpr const char* kTable<LessonPlace> = "lesson_place";
template <>
inline constexpr const char* kTable<CorrectionWord> = "correction_word";
template <>
inline constexpr const char* kTable<Milestone> = "milestone";
template <>
inline constexpr const char* kTable<Promise> = "promise";
template <>
inline constexpr const char* kTable<Outgoing> = "outgoing";
template <>
inline constexpr const char* kTable<DrillAnswer> = "drill";
template <>
inline constexpr const char* kTable<Consent> = "consent";
template <>
inline constexpr const char* kTable<Departure> = "departure";
template <>
inline constexpr const char* kTable<Spoken> = "spoken";
template <>
inline constexpr const char* kTable<FaceMark> = "face_mark";
template <>
inline constexpr const char* kTable<Parcel> = "parcel";
template <>
inline constexpr const char* kTable<Sketch> = "sketch";
template <>
inline constexpr const char* kTable<Repeat> = "repeat_mark";

}  // namespace aspen::store
