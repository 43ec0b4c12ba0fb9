#pragma once

#include <QAction>
#include <QLineEdit>
#include <QListWidget>
#include <QWidget>
#include <functional>

namespace aspen::ui {

/// One line over the window that finds anything that can be done by part of its name.
class ActionLine : public QWidget {
    Q_OBJECT
  public:
    /// The actions are asked for anew at every opening, so that only what can be done now stands there.
    ActionLine(std::function<QList<QAction*>()> actions, QWidget* parent);
    void open();
    QLineEdit& words() { return *words_; }
    QListWidget& found() { return *found_; }

  signals:
    void closed();

  protected:
    bool eventFilter(QObject*, QEvent*) override;
    void paintEvent(QPaintEvent*) override;

  private:
    void look();
    void take(int row);
    void leave();
    std::function<QList<QAction*>()> ask_;
    QList<QAction*> actions_, shown_;
    QLineEdit* words_;
    QListWidget* found_;
};

}  // namespace aspen::ui
