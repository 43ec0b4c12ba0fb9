#include "exchange/film_frame.hpp"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace aspen::exchange {
namespace {

const QColor kFilmDark(0x19, 0x1F, 0x1D), kPanel(0xFF, 0xFD, 0xF8), kFilmInk(0x22, 0x30, 0x2B),
    kLight(0xED, 0xE9, 0xDE), kFace(0x6F, 0x7A, 0x74), kFilmTeal(0x5C, 0xC4, 0xA8),
    kFilmSky(0x8D, 0xB6, 0xDE);
constexpr double kCaptionShare = 0.042, kChapterShare = 0.046;  // of the picture's height

QPainterPath path_of(const core::Ellipse& e) {
    QPainterPath unit;
    unit.addEllipse(QPointF(0, 0), e.long_half, e.short_half);
    return QTransform().translate(e.centre.x, e.centre.y).rotate(e.angle_deg).map(unit);
}

QPainterPath area_of(const core::FaceCover& c) {
    const QPainterPath path = path_of(c.reach);
    return c.also ? path.intersected(path_of(*c.also)) : path;
}

/// Takes the picture: a large one is not copied when nobody else holds it.
QImage drawn(FilmPicture f) {
    QImage out = std::move(f.picture);
    if (out.format() != QImage::Format_RGB32) out = out.convertToFormat(QImage::Format_RGB32);
    for (const core::FaceCover& c : f.covers) cover(out, c);
    // No face is drawn on what covers it; the ear belongs to the line of the body.
    for (const core::Landmark l : {core::Landmark::eye, core::Landmark::chin}) {
        if (!f.figure) break;
        const QPointF at((*f.figure)[l].at.x, (*f.figure)[l].at.y);
        if (std::ranges::any_of(f.covers, [&](const core::FaceCover& c) { return area_of(c).contains(at); }))
            (*f.figure)[l].visibility = core::Visibility::absent;
    }
    if (f.figure) return picture_with_figure(out, *f.figure, false, f.annotated);
    if (f.annotated.drawn.empty()) return out;
    return picture_with_figure(out, {}, false, {{}, std::nullopt, f.annotated.drawn});
}

/// The part of the picture that is seen, in the picture's own shape and never past its edge.
QRectF part_of(QSizeF picture, const core::SeenPart& part) {
    const QSizeF size = picture * std::clamp(part.share, 0.05, 1.0);
    const double x =
        std::clamp(part.x * picture.width() - size.width() / 2, 0.0, picture.width() - size.width());
    const double y =
        std::clamp(part.y * picture.height() - size.height() / 2, 0.0, picture.height() - size.height());
    return {QPointF(x, y), size};
}

void put(QPainter& p, const QImage& picture, const QRectF& part, const QRectF& area) {
    const QSizeF size = part.size().scaled(area.size(), Qt::KeepAspectRatio);
    const QRectF to(area.center() - QPointF(size.width() / 2, size.height() / 2), size);
    p.drawImage(to, picture, part);
}

/// Words on a plate; gives the plate's rectangle.
QRectF plate(QPainter& p, const QString& words, const QFont& font, QPointF at, double widest, bool at_foot) {
    p.setFont(font);
    const double margin = p.fontMetrics().height() * 0.4;
    const int flags = Qt::TextWordWrap | (at_foot ? Qt::AlignHCenter : Qt::AlignLeft);
    const QRectF text =
        p.fontMetrics().boundingRect(QRect(0, 0, static_cast<int>(widest), 10000), flags, words);
    QRectF box = text.adjusted(-margin * 1.4, -margin, margin * 1.4, margin);
    box.moveTopLeft(at_foot ? QPointF(at.x() - box.width() / 2, at.y() - box.height()) : at);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(kFilmDark.red(), kFilmDark.green(), kFilmDark.blue(), 216));
    p.drawRoundedRect(box, margin * 0.6, margin * 0.6);
    p.setPen(kLight);
    p.drawText(box.adjusted(margin * 1.4, margin, -margin * 1.4, -margin), flags, words);
    return box;
}

QFont font_of(const char* family, double px, bool bold) {
    QFont f(QString::fromLatin1(family));
    f.setPixelSize(std::max(10, static_cast<int>(std::lround(px))));
    f.setBold(bold);
    return f;
}

}  // namespace

void cover(QImage& picture, const core::FaceCover& c) {
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillPath(area_of(c), kFace);
}

