#pragma once

#include <QWidget>

#include "app/leaving/focus_frame.hpp"

namespace aspen::ui {

/// The frame that shows the focus, cut to the rider, with the mark of what is out and where it should be.
class PlanPicture : public QWidget {
  public:
    explicit PlanPicture(QWidget* parent);
    void show_frame(const app::FocusFrame& frame, const QImage& picture);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    app::FocusFrame frame_;
    QImage picture_;
    QRectF around_;
};

}  // namespace aspen::ui
