#include "ui/review/record_line.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr int kRecordMark = 36, kBars = 9;

}  // namespace

RecordLine::RecordLine(app::Recorder& recorder, const KeyMap& keys, QWidget* parent)
    : QWidget(parent), recorder_(recorder) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(scaled_px(kRecordMark) + 8, 0, 120, 0);
    words_ = new HintLine(keys, this, 14);
    row->addWidget(words_, 1);
    tick_.setInterval(100);
    connect(&tick_, &QTimer::timeout, this, &RecordLine::refresh);
    connect(&recorder_, &app::Recorder::changed, this, [this] {
        recorder_.recording() ? tick_.start() : tick_.stop();
        refresh();
    });
}

void RecordLine::refresh() {
    if (!recorder_.recording()) return;
    const int all = static_cast<int>(recorder_.seconds());
    const QString time = QString("%1:%2").arg(all / 60).arg(all % 60, 2, 10, QChar('0'));
    words_->say(time, recorder_.hears() ? tr("you are being recorded · [record] stops")
                                        : tr("no microphone: what you do is recorded · [record] stops"));
    update();
}

void RecordLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QPointF middle(scaled_px(kRecordMark) / 2.0 + 8, height() / 2.0);
    const bool beats = static_cast<int>(recorder_.seconds() * 2) % 2 == 0;
    p.setPen(Qt::NoPen);
    p.setBrush(theme().sky);
    p.drawEllipse(middle, beats ? 7 : 6, beats ? 7 : 6);
    const int lit =
        static_cast<int>(std::lround(std::sqrt(std::clamp(recorder_.level(), 0.0F, 1.0F)) * kBars));
    for (int i = 0; i < kBars && recorder_.hears(); ++i) {
        p.setBrush(i < lit ? theme().ink : theme().line);
        p.drawRoundedRect(QRectF(width() - 16 - (kBars - i) * 10, height() / 2.0 - 4 - i, 6, 8 + 2 * i), 2,
                          2);
    }
}

}  // namespace aspen::ui

#include "moc_record_line.cpp"
