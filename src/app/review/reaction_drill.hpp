#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <random>
#include <vector>

namespace aspen::app {

/// Ten seconds in which a light comes on now and then and a key answers it: the coach's own time from seeing
/// to pressing is the median. Interface thread only.
class ReactionDrill : public QObject {
    Q_OBJECT
  public:
    /// `shortest_ms`, `longest_ms`: between one light and the next.
    explicit ReactionDrill(QObject* parent = nullptr, int shortest_ms = 900, int longest_ms = 1900,
                           int lights = 7);
    void start();
    void stop();
    void press();
    bool running() const { return running_; }
    bool lit() const { return lit_; }
    int done() const { return static_cast<int>(took_ms_.size()); }
    int lights() const { return lights_; }

  signals:
    void changed();
    void measured(int ms);
    void failed();  ///< most lights were missed or pressed before they came

  private:
    void next();
    void light();
    int shortest_ms_, longest_ms_, lights_, shown_ = 0;
    bool running_ = false, lit_ = false;
    std::vector<int> took_ms_;
    QElapsedTimer clock_;
    QTimer timer_;
    std::minstd_rand engine_;
};

}  // namespace aspen::app
