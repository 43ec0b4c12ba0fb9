#pragma once

#include <QWidget>

#include "app/telling/telling_desk.hpp"

namespace aspen::ui {

/// What is told on one time axis: its sound wave, chapters above it, captions under it, the chosen part and
/// where it stands. A drag chooses, a click goes there.
class WaveStrip : public QWidget {
    Q_OBJECT
  public:
    explicit WaveStrip(app::TellingDesk& desk, QWidget* parent = nullptr);
    QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

  private:
    double seconds_at(double x) const;
    double x_of(double told_s) const;
    QRectF wave_area() const;
    void paint_wave(QPainter& p) const;
    void paint_chapters(QPainter& p) const;
    void paint_captions(QPainter& p) const;
    app::TellingDesk& desk_;
    std::optional<double> pressed_s_;
    mutable std::vector<float> wave_;
    mutable QSize wave_for_;
};

}  // namespace aspen::ui
