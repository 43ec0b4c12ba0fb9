#pragma once

#include <QAction>
#include <QKeyEvent>
#include <QList>
#include <functional>

namespace aspen::ui {

/// What can be done in a view: actions with their keys from the one table (view_keys.cpp), found by id for
/// hint lines and buttons, and by the key that was pressed.
class ViewActions {
  public:
    /// `group` is what the view is called where all keys are shown.
    ViewActions(QObject& owner, QString group) : owner_(owner), group_(std::move(group)) {}
    void add(const QString& id, const QString& words, std::function<void()> act);
    const QList<QAction*>& all() const { return all_; }
    /// Null when there is none.
    QAction* find(const QString& id) const;
    /// Does what the key stands for; false when it stands for nothing here.
    bool take(const QKeyEvent& e) const;

  private:
    QObject& owner_;
    QString group_;
    QList<QAction*> all_;
};

}  // namespace aspen::ui
