#include "ui/shared/said_line.hpp"

#include <QEvent>
#include <QFontMetrics>
#include <QTimer>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr int kStaysMs = 9000, kSaidHigh = 38, kSaidWidest = 560, kSaidMargin = 12;

}  // namespace

SaidLine::SaidLine(const KeyMap& keys, QWidget* row, QWidget* over)
    : QObject(over), row_(row), ground_(over), beside_(new HintLine(keys, row, 14)) {
    beside_->setWordWrap(true);
    beside_->setMinimumWidth(0);
    beside_->setMaximumHeight(scaled_px(kSaidHigh));
    beside_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    beside_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    over_ = new HintLine(keys, ground_, 14);
    over_->setContentsMargins(14, 7, 14, 7);
    over_->setWordWrap(true);
    over_->hide();
    beside_->installEventFilter(this);
}

void SaidLine::say(const QString& line) {
    line_ = line;
    beside_->say(line);
    text_ = beside_->spoken();
    beside_->setToolTip(text_);
    place();
    QTimer::singleShot(kStaysMs, this, [this, now = text_] {
        if (text_ != now || line_.isEmpty()) return;
        line_.clear();
        beside_->say({});
        place();
    });
}

bool SaidLine::eventFilter(QObject* watched, QEvent* e) {
    if (watched == beside_ && e->type() == QEvent::Resize && beside_->width() != wide_) {
        wide_ = beside_->width();
        place();
    }
    return QObject::eventFilter(watched, e);
}

void SaidLine::place() {
    const QRect need = QFontMetrics(text_font(14))
                           .boundingRect(QRect(0, 0, std::max(1, beside_->width()), 10000), Qt::TextWordWrap,
                                         line_.isEmpty() ? QString() : text_);
    const bool fits = need.height() <= scaled_px(kSaidHigh) && need.width() <= beside_->width();
    over_->setVisible(!fits && !line_.isEmpty());
    beside_->say(fits ? line_ : QString());
    if (over_->isHidden()) return;
    over_->say(line_);
    // What lies under it must not shine through.
    over_->setStyleSheet(QString("background: %1; border: 1px solid %2; border-radius: 8px")
                             .arg(theme().panel.name(), theme().quiet.name()));
    const int wide = std::min(scaled_px(kSaidWidest), ground_->width() - 2 * kSaidMargin);
    over_->setFixedWidth(wide);
    over_->setFixedHeight(std::max(over_->heightForWidth(wide), over_->sizeHint().height()));
    const int top = row_->mapTo(ground_, QPoint(0, row_->height())).y() + 6;
    over_->move(ground_->width() - wide - kSaidMargin, top);
    over_->raise();
}

}  // namespace aspen::ui

#include "moc_said_line.cpp"
