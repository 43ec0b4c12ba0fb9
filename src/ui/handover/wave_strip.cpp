#include "ui/handover/wave_strip.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kChapterRow = 24, kCaptionRow = 22, kWave = 72, kWaveMargin = 4;
constexpr double kDragFrom_s = 0.1;

QString clock_words(double s) {
    const int all = static_cast<int>(std::lround(s));
    return QString("%1:%2").arg(all / 60).arg(all % 60, 2, 10, QChar('0'));
}

}  // namespace

WaveStrip::WaveStrip(app::TellingDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setAccessibleName(tr("Sound wave"));
    setMouseTracking(true);
    setCursor(Qt::IBeamCursor);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(&desk_, &app::TellingDesk::changed, this, [this] {
        wave_for_ = {};
        update();
    });
    connect(&desk_, &app::TellingDesk::moved, this, qOverload<>(&QWidget::update));
}

QSize WaveStrip::sizeHint() const { return {600, scaled_px(kChapterRow + kWave + kCaptionRow)}; }

QRectF WaveStrip::wave_area() const {
    return QRectF(rect()).adjusted(kWaveMargin, scaled_px(kChapterRow), -kWaveMargin,
                                   -scaled_px(kCaptionRow));
}
double WaveStrip::x_of(double told_s) const {
    const double all = desk_.is_open() ? std::max(0.1, desk_.telling().length_s()) : 1;
    return wave_area().left() + wave_area().width() * told_s / all;
}
double WaveStrip::seconds_at(double x) const {
    const double all = desk_.is_open() ? desk_.telling().length_s() : 0;
    return std::clamp((x - wave_area().left()) / wave_area().width(), 0.0, 1.0) * all;
}

void WaveStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF wave = wave_area();
    p.setPen(Qt::NoPen);
    p.setBrush(theme().panel);
    p.drawRoundedRect(wave, 6, 6);
    if (!desk_.is_open()) return;
    if (const auto chosen = desk_.chosen()) {
        QColor wash = theme().sky;
        wash.setAlpha(60);
        p.fillRect(
            QRectF(QPointF(x_of(chosen->from_s), wave.top()), QPointF(x_of(chosen->to_s), wave.bottom())),
            wash);
    }
    paint_wave(p);
    paint_chapters(p);
    paint_captions(p);
    const double x = x_of(desk_.at_s());
    p.setPen(QPen(theme().ink, 2));
    p.drawLine(QPointF(x, wave.top() - 4), QPointF(x, wave.bottom() + 2));
    const QString now = clock_words(desk_.at_s()) + " / " + clock_words(desk_.telling().length_s());
    p.setFont(text_font(12));
    p.setPen(theme().quiet);
    p.drawText(QRectF(rect()).adjusted(0, 0, -kWaveMargin, 0), Qt::AlignRight | Qt::AlignTop, now);
}

void WaveStrip::paint_wave(QPainter& p) const {
    const QRectF area = wave_area();
    if (wave_for_ != size()) {
        wave_for_ = size();
        wave_ = desk_.has_voice() ? desk_.wave(static_cast<std::size_t>(std::max(1.0, area.width() / 3)))
                                  : std::vector<float>{};
    }
    p.setFont(text_font(12));
    p.setPen(theme().quiet);
    if (wave_.empty())
        return p.drawText(area, Qt::AlignCenter, tr("No voice: the captions are read in the picture"));
    const float loudest = std::max(0.05F, *std::ranges::max_element(wave_));
    p.setPen(Qt::NoPen);
    p.setBrush(theme().quiet);
    for (std::size_t i = 0; i < wave_.size(); ++i) {
        const double high = std::max(1.0, (area.height() - 8) * wave_[i] / loudest);
        p.drawRoundedRect(
            QRectF(area.left() + 3.0 * static_cast<double>(i), area.center().y() - high / 2, 2, high), 1, 1);
    }
}

void WaveStrip::paint_chapters(QPainter& p) const {
    const auto all = desk_.telling().chapters();
    const QRectF area = wave_area();
    p.setFont(text_font(12, true));
    for (std::size_t i = 0; i < all.size(); ++i) {
        const double from = x_of(all[i].at_s);
        const double to = i + 1 < all.size() ? x_of(all[i + 1].at_s) : area.right() - scaled_px(84);
        p.setPen(QPen(theme().line, 1));
        p.drawLine(QPointF(from, 4), QPointF(from, area.bottom()));
        p.setPen(theme().ink);
        const QRectF at(from + 6, 0, std::max(0.0, to - from - 8), scaled_px(kChapterRow) - 4);
        p.drawText(at, Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(QString::fromStdString(all[i].title), Qt::ElideRight,
                                              static_cast<int>(at.width())));
    }
}

void WaveStrip::paint_captions(QPainter& p) const {
    const QRectF area = wave_area();
    p.setFont(text_font(12));
    for (const core::Caption& c : desk_.captions()) {
        const QRectF at(QPointF(x_of(c.from_s), area.bottom() + 3),
                        QPointF(x_of(c.to_s) - 2, QRectF(rect()).bottom() - 1));
        p.setPen(Qt::NoPen);
        p.setBrush(theme().line);
        p.drawRoundedRect(at, 3, 3);
        p.setPen(theme().ink);
        p.drawText(at.adjusted(4, 0, -2, 0), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(QString::fromStdString(c.words).replace('\n', ' '),
                                              Qt::ElideRight, static_cast<int>(at.width() - 6)));
    }
}

void WaveStrip::mousePressEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton || !desk_.is_open()) return;
    pressed_s_ = seconds_at(e->position().x());
    desk_.choose(std::nullopt);
    desk_.go_to(*pressed_s_);
}
void WaveStrip::mouseMoveEvent(QMouseEvent* e) {
    if (!pressed_s_) return;
    const double now = seconds_at(e->position().x());
    if (std::abs(now - *pressed_s_) >= kDragFrom_s) desk_.choose(core::Cut{*pressed_s_, now});
}
void WaveStrip::mouseReleaseEvent(QMouseEvent*) { pressed_s_.reset(); }

}  // namespace aspen::ui

#include "moc_wave_strip.cpp"
