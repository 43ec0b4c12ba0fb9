#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <vector>

#include "app/following/comparison.hpp"

namespace aspen::app {

/// Plays all sides of a comparison in step: by the stride where all were followed, so that one stride takes
/// as long on every side whatever its tempo; else by real time from the marked moments. The clock never
/// waits; what the machine is too slow for is left out. Interface thread only.
class InStep : public QObject {
    Q_OBJECT
  public:
    explicit InStep(Comparison& comparison, QObject* parent = nullptr);
    static constexpr double kSpeeds[] = {0.125, 0.25, 0.5, 1};

    void toggle();
    void pause();
    bool playing() const { return timer_.isActive(); }
    void change_speed(int by);
    double speed() const { return kSpeeds[speed_]; }
    /// Stride phase decides; else time does.
    bool by_stride() const { return by_stride_; }
    /// Where the clock stands: strides since the first, or seconds from the moments.
    double position() const { return position_; }
    /// "in step by the stride · ¼ of the speed · 24 pictures a second"
    QString words() const;
    /// Goes to a place of the stride, 0 … 1, on every side, standing.
    void go_to_phase(double phase);
    /// Every side back on its marked moment.
    void back_to_moments();

  signals:
    void changed();

  private:
    struct Way {
        std::vector<double> real_s;             ///< of every frame
        std::vector<core::StrideSpan> strides;  ///< empty: by time
        double moment_s = 0, begun_later = 0;   ///< the latter in strides, where half a stride is unknown
    };
    void lay_ways();
    void tick();
    void show_at(double position, media::Motion motion);
    int frame_at(const Way& way, double position) const;
    Comparison& comparison_;
    QTimer timer_;
    QElapsedTimer clock_, second_;
    std::vector<Way> ways_;
    std::vector<int> shown_;
    bool by_stride_ = false;
    double position_ = 0, begun_at_ = 0, first_ = -1, last_ = 1, a_stride_s_ = 0.7, shown_per_s_ = 0;
    int speed_ = 1;
};

}  // namespace aspen::app
