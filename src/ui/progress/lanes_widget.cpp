#include "ui/progress/lanes_widget.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPaintEngine>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "ui/progress/lane_painter.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kLaneHeight = 212, kLaneGap = 8, kLaneWords = 244;
constexpr int kAnswerHigh = 46, kFrameHigh = 46, kFrameWide = 74;
constexpr int kCardWide = 232, kCardPicture = 126, kCardWords = 84;

double card_high() { return scaled_px(kCardPicture + kCardWords); }

}  // namespace

double Lanes::gutter() { return scaled_px(kLaneWords); }

Lanes::Lanes(TimeAxis& axis, app::Thumbs& thumbs, QWidget* parent)
    : QWidget(parent), axis_(axis), thumbs_(thumbs) {
    setMouseTracking(true);
    setAccessibleName(tr("Corrections through time"));
    setFocusPolicy(Qt::StrongFocus);
    make_rows_accessible();
    connect(&thumbs_, &app::Thumbs::changed, this, qOverload<>(&QWidget::update));
}

void Lanes::show_lanes(const std::vector<app::Lane>& lanes, double today) {
    const auto kept = current() ? current()->correction.id : store::CorrectionId{};
    const auto ride = current_entry() ? current_entry()->ride : store::RideId{};
    std::set<std::pair<store::CorrectionId, store::RideId>> pins;
    for (const auto& [lane, entry] : pinned_)
        pins.insert({lanes_[lane].correction.id, lanes_[lane].entries[entry].ride});
    lanes_ = lanes;
    today_ = today;
    pinned_.clear();
    under_.reset();
    set_current_row(0);
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
        if (lanes_[i].correction.id == kept) set_current_row(static_cast<int>(i));
        for (std::size_t k = 0; k < lanes_[i].entries.size(); ++k) {
            if (pins.contains({lanes_[i].correction.id, lanes_[i].entries[k].ride})) pinned_.insert({i, k});
        }
    }
    entry_ = 0;
    if (const app::Lane* lane = current(); lane && !lane->entries.empty()) {
        entry_ = lane->entries.size() - 1;
        for (std::size_t k = 0; k < lane->entries.size(); ++k) {
            if (lane->entries[k].ride == ride) entry_ = k;
        }
    }
    setMinimumHeight(static_cast<int>(lanes_.size()) * scaled_px(kLaneHeight + kLaneGap));
    update_lanes();
    emit chosen();
}

const app::Lane* Lanes::current() const {
    const auto row = static_cast<std::size_t>(current_row());
    return row < lanes_.size() ? &lanes_[row] : nullptr;
}
const app::LanePoint* Lanes::current_entry() const {
    const app::Lane* lane = current();
    return lane && entry_ < lane->entries.size() ? &lane->entries[entry_] : nullptr;
}

void Lanes::choose(std::size_t lane, std::size_t entry) {
    set_current_row(static_cast<int>(lane));
    entry_ = entry;
    if (const app::LanePoint* e = current_entry()) axis_.show(when(*e));
    update_lanes();
    emit chosen();
    emit moved();
}

void Lanes::step(int by) {
    const app::Lane* lane = current();
    if (!lane || lane->entries.empty()) return;
    const int last = static_cast<int>(lane->entries.size()) - 1;
    choose(static_cast<std::size_t>(current_row()),
           static_cast<std::size_t>(std::clamp(static_cast<int>(entry_) + by, 0, last)));
}

void Lanes::pin() {
    if (!current_entry()) return;
    const Spot spot{static_cast<std::size_t>(current_row()), entry_};
    if (!pinned_.erase(spot)) pinned_.insert(spot);
    update();
}

QRectF Lanes::lane_area(std::size_t i) const {
    return {0, static_cast<double>(i) * scaled_px(kLaneHeight + kLaneGap), static_cast<double>(width()) - 8,
            static_cast<double>(scaled_px(kLaneHeight))};
}
QRectF Lanes::plot_area(std::size_t i) const {
    const QRectF a = lane_area(i);
    const double above = scaled_px(kAnswerHigh + kFrameHigh) + 6.0;
    return {a.left() + gutter(), a.top() + above, a.width() - gutter() - 8, a.height() - above - 2};
}

QPointF Lanes::place_of(std::size_t lane, std::size_t entry) const {
    return LanePainter(lanes_[lane], axis_, plot_area(lane), today_).at(entry);
}

void Lanes::resizeEvent(QResizeEvent*) {
    axis_.set_area(gutter() + 8, width() - 24.0);
    update_lanes();
    emit moved();
}

