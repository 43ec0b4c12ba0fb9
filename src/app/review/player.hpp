#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <optional>

#include "app/review/clip_deck.hpp"

namespace aspen::app {

/// Plays the open clip by the stream's own times, forwards and backwards, at 1/8 to 2 times, in a loop
/// between two marks. The clock never waits: frames the machine is too slow for are left out and counted.
/// Interface thread only.
class Player : public QObject {
    Q_OBJECT
  public:
    explicit Player(ClipDeck& deck, QObject* parent = nullptr);

    static constexpr double kSpeeds[] = {0.125, 0.25, 0.5, 1, 2};

    void play(int direction);
    void pause();
    /// Plays on in the last direction, or pauses.
    void toggle();
    bool playing() const { return timer_.isActive(); }
    int direction() const { return direction_; }
    double speed() const { return kSpeeds[speed_]; }
    /// One step up or down the speeds.
    void change_speed(int by);

    /// The marked stretch, frames; either end may be missing.
    std::optional<int> from() const { return from_; }
    std::optional<int> to() const { return to_; }
    void mark_from(int frame);
    void mark_to(int frame);
    void clear_marks();
    bool loops() const { return loops_; }
    void set_loops(bool on);
    /// Frames that the clock passed since it was started and that were never shown.
    int left_out() const { return left_out_; }
    /// Where the clock stands, the stream's own seconds.
    double position_s() const { return position_s_; }

  signals:
    void changed();
    void started();  ///< or jumped: whoever follows the clock sets itself to position_s()
    void stopped();

  private:
    void tick();
    int first() const { return from_.value_or(0); }
    int last() const { return to_.value_or(deck_.facts().frames - 1); }
    void start_at(int frame);
    int frame_at(double stream_s) const;
    ClipDeck& deck_;
    QTimer timer_;
    QElapsedTimer clock_;
    double position_s_ = 0;
    int direction_ = 1, speed_ = 3, left_out_ = 0, shown_ = -1;
    std::optional<int> from_, to_;
    bool loops_ = false;
};

}  // namespace aspen::app
