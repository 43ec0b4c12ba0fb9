#include "ui/shared/word_line.hpp"

#include <QCompleter>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

WordLine::WordLine(QWidget* parent) : QWidget(parent) {
    hide();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 8, 16, 8);
    row->setSpacing(12);
    hint_ = text_label("", this, 14, true);
    hint_->setWordWrap(false);
    row->addWidget(hint_);
    edit_ = new QLineEdit(this);
    edit_->installEventFilter(this);
    row->addWidget(edit_, 1);
    auto* hint = new HintLine([](const QString&) { return nullptr; }, this, 14);
    hint->say(tr("[=Enter] takes it · [=Esc] leaves it"));
    connect(hint, &HintLine::pressed, this, [this](const QString& key) { leave(key == "Enter"); });
    row->addWidget(hint);
    parent->installEventFilter(this);
    // While phrases are offered the list hands Enter on past the filter below.
    connect(edit_, &QLineEdit::returnPressed, this, [this] { leave(true); });
}

void WordLine::ask(const QString& hint, const QStringList& phrases,
                   const std::function<void(const QString&)>& taken, const QString& start) {
    taken_ = taken;
    hint_->setText(hint);
    edit_->setText(start);
    edit_->setAccessibleName(hint);
    edit_->selectAll();
    auto* completer = new QCompleter(phrases, edit_);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    delete edit_->completer();
    edit_->setCompleter(completer);
    setGeometry(0, parentWidget()->height() - sizeHint().height(), parentWidget()->width(),
                sizeHint().height());
    raise();
    show();
    edit_->setFocus();
}

void WordLine::leave(bool take) {
    if (isHidden()) return;
    const QString words = edit_->text().trimmed();
    const auto taken = taken_;
    hide();
    emit closed();
    if (take && !words.isEmpty() && taken) taken(words);
}

bool WordLine::eventFilter(QObject* watched, QEvent* e) {
    if (watched == edit_ && e->type() == QEvent::KeyPress) {
        // Taken here, so that Enter does not go on to the bench, where it means something else.
        const int key = static_cast<QKeyEvent*>(e)->key();
        const bool enter = key == Qt::Key_Return || key == Qt::Key_Enter;
        if (enter || key == Qt::Key_Escape) {
            leave(enter);
            return true;
        }
    }
    if (watched == parentWidget() && e->type() == QEvent::Resize)
        setGeometry(0, parentWidget()->height() - sizeHint().height(), parentWidget()->width(),
                    sizeHint().height());
    return QWidget::eventFilter(watched, e);
}

void WordLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.fillRect(QRect(0, 0, width(), 2), theme().sky);
}

}  // namespace aspen::ui

#include "moc_word_line.cpp"
