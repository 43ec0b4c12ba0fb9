#pragma once

#include <QWidget>

#include "app/rides/rider_plan.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// A ladder as one climbs it: the easiest rung at the foot. Rungs behind the rider are filled, the one that
/// is ridden now is marked with what it takes, those that wait for a word of the coach's say so.
class LadderView : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    explicit LadderView(QWidget* parent = nullptr);
    /// `waits[i]`: what must stand before rung i, "" for nothing. `standing` −1: nobody is on it yet.
    void show_ladder(const core::Exercise& exercise, int standing, int good_in_a_row, bool done,
                     const QStringList& waits);
    int row_count() const override { return static_cast<int>(rungs_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override { emit rung_pressed(row); }
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

  signals:
    void rung_pressed(int rung);

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

  private:
    void paint_rung(QPainter& p, int row) const;
    std::vector<core::Rung> rungs_;
    QStringList waits_;
    int standing_ = -1, good_ = 0;
    bool done_ = false;
};

}  // namespace aspen::ui
