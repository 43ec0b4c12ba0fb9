#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace aspen::ui {

/// A count with less and more, large enough for a thumb: words, value, two buttons. Up and down work on it
/// too.
class Stepper : public QWidget {
    Q_OBJECT
  public:
    /// `nothing` is what a value of `least` shows where that means "not said".
    Stepper(const QString& words, int least, int most, QWidget* parent, const QString& nothing = {});
    int value() const { return value_; }
    void set_value(int value);
    void set_most(int most);

  signals:
    void changed(int value);

  protected:
    void keyPressEvent(QKeyEvent*) override;

  private:
    void by(int n);
    int least_, most_, value_;
    QString words_, nothing_;
    QLabel* shown_;
};

}  // namespace aspen::ui
