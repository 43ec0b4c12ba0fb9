#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

#include "app/thumbs.hpp"
#include "app/yard.hpp"

class QMenu;

namespace aspen::ui {

class RiderForm;

/// What needs the coach today: clips waiting with the next one marked, and the riders with their focus.
class YardView : public QWidget {
    Q_OBJECT
  public:
    YardView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent = nullptr);
    /// The clip that is marked as next; zero when none waits.
    store::ClipId next_clip() const { return next_; }
    /// The clip that waits after this one; zero when none does.
    store::ClipId next_after(store::ClipId clip) const;
    void note(const QString& line);

  signals:
    void open_clip(aspen::store::ClipId clip);
    void open_rider(aspen::store::RiderId rider);
    void choose_file();
    void say(const QString& line);
    void wants_backup();
    void wants_restore();

  protected:
    void showEvent(QShowEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    void later();
    void rebuild();
    void assign(store::ClipId clip, int rider_number);
    void fill_yard_menu(QMenu& menu);
    void fill_trash(QMenu& menu);
    void add_grid(const std::vector<store::Clip>& clips, bool mark_next);
    app::Yard& yard_;
    app::Thumbs& thumbs_;
    QVBoxLayout* clips_;
    QVBoxLayout* riders_;
    QWidget* riders_holder_;
    RiderForm* form_;
    QLabel* note_;
    store::ClipId next_, focus_after_;
    int columns_ = 3;
    bool pending_ = false;
};

}  // namespace aspen::ui
