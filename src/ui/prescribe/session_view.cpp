#include "ui/prescribe/session_view.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kClockHeight = 136, kClockFoot = 20, kPartHead = 42;

QString clock(int seconds) { return QString("%1:%2").arg(seconds / 60).arg(seconds % 60, 2, 10, QChar('0')); }

QString work_word(core::Work w) {
    switch (w) {
        case core::Work::unmounted:
            return QObject::tr("on foot");
        case core::Work::halt:
            return QObject::tr("halt");
        case core::Work::walk:
            return QObject::tr("walk");
        case core::Work::running_walk:
            return QObject::tr("running walk");
        case core::Work::trot:
            return QObject::tr("trot");
        case core::Work::canter:
            return QObject::tr("canter");
        default:
            return QObject::tr("fences");
    }
}

QString part_word(core::BlockKind kind) {
    switch (kind) {
        case core::BlockKind::warm_up:
            return QObject::tr("Warm up");
        case core::BlockKind::opener:
            return QObject::tr("Something known");
        case core::BlockKind::finish:
            return QObject::tr("A good end");
        case core::BlockKind::cool_down:
            return QObject::tr("Cool down");
        default:
            return QObject::tr("Easy riding");
    }
}

}  // namespace

SessionView::SessionView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Session on a clock"));
    setMouseTracking(false);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize SessionView::sizeHint() const { return {600, scaled_px(kClockHeight)}; }

void SessionView::show_session(const core::Session& session, const std::vector<core::Broken>& broken,
                               const core::ExerciseBook& book) {
    session_ = session;
    broken_ = broken;
    names_.clear();
    for (const core::Block& b : session.blocks) {
        const core::Exercise* e = b.exercise.empty() ? nullptr : book.find(b.exercise);
        names_ << (e ? text(e->name) : QString());
    }
    selected_ = std::min(selected_, row_count() - 1);
    update();
    emit selected_changed();
}

QRect SessionView::row_area(int row) const {
    const int total = std::max(1, session_.seconds());
    int before = 0;
    for (int i = 0; i < row; ++i) before += session_.blocks[static_cast<std::size_t>(i)].seconds;
    const core::Block& b = session_.blocks[static_cast<std::size_t>(row)];
    const double ground = height() - scaled_px(kClockFoot);
    const double x = before * static_cast<double>(width()) / total,
                 w = b.seconds * static_cast<double>(width()) / total;
    const double h =
        scaled_px(18) + (ground - scaled_px(kPartHead + 24)) * std::min(1.0, core::load_per_min(b) / 6.5);
    return QRectF(x, ground - h, w, h).toRect();
}

QString SessionView::row_words(int row) const {
    const core::Block& b = session_.blocks[static_cast<std::size_t>(row)];
    int before = 0;
    for (int i = 0; i < row; ++i) before += session_.blocks[static_cast<std::size_t>(i)].seconds;
    QString out = tr("%1 to %2, %3").arg(clock(before), clock(before + b.seconds), work_word(b.work));
    if (!b.rein.empty()) out += b.rein == "left" ? tr(", left rein") : tr(", right rein");
    if (!b.stirrups) out += tr(", without stirrups");
    const QString name = names_.value(row);
    out += ": " + (name.isEmpty() ? QString() : name + ", ") + text(b.words);
    for (const core::Broken& rule : broken_) {
        if (rule.block == row) out += ". " + sentence(text(rule.words));
    }
    return out;
}

QString SessionView::selected_words() const {
    return selected_ >= 0 && selected_ < row_count() ? row_words(selected_) : QString();
}

