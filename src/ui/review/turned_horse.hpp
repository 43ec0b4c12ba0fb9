#pragma once

#include <QWidget>

#include "ui/review/bench_panel.hpp"
#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// A small drawn horse that is turned until it looks like the one in the picture: gives the view's turn off
/// square, with the error that judging by eye has. Arrows turn it by one degree, with Shift by five, a drag
/// by hand; Enter keeps it.
class TurnedHorse : public BenchPanel {
    Q_OBJECT
  public:
    TurnedHorse(const app::BenchState& now, const KeyMap& keys, QWidget* parent);
    void show_state(app::BenchParts) override {}
    void clip_closing() override { hide(); }
    void open();
    double yaw_deg() const { return yaw_; }
    /// How far off a turn is that was judged by eye, degrees (from memory).
    static constexpr double kByEyeSdDeg = 4;

  signals:
    void closed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

  private:
    void turn(double by);
    void keep();
    void leave();
    double yaw_ = 0, press_x_ = 0, press_yaw_ = 0;
};

}  // namespace aspen::ui
