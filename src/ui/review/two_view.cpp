#include "ui/review/two_view.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

using L = core::Landmark;

constexpr double kRowsWide = 310;
constexpr int kFlickerMs = 450;

bool there(const core::Figure& f, L l) { return f[l].visibility != core::Visibility::absent; }

}  // namespace

TwoView::TwoView(app::Bench& bench, const KeyMap& keys, QWidget* parent)
    : QWidget(parent), bench_(bench), reader_(bench.yard()), hint_(new HintLine(keys, this)) {
    here_.stage.add_layer(figure_layer([this] { return here_.figure; }, 0, true));
    there_.stage.add_layer(figure_layer([this] { return there_.figure; }, 2, true));
    hint_->set_colours(kSoft, kBone);
    hint_->move(16, 24);
    connect(hint_, &HintLine::pressed, this, &TwoView::do_key);
    hide();
    setAccessibleName(tr("Two moments at once"));
    setFocusPolicy(Qt::TabFocus);
    make_rows_accessible();
    parent->installEventFilter(this);
    flicker_.setInterval(kFlickerMs);
    connect(&flicker_, &QTimer::timeout, this, [this] {
        flick_ = !flick_;
        update();
    });
    connect(&bench_, &app::Bench::closing, this, &TwoView::leave);
    connect(&reader_, &app::OtherPicture::loaded, this, [this](const QImage& picture) {
        there_.stage.set_picture(picture, {});
        update();
    });
    connect(&reader_, &app::OtherPicture::failed, this, &TwoView::say);
}

void TwoView::open() {
    if (isVisible()) return leave();
    if (!bench_.review().moment() || bench_.marking().figure().marked() < 3)
        return emit say(tr("Mark this moment first; then it can be held against another."));
    others_ = app::moments_to_compare(bench_);
    if (others_.empty()) return emit say(tr("There is no other marked moment of this rider yet."));
    here_.figure = bench_.marking().figure();
    here_.stage.set_picture(bench_.deck().picture(), bench_.deck().display_size());
    chosen_ = 0;
    choose(0);
    tell_keys();
    setGeometry(parentWidget()->rect());
    raise();
    show();
}

void TwoView::leave() {
    flicker_.stop();
    if (!isVisible()) return;
    hide();
    emit closed();
}

void TwoView::choose(int by) {
    const auto n = static_cast<int>(others_.size());
    chosen_ = static_cast<std::size_t>((static_cast<int>(chosen_) + by + n) % n);
    const app::OtherMoment& other = others_[chosen_];
    there_.figure = other.moment.figure;
    there_.stage.set_picture({}, {});
    rows_ = app::differences(bench_, other);
    reader_.load(other);
    update();
}

/// The line of keys: what is chosen bears a tick.
void TwoView::tell_keys() {
    if (others_.empty()) return;
    const QString names[] = {tr("side by side"), tr("laid over"), tr("flickering")};
    QStringList keys;
    for (int i = 0; i < 3; ++i)
        keys << QString("[=%1] %2%3").arg(i + 1).arg(names[i], static_cast<int>(way_) == i ? " ✓" : "");
    keys << tr("[=4] lined up on %1").arg(on_saddle_ ? tr("the saddle") : tr("hip and trunk"))
         << tr("[=←] [=→] other moment (%1 of %2)").arg(chosen_ + 1).arg(others_.size());
    if (way_ == Way::over) keys << tr("[=↑] [=↓] more of now, of then");
    keys << tr("[=Esc] leaves");
    hint_->say(keys.join("   ·   "));
    hint_->adjustSize();
}

/// A key of the line that was clicked.
void TwoView::do_key(const QString& key) {
    static const QHash<QString, int> keys{{"1", Qt::Key_1},  {"2", Qt::Key_2},    {"3", Qt::Key_3},
                                          {"4", Qt::Key_4},  {"←", Qt::Key_Left}, {"→", Qt::Key_Right},
                                          {"↑", Qt::Key_Up}, {"↓", Qt::Key_Down}};
    if (key == "Esc") return leave();
    take_key(QKeyEvent(QEvent::KeyPress, keys.value(key), Qt::NoModifier));
}

bool TwoView::take_key(const QKeyEvent& e) {
    const bool taken = change_by(e);
    if (taken) tell_keys();
    return taken;
}