void SessionView::paint_block(QPainter& p, int block, double ground) const {
    const Theme& t = theme();
    const core::Block& b = session_.blocks[static_cast<std::size_t>(block)];
    const bool broken = std::ranges::any_of(broken_, [&](const core::Broken& r) { return r.block == block; });
    QRectF area = QRectF(row_area(block)).adjusted(0.5, 0, -0.5, 0);
    if (broken) area.translate(0, -scaled_px(6));
    const bool real = b.kind == core::BlockKind::work;
    QColor fill = real ? t.ink : t.quiet;
    fill.setAlphaF(b.kind == core::BlockKind::rest ? 0.14F : real ? 0.86F : 0.38F);
    p.setPen(Qt::NoPen);
    p.setBrush(fill);
    p.drawRoundedRect(area, 3, 3);
    if (broken) {
        p.setPen(QPen(t.clay, 2));
        p.drawLine(QPointF(area.left(), ground - 1), QPointF(area.right(), ground - 1));
        p.drawLine(QPointF(area.center().x(), area.bottom() + 1), QPointF(area.center().x(), ground - 1));
    }
    if (block == selected_) {
        p.setPen(QPen(t.sky, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(area.adjusted(1, 1, -1, -1), 3, 3);
    }
    if (!b.rein.empty() && area.width() >= scaled_px(12)) {  // the way it goes round
        const double d = b.rein == "left" ? -1 : 1;
        const QPointF c(area.center().x(), area.bottom() - scaled_px(8));
        p.setPen(QPen(real ? t.ground : t.ink, 1.4, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(c - QPointF(d * scaled_px(4), 0), c + QPointF(d * scaled_px(4), 0));
        p.drawLine(c + QPointF(d * scaled_px(4), 0), c + QPointF(d * scaled_px(1), -scaled_px(3)));
        p.drawLine(c + QPointF(d * scaled_px(4), 0), c + QPointF(d * scaled_px(1), scaled_px(3)));
    }
}

/// What each run of blocks is: an exercise with the rests in it, or the riding round it.
std::vector<SessionView::Part> SessionView::parts() const {
    std::vector<Part> out;
    for (int i = 0; i < row_count(); ++i) {
        const core::Block& b = session_.blocks[static_cast<std::size_t>(i)];
        const bool rest = b.kind == core::BlockKind::rest && names_[i].isEmpty();
        const QString name = names_[i].isEmpty() ? part_word(b.kind) : names_[i];
        if (out.empty() || (!rest && out.back().name != name)) out.push_back({i, i, name, {}});
        Part& now = out.back();
        now.last = i;
        const QString work = work_word(b.work);
        if (!rest && !now.works.contains(work)) now.works << work;
    }
    return out;
}

/// Its name over it, and below that what the horse does.
void SessionView::paint_part(QPainter& p, const Part& part) const {
    const Theme& t = theme();
    const QRect first = row_area(part.first), last = row_area(part.last);
    const double left = first.left() + 1, right = last.right() - 1, y = scaled_px(kPartHead - 6);
    p.setPen(QPen(t.line, 2));
    p.drawLine(QPointF(left, y), QPointF(right, y));
    const auto line = [&](const QFont& font, const QColor& ink, double top, const QString& words) {
        p.setFont(font);
        p.setPen(ink);
        p.drawText(QRectF(left, top, right - left, scaled_px(17)), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(words, Qt::ElideRight, static_cast<int>(right - left)));
    };
    line(text_font(12, true), t.ink, 0, part.name);
    line(text_font(12), t.quiet, scaled_px(16), part.works.join(", "));
}

void SessionView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const double ground = height() - scaled_px(kClockFoot);
    p.setPen(QPen(t.line, 1));
    p.drawLine(QPointF(0, ground), QPointF(width(), ground));
    const int total = session_.seconds();
    if (total == 0) return;
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    const int every = total > 3600 ? 15 : total > 1500 ? 10 : 5;
    for (int m = 0; 60 * m <= total; m += every) {
        const double x = 60.0 * m * width() / total;
        const QString words = QString::number(m) + (m == 0 ? tr(" min") : QString());
        const int w = QFontMetrics(p.font()).horizontalAdvance(words);
        p.drawText(QPointF(std::clamp(x - (m == 0 ? 0 : w / 2.0), 0.0, static_cast<double>(width() - w)),
                           height() - scaled_px(4)),
                   words);
    }
    for (int i = 0; i < row_count(); ++i) paint_block(p, i, ground);
    for (const Part& part : parts()) paint_part(p, part);
    if (dragged_ >= 0 && over_ >= 0 && over_ != dragged_) {
        const QRect area = row_area(over_);
        const double x = over_ > dragged_ ? area.right() : area.left();
        p.setPen(QPen(t.sky, 3));
        p.drawLine(QPointF(x, 0), QPointF(x, ground));
    }
}

int SessionView::block_at(double x) const {
    for (int i = 0; i < row_count(); ++i) {
        const QRect a = row_area(i);
        if (x >= a.left() && x < a.left() + a.width() + 1) return i;
    }
    return -1;
}

void SessionView::select(int block) {
    selected_ = block;
    update();
    emit selected_changed();
}

void SessionView::mousePressEvent(QMouseEvent* e) {
    select(block_at(e->position().x()));
    dragged_ = selected_;
    over_ = -1;
}
void SessionView::mouseMoveEvent(QMouseEvent* e) {
    if (dragged_ < 0) return;
    over_ = block_at(e->position().x());
    update();
}
void SessionView::mouseReleaseEvent(QMouseEvent*) {
    const int from = std::exchange(dragged_, -1), to = std::exchange(over_, -1);
    update();
    if (from < 0 || to < 0 || from == to) return;
    selected_ = to;
    emit moved(from, to);
}

void SessionView::keyPressEvent(QKeyEvent* e) {
    const int n = row_count();
    const bool moves = e->modifiers() & Qt::AltModifier;
    if (n > 0 && (e->key() == Qt::Key_Left || e->key() == Qt::Key_Right)) {
        const int to = std::clamp(selected_ + (e->key() == Qt::Key_Right ? 1 : -1), 0, n - 1);
        if (moves && selected_ >= 0) {
            const int from = selected_;
            selected_ = to;
            if (from != to) emit moved(from, to);
            return;
        }
        return select(to);
    }
    if (selected_ >= 0 && selected_ < n) {
        if (e->key() == Qt::Key_Plus) return emit longer(selected_, 30);
        if (e->key() == Qt::Key_Minus) return emit longer(selected_, -30);
        if (e->key() == Qt::Key_Delete) return emit dropped(selected_);
    }
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_session_view.cpp"
