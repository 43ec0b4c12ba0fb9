#pragma once

#include <QWidget>

#include "app/lanes.hpp"
#include "app/thumbs.hpp"

namespace aspen::ui {

/// One clip in the yard: its picture, who rides, when it was filmed and how far the review is.
class ClipCard : public QWidget {
    Q_OBJECT
  public:
    ClipCard(app::Yard& yard, app::Thumbs& thumbs, store::Clip clip, bool next, QWidget* parent = nullptr);
    static constexpr int kWidth = 196, kHeight = 180;
    QSize sizeHint() const override { return {kWidth, kHeight}; }
    store::ClipId clip() const { return clip_.id; }
    /// A card just made is not on the screen yet; it takes the focus once it is.
    void take_focus_when_shown();

  signals:
    void open(aspen::store::ClipId clip);
    void trash(aspen::store::ClipId clip);
    void rides(aspen::store::ClipId clip, int rider_number);  ///< a digit was pressed

  protected:
    void showEvent(QShowEvent*) override;
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;

  private:
    QImage still() const;
    app::Thumbs& thumbs_;
    int over_ = -1;  ///< where the pointer is on the picture, -1: nowhere
    store::Clip clip_;
    QString rider_, line_;
    bool next_, wants_focus_ = false;
};

/// One rider in the yard: name, school, the focus with where it stands, and what was given for it.
class RiderCard : public QWidget {
    Q_OBJECT
  public:
    /// `number`: the digit that assigns a clip to this rider, 0 for none.
    RiderCard(app::Yard& yard, const store::Rider& rider, int number, QWidget* parent = nullptr);

  signals:
    void open(aspen::store::RiderId rider);
    void edit(aspen::store::RiderId rider);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

  private:
    store::RiderId id_;
};

}  // namespace aspen::ui
