#pragma once

#include <QWidget>

#include "app/bench.hpp"

namespace aspen::ui {

/// The picture with the figure on it: the largest thing on the bench. Places, drags and selects joints, shows a
/// magnifier under the pointer, zooms with the wheel and pans with the middle button or while zoomed with Space held.
class PictureView : public QWidget {
    Q_OBJECT
  public:
    explicit PictureView(app::Bench& bench, QWidget* parent = nullptr);

    /// While drawing an upright, the next drag is the line.
    void draw_upright(bool on);
    bool drawing_upright() const { return drawing_upright_; }
    /// While it plays nothing is asked for.
    void be_quiet(bool on) { quiet_ = on; update(); }
    /// Where a display pixel falls in the widget, and back.
    QPointF to_widget(core::Point p) const;
    core::Point to_picture(QPointF p) const;
    /// Screen pixels a picture pixel, relative to fitting the bench.
    double zoom() const { return zoom_; }
    void zoom_to_fit();
    void zoom_by(double factor, QPointF at);

  signals:
    void upright_drawn();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void leaveEvent(QEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    std::optional<core::Landmark> joint_at(QPointF p) const;
    void paint_figure(QPainter& p, const core::Figure& f) const;
    void paint_magnifier(QPainter& p) const;
    void paint_prompt(QPainter& p) const;
    void paint_stand_in(QPainter& p) const;
    void paint_picture(QPainter& p);
    void tell_size();
    void update_cursor();
    double scale() const;
    QPointF origin() const;

    app::Bench& bench_;
    double zoom_ = 1;
    QPointF pan_;  ///< of the picture's middle, widget pixels
    QPointF pointer_{-1, -1};
    std::optional<core::Landmark> held_;
    QPointF press_, pan_press_;
    bool panning_ = false, moved_ = false, drawing_upright_ = false;
    std::optional<std::pair<core::Point, core::Point>> upright_;
    bool quiet_ = false;
    QImage scaled_;
    qint64 scaled_from_ = 0;
};

}  // namespace aspen::ui
