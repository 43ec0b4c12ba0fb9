#include "ui/yard/delegates.hpp"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

using app::RidesModel;

constexpr int kYardPad = 12, kYardGap = 8, kMostPictures = 4;

int line_high(int px) { return QFontMetrics(text_font(px)).height(); }
/// What is done takes less room than what needs the coach.
int row_high(bool done) {
    return done ? 2 * kYardPad + QFontMetrics(heading_font(14)).height() + line_high(12)
                : 3 * kYardPad + QFontMetrics(heading_font(18)).height() + line_high(14) + line_high(12);
}
bool is_done(const QModelIndex& index) {
    return static_cast<app::Need>(index.data(RidesModel::need_role).toInt()) == app::Need::none;
}

void ground(QPainter& p, const QStyleOptionViewItem& o, const QRect& area, bool next) {
    const Theme& t = theme();
    const bool at = o.state & QStyle::State_Selected;
    p.setPen(at || next ? QPen(at ? t.ink : t.sky, 2) : QPen(Qt::NoPen));
    p.setBrush(t.panel);
    p.drawRoundedRect(QRectF(area).adjusted(1, 1, -1, -1), 10, 10);
}

void line(QPainter& p, const QRect& area, int y, const QFont& font, const QColor& colour,
          const QString& words) {
    p.setFont(font);
    p.setPen(colour);
    const QFontMetrics m(font);
    p.drawText(QRect(area.left(), y, area.width(), m.height()), Qt::AlignVCenter,
               m.elidedText(words, Qt::ElideRight, area.width()));
}

}  // namespace

RideDelegate::RideDelegate(app::RidesModel& model, app::Thumbs& thumbs, QObject* parent)
    : QStyledItemDelegate(parent), model_(model), thumbs_(thumbs) {}

QSize RideDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const {
    const auto kind = static_cast<RidesModel::Kind>(index.data(RidesModel::kind_role).toInt());
    if (kind == RidesModel::Kind::heading)
        return {200, 2 * kYardPad + QFontMetrics(heading_font(18)).height()};
    if (kind == RidesModel::Kind::hit) return {200, 2 * kYardPad + line_high(14) + line_high(12) + kYardGap};
    return {200, row_high(is_done(index)) + kYardGap};
}

QRect RideDelegate::picture_area(const QRect& area, int count, int n) const {
    const int shown = std::min(count, kMostPictures);
    const int high = area.height() - 2 * kYardPad + 8, wide = high * 16 / 9;
    return {area.right() - kYardPad - (shown - n) * (wide + 6) + 6, area.top() + kYardPad - 4, wide, high};
}

store::ClipId RideDelegate::clip_at(const QRect& row_area, int row, QPoint at) const {
    const auto& clips = model_.clips_at(row);
    const QRect area = row_area.adjusted(0, 0, 0, -kYardGap);
    for (int n = 0; n < std::min<int>(static_cast<int>(clips.size()), kMostPictures); ++n) {
        if (picture_area(area, static_cast<int>(clips.size()), n).contains(at))
            return clips[static_cast<std::size_t>(n)].id;
    }
    return {};
}

void RideDelegate::paint_pictures(QPainter& p, const QRect& area, int row) const {
    const Theme& t = theme();
    const auto& clips = model_.clips_at(row);
    const int count = static_cast<int>(clips.size());
    for (int n = 0; n < std::min(count, kMostPictures); ++n) {
        const store::Clip& clip = clips[static_cast<std::size_t>(n)];
        const QRect frame = picture_area(area, count, n);
        QPainterPath round;
        round.addRoundedRect(frame, 6, 6);
        p.save();
        p.setClipPath(round);
        const bool over = pointer_ && frame.contains(*pointer_);
        QImage picture = over ? thumbs_.film(clip) : thumbs_.of(clip, clip.last_frame);
        QRectF from = picture.rect();
        if (over && !picture.isNull()) {
            const int wide = picture.width() / app::Thumbs::kStills;
            const int at = std::clamp((pointer_->x() - frame.left()) * app::Thumbs::kStills / frame.width(),
                                      0, app::Thumbs::kStills - 1);
            from = QRectF(at * wide, 0, wide, picture.height());
        } else if (over) {
            picture = thumbs_.of(clip, clip.last_frame);
            from = picture.rect();
        }
        if (picture.isNull()) {
            p.fillRect(frame, t.line);
        } else {  // filled, cut to shape
            const double shape = static_cast<double>(frame.width()) / frame.height(),
                         have = from.width() / from.height();
            if (have > shape)
                from.adjust((from.width() - from.height() * shape) / 2, 0,
                            -(from.width() - from.height() * shape) / 2, 0);
            else
                from.setHeight(from.width() / shape);
            p.setRenderHint(QPainter::SmoothPixmapTransform);
            p.drawImage(QRectF(frame), picture, from);
        }
        p.restore();
        if (over) {  // where in the clip this is
            p.setBrush(t.panel);
            p.setPen(QPen(t.ink, 1.5));
            p.drawRoundedRect(QRectF(pointer_->x() - 2.5, frame.bottom() - 10, 5, 14), 2.5, 2.5);
        }
    }
    if (count > kMostPictures) {
        const QRect first = picture_area(area, count, 0);
        line(p, {first.left() - 44, first.top(), 40, 20}, first.top(), text_font(12), t.quiet,
             QString("+ %1").arg(count - kMostPictures));
    }
}