bool TwoView::change_by(const QKeyEvent& e) {
    if (e.modifiers() & ~(Qt::KeypadModifier | Qt::ShiftModifier)) return false;
    const auto show_as = [&](Way w) {
        way_ = w;
        flick_ = false;
        w == Way::flicker ? flicker_.start() : flicker_.stop();
        update();
        return true;
    };
    switch (e.key()) {
        case Qt::Key_1:
            return show_as(Way::side_by_side);
        case Qt::Key_2:
            return show_as(Way::over);
        case Qt::Key_3:
            return show_as(Way::flicker);
        case Qt::Key_4:
            on_saddle_ = !on_saddle_;
            update();
            return true;
        case Qt::Key_Left:
            choose(-1);
            return true;
        case Qt::Key_Right:
            choose(1);
            return true;
        case Qt::Key_Up:
            share_ = std::min(1.0, share_ + 0.1);
            update();
            return true;
        case Qt::Key_Down:
            share_ = std::max(0.0, share_ - 0.1);
            update();
            return true;
        default:
            return false;
    }
}

QRectF TwoView::stage() const { return QRectF(0, 44, width() - kRowsWide, height() - 44); }
QRectF TwoView::slider() const { return QRectF(stage().center().x() - 110, height() - 34, 220, 20); }

void TwoView::mousePressEvent(QMouseEvent* e) { mouseMoveEvent(e); }
void TwoView::mouseMoveEvent(QMouseEvent* e) {
    if (way_ != Way::over || !(e->buttons() & Qt::LeftButton) ||
        !slider().adjusted(-10, -8, 10, 8).contains(e->position()))
        return;
    share_ = std::clamp((e->position().x() - slider().left()) / slider().width(), 0.0, 1.0);
    update();
}

/// Turns and sizes a picture so that hip and trunk (or the saddle) of both moments lie on one another.
std::optional<PictureStage::Place> TwoView::lined_up(const Side& side, const QRectF& area,
                                                     bool mirror) const {
    const bool saddle = on_saddle_ && there(here_.figure, L::cantle) && there(here_.figure, L::withers) &&
                        there(there_.figure, L::cantle) && there(there_.figure, L::withers);
    const bool frontal = side.figure.view != core::View::side;
    const L a = saddle    ? L::cantle
                : frontal ? L::left_hip
                          : L::hip,
            b = saddle    ? L::withers
                : frontal ? L::left_shoulder
                          : L::shoulder;
    if (!there(side.figure, a) || !there(side.figure, b)) return std::nullopt;
    const double size = core::distance(side.figure[a].at, side.figure[b].at);
    if (size < 2) return std::nullopt;
    const double k = (saddle ? 0.18 : 0.24) * area.height() / size;
    QTransform t;
    t.translate(area.center().x(), area.top() + 0.55 * area.height());
    t.scale(mirror ? -k : k, k);
    t.rotate(-side.figure.camera.roll_deg);
    t.translate(-side.figure[a].at.x, -side.figure[a].at.y);
    return PictureStage::Place{t, area};
}

void TwoView::paint_side(QPainter& p, const Side& side, const QRectF& area, double opacity,
                         bool mirror) const {
    if (const auto place = lined_up(side, area, mirror)) return side.stage.paint(p, *place, opacity);
    p.setPen(kSoft);
    p.setFont(text_font(14));
    p.drawText(area, Qt::AlignCenter | Qt::TextWordWrap, tr("hip and shoulder are needed to line it up"));
}

double TwoView::row_step(const QRectF& area) const {
    return std::min(30.0, (area.height() - 60) / std::max<double>(1, static_cast<double>(rows_.size())));
}

QRectF TwoView::rows_area() const { return {width() - kRowsWide + 8, 44, kRowsWide - 16, height() - 44.0}; }

QRect TwoView::row_area(int row) const {
    const QRectF area = rows_area();
    const double step = row_step(area);
    return QRectF(area.left(), area.top() + 30 + row * step, area.width(), step).toRect();
}

QString TwoView::row_words(int row) const {
    const app::MeasureDifference& d = rows_[static_cast<std::size_t>(row)];
    const QString unit = unit_text(d.info->unit);
    return tr("%1, then %2, now %3, changed by %4%5 %6, %7")
        .arg(sentence(text(d.info->spoken)), value_text(*d.there.measured.value) + unit,
             value_text(*d.here.measured.value) + unit, value_text(d.by), unit, error_text(d.sd) + unit,
             d.changed ? tr("more than measuring error") : tr("within measuring error"));
}

