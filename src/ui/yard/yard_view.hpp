#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QWidget>

#include "app/models/riders_model.hpp"
#include "app/models/rides_model.hpp"
#include "app/models/thumbs.hpp"
#include "app/yard/yard.hpp"
#include "ui/shared/deeds_line.hpp"
#include "ui/shared/view.hpp"

class QMenu;

namespace aspen::ui {

class RideDelegate;
class RiderDelegate;
class RiderForm;
class HorseForm;
class AskingCard;
class ConsentCard;
class WordLine;

/// What needs the coach today, in order and with the reason; who rides here; and one field that finds
/// anything.
class YardView : public View {
    Q_OBJECT
  public:
    YardView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent = nullptr);
    QString title() const override { return tr("Yard"); }
    /// The ride that is marked as next; zero when none waits.
    store::RideId next_ride() const;
    /// The first clip of it.
    store::ClipId next_clip() const;
    /// A clip that waits after this one: the next of its ride, else of the next ride; zero when none does.
    store::ClipId next_after(store::ClipId clip) const;
    void note(const QString& line);
    QListView& rides() { return *rides_; }
    QListView& riders() { return *riders_; }
    QLineEdit& search() { return *search_; }
    app::RidesModel& model() { return model_; }
    AskingCard& asking() { return *asking_; }
    ConsentCard& consents() { return *consents_; }
    /// What is to be asked of a rider; the outbox alone for nobody.
    void show_asking(store::RiderId rider);
    void show_consents(store::RiderId rider);
    /// What can be done with the ride under the keys.
    QList<QAction*> deeds() const override { return deeds_; }

  signals:
    void open_clip(aspen::store::ClipId clip);
    void open_rider(aspen::store::RiderId rider);
    void choose_file();
    void wants_backup();
    void wants_restore();

  protected:
    void showEvent(QShowEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

  private:
    QWidget* build_left();
    QWidget* build_right();
    void join_cards();
    void join_riders();
    void after_reset();
    void remember();
    bool take_key(const QKeyEvent& e);
    void show_card(QWidget* card);
    void edit_horse(store::HorseId horse);
    void choose_horse();
    void set_clock(int row);
    void build_deeds();
    QAction* deed(const QString& id) const;
    void open_row(int row, store::ClipId clip = {});
    void assign(int row, int rider_number);
    void join(int row);
    void split(int row);
    void say_yes(int row);
    void promise(int row, bool take_back);
    void trash(int row);
    void fill_yard_menu(QMenu& menu);
    void fill_trash(QMenu& menu);
    void fill_merge(QMenu& menu);
    void show_ride_menu(const QPoint& at);
    app::Yard& yard_;
    app::Thumbs& thumbs_;
    app::RidesModel model_;
    app::RidersModel rider_model_;
    RideDelegate* ride_look_;
    RiderDelegate* rider_look_;
    QListView* rides_;
    QListView* riders_;
    QLabel* heading_;
    QLabel* below_;
    QPushButton* add_;
    DeedsLine* hint_;
    QList<QAction*> deeds_;
    QLineEdit* search_;
    RiderForm* form_;
    HorseForm* horse_form_;
    AskingCard* asking_;
    ConsentCard* consents_;
    QWidget *form_area_, *horse_area_, *asking_area_, *consents_area_;
    QLabel* right_heading_;
    DeedsLine* rider_hint_;
    WordLine* line_;
    QLabel* note_;
    store::RideId kept_;  ///< the ride under the keys, which stays under them when the list is read anew
    int kept_row_ = 0;
};

}  // namespace aspen::ui
