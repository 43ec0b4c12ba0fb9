#pragma once

#include <QDateTime>
#include <QObject>
#include <QStringList>
#include <functional>
#include <optional>

#include "app/jobs/once_later.hpp"
#include "app/lesson/common_session.hpp"
#include "app/rides/rider_plan.hpp"
#include "app/yard/yard.hpp"

namespace aspen::app {

/// A rider in the lesson with what the coach wants to see at once.
struct LessonRider {
    store::LessonPlace place;
    store::Ride ride;
    QString name, horse;
    QString last_spoken;  ///< wall clock; "" not yet
    int goods = 0, looks = 0, attempts = 0, good_ones = 0;
    double held_s = 0;      ///< the longest run held
    QString held_since;     ///< wall clock, while a run is held
    QString cue, variant;   ///< what this rider rides of the common task
    QString not_this;       ///< why not the block that is ridden now; "" where it may be ridden
    int horse_minutes = 0;  ///< of the horse today, over all its riders, before this lesson
    int fences = 0;         ///< the same, with this lesson's
    QStringList under;      ///< who else rode it today
};

/// What is looked at before mounting: ids, in order.
const std::vector<std::pair<QString, QString>>& before_mounting();

/// A lesson of one rider or of several: who rides whom, the clock, and everything that is said, stamped with
/// the wall clock and written at once. One that was interrupted is taken up where it stood. Knows no widgets.
/// Interface thread only.
class LessonDesk : public QObject {
    Q_OBJECT
  public:
    enum class State { none, before, running, standing, ended };

    explicit LessonDesk(Yard& yard, QObject* parent = nullptr);
    Yard& yard() const { return yard_; }
    /// Where the time comes from; the machine's clock unless a test says otherwise.
    void set_clock(std::function<QDateTime()> clock) { clock_ = std::move(clock); }
    QString now() const { return clock_().toString(Qt::ISODate); }

    State state() const;
    const std::optional<store::Lesson>& lesson() const { return lesson_; }
    const std::vector<LessonRider>& riders() const { return riders_; }
    const core::Session& session() const { return session_; }
    /// Takes up the newest lesson of today that has not ended.
    bool take_up();
    void open(store::LessonId id);
    /// A new lesson with these riders, each on the horse ridden last; gives one line where it cannot.
    QString begin(const std::vector<store::RiderId>& riders, int minutes);
    /// The coach's own order of the blocks was not taken: something in it has become forbidden.
    bool own_order_left() const { return own_order_left_; }
    void close();

    /// What is read of a rider before the lesson: the horse ridden last, the task in work, and what needs a
    /// word first ("" where nothing does).
    struct RosterLine {
        QString horse, task, word;
    };
    RosterLine roster_line(store::RiderId rider) const;

    // Who rides whom.
    QString add_rider(store::RiderId rider);
    void set_horse(int rider, store::HorseId horse);
    void set_absent(int rider, bool absent);
    void move(int rider, int by);
    void toggle_looked(int rider, const QString& item);
    /// One line that names what is not ticked before mounting, of everybody who is there or of one rider; ""
    /// where nothing is open, or the coach gave their word for it.
    QString open_before_mounting(int rider = -1) const;
    /// The coach answers for what is not ticked.
    void give_word();
    /// The lunge's or the mechanical horse's sheet.
    QString ground(int rider, const QString& key) const;
    void set_ground(int rider, const QString& key, const QString& value);

    // The clock.
    /// Gives one line, and the clock does not start, while something before mounting is open.
    QString start();
    void stand();
    void next_block(int by = 1);
    void end();
    /// Of the block that is ridden; −1 without a session.
    int seconds_left() const;
    int seconds_ridden() const;
    /// The one that is ridden, or so many after it; none past the end.
    const core::Block* block(int after = 0) const;

    // What is said, each one step that can be taken back.
    void good(int rider);
    void look(int rider);
    void word(int rider, const QString& words);
    // Tries give one line, and do not count, while something is open before that rider mounts.
    QString attempt(int rider);
    QString good_one(int rider);
    /// Begins a run that is held, or ends it.
    QString hold(int rider);
    void log(int rider, const QString& event, const QString& detail = {});
    /// Seconds since the rider was last spoken to; since the start where never.
    int unspoken_s(int rider) const;
    /// Seconds on a rein, from the reins that were logged.
    int rein_s(int rider, const QString& rein) const;
    void set_said(int rider, const QString& line);

  signals:
    void changed();

  private:
    void refresh();
    QString try_of(int rider, const QString& event);
    void note(int rider, store::NoteKind kind, const QString& words);
    void change_place(int rider, const QString& what, const std::function<void(store::LessonPlace&)>& change);
    void change_lesson(const QString& what, const std::function<void(store::Lesson&)>& change);
    store::RideId ride_for(store::YardStore& records, store::RiderId rider, store::HorseId horse);
    store::HorseId usual_horse(store::RiderId rider) const;
    Yard& yard_;
    OnceLater later_;
    std::function<QDateTime()> clock_;
    std::optional<store::Lesson> lesson_;
    std::vector<LessonRider> riders_;
    core::Session session_;
    bool own_order_left_ = false;
};

/// Ticked before mounting.
bool looked_at(const LessonRider& rider, const QString& item);
/// What the rider is told at a block, "" where it has no exercise.
QString cue_of(const core::Knowledge& knowledge, const core::Block& block);
/// One line at the end: what was good, what to look at, counts.
QString proposed_line(const Yard& yard, const LessonRider& rider);

/// Notes and events of a ride that were logged by the wall clock fall on the clips they lie in, by the time
/// of recording: one step. Gives how many did.
int lay_under_clips(Yard& yard, store::RideId ride);

}  // namespace aspen::app
