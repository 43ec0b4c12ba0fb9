#pragma once

#include <QWidget>

#include "app/rides/rider_plan.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// A rider's weeks: a row a week, a mark a day ridden, as large as its minutes; filled where it was
/// practised; the day of the next clip framed. The head of a column switches that day on and off.
class WeeksView : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    explicit WeeksView(QWidget* parent = nullptr);
    void show_weeks(const app::RidersPlan& plan, const QString& today);
    int row_count() const override { return static_cast<int>(weeks_.weeks.size()) + 7; }
    /// The first seven rows are the days, then the weeks.
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override;
    QSize sizeHint() const override;

  signals:
    void day_pressed(int weekday);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    int week_height() const;
    QRectF cell(int week, int day) const;
    core::Homework weeks_;
    std::vector<int> days_;
    std::vector<std::string> practised_;
    QString today_;
};

}  // namespace aspen::ui
