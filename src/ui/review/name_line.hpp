#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QWidget>
#include <functional>

#include "app/review/eye_pass.hpp"

namespace aspen::ui {

/// Names a fault, a strength, a state or an answer of the horse by its two letters, over a view's lower edge:
/// the second letter takes it. Enter takes the first that is shown, Esc leaves.
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
