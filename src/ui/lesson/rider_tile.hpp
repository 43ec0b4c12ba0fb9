#pragma once

#include <QWidget>

#include "app/lesson/lesson_desk.hpp"

#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// One rider in the lesson, large enough to be read and touched at the ring: who on whom, the own task, what
/// was counted, how long nobody spoke to them; and the four things that are said most, each one touch or one
/// key.
class RiderTile : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    enum class Touch { good, look, word, attempt, good_one, hold, name };
    explicit RiderTile(app::LessonDesk& desk, int rider, QWidget* parent);
    void set_selected(bool on);
    /// The area of a touch, in the tile's own pixels.
    QRect touch_area(Touch touch) const;
    /// The keys of this rider: the column of the keyboard with that number.
    static QString key_of(Touch touch, int rider);
    // The touches, or what is looked at before mounting, each by its name.
    int row_count() const override;
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override;

  signals:
    void touched(int rider, aspen::ui::RiderTile::Touch what);
    void looked(int rider, const QString& item);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    QRect item_area(int item) const;
    QString touch_words(Touch touch) const;
    void paint_who(QPainter& p, const app::LessonRider& r, int& y) const;
    void paint_task(QPainter& p, const app::LessonRider& r, const QRect& area) const;
    void paint_before(QPainter& p, const app::LessonRider& r);
    void paint_running(QPainter& p, const app::LessonRider& r);
    void paint_touch(QPainter& p, Touch touch);
    app::LessonDesk& desk_;
    int rider_;
    bool selected_ = false;
};

}  // namespace aspen::ui