void TwoView::paint_rows(QPainter& p, const QRectF& area) const {
    p.setFont(text_font(12));
    const double step = row_step(area);
    double y = area.top() + 30;
    p.setPen(kSoft);
    p.drawText(QRectF(area.left(), area.top() + 6, 130, 20), Qt::AlignVCenter, tr("measure"));
    p.drawText(QRectF(area.left() + 120, area.top() + 6, 50, 20), Qt::AlignVCenter | Qt::AlignRight,
               tr("then"));
    p.drawText(QRectF(area.left() + 170, area.top() + 6, 50, 20), Qt::AlignVCenter | Qt::AlignRight,
               tr("now"));
    p.drawText(QRectF(area.left() + 220, area.top() + 6, 70, 20), Qt::AlignVCenter | Qt::AlignRight,
               tr("change"));
    for (const app::MeasureDifference& d : rows_) {
        p.setFont(text_font(12, d.changed));
        p.setPen(d.changed ? kBone : kSoft);
        p.drawText(QRectF(area.left(), y, 122, step), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(sentence(text(d.info->spoken)), Qt::ElideRight, 122));
        p.drawText(QRectF(area.left() + 120, y, 50, step), Qt::AlignVCenter | Qt::AlignRight,
                   value_text(*d.there.measured.value));
        p.drawText(QRectF(area.left() + 170, y, 50, step), Qt::AlignVCenter | Qt::AlignRight,
                   value_text(*d.here.measured.value));
        p.drawText(QRectF(area.left() + 220, y, 70, step), Qt::AlignVCenter | Qt::AlignRight,
                   (d.by > 0 ? "+" : "") + value_text(d.by) + " " + error_text(d.sd));
        y += step;
    }
    p.setFont(text_font(12));
    p.setPen(kSoft);
    p.drawText(QRectF(area.left(), area.bottom() - 24, area.width(), 20), Qt::AlignVCenter,
               tr("strong: more than measuring error"));
}

void TwoView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().picture_ground);
    if (others_.empty()) return;
    const bool mirror = here_.figure.travel != core::Travel::unknown &&
                        there_.figure.travel != core::Travel::unknown &&
                        here_.figure.travel != there_.figure.travel;
    const QRectF all = stage();
    if (way_ == Way::side_by_side) {
        const QRectF left(all.left(), all.top(), all.width() / 2 - 2, all.height()),
            right(all.center().x() + 2, all.top(), all.width() / 2 - 2, all.height());
        paint_side(p, there_, left, 1, mirror);
        paint_side(p, here_, right, 1, false);
        p.setFont(text_font(12));
        p.setPen(kSoft);
        p.drawText(left.adjusted(12, 0, 0, -8), Qt::AlignBottom | Qt::AlignLeft, tr("then"));
        p.drawText(right.adjusted(12, 0, 0, -8), Qt::AlignBottom | Qt::AlignLeft, tr("now"));
    } else if (way_ == Way::over) {
        paint_side(p, there_, all, 1, mirror);
        paint_side(p, here_, all, share_, false);
        const QRectF bar = slider();
        p.setPen(QPen(kSoft, 2));
        p.drawLine(QPointF(bar.left(), bar.center().y()), QPointF(bar.right(), bar.center().y()));
        p.setPen(Qt::NoPen);
        p.setBrush(kBone);
        p.drawEllipse(QPointF(bar.left() + share_ * bar.width(), bar.center().y()), 8, 8);
    } else {
        paint_side(p, flick_ ? here_ : there_, all, 1, !flick_ && mirror);
    }
    p.setPen(kBone);
    p.setFont(text_font(14, true));
    const QString against = tr("Against %1%2").arg(others_[chosen_].words, mirror ? tr(" · mirrored") : "");
    p.drawText(QRectF(16, 0, width() - 32, 24), Qt::AlignVCenter, against);
    paint_rows(p, rows_area());
}

bool TwoView::eventFilter(QObject* watched, QEvent* e) {
    if (watched == parentWidget() && e->type() == QEvent::Resize) setGeometry(parentWidget()->rect());
    return QWidget::eventFilter(watched, e);
}

}  // namespace aspen::ui
