#pragma once

#include <QPushButton>
#include <QWidget>
#include <vector>

#include "app/player.hpp"

namespace aspen::ui {

/// Where one is in the clip: a film of small pictures, the marked moments as pins, the gait as its footfall drawn in dots
/// that run in the direction of travel, the stretch marked for the loop, damaged frames hatched; below it frame number,
/// the stream's own time and real time, and what plays. Press or drag to go there.
class Strip : public QWidget {
    Q_OBJECT
  public:
    Strip(app::Bench& bench, app::Player& player, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {600, 88}; }

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    QRectF film() const;
    double x_of(int frame) const;
    void go(double x, media::Motion motion);
    void fill_film();
    void refresh_words();
    void paint_film(QPainter& p) const;
    void paint_footfall(QPainter& p) const;
    void paint_marks(QPainter& p) const;
    void paint_words(QPainter& p) const;
    app::Bench& bench_;
    app::Player& player_;
    QPushButton* play_;
    QPushButton* back_;
    QPushButton* speed_;
    double opening_ = 0;
    struct Still { QImage image; int frame = -1; };
    std::vector<Still> stills_;  ///< the film's pictures, left to right
};

}  // namespace aspen::ui
