#include "ui/shared/action_line.hpp"

#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr int kMostShown = 9, kWide = 460;

/// How well the words typed fit a name: at its start, at a word's start, inside; -1 not at all.
int fit(const QString& name, const QString& typed) {
    if (name.startsWith(typed, Qt::CaseInsensitive)) return 0;
    if (name.contains(" " + typed, Qt::CaseInsensitive)) return 1;
    return name.contains(typed, Qt::CaseInsensitive) ? 2 : -1;
}

}  // namespace

ActionLine::ActionLine(std::function<std::vector<Deed>()> deeds, QWidget* parent)
    : QWidget(parent), ask_(std::move(deeds)) {
    hide();
    setAccessibleName("Find what can be done");
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(12, 12, 12, 12);
    all->setSpacing(6);
    words_ = new QLineEdit(this);
    words_->setPlaceholderText("What do you want to do?");
    words_->setAccessibleName("What do you want to do?");
    all->addWidget(words_);
    found_ = new QListWidget(this);
    found_->setFocusPolicy(Qt::NoFocus);
    found_->setAccessibleName("What was found");
    found_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    all->addWidget(found_);
    words_->installEventFilter(this);
    connect(words_, &QLineEdit::textChanged, this, &ActionLine::look);
    connect(found_, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { take(found_->row(item)); });
}

void ActionLine::open() {
    deeds_ = ask_();
    words_->clear();
    look();
    show();
    raise();
    words_->setFocus();
}

void ActionLine::look() {
    const QString typed = words_->text().trimmed();
    std::vector<std::pair<int, std::size_t>> ranked;
    for (std::size_t i = 0; i < deeds_.size(); ++i) {
        const int by_name = fit(deeds_[i].words, typed),
                  by_place = fit(deeds_[i].where + " " + deeds_[i].words, typed);
        if (by_name >= 0)
            ranked.emplace_back(by_name, i);
        else if (by_place >= 0)
            ranked.emplace_back(3, i);
    }
    std::ranges::stable_sort(ranked, {}, &std::pair<int, std::size_t>::first);
    found_->clear();
    shown_.clear();
    for (const auto& [rank, i] : ranked) {
        if (static_cast<int>(shown_.size()) == kMostShown) break;
        const Deed& d = deeds_[i];
        shown_.push_back(i);
        auto* item =
            new QListWidgetItem(d.words + (d.where.isEmpty() ? QString() : "   ·   " + d.where.toLower()) +
                                    (d.key.isEmpty() ? QString() : "   ·   " + d.key),
                                found_);
        item->setToolTip(d.key);
    }
    found_->setCurrentRow(0);
    const int row = std::max(28, found_->sizeHintForRow(0) + 2);
    found_->setFixedHeight(std::max(1, static_cast<int>(shown_.size())) * row + 4);
    adjustSize();
    const int wide = std::min(kWide, parentWidget()->width() - 24);
    setGeometry((parentWidget()->width() - wide) / 2, 56, wide, sizeHint().height());
}

void ActionLine::take(int row) {
    if (row < 0 || static_cast<std::size_t>(row) >= shown_.size()) return;
    const auto act = deeds_[shown_[static_cast<std::size_t>(row)]].act;
    leave();
    if (act) act();
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
