#pragma once

#include <QWidget>

#include "app/lesson/lesson_desk.hpp"

namespace aspen::ui {

/// The top of the lesson: what is ridden now, how long still, the cue, and what comes next; under it the
/// whole session as a line along the time.
class LessonClock : public QWidget {
    Q_OBJECT
  public:
    explicit LessonClock(app::LessonDesk& desk, QWidget* parent);
    QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    void paint_block(QPainter& p, const core::Block& now, const QRect& area) const;
    void paint_session(QPainter& p) const;
    app::LessonDesk& desk_;
};

/// "trot, left rein"
QString spoken_block(const core::Block& block);

}  // namespace aspen::ui
