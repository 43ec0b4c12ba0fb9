#include "ui/shared/picture_stage.hpp"

#include <array>
#include <cmath>

namespace aspen::ui {

core::Point PictureStage::Place::unmap(QPointF p) const {
    const QPointF q = to_widget.inverted().map(p);
    return {q.x(), q.y()};
}

double PictureStage::Place::scale() const { return std::hypot(to_widget.m11(), to_widget.m12()); }

void PictureStage::set_picture(const QImage& picture, QSize display_size) {
    picture_ = picture;
    display_size_ = display_size.isEmpty() ? picture.size() : display_size;
}

void PictureStage::set_lift(int level) {
    lift_ = level % 3;
    scaled_from_ = 0;
}

/// Dark tones up by a curve, the middle a little steeper; by table, for looking only.
QImage PictureStage::lifted(const QImage& image) const {
    if (lift_ == 0 || image.isNull()) return image;
    std::array<uchar, 256> table{};
    const double gamma = lift_ == 1 ? 0.7 : 0.5;
    for (std::size_t i = 0; i < 256; ++i)
        table[i] = static_cast<uchar>(std::lround(255 * std::pow(static_cast<double>(i) / 255, gamma)));
    QImage out = image.convertToFormat(QImage::Format_RGB32);
    for (int y = 0; y < out.height(); ++y) {
        uchar* row = out.scanLine(y);
        for (int x = 0; x < out.width() * 4; ++x) row[x] = table[row[x]];
    }
    return out;
}

void PictureStage::paint_picture(QPainter& p, const Place& place) const {
    const QSizeF size(display_size_);
    const bool upright = place.to_widget.type() <= QTransform::TxScale && place.to_widget.m11() > 0;
    const QSize pixels = (size * place.scale() * p.device()->devicePixelRatioF()).toSize();
    const bool shrinks =
        upright && pixels.width() <= picture_.width() && pixels.height() <= picture_.height();
    if (shrinks && pixels != picture_.size()) {
        if (scaled_from_ != picture_.cacheKey() || scaled_.size() != pixels) {
            scaled_ = lifted(picture_.scaled(pixels, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
            scaled_from_ = picture_.cacheKey();
        }
        return p.drawImage(place.to_widget.mapRect(QRectF({0, 0}, size)), scaled_);
    }
    const QImage* shown = &picture_;
    if (lift_ != 0) {
        if (scaled_from_ != picture_.cacheKey() || scaled_.size() != picture_.size()) {
            scaled_ = lifted(picture_);
            scaled_from_ = picture_.cacheKey();
        }
        shown = &scaled_;
    }
    p.save();
    p.setRenderHint(QPainter::SmoothPixmapTransform, place.scale() < 3);
    p.setTransform(place.to_widget, true);
    p.drawImage(QRectF({0, 0}, size), *shown);
    p.restore();
}

void PictureStage::paint(QPainter& p, const Place& place, double opacity) const {
    p.save();
    p.setClipRect(place.area, Qt::IntersectClip);
    if (!picture_.isNull()) {
        p.setOpacity(opacity);
        paint_picture(p, place);
        p.setOpacity(1);
    }
    p.setRenderHint(QPainter::Antialiasing);
    for (const Layer& layer : layers_) layer(p, place);
    p.restore();
}

PictureStage::Place PictureStage::fitted(QSizeF picture, const QRectF& area, double zoom, QPointF pan) {
    if (picture.isEmpty()) return {{}, area};
    const double k = std::min(area.width() / picture.width(), area.height() / picture.height()) * zoom;
    const QPointF at = area.topLeft() +
                       QPointF(area.width() - k * picture.width(), area.height() - k * picture.height()) / 2 +
                       pan;
    return {QTransform(k, 0, 0, k, at.x(), at.y()), area};
}

PictureStage::Place PictureStage::framed(const QRectF& part, const QRectF& area) {
    if (part.isEmpty()) return {{}, area};
    const double k = std::min(area.width() / part.width(), area.height() / part.height());
    const QPointF at = area.center() - k * part.center();
    return {QTransform(k, 0, 0, k, at.x(), at.y()), area};
}

PictureStage::Layer figure_layer(std::function<core::Figure()> figure, int slot, bool quiet) {
    return [figure = std::move(figure), slot, quiet](QPainter& p, const PictureStage::Place& place) {
        paint_figure(p, figure(), {[&](core::Point q) { return place.map(q); }, 0, {}, slot, quiet});
    };
}

}  // namespace aspen::ui
