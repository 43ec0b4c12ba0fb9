#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QWidget>
#include <functional>

#include "app/review/eye_pass.hpp"

namespace aspen::ui {

/// Names a fault, a strength, a state or an answer of the horse by its name or its two letters, over a view's
/// lower edge: all that begins so is offered by number; a digit takes one, Enter the first, Esc leaves. What
/// is typed never takes anything by itself, and never reaches the view.
class NameLine : public QWidget {
    Q_OBJECT
  public:
    explicit NameLine(QWidget* parent);
    void ask(const core::Knowledge& knowledge, const std::function<void(const app::Named&)>& taken);

  signals:
    void closed();

  protected:
    void paintEvent(QPaintEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

  private:
    void typed(const QString& letters);
    void take(std::size_t offer);
    void leave();
    void place();
    QLabel* hint_;
    QLineEdit* edit_;
    QLabel* offers_;
    const core::Knowledge* knowledge_ = nullptr;
    std::vector<app::Named> found_;
    std::function<void(const app::Named&)> taken_;
};

}  // namespace aspen::ui
