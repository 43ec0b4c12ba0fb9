#include "ui/shared/stepper.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

Stepper::Stepper(const QString& words, int least, int most, QWidget* parent, const QString& nothing)
    : QWidget(parent), least_(least), most_(most), value_(least), words_(words), nothing_(nothing) {
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    auto* name = quiet_label(words, this);
    name->setWordWrap(false);
    row->addWidget(name);
    const auto button = [&](const QString& sign, int n) {
        auto* b = new QPushButton(sign, this);
        b->setObjectName("step");
        b->setFixedSize(scaled_px(30), scaled_px(30));
        b->setFocusPolicy(Qt::NoFocus);
        b->setAccessibleName(words + (n < 0 ? tr(", one less") : tr(", one more")));
        connect(b, &QPushButton::clicked, this, [this, n] { by(n); });
        return b;
    };
    row->addWidget(button(QString::fromUtf8("−"), -1));
    shown_ = text_label({}, this, 14, true);
    shown_->setAlignment(Qt::AlignCenter);
    shown_->setFixedWidth(scaled_px(34));
    row->addWidget(shown_);
    row->addWidget(button("+", 1));
    set_value(least);
}

void Stepper::set_value(int value) {
    value_ = std::clamp(value, least_, most_);
    shown_->setText(value_ == least_ && !nothing_.isEmpty() ? nothing_ : QString::number(value_));
    setAccessibleName(words_ + ", " + shown_->text());
}
void Stepper::set_most(int most) {
    most_ = std::max(least_, most);
    set_value(value_);
}
void Stepper::by(int n) {
    set_value(value_ + n);
    emit changed(value_);
}
void Stepper::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Up || e->key() == Qt::Key_Plus) return by(1);
    if (e->key() == Qt::Key_Down || e->key() == Qt::Key_Minus) return by(-1);
    if (e->key() >= Qt::Key_0 && e->key() <= Qt::Key_9) {
        set_value(e->key() - Qt::Key_0);
        return emit changed(value_);
    }
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_stepper.cpp"
