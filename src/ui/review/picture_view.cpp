#include "ui/review/picture_view.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr double kHandleRadius = 11;   // 22 px to grab, though the mark drawn is hair-thin
constexpr double kDragStart = 3;
constexpr double kMagnified = 4;
const QColor kBone(0xff, 0xfd, 0xf8);

QString name_of(core::Landmark l) { return QString::fromUtf8(core::spoken(l).data()); }

}  // namespace

PictureView::PictureView(app::Bench& bench, QWidget* parent) : QWidget(parent), bench_(bench) {
    setMouseTracking(true);
    setMinimumSize(320, 200);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName("Picture");
    const auto refresh = [this] {
        update_cursor();
        update();
    };
    connect(&bench_, &app::Bench::picture_changed, this, refresh);
    connect(&bench_, &app::Bench::figure_changed, this, refresh);
    connect(&bench_, &app::Bench::asked_changed, this, refresh);
    connect(&bench_, &app::Bench::frame_changed, this, refresh);
    connect(&bench_, &app::Bench::clip_opened, this, [this] { zoom_to_fit(); });
}

double PictureView::scale() const {
    const QSize size = bench_.display_size();
    if (size.isEmpty()) return 1;
    return std::min(static_cast<double>(width()) / size.width(), static_cast<double>(height()) / size.height()) * zoom_;
}

QPointF PictureView::origin() const {
    const QSizeF size = QSizeF(bench_.display_size()) * scale();
    return QPointF(width() - size.width(), height() - size.height()) / 2 + pan_;
}

QPointF PictureView::to_widget(core::Point p) const { return origin() + QPointF(p.x, p.y) * scale(); }

core::Point PictureView::to_picture(QPointF p) const {
    const QPointF q = (p - origin()) / scale();
    return {q.x(), q.y()};
}

void PictureView::zoom_to_fit() {
    zoom_ = 1;
    pan_ = {};
    tell_size();
    update();
}

void PictureView::zoom_by(double factor, QPointF at) {
    const core::Point under = to_picture(at);
    zoom_ = std::clamp(zoom_ * factor, 1.0, 16.0);
    if (zoom_ <= 1.0) pan_ = {};
    else pan_ += at - to_widget(under);
    tell_size();
    update();
}

void PictureView::draw_upright(bool on) {
    drawing_upright_ = on;
    upright_.reset();
    update_cursor();
    update();
}

std::optional<core::Landmark> PictureView::joint_at(QPointF at) const {
    const core::Figure f = bench_.figure();
    std::optional<core::Landmark> best;
    double nearest = kHandleRadius;
    for (const core::Landmark l : core::landmarks_of(f.view)) {
        if (f[l].visibility == core::Visibility::absent) continue;
        const QPointF d = to_widget(f[l].at) - at;
        const double away = std::hypot(d.x(), d.y());
        if (away < nearest) nearest = away, best = l;
    }
    return best;
}

void PictureView::update_cursor() {
    const bool places = bench_.asked() && bench_.picture_is_current();
    setCursor(drawing_upright_ || places ? Qt::CrossCursor : Qt::ArrowCursor);
}

void PictureView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    press_ = e->position();
    moved_ = false;
    if (e->button() == Qt::MiddleButton || (e->button() == Qt::LeftButton && e->modifiers() & Qt::ControlModifier)) {
        panning_ = true;
        pan_press_ = pan_;
        return;
    }
    if (e->button() != Qt::LeftButton || bench_.picture().isNull()) return;
    if (drawing_upright_) {
        upright_ = {to_picture(press_), to_picture(press_)};
        return;
    }
    held_ = joint_at(press_);
}

void PictureView::mouseMoveEvent(QMouseEvent* e) {
    pointer_ = e->position();
    const QPointF d = pointer_ - press_;
    if (e->buttons() != Qt::NoButton && std::hypot(d.x(), d.y()) > kDragStart) moved_ = true;
    if (panning_) {
        pan_ = pan_press_ + d;
    } else if (upright_) {
        upright_->second = to_picture(pointer_);
    } else if (held_ && moved_ && bench_.picture_is_current()) {
        bench_.drag(*held_, to_picture(pointer_), zoom_);
    }
    update();
}

