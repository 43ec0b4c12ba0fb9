#pragma once

#include <QWidget>

#include "app/review/event_log.hpp"

#include "ui/review/bench_panel.hpp"

namespace aspen::ui {

/// What was logged, as small marks over the film, told apart by shape: strokes for aids and their answer,
/// open and closed wedges for a position let go and set again, triangles for leads, rings for tries, a bar
/// for fence and pole, a full line for a lap. Point at one to choose it, drag it to move it.
class EventLane : public BenchPanel {
    Q_OBJECT
  public:
    EventLane(const app::BenchState& now, app::EventLog& log, QWidget* parent = nullptr);
    void show_state(app::BenchParts) override {}  ///< the log says what is new of it
    void show_frame() override;
    void clip_opened() override;
    void clip_closing() override;
    QSize sizeHint() const override { return {600, 22}; }
    /// Where an instant of the clip lies, widget pixels.
    double x_of(double time_s) const;

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    bool event(QEvent*) override;

  private:
    double time_at(double x) const;
    const store::Event* event_at(QPointF p) const;
    void refresh();
    app::EventLog& log_;
    bool held_ = false;
};

}  // namespace aspen::ui
