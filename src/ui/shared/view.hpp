#pragma once

#include <QAction>
#include <QList>
#include <QWidget>

namespace aspen::ui {

/// A view as the window knows it, and all it knows of it.
class View : public QWidget {
    Q_OBJECT
  public:
    using QWidget::QWidget;
    virtual QString title() const = 0;
    /// What can be done in it now, each with its key, for the line that finds it.
    virtual QList<QAction*> deeds() const { return {}; }
    /// It is shown; another takes its place.
    virtual void open() {}
    virtual void leave() {}

  signals:
    void say(const QString& line);
    void opening();  ///< before open(), for who knows what it begins with
};

}  // namespace aspen::ui
