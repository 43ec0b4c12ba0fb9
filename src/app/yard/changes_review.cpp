#include <algorithm>

#include "app/yard/changes.hpp"

/// Moments and joints, stretches, notes, remarks, decisions, corrections and exercises.
namespace aspen::app {
namespace {

QString decision_words(store::Decision d) {
    switch (d) {
        case store::Decision::rejected:
            return QObject::tr("Reject fault");
        case store::Decision::changed:
            return QObject::tr("Change fault");
        case store::Decision::asked_back:
            return QObject::tr("Ask back");
        case store::Decision::open:
            return QObject::tr("Leave fault open");
        default:
            return QObject::tr("Accept fault");
    }
}

void put_changed(store::YardStore& records, store::MomentId moment, const core::Figure& before,
                 const core::Figure& after) {
    for (std::size_t i = 0; i < core::kLandmarkCount; ++i) {
        if (before.marks[i] != after.marks[i])
            records.put(moment, static_cast<core::Landmark>(i), after.marks[i]);
    }
}

}  // namespace

store::MomentId add_moment(Yard& yard, store::Moment moment) {
    store::MomentId id;
    yard.step(QObject::tr("Mark this moment"), [&](store::YardStore& records) { id = records.add(moment); });
    return id;
}
void remove_moment(Yard& yard, const store::Moment& moment) {
    yard.step(QObject::tr("Take this moment away"),
              [&](store::YardStore& records) { records.reviews.trash(moment.id, true); });
}
void set_phase(Yard& yard, const store::Moment& moment, const std::string& phase) {
    yard.step(QObject::tr("Name this moment"),
              [&](store::YardStore& records) { records.reviews.set_phase(moment.id, phase); });
}
void put_mark(Yard& yard, const store::Moment& moment, core::Landmark landmark, const core::Mark& after,
              int gesture) {
    const core::Mark& before = moment.figure[landmark];
    if (before == after) return;
    const char* what =
        after.visibility == core::Visibility::absent    ? QT_TRANSLATE_NOOP("QObject", "Take away ")
        : before.visibility == core::Visibility::absent ? QT_TRANSLATE_NOOP("QObject", "Place ")
                                                        : QT_TRANSLATE_NOOP("QObject", "Move ");
    yard.step(
        QObject::tr(what) + QString::fromUtf8(core::spoken(landmark).data()),
        [&](store::YardStore& records) { records.put(moment.id, landmark, after); }, gesture);
}
void put_figure(Yard& yard, const store::Moment& moment, const core::Figure& after,
                std::optional<core::Point> head_top, const QString& what, int gesture) {
    yard.step(
        what,
        [&](store::YardStore& records) {
            put_changed(records, moment.id, moment.figure, after);
            if (head_top != moment.head_top) records.reviews.set_head_top(moment.id, head_top);
        },
        gesture);
}

void set_stretches(Yard& yard, store::ClipId clip, const core::Stretches& stretches, const QString& what,
                   int gesture) {
    if (yard.records().rides.stretches(clip) == stretches) return;
    yard.step(
        what, [&](store::YardStore& records) { records.rides.put_stretches(clip, stretches); }, gesture);
}

store::NoteId add_note(Yard& yard, const store::Note& note) {
    store::NoteId id;
    yard.step(QObject::tr("Note this instant"), [&](store::YardStore& records) {
        id = records.add(note);
        if (note.kind == store::NoteKind::words && !note.words.empty())
            records.reviews.use_phrase(note.words);
    });
    return id;
}
void remove_note(Yard& yard, const store::Note& note) {
    yard.step(QObject::tr("Take note away"), [&](store::YardStore& records) { records.remove(note.id); });
}
void add_remark(Yard& yard, const store::Remark& remark) {
    yard.step(remark.kind == store::RemarkKind::strength ? QObject::tr("Name a strength")
                                                         : QObject::tr("Add a finding"),
              [&](store::YardStore& records) {
                  records.add(remark);
                  records.reviews.use_phrase(remark.words);
              });
}
void remove_remark(Yard& yard, const store::Remark& remark) {
    yard.step(QObject::tr("Take finding away"),
              [&](store::YardStore& records) { records.remove(remark.id); });
}
void answer(Yard& yard, const store::Answer& answer, const QString& words) {
    const auto there = yard.records().reviews.answers(answer.clip);
    const auto same = std::ranges::find_if(there, [&](const store::Answer& a) {
        return a.slot == answer.slot && a.frame == answer.frame && a.check == answer.check &&
               a.said == answer.said;
    });
    yard.step(words, [&](store::YardStore& records) {
        if (same != there.end())
            records.remove(same->id);
        else
            records.put(answer);
    });
}
store::EventId add_event(Yard& yard, const store::Event& event, const QString& words) {
    store::EventId id;
    yard.step(words, [&](store::YardStore& records) { id = records.add(event); });
    return id;
}
void change_event(Yard& yard, const store::Event& event, int gesture) {
    yard.step(
        QObject::tr("Change an event"), [&](store::YardStore& records) { records.update(event); }, gesture);
}
void remove_event(Yard& yard, const store::Event& event, const QString& words) {
    yard.step(words, [&](store::YardStore& records) { records.remove(event.id); });
}
void add_ground_mark(Yard& yard, const store::GroundMark& mark) {
    yard.step(mark.kind == store::GroundMarkKind::lap_line ? QObject::tr("Draw the lap line")
                                                           : QObject::tr("Mark two prints"),
              [&](store::YardStore& records) { records.add(mark); });
}
void remove_ground_mark(Yard& yard, const store::GroundMark& mark) {
    yard.step(QObject::tr("Take a mark on the ground away"),
              [&](store::YardStore& records) { records.remove(mark.id); });
}
void add_sketch(Yard& yard, const store::Sketch& sketch) {
    yard.step(QObject::tr("Draw on the frame"), [&](store::YardStore& records) { records.add(sketch); });
}
void remove_sketch(Yard& yard, const store::Sketch& sketch) {
    yard.step(QObject::tr("Take a drawing away"),
              [&](store::YardStore& records) { records.remove(sketch.id); });
}
void decide(Yard& yard, const store::Finding& finding) {
    yard.step(decision_words(finding.decision), [&](store::YardStore& records) { records.put(finding); });
}

void prescribe(Yard& yard, store::RideId ride_id, const Accepted& focus,
               const std::vector<Accepted>& accepted, const core::Exercise& exercise) {
    auto ride = yard.records().rides.ride(ride_id);
    if (!ride || !ride->rider) return;
    yard.step(QObject::tr("Give ") + QString::fromStdString(exercise.name), [&](store::YardStore& records) {
        // One focus a rider: what was in work before makes room.
        for (store::Correction old : records.work.corrections(ride->rider)) {
            if (!old.focus) continue;
            old.focus = false;
            old.focus_since = {};
            records.update(old);
        }
        std::vector<Accepted> all = accepted;
        const auto is_focus = [&](const Accepted& a) {
            return a.fault == focus.fault && a.seen == focus.seen;
        };
        if (std::ranges::none_of(all, is_focus)) all.push_back(focus);
        for (const Accepted& a : all) {
            store::Correction c;
            c.rider = ride->rider;
            c.horse = ride->horse;
            c.fault = a.fault;
            c.seen = a.seen;
            c.noticed_on = ride->day;
            if (auto there = records.work.correction_like(c))
                c = *there;
            else
                c.id = records.add(c);
            if (!is_focus(a)) continue;
            c.focus = true;
            c.focus_since = ride_id;
            records.update(c);
            const QDate said = QDate::fromString(QString::fromStdString(ride->day), Qt::ISODate);
            const QDate from = said.isValid() ? said : yard.today();
            store::Prescription given;
            given.correction = c.id;
            given.exercise = exercise.id;
            given.given_on = from.toString(Qt::ISODate).toStdString();
            given.until = from.addDays(7 * exercise.dose.weeks).toString(Qt::ISODate).toStdString();
            given.ride = ride_id;
            records.add(given);
        }
        ride->state = store::RideState::done;
        records.update(*ride);
    });
}

void withdraw(Yard& yard, const store::Prescription& prescription) {
    yard.step(QObject::tr("Withdraw exercise"),
              [&](store::YardStore& records) { records.work.withdraw(prescription.id, true); });
}

void give_exercise(Yard& yard, const store::Correction& correction, const core::Exercise& exercise) {
    yard.step(QObject::tr("Give ") + QString::fromStdString(exercise.name), [&](store::YardStore& records) {
        for (const store::Prescription& p : records.work.prescriptions(correction.id)) {
            if (!p.withdrawn) records.work.withdraw(p.id, true);
        }
        store::Prescription given;
        given.correction = correction.id;
        given.exercise = exercise.id;
        given.given_on = yard.today_iso();
        given.until = yard.today().addDays(7 * exercise.dose.weeks).toString(Qt::ISODate).toStdString();
        records.add(given);
    });
}

store::PracticeId add_practice(Yard& yard, const store::PracticeEntry& entry) {
    store::PracticeId id;
    yard.step(QObject::tr("Write down practice"),
              [&](store::YardStore& records) { id = records.add(entry); });
    return id;
}
void remove_practice(Yard& yard, store::PracticeId id) {
    yard.step(QObject::tr("Take practice back"), [&](store::YardStore& records) { records.remove(id); });
}
void put_plan(Yard& yard, const store::RiderPlan& plan) {
    yard.step(QObject::tr("Change the weeks"), [&](store::YardStore& records) { records.put(plan); });
}

}  // namespace aspen::app
