#pragma once

#include <QObject>
#include <QTimer>

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

  signals:
    void closing();
    void clip_opened();  ///< its frames are counted
    void moved(const QString& was, const QString& is);
    void trouble(const QString& line);

  private:
    void find_and_open();
    void open_frames(const QString& file);
    Yard& yard_;
    ClipDeck deck_;
    Review review_;
    Marking marking_;
    RideFindings findings_;
    QTimer place_timer_;  ///< where one is is kept once the hand rests, not at every frame that flies by
    JobHandle search_;
};

}  // namespace aspen::app
