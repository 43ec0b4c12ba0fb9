#pragma once

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <memory>
#include <utility>
#include <vector>

#include "app/leaving/page_content.hpp"
#include "app/planning/plan_desk.hpp"
#include "ui/shared/standing_lines.hpp"
#include "ui/shared/view.hpp"
#include "ui/shared/view_actions.hpp"

class QMenu;

namespace aspen::ui {

class LadderView;
class PlanPicture;
class PracticeLine;
class SessionView;
class WeeksView;

/// A rider's plan as a page: the chain of causes, the one exercise with its ladder, the weeks, and a session
/// on a clock. Every rider has one, with or without an open clip.
class PrescribeView : public View {
    Q_OBJECT
  public:
    explicit PrescribeView(app::Bench& bench, QWidget* parent = nullptr);
    QString title() const override { return tr("Plan"); }
    app::PlanDesk& desk() { return desk_; }
    /// Who was shown last.
    void open() override;
    void show_rider(store::RiderId id);
    void give();
    void save_page();
    /// Writes the rider's page. Returns the refusal or trouble in one line, empty when it was written.
    QString write_page(const QString& file);
    /// What can be done here, each with its key.
    QList<QAction*> deeds() const override { return deeds_.all(); }
    bool writing() const { return writer_.busy(); }
    PracticeLine& practice_line() { return *practice_; }
    SessionView& session() { return *session_; }
    LadderView& ladder() { return *ladder_; }
    void write_down_ride();

  signals:
    void given(aspen::store::RiderId rider);
    void wants_lesson(aspen::store::RiderId rider);
    void wants_exercises();
    /// Nothing of this rider may leave before it is agreed to.
    void wants_consents(aspen::store::RiderId rider);

  protected:
    void keyPressEvent(QKeyEvent*) override;

  private:
    void build_left(QVBoxLayout& column);
    void build_middle(QVBoxLayout& column);
    void fill_years(QMenu& menu);
    void build_right(QVBoxLayout& column);
    void build_session(QVBoxLayout& page);
    void build_deeds();
    QVBoxLayout* standing(std::unique_ptr<StandingLines>& lines, int spacing);
    void say_in(StandingLines& to, const QString& words, int px = 14);
    void say_quietly(StandingLines& to, const QString& words);
    void leave_room(StandingLines& to);
    void put_row(StandingLines& to, const std::vector<std::pair<QString, QString>>& parts);
    void refresh();
    QString about(const app::RidersPlan& plan) const;
    void refresh_chain(const app::RidersPlan& plan);
    void refresh_exercise(const app::RidersPlan& plan);
    void refresh_below(const core::Exercise& e, const app::RidersPlan& plan);
    void refresh_choice(const app::RidersPlan& plan);
    void refresh_right(const app::RidersPlan& plan);
    void refresh_next_clip(const app::RidersPlan& plan);
    void refresh_rides(const app::RidersPlan& plan);
    void refresh_session();
    void pick(int number);
    QString ask_for_file(const QString& title, const QString& name, const QString& kind);
    QString first_name() const;
    void told(const QString& line) {
        if (!line.isEmpty()) emit say(line);
    }

    app::Yard& yard_;
    const app::BenchState now_;
    app::PlanDesk desk_;
    app::PageMaker writer_;
    QString page_file_;
    store::RiderId paged_{};  ///< whose page was saved since this window is open
    ViewActions deeds_{*this, tr("Plan")};
    QLabel *about_, *weeks_head_;
    std::unique_ptr<StandingLines> chain_, exercise_, below_, right_;
    PlanPicture* picture_;
    LadderView* ladder_;
    PracticeLine* practice_;
    WeeksView* weeks_;
    SessionView* session_;
    QLabel *block_, *rules_;
    QPushButton *give_, *page_, *log_, *again_, *born_, *agreed_;
};

}  // namespace aspen::ui
