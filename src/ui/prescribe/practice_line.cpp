#include "ui/prescribe/practice_line.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "ui/shared/widgets.hpp"

namespace aspen::ui {

PracticeLine::PracticeLine(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(6);
    auto* first = new QGridLayout;
    first->setHorizontalSpacing(14);
    first->setVerticalSpacing(6);
    const QString none = QString::fromUtf8("–");
    guess_ = new Stepper(tr("Own guess"), -1, 999, this, none);
    attempts_ = new Stepper(tr("Tries"), 0, 999, this);
    good_ = new Stepper(tr("Good"), 0, 999, this);
    held_ = new Stepper(tr("Strides held"), 0, 999, this, none);
    feel_ = new Stepper(tr("Felt, of 5"), 0, 5, this, none);
    int at = 0;
    for (Stepper* s : {attempts_, good_, held_, guess_, feel_}) {
        first->addWidget(s, at / 2, at % 2, Qt::AlignLeft);
        ++at;
    }
    box->addLayout(first);
    auto* second = new QHBoxLayout;
    second->setSpacing(8);
    const auto toggle = [this](const QString& words) {
        auto* b = new QPushButton(words, this);
        b->setCheckable(true);
        return b;
    };
    pain_ = toggle(tr("It hurt"));
    tired_rider_ = toggle(tr("Rider tired"));
    tired_horse_ = toggle(tr("Horse tired"));
    words_ = new QLineEdit(this);
    words_->setPlaceholderText(tr("a word about it"));
    words_->setMaxLength(500);
    keep_ = verb_button(tr("Write it down"), QString::fromUtf8("↵"), this, true);
    for (QWidget* w : std::initializer_list<QWidget*>{pain_, tired_rider_, tired_horse_})
        second->addWidget(w);
    second->addStretch(1);
    auto* third = new QHBoxLayout;
    third->addWidget(words_, 1);
    third->addWidget(keep_);
    box->addLayout(second);
    box->addLayout(third);
    connect(keep_, &QPushButton::clicked, this, &PracticeLine::write);
    connect(words_, &QLineEdit::returnPressed, this, &PracticeLine::write);
    // More good ones than tries cannot be, and fewer tries than good ones neither.
    connect(good_, &Stepper::changed, this, [this](int n) {
        if (attempts_->value() < n) attempts_->set_value(n);
    });
    connect(attempts_, &Stepper::changed, this, [this](int n) {
        if (good_->value() > n) good_->set_value(n);
    });
}

void PracticeLine::begin(const core::Rung& rung) {
    guess_->set_value(-1);
    attempts_->set_value(rung.of);
    good_->set_value(0);
    held_->set_value(0);
    feel_->set_value(0);
    for (QPushButton* b : {pain_, tired_rider_, tired_horse_}) b->setChecked(false);
    words_->clear();
    good_->setFocus();
}

core::Practice PracticeLine::practice() const {
    core::Practice p;
    p.guess = guess_->value();
    p.attempts = attempts_->value();
    p.good = good_->value();
    p.held = held_->value();
    p.feel = feel_->value();
    p.pain = pain_->isChecked();
    p.tired_rider = tired_rider_->isChecked();
    p.tired_horse = tired_horse_->isChecked();
    p.words = words_->text().trimmed().toStdString();
    return p;
}

void PracticeLine::write() { emit written(practice()); }

void PracticeLine::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) return emit left();
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) return write();
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_practice_line.cpp"