void PictureView::mouseReleaseEvent(QMouseEvent* e) {
    if (panning_) {
        panning_ = false;
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    if (upright_) {
        bench_.set_upright(upright_->first, upright_->second);
        draw_upright(false);
        emit upright_drawn();
        return;
    }
    if (bench_.dragging()) {
        bench_.end_drag();
    } else if (held_) {
        bench_.select(held_);
    } else if (!moved_ && bench_.picture_is_current()) {
        const core::Point at = to_picture(e->position());
        const QRectF inside(QPointF(0, 0), QSizeF(bench_.display_size()));
        if (inside.contains(at.x, at.y)) bench_.place(at, zoom_);
    }
    held_.reset();
    update();
}

void PictureView::wheelEvent(QWheelEvent* e) {
    zoom_by(std::pow(1.0015, e->angleDelta().y()), e->position());
    e->accept();
}

void PictureView::leaveEvent(QEvent*) {
    pointer_ = {-1, -1};
    update();
}

void PictureView::resizeEvent(QResizeEvent*) {
    tell_size();
    update();
}

/// The engine sends pictures no larger than they are seen while the hand moves.
void PictureView::tell_size() { bench_.set_view((QSizeF(size()) * zoom_ * devicePixelRatioF()).toSize()); }

/// The whole picture scaled once, not at every movement of the pointer.
void PictureView::paint_picture(QPainter& p) {
    const QImage& picture = bench_.picture();
    const QRectF to(origin(), QSizeF(bench_.display_size()) * scale());
    const QSize pixels = (to.size() * devicePixelRatioF()).toSize();
    if (zoom_ > 1 || picture.size() == pixels) {
        p.setRenderHint(QPainter::SmoothPixmapTransform, scale() < 3);
        p.drawImage(to, picture);
        return;
    }
    if (scaled_from_ != picture.cacheKey() || scaled_.size() != pixels) {
        scaled_ = picture.scaled(pixels, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
        scaled_from_ = picture.cacheKey();
    }
    p.drawImage(to, scaled_);
}

void PictureView::paint_figure(QPainter& p, const core::Figure& f) const {
    const auto there = [&](core::Landmark l) { return f[l].visibility != core::Visibility::absent; };
    const auto hidden = [&](core::Landmark l) { return f[l].visibility == core::Visibility::hidden; };
    if (there(core::Landmark::heel) && f.view == core::View::side) {
        const double r = core::radians(f.camera.roll_deg);
        const QPointF foot = to_widget(f[core::Landmark::heel].at), up(std::sin(r), -std::cos(r));
        p.setPen(QPen(QColor(20, 26, 24, 110), 3));
        p.drawLine(foot + up * -14, foot + up * height());
        p.setPen(QPen(QColor(255, 253, 248, 210), 1, f.camera.roll_marked ? Qt::SolidLine : Qt::DashLine));
        p.drawLine(foot + up * -14, foot + up * height());
    }
    for (const auto& [a, b] : core::segments_of(f.view)) {
        if (!there(a) || !there(b)) continue;
        const bool guessed = hidden(a) || hidden(b);
        p.setPen(QPen(QColor(20, 26, 24, 130), 3.5, guessed ? Qt::DotLine : Qt::SolidLine, Qt::RoundCap));
        p.drawLine(to_widget(f[a].at), to_widget(f[b].at));
        p.setPen(QPen(QColor(255, 253, 248, guessed ? 120 : 235), 1.4, guessed ? Qt::DotLine : Qt::SolidLine, Qt::RoundCap));
        p.drawLine(to_widget(f[a].at), to_widget(f[b].at));
    }
    for (const core::Landmark l : core::landmarks_of(f.view)) {
        if (!there(l)) continue;
        const QPointF c = to_widget(f[l].at);
        const bool chosen = bench_.selected() == l;
        const double r = chosen ? kHandleRadius : 4;
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(20, 26, 24, 160), 3));
        p.drawEllipse(c, r, r);
        p.setPen(QPen(kBone, chosen ? 2 : 1.3, hidden(l) ? Qt::DotLine : Qt::SolidLine));
        p.drawEllipse(c, r, r);
        if (chosen) {
            p.setFont(text_font(12, true));
            const QRectF tag(c.x() + 16, c.y() - 10, p.fontMetrics().horizontalAdvance(name_of(l)) + 12.0, 20);
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(20, 26, 24, 190));
            p.drawRoundedRect(tag, 4, 4);
            p.setPen(kBone);
            p.drawText(tag, Qt::AlignCenter, name_of(l));
        }
    }
}

