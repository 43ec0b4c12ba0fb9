#pragma once

#include <QScrollArea>
#include <QStackedWidget>
#include <QWidget>

#include "app/following/progress_desk.hpp"
#include "app/models/thumbs.hpp"
#include "ui/progress/time_axis.hpp"
#include "ui/shared/deeds_line.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/view.hpp"
#include "ui/shared/view_actions.hpp"

namespace aspen::ui {

class HorsePage;
class Lanes;
class TimeHead;
class WordLine;
class YardWidePage;

/// Every correction of a rider as a lane through time: what settled, what is in work, what came back, what
/// stands still and why; or what all the yard's riders have in common.
class ProgressView : public View {
    Q_OBJECT
  public:
    ProgressView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent = nullptr);
    QString title() const override { return tr("Progress"); }
    void show_rider(store::RiderId id);
    app::ProgressDesk& desk() { return desk_; }
    const std::vector<app::Lane>& lanes() const { return desk_.lanes(); }
    Lanes& lanes_widget() { return *lanes_; }
    YardWidePage& yard_wide() { return *wide_; }
    HorsePage& horse_page() { return *horse_; }
    /// A horse over all its riders.
    void show_horse(store::HorseId id);
    bool shows_yard() const;
    QList<QAction*> deeds() const override { return deeds_.all(); }
    /// Each writes a file and gives the line that is said: what was written, or why not.
    QString write_season(const QString& file);
    /// The lane under the keys as a picture.
    QString write_lane(const QString& file);
    QString write_table(const QString& file);

  signals:
    void open_clip(aspen::store::ClipId clip);
    /// Another rider was chosen here.
    void rider_shown(aspen::store::RiderId rider);
    /// Two rides of a correction side by side.
    void wants_compare(const aspen::app::Lane& lane, const aspen::app::LanePoint& then,
                       const aspen::app::LanePoint& now);

  protected:
    void showEvent(QShowEvent*) override;
    void hideEvent(QHideEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    QWidget* build_rider_page();
    void build_deeds();
    void refill();
    void tell_filters();
    void tell_current();
    void draw_anew();
    void toggle_yard();
    void toggle_horse();
    void to_lanes();
    void take_word();
    void take_note();
    void compare();
    void zoom(double by);
    QString ask_for_file(const QString& title, const QString& name, const QString& kind);
    /// What is done with the lane under the keys; its line is said.
    void with_lane(const std::function<QString(const app::Lane&)>& act);
    app::Yard& yard_;
    app::ProgressDesk desk_;
    TimeAxis axis_;
    ViewActions deeds_{*this, tr("Progress")};
    QStackedWidget* stack_;
    QLabel *glance_, *story_;
    HintLine* filters_;
    DeedsLine* hint_;
    TimeHead* head_;
    Lanes* lanes_;
    YardWidePage* wide_;
    HorsePage* horse_;
    WordLine* line_;
    store::RiderId drawn_;
};

}  // namespace aspen::ui
