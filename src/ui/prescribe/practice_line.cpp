#include "ui/prescribe/practice_line.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kCountWidth = 46;

}  // namespace

/// A count one types; what lies below nought is "not said".
QSpinBox* PracticeLine::count(const QString& name, int least, int most) {
    auto* box = new QSpinBox(this);
    box->setRange(least, most);
    if (least < 0) box->setSpecialValueText(QString::fromUtf8("–"));
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
    box->setAlignment(Qt::AlignCenter);
    box->setFixedWidth(scaled_px(kCountWidth));
    box->setAccessibleName(name);
    box->installEventFilter(this);
    return box;
}

PracticeLine::PracticeLine(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("One ride, written down"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 4, 0, 4);
    row->setSpacing(6);
    const auto words = [&](const QString& said, int before) {
        auto* label = quiet_label(said, this);
        label->setWordWrap(false);
        if (before > 0) row->addSpacing(before);
        row->addWidget(label);
    };
    good_ = count(tr("Good"), 0, 999);
    attempts_ = count(tr("Tries"), 0, 999);
    guess_ = count(tr("Own guess"), -1, 999);
    held_ = count(tr("Strides held"), -1, 999);
    feel_ = count(tr("Felt, of 5"), -1, 5);
    words(tr("good"), 0);
    row->addWidget(good_);
    words(tr("of"), 0);
    row->addWidget(attempts_);
    words(tr("own guess"), 8);
    row->addWidget(guess_);
    words(tr("held"), 8);
    row->addWidget(held_);
    words(tr("felt, of 5"), 8);
    row->addWidget(feel_);
    row->addSpacing(8);
    const auto toggle = [&](const QString& said, const QString& name) {
        auto* b = new QPushButton(said, this);
        b->setCheckable(true);
        b->setAccessibleName(name);
        b->installEventFilter(this);
        row->addWidget(b);
        return b;
    };
    pain_ = toggle(tr("hurt  H"), tr("It hurt"));
    tired_rider_ = toggle(tr("rider tired  R"), tr("Rider tired"));
    tired_horse_ = toggle(tr("horse tired  F"), tr("Horse tired"));
    words_ = new QLineEdit(this);
    words_->setPlaceholderText(tr("a word  W"));
    words_->setAccessibleName(tr("A word about it"));
    words_->setMaxLength(500);
    words_->setMinimumWidth(scaled_px(70));
    words_->installEventFilter(this);
    row->addWidget(words_, 1);
    keep_ = verb_button(tr("Write it down"), QString::fromUtf8("↵"), this, true);
    row->addWidget(keep_);
    connect(keep_, &QPushButton::clicked, this, [this] { emit written(practice()); });
    // More good ones than tries cannot be, and fewer tries than good ones neither.
    connect(good_, &QSpinBox::valueChanged, this, [this](int n) {
        if (attempts_->value() < n) attempts_->setValue(n);
    });
    connect(attempts_, &QSpinBox::valueChanged, this, [this](int n) {
        if (good_->value() > n) good_->setValue(n);
    });
}

void PracticeLine::begin(const core::Rung& rung) {
    attempts_->setValue(rung.of);
    good_->setValue(0);
    for (QSpinBox* unsaid : {guess_, held_, feel_}) unsaid->setValue(-1);
    for (QPushButton* b : {pain_, tired_rider_, tired_horse_}) b->setChecked(false);
    words_->clear();
    good_->setFocus();
    good_->selectAll();
}

core::Practice PracticeLine::practice() const {
    core::Practice p;
    p.guess = guess_->value();
    p.attempts = attempts_->value();
    p.good = good_->value();
    p.held = std::max(0, held_->value());  // nought is "not said" there
    p.feel = std::max(0, feel_->value());
    p.pain = pain_->isChecked();
    p.tired_rider = tired_rider_->isChecked();
    p.tired_horse = tired_horse_->isChecked();
    p.words = words_->text().trimmed().toStdString();
    return p;
}

/// The keys of the line, wherever in it the focus stands; letters stay letters where a word is written.
bool PracticeLine::take(QKeyEvent& e) {
    if (e.key() == Qt::Key_Escape) {
        emit left();
        return true;
    }
    if (e.key() == Qt::Key_Return || e.key() == Qt::Key_Enter) {
        emit written(practice());
        return true;
    }
    if (words_->hasFocus()) return false;
    switch (e.key()) {
        case Qt::Key_H:
            pain_->toggle();
            return true;
        case Qt::Key_R:
            tired_rider_->toggle();
            return true;
        case Qt::Key_F:
            tired_horse_->toggle();
            return true;
        case Qt::Key_W:
            words_->setFocus();
            return true;
        case Qt::Key_Space:
            focusNextChild();
            return true;
        default:
            return false;
    }
}

bool PracticeLine::eventFilter(QObject* watched, QEvent* e) {
    if (e->type() == QEvent::FocusIn) {
        if (auto* box = qobject_cast<QSpinBox*>(watched))
            QMetaObject::invokeMethod(box, &QSpinBox::selectAll, Qt::QueuedConnection);
    }
    return (e->type() == QEvent::KeyPress && take(*static_cast<QKeyEvent*>(e))) ||
           QWidget::eventFilter(watched, e);
}

void PracticeLine::keyPressEvent(QKeyEvent* e) {
    if (!take(*e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_practice_line.cpp"