void Lanes::paint_words(QPainter& p, std::size_t i) const {
    const Theme& t = theme();
    const app::Lane& lane = lanes_[i];
    const QRectF a = lane_area(i).adjusted(16, 10, 0, -8);
    const double wide = gutter() - 30;
    p.setPen(t.ink);
    p.setFont(heading_font(18));
    const QString name = QString::fromStdString(lane.fault->name);
    p.drawText(QRectF(a.left(), a.top(), wide, 24), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(name, Qt::ElideRight, static_cast<int>(wide)));
    p.setFont(text_font(14, true));
    const QString stage = sentence(text(core::spoken(lane.stage))) + (lane.life.proposes ? "?" : "");
    p.drawText(QRectF(a.left(), a.top() + 25, wide, 20), Qt::AlignLeft | Qt::AlignVCenter,
               stage + (lane.correction.focus ? tr(" · the focus") : QString()));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    QStringList where;
    if (!lane.horse.isEmpty()) where << lane.horse;
    const QString seen = text(core::spoken(lane.correction.seen));
    if (!seen.isEmpty()) where << seen;
    QStringList lines{where.join(", ")};
    if (!lane.also_on.isEmpty()) lines << tr("also on %1: the rider's habit").arg(lane.also_on.join(", "));
    if (!lane.stalled.isEmpty()) lines << sentence(tr("stands still: ") + lane.stalled);
    const QRectF box(a.left(), a.top() + 47, wide, a.bottom() - a.top() - 47);
    p.setClipRect(box.adjusted(0, 0, 4, 4));
    p.drawText(box, Qt::AlignLeft | Qt::TextWordWrap, lines.join("\n"));
    p.setClipping(false);
}

/// What one wants to know first, over the lane.
void Lanes::paint_answer(QPainter& p, std::size_t i) const {
    const app::Lane& lane = lanes_[i];
    const QRectF a = lane_area(i);
    p.setPen(theme().ink);
    p.setFont(text_font(14));
    p.drawText(
        QRectF(a.left() + gutter() + 8, a.top() + 8, a.width() - gutter() - 24, scaled_px(kAnswerHigh) - 8),
        Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
        sentence(lane.answer.isEmpty() ? lane.change : lane.answer) + ".");
}

/// The last, the first and the best ride that can be seen, small, over their places in time; one that would
/// lie on another stays away.
void Lanes::paint_frames(QPainter& p, std::size_t i) const {
    const app::Lane& lane = lanes_[i];
    const QRectF a = lane_area(i);
    const double wide = scaled_px(kFrameWide), high = scaled_px(kFrameHigh) - 4;
    const double top = a.top() + scaled_px(kAnswerHigh);
    std::vector<QRectF> taken;
    for (const std::size_t k : app::telling_entries(lane)) {
        const app::LanePoint& e = lane.entries[k];
        const double x = axis_.x(when(e));
        if (x < gutter() || x > a.right()) continue;
        const double left = std::clamp(x - wide / 2, gutter() + 8, a.right() - wide - 8);
        const QRectF frame(left, top, wide, high);
        if (std::ranges::any_of(taken,
                                [&](const QRectF& t) { return t.adjusted(-4, 0, 4, 0).intersects(frame); }))
            continue;
        taken.push_back(frame);
        const QImage picture = thumbs_.of(e.film, e.frame);
        QPainterPath round;
        round.addRoundedRect(frame, 4, 4);
        p.fillPath(round, theme().picture_ground);
        if (!picture.isNull()) {
            p.save();
            p.setClipPath(round);
            p.setRenderHint(QPainter::SmoothPixmapTransform);
            const QSizeF fit = QSizeF(picture.size()).scaled(frame.size(), Qt::KeepAspectRatioByExpanding);
            p.drawImage(QRectF(frame.center() - QPointF(fit.width() / 2, fit.height() / 2), fit), picture);
            p.restore();
        }
        p.setPen(QPen(theme().line, 1));
        p.drawLine(QPointF(x, frame.bottom() + 1), QPointF(x, plot_area(i).top() + 18));
    }
}

void Lanes::paint_lane(QPainter& p, std::size_t i) const {
    const Theme& t = theme();
    const QRectF a = lane_area(i);
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(a, 10, 10);
    if (static_cast<int>(i) == current_row()) {
        p.setBrush(t.ink);
        p.drawRoundedRect(QRectF(a.left(), a.top() + 12, 4, a.height() - 24), 2, 2);
    }
    paint_words(p, i);
    paint_answer(p, i);
    paint_frames(p, i);
    const QRectF plot = plot_area(i);
    LanePainter(lanes_[i], axis_, plot, today_).paint(p);
    if (lanes_[i].entries.empty()) {
        p.setPen(t.quiet);
        p.setFont(text_font(14));
        p.drawText(plot, Qt::AlignCenter | Qt::TextWordWrap,
                   tr("No ride since could show it. R asks for the clip that would."));
    }
}

