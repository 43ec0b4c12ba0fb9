#include "ui/shared/action_line.hpp"

#include <QKeyEvent>
#include <QPainter>
#include <QRegularExpression>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/shared/key_map.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr int kMostShown = 9, kActionWide = 460;

/// How well the words typed fit a name: at its start, at a word's start, inside; -1 not at all.
int fit(const QString& name, const QString& typed) {
    if (name.startsWith(typed, Qt::CaseInsensitive)) return 0;
    if (name.contains(" " + typed, Qt::CaseInsensitive)) return 1;
    return name.contains(typed, Qt::CaseInsensitive) ? 2 : -1;
}

}  // namespace

ActionLine::ActionLine(std::function<QList<QAction*>()> actions, QWidget* parent)
    : QWidget(parent), ask_(std::move(actions)) {
    hide();
    setAccessibleName(tr("Find what can be done"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(12, 12, 12, 12);
    all->setSpacing(6);
    words_ = new QLineEdit(this);
    words_->setPlaceholderText(tr("What do you want to do?"));
    words_->setAccessibleName(tr("What do you want to do?"));
    all->addWidget(words_);
    found_ = new QListWidget(this);
    found_->setFocusPolicy(Qt::NoFocus);
    found_->setAccessibleName(tr("What was found"));
    found_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    all->addWidget(found_);
    words_->installEventFilter(this);
    connect(words_, &QLineEdit::textChanged, this, &ActionLine::look);
    connect(found_, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { take(found_->row(item)); });
}

void ActionLine::open() {
    actions_ = ask_();
    actions_.removeIf([](const QAction* a) { return !a->isEnabled(); });
    words_->clear();
    look();
    show();
    raise();
    words_->setFocus();
}

void ActionLine::look() {
    const QString typed = words_->text().trimmed();
    std::vector<std::pair<int, QAction*>> ranked;
    for (QAction* a : actions_) {
        const int by_name = fit(a->text(), typed), by_place = fit(group_of(*a) + " " + a->text(), typed);
        if (by_name >= 0)
            ranked.emplace_back(by_name, a);
        else if (by_place >= 0)
            ranked.emplace_back(3, a);
    }
    std::ranges::stable_sort(ranked, {}, &std::pair<int, QAction*>::first);
    found_->clear();
    shown_.clear();
    for (const auto& [rank, a] : ranked) {
        if (shown_.size() == kMostShown) break;
        shown_ << a;
        const QString key = a->shortcut().toString(QKeySequence::NativeText);
        auto* item = new QListWidgetItem(QStringList{a->text(), group_of(*a).toLower(), key}
                                             .filter(QRegularExpression("."))
                                             .join("   ·   "),
                                         found_);
        item->setToolTip(key);
    }
    found_->setCurrentRow(0);
    const int row = std::max(28, found_->sizeHintForRow(0) + 2);
    found_->setFixedHeight(std::max(1, static_cast<int>(shown_.size())) * row + 4);
    adjustSize();
    const int wide = std::min(kActionWide, parentWidget()->width() - 24);
    setGeometry((parentWidget()->width() - wide) / 2, 56, wide, sizeHint().height());
}

void ActionLine::take(int row) {
    if (row < 0 || row >= shown_.size()) return;
    QAction* action = shown_[row];
    leave();
    action->trigger();
}

void ActionLine::leave() {
    hide();
    emit closed();
}

bool ActionLine::eventFilter(QObject*, QEvent* e) {
    if (e->type() == QEvent::FocusOut && isVisible()) hide();
    if (e->type() != QEvent::KeyPress) return false;
    const auto* key = static_cast<QKeyEvent*>(e);
    const int row = found_->currentRow(), n = found_->count();
    switch (key->key()) {
        case Qt::Key_Escape:
            leave();
            return true;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            take(row);
            return true;
        case Qt::Key_Down:
            if (n > 0) found_->setCurrentRow((row + 1) % n);
            return true;
        case Qt::Key_Up:
            if (n > 0) found_->setCurrentRow((row + n - 1) % n);
            return true;
        default:
            return false;
    }
}

void ActionLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().line, 1));
    p.setBrush(theme().panel);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 10, 10);
}

}  // namespace aspen::ui

#include "moc_action_line.cpp"
