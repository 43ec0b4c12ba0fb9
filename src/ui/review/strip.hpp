#pragma once

#include <QPushButton>
#include <QWidget>
#include <vector>

#include "app/review/player.hpp"

#include "ui/review/bench_panel.hpp"

namespace aspen::ui {

/// Where one is in the clip: a film of small pictures, the marked moments as pins, notes as flags, the part
/// marked for the loop, damaged frames hatched; under it the lane of stretches, each with its gait drawn as
/// footfall in dots that run in the direction of the rein, hatched where it cannot be judged; below that
/// frame number, the stream's own time and real time, what is ridden here and what plays. Press or drag to go
/// there; drag a border of the lane to move it.
class Strip : public BenchPanel {
    Q_OBJECT
  public:
    Strip(const app::BenchState& now, app::Player& player, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    void show_frame() override;
    void clip_opened() override;
    void clip_closing() override;
    QSize sizeHint() const override { return {600, 100}; }

    /// Strides that are outside their band, first and last frame of each, marked under the film.
    void light(std::vector<std::pair<int, int>> strides);
    /// Frames proposed as worth marking, drawn hollow where marked moments stand full.
    void propose(std::vector<int> frames);

  signals:
    void wants_name(std::size_t stretch);  ///< the lane was double-clicked

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    QRectF film() const;
    double x_of(int frame) const;
    void go(double x, media::Motion motion);
    void fill_film();
    void refresh_words();
    void paint_film(QPainter& p) const;
    void paint_notes(QPainter& p) const;
    void paint_lane(QPainter& p) const;
    void paint_footfall(QPainter& p, const QRectF& area, core::Gait gait, double direction) const;
    std::optional<std::size_t> border_at(QPointF p) const;
    QString here_in_words() const;
    void paint_marks(QPainter& p) const;
    void paint_words(QPainter& p) const;
    app::Player& player_;
    QPushButton* play_;
    QPushButton* back_;
    QPushButton* speed_;
    QPushButton* loop_;
    double opening_ = 0;
    std::vector<std::pair<int, int>> lit_;
    std::vector<int> proposed_;
    std::optional<std::size_t> held_border_;
    bool begins_ = false;  ///< the hand took hold of a border and has not moved it yet
    struct Still {
        QImage image;
        int frame = -1;
    };
    std::vector<Still> stills_;  ///< the film's pictures, left to right
};

}  // namespace aspen::ui
