#pragma once

#include <QAction>
#include <QList>
#include <memory>

#include "ui/views.hpp"

namespace aspen::ui {

/// What the line that finds what can be done finds besides deeds: riders, their consents, the outbox,
/// exercises, schools. Made anew at each asking, for the records may have changed; what was made before is
/// gone then.
class Findable : public QObject {
    Q_OBJECT
  public:
    Findable(app::Yard& yard, Views& views, QObject* parent);
    QList<QAction*> all();

  private:
    void riders();
    void shelf();
    void add(const QString& words, const QString& group, std::function<void()> act);
    app::Yard& yard_;
    Views& views_;
    std::unique_ptr<QObject> holder_;
    QList<QAction*> made_;
};

}  // namespace aspen::ui
