#include "ui/yard/cards.hpp"

#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr double kPictureHigh = 110;

}  // namespace

ClipCard::ClipCard(app::Yard& yard, app::Thumbs& thumbs, store::Clip clip, bool next, QWidget* parent)
    : QWidget(parent), thumbs_(thumbs), clip_(std::move(clip)), next_(next) {
    setMinimumWidth(kWidth);
    setFixedHeight(kHeight);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    const auto rider = clip_.context.rider ? yard.records().rider(clip_.context.rider) : std::nullopt;
    const auto horse = clip_.context.horse ? yard.records().horse(clip_.context.horse) : std::nullopt;
    rider_ = rider ? text(rider->name) : QStringLiteral("Whose clip?");
    QStringList parts;
    if (horse) parts << text(horse->name);
    if (clip_.context.gait) parts << text(core::spoken(*clip_.context.gait));
    parts << spoken_date(text(clip_.filmed_on));
    if (clip_.duration_s > 0)
        parts << (clip_.duration_s < 90
                      ? QString("%1 s").arg(clip_.duration_s, 0, 'f', 0)
                      : QString("%1:%2 min")
                            .arg(static_cast<int>(clip_.duration_s) / 60)
                            .arg(static_cast<int>(clip_.duration_s) % 60, 2, 10, QChar('0')));
    line_ = parts.join(" · ");
    setAccessibleName("Clip of " + rider_ + ", " + line_);
    setToolTip("Open the review");
    setMouseTracking(true);
    connect(&thumbs_, &app::Thumbs::changed, this, [this] { update(); });
}

void ClipCard::take_focus_when_shown() {
    wants_focus_ = true;
    if (isVisible()) setFocus();
}
void ClipCard::showEvent(QShowEvent*) {
    if (wants_focus_) setFocus();
}

void ClipCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const Theme& t = theme();
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(rect().adjusted(1, 1, -1, -1), 10, 10);
    const QRectF frame(1, 1, width() - 2, kPictureHigh);
    QPainterPath round;
    round.addRoundedRect(frame.adjusted(0, 0, 0, 10), 10, 10);
    p.save();
    p.setClipPath(round);
    p.setClipRect(frame, Qt::IntersectClip);
    const QImage picture = still();
    if (picture.isNull()) {
        p.fillRect(frame, t.line);
    } else {
        const double shape = frame.width() / frame.height(),
                     have = static_cast<double>(picture.width()) / picture.height();
        QRectF from = picture.rect();
        if (have > shape)
            from = QRectF((picture.width() - picture.height() * shape) / 2, 0, picture.height() * shape,
                          picture.height());
        else
            from = QRectF(0, 0, picture.width(), picture.width() / shape);
        p.drawImage(frame, picture, from);
    }
    p.restore();
    if (over_ >= 0) {  // where in the clip this is
        p.setBrush(t.panel);
        p.setPen(QPen(t.ink, 1.5));
        p.drawRoundedRect(QRectF(over_ - 2.5, kPictureHigh - 9, 5, 14), 2.5, 2.5);
    }
    p.setPen(t.ink);
    p.setFont(heading_font(14));
    p.drawText(QRectF(12, kPictureHigh + 8, width() - 24, 22), Qt::AlignVCenter,
               p.fontMetrics().elidedText(rider_, Qt::ElideRight, width() - 24));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(QRectF(12, kPictureHigh + 30, width() - 24, 16), Qt::AlignVCenter,
               p.fontMetrics().elidedText(line_, Qt::ElideRight, width() - 24));
    const QString state = hasFocus() && !clip_.context.rider
                              ? QStringLiteral("1…9 says who rides · Enter opens")
                          : next_                                    ? "Review this next   Enter"
                          : clip_.state == store::ClipState::done    ? "reviewed"
                          : clip_.state == store::ClipState::started ? "started"
                                                                     : "new";
    p.setFont(text_font(12, next_));
    p.setPen(next_ ? t.sky : t.quiet);
    p.drawText(QRectF(12, kPictureHigh + 46, width() - 24, 16), Qt::AlignVCenter, state);
    if (next_ || hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(hasFocus() ? t.ink : t.sky, 2));
        p.drawRoundedRect(rect().adjusted(1, 1, -1, -1), 10, 10);
    }
}

