#pragma once

#include <QListView>
#include <QScrollArea>
#include <QWidget>

#include "app/models/riders_model.hpp"
#include "app/models/thumbs.hpp"
#include "app/rides/lanes.hpp"

namespace aspen::ui {

class Lanes;

/// Every correction of a rider as a lane through time, with its measured values, their errors and the band.
class ProgressView : public QWidget {
    Q_OBJECT
  public:
    ProgressView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent = nullptr);
    void show_rider(store::RiderId id);
    const std::vector<app::Lane>& lanes() const;

  signals:
    void open_clip(aspen::store::ClipId clip);

  protected:
    void showEvent(QShowEvent*) override;

  private:
    void refill();
    app::Yard& yard_;
    app::RidersModel model_;
    QListView* riders_;
    Lanes* lanes_;
    store::RiderId shown_;
};

}  // namespace aspen::ui