QImage compose(FilmScene scene, QSize size) {
    QImage main = drawn(std::move(scene.main));
    const bool as_it_is = !scene.beside && main.size() == size && scene.part == core::SeenPart{};
    QImage out = as_it_is ? std::move(main) : QImage(size, QImage::Format_RGB32);
    if (!as_it_is) out.fill(kFilmDark);
    QPainter p(&out);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const QRectF all(QPointF(0, 0), QSizeF(size));
    if (scene.beside) {
        const double gap = size.width() / 160.0;
        const QImage other = drawn(std::move(*scene.beside));
        const QRectF left(0, 0, (all.width() - gap) / 2, all.height());
        put(p, main, part_of(main.size(), scene.part), left);
        put(p, other, part_of(other.size(), scene.part), left.translated(left.width() + gap, 0));
    } else if (!as_it_is) {
        put(p, main, part_of(main.size(), scene.part), all);
    }
    const double margin = all.height() * 0.03;
    if (!scene.chapter.isEmpty())
        plate(p, scene.chapter, font_of("Vollkorn", all.height() * kChapterShare, true), {margin, margin},
              all.width() * 0.7, false);
    if (!scene.caption.isEmpty())
        plate(p, scene.caption, font_of("Lato", all.height() * kCaptionShare, false),
              {all.center().x(), all.bottom() - margin}, all.width() * 0.8, true);
    return out;
}

void draw_curve(QImage& picture, const CurveUnder& curve, std::size_t now) {
    double least = 1e300, most = -1e300;
    const auto reach = [&](double v) {
        if (!std::isfinite(v)) return;
        least = std::min(least, v);
        most = std::max(most, v);
    };
    std::ranges::for_each(curve.values, reach);
    if (curve.lo) reach(*curve.lo);
    if (curve.hi) reach(*curve.hi);
    if (least > most) return;
    const double room = std::max(1e-6, (most - least) * 0.1);
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing);
    const double high = picture.height() * 0.18, margin = picture.height() * 0.02;
    const QRectF box(margin, picture.height() - high - margin, picture.width() - 2 * margin, high);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(kFilmDark.red(), kFilmDark.green(), kFilmDark.blue(), 205));
    p.drawRoundedRect(box, margin / 2, margin / 2);
    const QRectF plot = box.adjusted(margin, margin + high * 0.16, -margin, -margin / 2);
    const auto y = [&](double v) {
        return plot.bottom() - plot.height() * (v - least + room) / (most - least + 2 * room);
    };
    const auto x = [&](std::size_t i) {
        return plot.left() + plot.width() * static_cast<double>(i) /
                                 std::max<double>(1, static_cast<double>(curve.values.size()) - 1);
    };
    const double top = curve.hi ? y(*curve.hi) : plot.top(), foot = curve.lo ? y(*curve.lo) : plot.bottom();
    if (curve.lo || curve.hi)
        p.fillRect(QRectF(QPointF(plot.left(), top), QPointF(plot.right(), foot)),
                   QColor(kFilmTeal.red(), kFilmTeal.green(), kFilmTeal.blue(), 60));
    const double line = std::max(1.5, picture.height() / 360.0);
    const auto draw = [&](std::size_t from, std::size_t to, const QColor& colour) {
        p.setPen(QPen(colour, line, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        for (std::size_t i = from; i < to && i + 1 < curve.values.size(); ++i) {
            if (!std::isfinite(curve.values[i]) || !std::isfinite(curve.values[i + 1])) continue;
            p.drawLine(QPointF(x(i), y(curve.values[i])), QPointF(x(i + 1), y(curve.values[i + 1])));
        }
    };
    draw(now, curve.values.size(), QColor(kLight.red(), kLight.green(), kLight.blue(), 70));
    draw(0, now, kFilmSky);
    p.setFont(font_of("Lato", high * 0.15, true));
    p.setPen(kLight);
    const QRectF head(plot.left(), box.top() + margin / 3, plot.width(), high * 0.2);
    p.drawText(head, Qt::AlignLeft | Qt::AlignVCenter, curve.name);
    const double value = now < curve.values.size() ? curve.values[now] : NAN;
    if (!std::isfinite(value)) return;
    p.setBrush(kFilmSky);
    p.setPen(QPen(kFilmDark, line / 2));
    p.drawEllipse(QPointF(x(now), y(value)), line * 2.5, line * 2.5);
    p.setPen(kLight);
    if (curve.says) p.drawText(head, Qt::AlignRight | Qt::AlignVCenter, curve.says(value));
}

QImage strip_of(const std::vector<QImage>& pictures, const QStringList& words, int height) {
    if (pictures.empty()) return {};
    const int gap = height / 60, foot = height / 9;
    int wide = -gap;
    std::vector<QImage> scaled;
    for (const QImage& p : pictures) {
        scaled.push_back(p.scaledToHeight(height, Qt::SmoothTransformation));
        wide += scaled.back().width() + gap;
    }
    QImage out(wide, height + foot, QImage::Format_RGB32);
    out.fill(kPanel);
    QPainter p(&out);
    p.setFont(font_of("Lato", foot * 0.5, true));
    p.setPen(kFilmInk);
    int x = 0;
    for (std::size_t i = 0; i < scaled.size(); ++i) {
        p.drawImage(x, 0, scaled[i]);
        const QRectF under(x + foot * 0.2, height, scaled[i].width() - foot * 0.4, foot);
        const QString said = words.value(static_cast<qsizetype>(i));
        p.drawText(under, Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(said, Qt::ElideRight, static_cast<int>(under.width())));
        x += scaled[i].width() + gap;
    }
    return out;
}

}  // namespace aspen::exchange
