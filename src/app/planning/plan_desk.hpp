#pragma once

#include <QObject>
#include <QStringList>
#include <optional>

#include "app/jobs/once_later.hpp"
#include "app/leaving/focus_frame.hpp"
#include "app/leaving/gate.hpp"
#include "app/review/bench.hpp"
#include "app/rides/rider_plan.hpp"

namespace aspen::app {

/// The plan of one rider as the coach works on it: what is chosen, given and written down. It follows the
/// open review where that is of the same rider, and the records else. Knows no widgets. Interface thread
/// only.
class PlanDesk : public QObject {
    Q_OBJECT
  public:
    explicit PlanDesk(Bench& bench, QObject* parent = nullptr);

    Bench& bench() { return bench_; }
    void show(store::RiderId rider);
    store::RiderId rider() const { return rider_; }
    /// Nothing while no rider is shown.
    const std::optional<RidersPlan>& plan() const { return plan_; }
    /// True while the open review is this rider's and says what the focus is.
    bool from_review() const { return from_review_; }
    FocusPicture& picture() { return picture_; }
    /// Reads everything again.
    void refresh();

    /// The exercise the page is about: what was given, else what the coach picked among the candidates.
    const core::Exercise* exercise() const;
    /// True when `exercise` was given for this focus.
    bool is_given() const;
    void choose(const core::Exercise* exercise);
    /// Looks among the candidates again although something is given.
    void choose_again();

    // What the coach does; each gives one line where it cannot.
    /// Why what is given must not leave as it is: a word of the coach's that was taken back, a body that
    /// hurts now. "" where it may.
    QString beyond() const;
    QString give();
    QString take_away();
    QString write_down(const core::Practice& practice);
    QString take_back_last();
    QString sign_off(const std::string& gate);
    /// What no word opened yet among what is shown, each once.
    std::vector<std::string> gates() const;
    /// Days by weekday (0 Monday), minutes, arena, helper.
    void toggle_day(int weekday);
    void set_minutes(int minutes);
    void set_arena(bool there);
    void set_helper(bool there);
    /// Another line that goes home beside the focus, for the horse or off it; after the last one none.
    void next_line(bool for_horse);
    /// What the yard has not got; said once for all riders.
    void set_equipment(const std::string& what, bool there);
    bool has_equipment(const std::string& what) const;
    QString take_in_log(const QString& file);
    QString save_calendar(const QString& file);
    QString save_log_page(const QString& file);
    /// For the fridge, with boxes to write rides down in.
    QString save_fridge_page(const QString& file);

    // The session on a clock.
    const core::Session& session() const { return session_; }
    const std::vector<core::Broken>& broken() const { return broken_; }
    bool own_session() const;
    void move_block(int from, int to);
    void change_block(int block, int seconds);
    void drop_block(int block);
    void plan_session_again();
    /// Why there is no session, "" where there is one.
    QString no_session() const { return no_session_; }

  signals:
    void changed();

  private:
    QString saved(const PermitOrLine& permit, const QString& file,
                  const std::function<QString(const QString&)>& write);
    void read_session();
    void keep_session(const core::Session& session);
    void change_weeks(const std::function<void(store::RiderPlan&)>& change);
    Bench& bench_;
    OnceLater later_;
    store::RiderId rider_;
    std::optional<RidersPlan> plan_;
    std::shared_ptr<const core::Knowledge> knowledge_;  ///< what the plan points into
    bool from_review_ = false, again_ = false;
    std::string chosen_;
    FocusPicture picture_;
    core::Session session_;
    core::SessionAsk ask_;
    std::vector<core::Broken> broken_;
    QString no_session_;
};

}  // namespace aspen::app
