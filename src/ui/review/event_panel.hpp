#pragma once

#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <QWidget>
#include <memory>

#include "app/review/event_log.hpp"
#include "app/review/reaction_drill.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

/// The keys of the logging hand as they lie under it, in the place of the findings; beside them the event
/// that was logged last with what more can be said of it, and what was counted so far.
class EventPanel : public BenchPanel {
    Q_OBJECT
  public:
    EventPanel(const app::BenchState& now, app::EventLog& log, const KeyMap& keys, QWidget* parent = nullptr);
    void show_state(app::BenchParts) override {}
    /// Logs, or answers the drill; false for a key that stands for nothing here.
    bool take_key(const QKeyEvent& e);
    /// Everything that can be said more of the chosen event.
    void say_more();
    void start_drill();
    app::ReactionDrill& drill() { return drill_; }
    QStringList lines() const { return lines_; }

  signals:
    void say(const QString& line);
    void closed();  ///< a menu was left: the keys belong to the bench again

  private:
    void refresh();
    void refresh_drill();
    QWidget* hand(bool hooves);
    app::EventLog& log_;
    app::ReactionDrill drill_;
    QStackedWidget* hands_;
    QLabel* chosen_;
    QPushButton *more_, *away_, *measure_;
    std::unique_ptr<StandingLines> list_;
    HintLine* foot_;
    QStringList lines_;
};

}  // namespace aspen::ui
