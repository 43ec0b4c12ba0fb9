#pragma once

#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "core/training/practice.hpp"
#include "ui/shared/stepper.hpp"

namespace aspen::ui {

/// One ride's practice, written down in a line: the rider's own guess first, then tries, good ones, strides
/// held, how it felt, whether it hurt, who was tired. Enter writes it down, Escape leaves.
class PracticeLine : public QWidget {
    Q_OBJECT
  public:
    explicit PracticeLine(QWidget* parent = nullptr);
    void begin(const core::Rung& rung);
    core::Practice practice() const;
    Stepper& attempts() { return *attempts_; }
    Stepper& good() { return *good_; }
    QPushButton& hurts() { return *pain_; }
    QPushButton& keep() { return *keep_; }

  signals:
    void written(const aspen::core::Practice& practice);
    void left();

  protected:
    void keyPressEvent(QKeyEvent*) override;

  private:
    void write();
    Stepper *guess_, *attempts_, *good_, *held_, *feel_;
    QPushButton *pain_, *tired_rider_, *tired_horse_, *keep_;
    QLineEdit* words_;
};

}  // namespace aspen::ui