/// The clip's picture, or under the pointer that of the place in its film.
QImage ClipCard::still() const {
    if (over_ < 0) return thumbs_.of(clip_, clip_.last_frame);
    const QImage film = thumbs_.film(clip_);
    if (film.isNull()) return thumbs_.of(clip_, clip_.last_frame);
    const int wide = film.width() / app::Thumbs::kStills;
    return film.copy(
        std::clamp(over_ * app::Thumbs::kStills / std::max(1, width()), 0, app::Thumbs::kStills - 1) * wide,
        0, wide, film.height());
}
void ClipCard::mouseMoveEvent(QMouseEvent* e) {
    over_ = e->position().y() < kPictureHigh ? static_cast<int>(e->position().x()) : -1;
    update();
}
void ClipCard::leaveEvent(QEvent*) {
    over_ = -1;
    update();
}
void ClipCard::mouseReleaseEvent(QMouseEvent* e) {
    if (e->button() == Qt::LeftButton && rect().contains(e->pos())) emit open(clip_.id);
}
void ClipCard::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space)
        return emit open(clip_.id);
    if (e->key() == Qt::Key_Delete) return emit trash(clip_.id);
    if (e->key() >= Qt::Key_1 && e->key() <= Qt::Key_9) return emit rides(clip_.id, e->key() - Qt::Key_0);
    if (e->key() == Qt::Key_Right || e->key() == Qt::Key_Down) return static_cast<void>(focusNextChild());
    if (e->key() == Qt::Key_Left || e->key() == Qt::Key_Up) return static_cast<void>(focusPreviousChild());
    QWidget::keyPressEvent(e);
}
void ClipCard::contextMenuEvent(QContextMenuEvent* e) {
    QMenu menu(this);
    connect(menu.addAction("Open the review\tEnter"), &QAction::triggered, this,
            [this] { emit open(clip_.id); });
    connect(menu.addAction("Put in the trash\tDel"), &QAction::triggered, this,
            [this] { emit trash(clip_.id); });
    menu.exec(e->globalPos());
}

RiderCard::RiderCard(app::Yard& yard, const store::Rider& rider, int number, QWidget* parent)
    : QWidget(parent), id_(rider.id) {
    setAccessibleName(text(rider.name));
    setCursor(Qt::PointingHandCursor);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 10, 10, 12);
    box->setSpacing(5);
    auto* top = new QHBoxLayout;
    top->addWidget(heading_label(text(rider.name), this), 1);
    if (number > 0) {
        auto* key = quiet_label(QString::number(number), this);
        key->setToolTip("On a clip's card this key says that this rider rides");
        key->setWordWrap(false);
        top->addWidget(key);
    }
    auto* edit_button = new QPushButton("Edit", this);
    edit_button->setObjectName("word");
    edit_button->setAccessibleName("Edit " + text(rider.name));
    connect(edit_button, &QPushButton::clicked, this, [this] { emit edit(id_); });
    top->addWidget(edit_button);
    box->addLayout(top);
    const core::School* school = yard.knowledge().schools.find(rider.school);
    QStringList about;
    if (school) about << text(school->name);
    if (!rider.level.empty()) about << text(rider.level);
    if (!rider.limitations.empty()) about << "mind the " + text(rider.limitations);
    box->addWidget(
        quiet_label(about.isEmpty() ? QStringLiteral("nothing noted yet") : about.join(" · "), this));
    for (const app::Lane& lane : app::lanes_of(yard, rider.id)) {
        if (!lane.correction.focus) continue;
        box->addWidget(text_label(
            QString("<b>%1</b> · %2").arg(text(lane.fault->name), text(core::spoken(lane.stage))), this));
        if (lane.prescriptions.empty()) continue;
        const store::Prescription& p = lane.prescriptions.back();
        if (const core::Exercise* e = yard.knowledge().exercises.find(p.exercise)) {
            box->addWidget(quiet_label(
                text(e->name) + ", " + text(core::spoken(e->dose)) +
                    (p.until < yard.today().toString(Qt::ISODate).toStdString() ? ", ended " : ", until ") +
                    spoken_date(text(p.until)),
                this));
        }
    }
}

void RiderCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().panel);
    p.drawRoundedRect(rect(), 10, 10);
}
void RiderCard::mouseReleaseEvent(QMouseEvent* e) {
    if (e->button() == Qt::LeftButton && rect().contains(e->pos())) emit open(id_);
}

}  // namespace aspen::ui
