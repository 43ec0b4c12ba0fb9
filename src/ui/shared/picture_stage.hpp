#pragma once

#include <QImage>
#include <QPainter>
#include <QTransform>
#include <functional>
#include <vector>

#include "core/body/figure.hpp"
#include "ui/shared/figure_painter.hpp"

namespace aspen::ui {

/// A frame of a clip in its place on a widget, with layers over it: what every view that shows a frame paints
/// with. Layers speak in the clip's display pixels, which is where landmarks live, and never know how the
/// picture is turned, sized or mirrored.
class PictureStage {
  public:
    /// Where the picture lies: from display pixels to widget pixels, and the part of the widget it may fill.
    struct Place {
        QTransform to_widget;
        QRectF area;

        QPointF map(core::Point p) const { return to_widget.map(QPointF(p.x, p.y)); }
        core::Point unmap(QPointF p) const;
        /// Widget pixels for a display pixel.
        double scale() const;
    };
    using Layer = std::function<void(QPainter& p, const Place& place)>;

    /// A picture that may be smaller than the clip's display size, in which the layers speak.
    void set_picture(const QImage& picture, QSize display_size);
    const QImage& picture() const { return picture_; }
    /// Lifts dark clips, for looking only: 0 as it is, 1, 2.
    void set_lift(int level);
    int lift() const { return lift_; }
    QImage lifted(const QImage& image) const;
    /// Painted over the picture and over the layers added before.
    void add_layer(Layer layer) { layers_.push_back(std::move(layer)); }
    /// `opacity` is the picture's; the layers stay whole.
    void paint(QPainter& p, const Place& place, double opacity = 1) const;

    /// The whole picture as large as the area takes it, times `zoom`, its middle moved by `pan` widget
    /// pixels.
    static Place fitted(QSizeF picture, const QRectF& area, double zoom = 1, QPointF pan = {});
    /// A part of the picture as large as the area takes it; what lies around it fills the rest.
    static Place framed(const QRectF& part, const QRectF& area);

  private:
    void paint_picture(QPainter& p, const Place& place) const;
    QImage picture_;
    QSize display_size_;
    int lift_ = 0;
    std::vector<Layer> layers_;
    mutable QImage scaled_;  ///< scaled or lifted once, not at every movement of the pointer
    mutable qint64 scaled_from_ = 0;
};

/// A figure over the picture; whose it is and what is selected is asked at every painting.
PictureStage::Layer figure_layer(std::function<core::Figure()> figure, int slot, bool quiet);

}  // namespace aspen::ui
