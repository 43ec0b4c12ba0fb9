#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QWidget>

#include "core/training/practice.hpp"

namespace aspen::ui {

/// One ride's practice, written down in one line of keys: digits fill the count that has the focus, Space or
/// Tab goes on, H says that it hurt, R and F that rider or horse were tired, W begins a word. Enter writes it
/// down, Escape leaves.
class PracticeLine : public QWidget {
    Q_OBJECT
  public:
    explicit PracticeLine(QWidget* parent = nullptr);
    void begin(const core::Rung& rung);
    core::Practice practice() const;
    QSpinBox& attempts() { return *attempts_; }
    QSpinBox& good() { return *good_; }
    QPushButton& hurts() { return *pain_; }
    QPushButton& keep() { return *keep_; }
    QLineEdit& words() { return *words_; }

  signals:
    void written(const aspen::core::Practice& practice);
    void left();

  protected:
    void keyPressEvent(QKeyEvent*) override;
    bool eventFilter(QObject* watched, QEvent* e) override;

  private:
    QSpinBox* count(const QString& name, int least, int most);
    bool take(QKeyEvent& e);
    QSpinBox *good_, *attempts_, *guess_, *held_, *feel_;
    QPushButton *pain_, *tired_rider_, *tired_horse_, *keep_;
    QLineEdit* words_;
};

}  // namespace aspen::ui
