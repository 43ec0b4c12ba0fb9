#pragma once

#include <QPixmap>
#include <QWidget>

#include "core/training/exercises.hpp"
#include "simulate/plate.hpp"

namespace aspen::ui {

/// The plate of an exercise: the one that is drawn for it, else its first rung as it is ridden.
simulate::Plate plate_of(const core::Exercise& exercise);
/// It as a small picture for a list, in the theme's ink.
QPixmap small_plate(const core::Exercise& exercise, QSize size, double pixel_ratio);

/// What an exercise asks for, drawn.
class PlateView : public QWidget {
    Q_OBJECT
  public:
    explicit PlateView(QWidget* parent = nullptr);
    void show_plate(const core::Exercise& exercise);
    const simulate::Plate& plate() const { return plate_; }
    QSize sizeHint() const override;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    simulate::Plate plate_;
};

}  // namespace aspen::ui
