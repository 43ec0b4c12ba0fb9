#include "ui/shared/deeds_line.hpp"

#include <QAction>
#include <QHBoxLayout>
#include <QPushButton>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

DeedsLine::DeedsLine(std::function<QAction*(const QString&)> find, QWidget* parent)
    : QWidget(parent), find_(std::move(find)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    for (std::size_t i = 0; i < kMost; ++i) {
        auto* b = new QPushButton(this);
        b->setFocusPolicy(Qt::TabFocus);
        b->hide();
        connect(b, &QPushButton::clicked, this, [this, i] {
            if (QAction* a = i < shown_.size() ? find_(shown_[i].id) : nullptr) a->trigger();
        });
        row->addWidget(b);
        buttons_.push_back(b);
    }
    row->addStretch(1);
    setFixedHeight(scaled_px(32));
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);  // what does not fit is found by F1
}

/// A deed whose words would be cut is left out, the last one first.
void DeedsLine::fit() {
    int left = width();
    for (std::size_t i = 0; i < shown_.size(); ++i) {
        left -= buttons_[i]->sizeHint().width() + (i > 0 ? layout()->spacing() : 0);
        buttons_[i]->setVisible(i == 0 || left >= 0);
    }
}

void DeedsLine::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    fit();
}

void DeedsLine::show_deeds(const std::vector<Deed>& deeds, bool next) {
    shown_.clear();
    for (const Deed& d : deeds) {
        if (find_(d.id) && shown_.size() < kMost) shown_.push_back(d);
    }
    for (std::size_t i = 0; i < kMost; ++i) {
        QPushButton& b = *buttons_[i];
        b.setVisible(i < shown_.size());
        if (i >= shown_.size()) continue;
        const QString key = find_(shown_[i].id)->shortcut().toString(QKeySequence::NativeText);
        b.setText(key.isEmpty() ? shown_[i].words : shown_[i].words + "   " + key);
        b.setAccessibleName(shown_[i].words);
        give_look(b, i == 0 && next ? "ask" : "word");
    }
    fit();
}

QStringList DeedsLine::words() const {
    QStringList out;
    for (const Deed& d : shown_) out << d.words;
    return out;
}

QPushButton* DeedsLine::button(const QString& id) const {
    for (std::size_t i = 0; i < shown_.size(); ++i) {
        if (shown_[i].id == id) return buttons_[i];
    }
    return nullptr;
}

}  // namespace aspen::ui

#include "moc_deeds_line.cpp"
