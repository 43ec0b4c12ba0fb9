#pragma once

#include <QLineEdit>
#include <QListView>
#include <QSortFilterProxyModel>
#include <QWidget>

#include "app/models/riders_model.hpp"

namespace aspen::ui {

/// The one list of riders: it lies over whatever is shown, finds by the letters of a name, and goes as soon
/// as a rider is chosen.
class RiderChooser : public QWidget {
    Q_OBJECT
  public:
    explicit RiderChooser(app::Yard& yard, QWidget* parent);
    /// With this rider under the keys.
    /// `on_bench`: it can also be said that somebody else rides in the clip there.
    void open(store::RiderId now, bool on_bench);
    QLineEdit& words() { return *words_; }
    QListView& list() { return *list_; }

  signals:
    void chosen(aspen::store::RiderId rider);
    void closed();
    void wants_say_rider();
    void wants_say_horse();

  protected:
    bool eventFilter(QObject*, QEvent*) override;
    void paintEvent(QPaintEvent*) override;

  private:
    void take(const QModelIndex& row);
    void leave();
    app::RidersModel model_;
    QSortFilterProxyModel found_;
    QLineEdit* words_;
    QListView* list_;
    QWidget *nothing_, *here_;
};

}  // namespace aspen::ui