void RideDelegate::paint(QPainter* painter, const QStyleOptionViewItem& o, const QModelIndex& index) const {
    QPainter& p = *painter;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const auto kind = static_cast<RidesModel::Kind>(index.data(RidesModel::kind_role).toInt());
    const QString title = index.data(Qt::DisplayRole).toString(),
                  why = index.data(RidesModel::why_role).toString(),
                  facts = index.data(RidesModel::facts_role).toString();
    const QRect area = o.rect.adjusted(0, 0, 0, -kYardGap);
    if (kind == RidesModel::Kind::heading) {
        line(p, area.adjusted(2, 0, 0, 0), area.bottom() - QFontMetrics(heading_font(18)).height() + 2,
             heading_font(18), t.ink, title);
        p.restore();
        return;
    }
    const bool next = index.row() == 0 && kind == RidesModel::Kind::ride && !model_.looks();
    ground(p, o, area, next);
    if (kind == RidesModel::Kind::hit) {
        const QRect inner = area.adjusted(kYardPad + 4, 6, -kYardPad, -6);
        line(p, inner, inner.top(), text_font(14, true), t.ink, why);
        line(p, inner, inner.top() + line_high(14) + 2, text_font(12), t.quiet,
             facts.isEmpty() ? title : title + " · " + facts);
        p.restore();
        return;
    }
    const int pictures = std::min(index.data(RidesModel::count_role).toInt(), kMostPictures);
    const int picture_wide = (area.height() - 2 * kYardPad + 8) * 16 / 9;
    const QRect inner = area.adjusted(kYardPad + 4, kYardPad - 2,
                                      -kYardPad - pictures * (picture_wide + 6) - (pictures ? 12 : 0), 0);
    int y = inner.top();
    if (is_done(index)) {
        line(p, inner, y, heading_font(14), t.ink, title);
        y += QFontMetrics(heading_font(14)).height() + 2;
        line(p, inner, y, text_font(12), t.quiet, why.isEmpty() ? facts : facts + " · " + why);
        paint_pictures(p, area, index.row());
        p.restore();
        return;
    }
    line(p, inner, y, heading_font(18), t.ink, title);
    y += QFontMetrics(heading_font(18)).height() + 3;
    const auto need = static_cast<app::Need>(index.data(RidesModel::need_role).toInt());
    const bool urgent = need == app::Need::hurts || need == app::Need::promised || need == app::Need::due;
    line(p, inner, y, text_font(14, urgent || next), next ? t.sky : t.ink,
         next ? tr("Review this next   Enter") + (why.isEmpty() ? QString() : " · " + why) : why);
    y += line_high(14) + 3;
    line(p, inner, y, text_font(12), t.quiet, facts);
    paint_pictures(p, area, index.row());
    p.restore();
}

QSize RiderDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const {
    const bool works = !index.data(app::RidersModel::work_role).toString().isEmpty();
    return {200, 2 * kYardPad + QFontMetrics(heading_font(18)).height() + line_high(12) * (works ? 3 : 1) +
                     (works ? 6 : 0) + kYardGap};
}

void RiderDelegate::paint(QPainter* painter, const QStyleOptionViewItem& o, const QModelIndex& index) const {
    QPainter& p = *painter;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const QRect area = o.rect.adjusted(0, 0, 0, -kYardGap);
    ground(p, o, area, false);
    const QRect inner = area.adjusted(kYardPad + 4, kYardPad - 2, -kYardPad, 0);
    int y = inner.top();
    line(p, inner.adjusted(0, 0, -24, 0), y, heading_font(18), t.ink, index.data(Qt::DisplayRole).toString());
    if (const int n = index.data(app::RidersModel::number_role).toInt(); n > 0 && numbers_) {
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(QRect(inner.right() - 24, y, 24, 24), Qt::AlignRight | Qt::AlignVCenter,
                   QString::number(n));
    }
    y += QFontMetrics(heading_font(18)).height() + 2;
    line(p, inner, y, text_font(12), t.quiet, index.data(app::RidersModel::about_role).toString());
    y += line_high(12) + 2;
    const QString work = index.data(app::RidersModel::work_role).toString();
    line(p, inner, y, text_font(12, true), t.ink, work.section(" · ", 0, 0));
    line(p, inner, y + line_high(12) + 2, text_font(12), t.ink, work.section(" · ", 1));
    p.restore();
}

}  // namespace aspen::ui

#include "moc_delegates.cpp"