QString Lanes::entry_words(const app::LanePoint& e) const {
    QStringList out;
    if (!e.says.isEmpty()) out << sentence(e.says);
    const int looked = e.eye.of - e.logged;
    if (looked > 0 && e.logged == 0) out << tr("the eye: good in %1 of %2").arg(e.eye.good).arg(e.eye.of);
    if (e.logged > 0)
        out << (looked > 0 ? tr("good in %1 of %2: %3 by eye, %4 logged")
                                 .arg(e.eye.good)
                                 .arg(e.eye.of)
                                 .arg(looked)
                                 .arg(e.logged)
                           : tr("logged: good in %1 of %2").arg(e.eye.good).arg(e.eye.of));
    const QString verdict = text(core::word(e.verdict)).replace('_', ' ');
    out << (e.verdict == core::RideVerdict::other_side ? tr("past the other limit")
            : e.elsewhere                              ? tr("not in this gait, seat and side")
            : e.by == 1                                ? tr("%1, from one moment").arg(verdict)
            : e.by == 2                                ? tr("%1, from two moments").arg(verdict)
                                                       : verdict);
    QStringList by;
    if (e.moments > 0) by << tr("%n moment(s)", "", e.moments).replace("(s)", e.moments == 1 ? "" : "s");
    if (e.strides > 0) by << tr("%1 strides").arg(e.strides);
    if (!by.isEmpty()) out << tr("by ") + by.join(", ");
    return out.join(" · ");
}

void Lanes::paint_card(QPainter& p, const Spot& spot, bool pinned) const {
    const Theme& t = theme();
    const app::Lane& lane = lanes_[spot.first];
    const app::LanePoint& e = lane.entries[spot.second];
    const QPointF c = place_of(spot.first, spot.second);
    if (c.x() < gutter()) return;
    const double wide = scaled_px(kCardWide), high = card_high();
    double x = c.x() + 16;
    if (x + wide > width() - 8) x = c.x() - 16 - wide;
    const double y = std::clamp(c.y() - high / 2, 4.0, std::max(4.0, height() - high - 4));
    const QRectF card(x, y, wide, high);
    p.setPen(QPen(pinned ? t.ink : t.line, pinned ? 1.6 : 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(card, 8, 8);
    const QRectF frame(card.left() + 6, card.top() + 6, wide - 12, scaled_px(kCardPicture) - 6);
    QPainterPath round;
    round.addRoundedRect(frame, 5, 5);
    p.fillPath(round, t.picture_ground);
    if (e.clip) {
        const QImage picture = thumbs_.of(e.film, e.frame);
        if (!picture.isNull()) {
            p.save();
            p.setClipPath(round);
            p.setRenderHint(QPainter::SmoothPixmapTransform);
            const QSizeF fit = QSizeF(picture.size()).scaled(frame.size(), Qt::KeepAspectRatio);
            p.drawImage(QRectF(frame.center() - QPointF(fit.width() / 2, fit.height() / 2), fit), picture);
            p.restore();
        }
    }
    p.setPen(t.ink);
    p.setFont(text_font(14, true));
    const QRectF words(card.left() + 10, frame.bottom() + 2, wide - 20, high - frame.height() - 10);
    p.drawText(QRectF(words.left(), words.top(), words.width(), 19), Qt::AlignLeft | Qt::AlignVCenter,
               spoken_date(e.day));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    QString below = entry_words(e);
    if (!e.coach_word.isEmpty()) below = "“" + e.coach_word + "”  " + below;
    p.drawText(QRectF(words.left(), words.top() + 19, words.width(), words.height() - 19),
               Qt::AlignLeft | Qt::TextWordWrap, below);
}

/// What does not follow the pointer.
void Lanes::paint_lanes(QPainter& p, const QRect& part) const {
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
        if (lane_area(i).intersects(QRectF(part))) paint_lane(p, i);
    }
    if (!lanes_.empty()) return;
    p.setPen(theme().quiet);
    p.setFont(text_font(18));
    p.drawText(
        QRectF(8, 24, width() - 48.0, 80), Qt::AlignLeft | Qt::TextWordWrap,
        tr("No corrections yet. Review a clip of this rider, keep one focus, and its lane starts here."));
}

void Lanes::update_lanes() {
    kept_ = {};
    update();
}

void Lanes::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const QRect part = visibleRegion().boundingRect();
    // On the screen the lanes are kept as a picture, so that the pointer and its card cost nothing.
    if (p.paintEngine()->type() == QPaintEngine::Raster && !part.isEmpty()) {
        if (kept_.isNull() || kept_part_ != part) {
            kept_ = QPixmap(part.size() * devicePixelRatioF());
            kept_.setDevicePixelRatio(devicePixelRatioF());
            kept_.fill(Qt::transparent);
            QPainter into(&kept_);
            into.translate(-part.topLeft());
            paint_lanes(into, part);
            kept_part_ = part;
        }
        p.drawPixmap(part.topLeft(), kept_);
    } else {
        paint_lanes(p, rect());
    }
    p.setRenderHint(QPainter::Antialiasing);
    // The ring of the one under the keys.
    if (current_entry()) {
        const QPointF c = place_of(static_cast<std::size_t>(current_row()), entry_);
        if (c.x() >= gutter()) {
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(theme().ink, 1.4));
            p.drawEllipse(c, 13, 13);
        }
    }
    for (const Spot& spot : pinned_) paint_card(p, spot, true);
    if (under_ && !pinned_.contains(*under_)) paint_card(p, *under_, false);
    if (!under_ && hasFocus() && current_entry()) {
        const Spot spot{static_cast<std::size_t>(current_row()), entry_};
        if (!pinned_.contains(spot)) paint_card(p, spot, false);
    }
}

