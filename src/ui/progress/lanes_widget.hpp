#pragma once

#include <QWidget>

#include "app/models/thumbs.hpp"
#include "app/review/lanes.hpp"

namespace aspen::ui {

/// Draws the lanes; pressing a point's picture opens its clip.
class Lanes : public QWidget {
    Q_OBJECT
  public:
    Lanes(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent = nullptr);
    void show_lanes(std::vector<app::Lane> lanes);
    const std::vector<app::Lane>& lanes() const { return lanes_; }

  signals:
    void open_clip(aspen::store::ClipId clip);

  protected:
    void paintEvent(QPaintEvent*) override;
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
