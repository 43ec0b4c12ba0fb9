#include "ui/review/notice_band.hpp"

#include <QEvent>
#include <QHBoxLayout>
#include <QPainter>
#include <QStackedLayout>
#include <algorithm>

#include "app/review/finding_row.hpp"
#include "app/telling/recorder.hpp"
#include "ui/review/last_line.hpp"
#include "ui/review/prepared_line.hpp"
#include "ui/review/record_line.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr int kBandHigh = 32;

}  // namespace

NoticeBand::NoticeBand(const app::BenchState& now, app::Recorder& recorder, PreparedLine* seems,
                       LastLine* last, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent), last_(last), seems_(seems), next_(new HintLine(keys, this, 14)) {
    setFixedHeight(scaled_px(kBandHigh));
    pages_ = new QStackedLayout(this);
    auto* told = new QWidget(this);
    auto* row = new QHBoxLayout(told);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    next_->setContentsMargins(16, 0, 8, 0);
    next_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(last_, 4);
    row->addWidget(seems_, 5);
    row->addWidget(next_, 1);
    pages_->addWidget(told);
    auto* recording = new RecordLine(recorder, keys, this);
    pages_->addWidget(recording);
    for (QWidget* w : {last_, seems_}) w->installEventFilter(this);
    connect(&recorder, &app::Recorder::changed, this,
            [this, &recorder] { pages_->setCurrentIndex(recorder.recording() ? 1 : 0); });
    refresh();
}

void NoticeBand::show_state(app::BenchParts) { refresh(); }

bool NoticeBand::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShowToParent || event->type() == QEvent::HideToParent) refresh();
    return QWidget::eventFilter(watched, event);
}

QString NoticeBand::next() const { return next_->isHidden() ? QString() : next_->spoken(); }

QString NoticeBand::words() const {
    if (!now_.is_open()) return {};
    if (!now_.review().missing().empty()) return tr("[ask] says what is not yet said of this clip");
    const bool marked = std::ranges::any_of(now_.review().moments(), [&](const store::Moment& m) {
        return m.slot == now_.review().slot() && m.figure.marked() > 0;
    });
    if (now_.marking().offered()) return tr("look at the figure; [confirm] takes what was seen of it");
    if (!marked && now_.review().answers().empty())
        return tr("stop on a telling frame; [three_clicks] lays the figure, [checks] asks the eye");
    if (now_.marking().has_unconfirmed()) return tr("look at the joints; [confirm] says they are right");
    const auto& rows = now_.findings().rows();
    const bool open = std::ranges::any_of(rows, [](const app::FindingRow& r) {
        return r.found.verdict == core::Verdict::outside && r.decision == store::Decision::open;
    });
    if (open) return tr("[accept] accepts the finding that is lit, [reject] rejects it");
    if (now_.findings().focus()) return tr("[exercise] finds the exercise for the one thing");
    return tr("[next_clip] opens the next clip that waits");
}

void NoticeBand::refresh() {
    next_->setVisible(last_->isHidden() && seems_->isHidden());
    const QString words = this->words();
    next_->say(words.isEmpty() ? QString() : tr("Next"), words.isEmpty() ? QString() : "   " + words);
}

void NoticeBand::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.setPen(QPen(theme().line, 1));
    p.drawLine(rect().bottomLeft(), rect().bottomRight());
}

}  // namespace aspen::ui

#include "moc_notice_band.cpp"
