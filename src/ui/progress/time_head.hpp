#pragma once

#include <QWidget>
#include <vector>

#include "app/rides/lanes.hpp"
#include "ui/progress/time_axis.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// The time over the lanes, and what happened on it beside the corrections: sign-offs, another saddle, bit or
/// horse, injuries and pauses. The wheel draws it apart and together, dragging moves it.
class TimeHead : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    TimeHead(TimeAxis& axis, QWidget* parent);
    void show_marks(const std::vector<app::TimeMark>& marks, double today);
    const std::vector<app::TimeMark>& marks() const { return marks_; }
    int row_count() const override { return static_cast<int>(marks_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override;
    QSize sizeHint() const override;

  signals:
    void moved();  ///< the axis
    void mark_pressed(int row);

  protected:
    void paintEvent(QPaintEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    bool event(QEvent*) override;

  private:
    double mark_x(int row) const;
    TimeAxis& axis_;
    std::vector<app::TimeMark> marks_;
    double today_ = 0, dragged_from_ = 0;
};

/// The sign of a mark, by shape: it is read without colour.
void paint_mark(QPainter& p, QPointF at, const std::string& kind, const QColor& ink);

}  // namespace aspen::ui