void PictureView::paint_magnifier(QPainter& p) const {
    const bool placing = !quiet_ && bench_.asked() && bench_.picture_is_current() && !drawing_upright_;
    if (pointer_.x() < 0 || panning_ || (!placing && !bench_.dragging()) || (joint_at(pointer_) && !bench_.dragging())) return;
    const core::Point at = to_picture(pointer_);
    const QRectF inside(QPointF(0, 0), QSizeF(bench_.display_size()));
    if (!inside.contains(at.x, at.y)) return;
    const double size = 132, share = size / (kMagnified * scale());
    QPointF corner = pointer_ + QPointF(26, 26);
    if (corner.x() + size > width()) corner.setX(pointer_.x() - 26 - size);
    if (corner.y() + size > height()) corner.setY(pointer_.y() - 26 - size);
    const QRectF glass(corner, QSizeF(size, size));
    p.save();
    QPainterPath round;
    round.addEllipse(glass);
    p.setClipPath(round);
    p.fillRect(glass, theme().picture_ground);
    const double shrunk = static_cast<double>(bench_.picture().width()) / bench_.display_size().width();
    p.drawImage(glass, bench_.picture(), QRectF((at.x - share / 2) * shrunk, (at.y - share / 2) * shrunk, share * shrunk, share * shrunk));
    p.setClipping(false);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(kBone, 2));
    p.drawEllipse(glass);
    p.setPen(QPen(QColor(255, 253, 248, 230), 1));  // hairs that leave the spot itself free
    const QPointF c = glass.center();
    for (const QPointF d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)}) p.drawLine(c + d * 7, c + d * 24);
    p.restore();
}

void PictureView::paint_stand_in(QPainter& p) const {
    if (bench_.picture_kind() != media::ShownPicture::Kind::approximate) return;
    p.setFont(text_font(12));
    const QString words = QString("near frame %1, the exact one is coming").arg(bench_.picture_frame());
    const QRectF pill(width() - p.fontMetrics().horizontalAdvance(words) - 36.0, height() - 36.0, p.fontMetrics().horizontalAdvance(words) + 24.0, 24);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(20, 26, 24, 200));
    p.drawRoundedRect(pill, 12, 12);
    p.setPen(kBone);
    p.drawText(pill, Qt::AlignCenter, words);
}

void PictureView::paint_prompt(QPainter& p) const {
    QString strong, rest;
    if (drawing_upright_) {
        strong = "Draw along something upright";
        rest = "a post, a letter's stand or a wall's edge: press at one end, let go at the other · Esc leaves it";
    } else if (const auto l = bench_.asked(); l && bench_.ready()) {
        strong = "Click the " + name_of(*l);
        rest = QString::fromUtf8(core::where(*l).data()) + " · X can't see it";
    } else if (bench_.selected()) {
        strong = name_of(*bench_.selected());
        rest = "drag or nudge with the arrow keys · Del takes it away · Esc lets go";
    } else {
        return;
    }
    const QFont bold = text_font(14, true), plain = text_font(14);
    const double gap = 10, pad = 14;
    const double first = QFontMetricsF(bold).horizontalAdvance(strong);
    const double room = width() - 24 - first - gap - 2 * pad;
    rest = QFontMetricsF(plain).elidedText(rest, Qt::ElideRight, std::max(0.0, room));
    const QRectF pill(12, 12, first + gap + QFontMetricsF(plain).horizontalAdvance(rest) + 2 * pad, 34);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(20, 26, 24, 215));
    p.drawRoundedRect(pill, 17, 17);
    p.setBrush(QColor("#8DB6DE"));  // sky: the one thing to do next
    p.drawRoundedRect(QRectF(pill.left() + 2, pill.top() + 8, 4, pill.height() - 16), 2, 2);
    p.setFont(bold);
    p.setPen(kBone);
    p.drawText(pill.adjusted(pad, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, strong);
    p.setFont(plain);
    p.setPen(QColor(0xd6, 0xd9, 0xd2));
    p.drawText(pill.adjusted(pad + first + gap, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, rest);
}

void PictureView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().picture_ground);
    const QImage& picture = bench_.picture();
    if (picture.isNull()) {
        p.setPen(QColor(0xb9, 0xc0, 0xba));
        p.setFont(text_font(18));
        p.drawText(rect(), Qt::AlignCenter, bench_.is_open() ? "Opening the clip …" : "Choose a clip in the yard, or drop one here");
        return;
    }
    paint_picture(p);
    p.setRenderHint(QPainter::Antialiasing);
    if (bench_.ready() && !bench_.picture_is_current()) paint_stand_in(p);
    if (bench_.picture_is_current()) paint_figure(p, bench_.figure());
    if (upright_) {
        p.setPen(QPen(QColor("#8DB6DE"), 2));
        p.drawLine(to_widget(upright_->first), to_widget(upright_->second));
    }
    paint_magnifier(p);
    if (!quiet_) paint_prompt(p);
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(255, 253, 248, 90), 1));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

}  // namespace aspen::ui
