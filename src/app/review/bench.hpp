#pragma once

#include <QObject>
#include <QTimer>

#include "app/review/bench_state.hpp"
#include "app/review/ride_findings.hpp"

namespace aspen::app {

/// The review bench: one clip open, and who does what with it. Knows no widgets. Interface thread only.
class Bench : public QObject {
    Q_OBJECT
  public:
    explicit Bench(Yard& yard, QObject* parent = nullptr);

    Yard& yard() { return yard_; }
    ClipDeck& deck() { return deck_; }
    Review& review() { return review_; }
    Marking& marking() { return marking_; }
    RideFindings& findings() { return findings_; }

    /// Opens a clip, looks for it where it may have moved, and shows the figure of the rider in this slot.
    void open(store::ClipId id, int slot = 0);
    void close();
    bool is_open() const { return review_.is_open(); }
    BenchState state() const;
    operator BenchState() const { return state(); }  ///< whoever only looks at it
    /// What the ride is judged by changed without a record changing.
    void judge_anew();

  signals:
    /// Once for every step, and for what the hand does: what stands there now, and what of it is new.
    void changed(const aspen::app::BenchState& now, aspen::app::BenchParts what);
    /// Another frame, after what it changed of the above was said.
    void frame_moved(int frame);
    void closing();
    void clip_opened();  ///< its frames are counted
    void moved(const QString& was, const QString& is);
    void trouble(const QString& line);

  private:
    void settle(BenchParts what);
    void come_to_frame(int frame);
    void find_and_open();
    void open_frames(const QString& file);
    Yard& yard_;
    BenchNews news_;
    ClipDeck deck_;
    Review review_;
    Marking marking_;
    RideFindings findings_;
    QTimer place_timer_;  ///< where one is is kept once the hand rests, not at every frame that flies by
    JobHandle search_;
};

}  // namespace aspen::app
