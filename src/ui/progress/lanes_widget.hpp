#pragma once

#include <QWidget>

#include "app/models/thumbs.hpp"
#include "app/rides/lanes.hpp"

#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// Draws the lanes; pressing a point's picture opens its clip.
class Lanes : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    Lanes(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent = nullptr);
    void show_lanes(std::vector<app::Lane> lanes);
    const std::vector<app::Lane>& lanes() const { return lanes_; }
    int row_count() const override { return static_cast<int>(lanes_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override { return lane_area(static_cast<std::size_t>(row)).toRect(); }
    /// Opens the newest clip of the lane.
    void row_pressed(int row) override;

  signals:
    void open_clip(aspen::store::ClipId clip);

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

  private:
    QRectF lane_area(std::size_t i) const;
    QRectF picture_area(std::size_t lane, std::size_t point) const;
    double x_of(const QRectF& plot, const QString& date) const;
    void paint_lane(QPainter& p, std::size_t i);
    std::optional<store::ClipId> clip_at(QPointF at) const;
    app::Yard& yard_;
    app::Thumbs& thumbs_;
    std::vector<app::Lane> lanes_;
};

}  // namespace aspen::ui
