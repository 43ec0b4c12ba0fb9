#include "ui/lesson/lesson_clock.hpp"

#include <QPainter>

#include "ui/lesson/ring.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

/// What the clock does, or waits for.
QString below_the_clock(const app::LessonDesk& desk) {
    using State = app::LessonDesk::State;
    switch (desk.state()) {
        case State::running:
            return LessonClock::tr("of this block");
        case State::standing:
            return LessonClock::tr("the clock stands, Space goes on");
        case State::before:
            return desk.open_before_mounting().isEmpty() ? LessonClock::tr("Space starts the clock")
                                                         : LessonClock::tr("first what is looked at below");
        default:
            return LessonClock::tr("the lesson is over");
    }
}

QString clock_of(int seconds) {
    const int s = std::abs(seconds);
    return QString("%1%2:%3")
        .arg(seconds < 0 ? QString::fromUtf8("+") : QString())
        .arg(s / 60)
        .arg(s % 60, 2, 10, QChar('0'));
}

}  // namespace

QString spoken_block(const core::Block& b) {
    QString out = text(core::word(b.work));
    if (!b.rein.empty()) out += b.rein == "left" ? QObject::tr(", left rein") : QObject::tr(", right rein");
    if (!b.stirrups) out += QObject::tr(", no stirrups");
    return out;
}

LessonClock::LessonClock(app::LessonDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("The lesson's clock"));
}

QSize LessonClock::sizeHint() const { return {800, scaled_px(142)}; }

void LessonClock::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const core::Block* now = desk_.block();
    const core::Block* next = desk_.block(1);
    QFont large = text_font(26, true);
    large.setPixelSize(scaled_px(26) * 5 / 2);
    p.setFont(large);
    // Past its end a block counts on: nobody is hurried.
    p.setPen(desk_.state() == app::LessonDesk::State::running ? t.ink : ring_quiet());
    const bool over = desk_.state() == app::LessonDesk::State::ended;
    const QString clock = clock_of(now && !over ? desk_.seconds_left() : desk_.seconds_ridden());
    const int clock_w =
        std::max(scaled_px(200), QFontMetrics(large).horizontalAdvance(clock) + scaled_px(20));
    p.drawText(QRect(0, 0, clock_w, scaled_px(72)), Qt::AlignLeft | Qt::AlignVCenter, clock);
    p.setFont(text_font(14));
    p.setPen(ring_quiet());
    p.drawText(QRect(0, scaled_px(76), clock_w + scaled_px(60), scaled_px(22)),
               Qt::AlignLeft | Qt::AlignVCenter, below_the_clock(desk_));
    const int next_w = std::min(scaled_px(300), width() / 4), x = clock_w + scaled_px(12);
    const QRect middle(x, 0, width() - x - next_w - scaled_px(24), scaled_px(104));
    if (now) paint_block(p, *now, middle);
    if (next) {
        const QRect area(width() - next_w, scaled_px(2), next_w, scaled_px(100));
        p.setPen(ring_quiet());
        p.setFont(text_font(14));
        p.drawText(area, Qt::AlignLeft | Qt::AlignTop, tr("then, for %1").arg(clock_of(next->seconds)));
        p.setPen(t.ink);
        p.setFont(text_font(18));
        p.drawText(area.adjusted(0, scaled_px(22), 0, 0), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                   sentence(spoken_block(*next)) + "\n" + text(next->words));
    }
    paint_session(p);
}

/// What is ridden now, in words that are read from two metres.
void LessonClock::paint_block(QPainter& p, const core::Block& now, const QRect& area) const {
    QFont words = ring_heading(26);
    const QString block = sentence(spoken_block(now));
    if (QFontMetrics(words).horizontalAdvance(block) > area.width()) words = ring_heading(18);
    p.setFont(words);
    p.setPen(theme().ink);
    p.drawText(QRect(area.left(), 0, area.width(), scaled_px(44)), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(words).elidedText(block, Qt::ElideRight, area.width()));
    const auto line = [&](int y, const QString& said) {
        p.setFont(ring_font(14));
        p.drawText(QRect(area.left(), y, area.width(), scaled_px(28)), Qt::AlignLeft | Qt::AlignVCenter,
                   QFontMetrics(p.font()).elidedText(said, Qt::ElideRight, area.width()));
    };
    line(scaled_px(44), text(now.words));
    p.setPen(ring_quiet());
    if (const QString cue = app::cue_of(desk_.yard().knowledge(), now); !cue.isEmpty())
        line(scaled_px(74), QString::fromUtf8("“%1”").arg(cue));
}

/// The whole session along the time.
void LessonClock::paint_session(QPainter& p) const {
    const Theme& t = theme();
    const int total = std::max(1, desk_.session().seconds());
    const double y = height() - scaled_px(34), h = scaled_px(28);
    int before = 0, n = 0;
    for (const core::Block& b : desk_.session().blocks) {
        const double bx = before * static_cast<double>(width()) / total;
        const double bw = std::max(1.0, b.seconds * static_cast<double>(width()) / total - 1.5);
        const double bh = h * (0.25 + 0.75 * std::min(1.0, core::load_per_min(b) / 6));
        const int at = desk_.lesson() ? desk_.lesson()->block : 0;
        QColor fill = n == at ? t.sky : n < at ? t.ink : t.quiet;
        if (n != at) fill.setAlphaF(n < at ? 0.7F : 0.35F);
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        p.drawRoundedRect(QRectF(bx, y + h - bh, bw, bh), 2, 2);
        before += b.seconds;
        ++n;
    }
}

}  // namespace aspen::ui

#include "moc_lesson_clock.cpp"