std::optional<Lanes::Spot> Lanes::spot_at(QPointF at) const {
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
        if (!plot_area(i).contains(at)) continue;
        if (const auto entry = LanePainter(lanes_[i], axis_, plot_area(i), today_).nearest(at))
            return Spot{i, *entry};
    }
    return std::nullopt;
}

QString Lanes::row_words(int row) const {
    const app::Lane& lane = lanes_[static_cast<std::size_t>(row)];
    QStringList out{QString::fromStdString(lane.fault->name), text(core::spoken(lane.stage))};
    if (lane.life.proposes) out << tr("proposed by its rides");
    if (lane.correction.focus) out << tr("the focus");
    if (!lane.horse.isEmpty()) out << lane.horse;
    const QString seen = text(core::spoken(lane.correction.seen));
    if (!seen.isEmpty()) out << seen;
    for (const app::LanePoint& e : lane.entries) out << spoken_date(e.day) + " " + entry_words(e);
    QString said = out.join(", ") + ". " + sentence(lane.why) + ". " +
                   sentence(lane.answer.isEmpty() ? lane.change : lane.answer);
    if (!lane.stalled.isEmpty()) said += ". " + sentence(tr("stands still: ") + lane.stalled);
    return said;
}

void Lanes::row_pressed(int) {
    const app::LanePoint* e = current_entry();
    if (e && e->clip) emit open_clip(e->clip);
}

void Lanes::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Left || e->key() == Qt::Key_Right) return step(e->key() == Qt::Key_Left ? -1 : 1);
    if (e->key() == Qt::Key_Space) return pin();
    const int before = current_row();
    if (!take_row_key(*this, *e)) return QWidget::keyPressEvent(e);
    if (current_row() == before) return;
    update_lanes();
    entry_ = current() && !current()->entries.empty() ? current()->entries.size() - 1 : 0;
    emit chosen();
}

void Lanes::mousePressEvent(QMouseEvent* e) {
    dragged_from_ = e->position().x();
    if (const auto spot = spot_at(e->position())) {
        choose(spot->first, spot->second);
        return pin();
    }
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
        if (lane_area(i).contains(e->position())) {
            set_current_row(static_cast<int>(i));
            entry_ = lanes_[i].entries.empty() ? 0 : lanes_[i].entries.size() - 1;
            update_lanes();
            emit chosen();
        }
    }
}
void Lanes::mouseDoubleClickEvent(QMouseEvent* e) {
    if (const auto spot = spot_at(e->position())) {
        pinned_.erase(*spot);
        choose(spot->first, spot->second);
        row_pressed(current_row());
    }
}
void Lanes::mouseMoveEvent(QMouseEvent* e) {
    if (e->buttons() & Qt::LeftButton && e->position().x() > gutter()) {
        axis_.pan(dragged_from_ - e->position().x());
        dragged_from_ = e->position().x();
        under_.reset();
        update_lanes();
        return emit moved();
    }
    const auto spot = spot_at(e->position());
    if (spot == under_) return;
    under_ = spot;
    setCursor(spot ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
}
void Lanes::changeEvent(QEvent* e) {
    if (e->type() == QEvent::PaletteChange || e->type() == QEvent::FontChange) update_lanes();
    QWidget::changeEvent(e);
}
void Lanes::leaveEvent(QEvent*) {
    under_.reset();
    update();
}
void Lanes::wheelEvent(QWheelEvent* e) {
    // With Ctrl, as everywhere, the time is drawn apart; without it the list scrolls.
    if (!(e->modifiers() & Qt::ControlModifier)) return e->ignore();
    axis_.zoom(std::pow(1.25, e->angleDelta().y() / 120.0), e->position().x());
    update_lanes();
    emit moved();
}

}  // namespace aspen::ui

#include "moc_lanes_widget.cpp"
