#pragma once

#include <QWidget>

class QStackedLayout;

namespace aspen::app {
class Recorder;
}

#include "ui/review/bench_panel.hpp"

namespace aspen::ui {

class HintLine;
class KeyMap;
class LastLine;
class PreparedLine;

/// One line of always the same height over the picture, so that the picture stays where it is whatever there
/// is to be told: that a review is being recorded, else what was worked on last time and what the clip seems
/// to be, else what to do next.
class NoticeBand : public BenchPanel {
    Q_OBJECT
  public:
    NoticeBand(const app::BenchState& now, app::Recorder& recorder, PreparedLine* seems, LastLine* last,
               const KeyMap& keys, QWidget* parent);
    void show_state(app::BenchParts what) override;
    /// What to do next, as a reader hears it; "" while something else stands there.
    QString next() const;

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void paintEvent(QPaintEvent*) override;

  private:
    void refresh();
    QString words() const;
    QStackedLayout* pages_;
    QWidget* last_;
    QWidget* seems_;
    HintLine* next_;
};

}  // namespace aspen::ui
