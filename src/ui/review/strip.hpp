#pragma once

#include <QWidget>

#include "app/bench.hpp"

namespace aspen::ui {

/// Where one is in the clip: frame number and the stream's own time, the marked moments as pins, the gait as its
/// footfall drawn in dots that run in the direction of travel. Press or drag to go there.
class Strip : public QWidget {
    Q_OBJECT
  public:
    explicit Strip(app::Bench& bench, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {600, 56}; }

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

  private:
    QRectF track() const;
    void go(double x);
    app::Bench& bench_;
    double opening_ = 0;
};

}  // namespace aspen::ui
