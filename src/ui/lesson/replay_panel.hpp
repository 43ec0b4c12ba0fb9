#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <memory>

#include "app/lesson/lesson_desk.hpp"
#include "app/lesson/live_camera.hpp"
#include "app/lesson/live_figure.hpp"
#include "app/lesson/replay.hpp"
#include "app/yard/importer.hpp"

namespace aspen::ui {

/// The camera at the ring, some seconds late, so that a rider who comes by sees what just happened. The last
/// half minute becomes a clip of the chosen rider's ride.
class ReplayPanel : public QWidget {
    Q_OBJECT
  public:
    explicit ReplayPanel(app::LessonDesk& desk, QWidget* parent);
    /// The camera that is plugged in, else the simulated one.
    void open();
    void open(std::unique_ptr<app::LiveCamera> camera);
    void close_camera();
    bool running() const { return camera_ != nullptr; }
    void change_delay(int by_s);
    int delay_s() const { return delay_s_; }
    /// For the rider with this number in the lesson.
    void keep(int rider);
    app::Replay& replay() { return replay_; }
    /// The figure on the picture, where the network is there and the machine keeps up; told to be kept.
    void show_figure(bool shown);
    bool figure_is_shown() const { return figure_shown_; }
    /// What of it stands on the picture that is shown now.
    std::optional<core::Figure> figure_now() const;
    bool keeping() const { return job_ && !job_->ended(); }

  signals:
    void say(const QString& line);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    void take(const QImage& picture, qint64 at_ms);
    void paint_picture(QPainter& p);
    QString words() const;
    app::LessonDesk& desk_;
    app::Importer importer_;
    std::unique_ptr<app::LiveCamera> camera_;
    app::Replay replay_;
    app::LiveFigure figure_{this};
    bool figure_shown_ = true, network_there_ = false;
    QImage shown_;
    int delay_s_ = 10;
    app::JobHandle job_;
};

}  // namespace aspen::ui
