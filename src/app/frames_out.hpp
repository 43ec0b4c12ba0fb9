#pragma once

#include <QImage>
#include <QObject>
#include <atomic>
#include <thread>

#include "app/bench.hpp"

/// Frames and stretches that leave the bench. All pass the gate; faces are covered when the yard says so.
namespace aspen::app {

/// The bench's frame at full display size, with or without the figure. `trouble` is one line when it may not
/// leave or is not there yet.
struct FrameOut {
    QImage picture;
    QString trouble;
};
FrameOut frame_out(const Bench& bench, bool with_figure);

/// Writes frames from..to of the open clip as an MP4 of its own, upright and with square pixels as they are
/// shown, each frame with its own time; and beside it the marks of its moments with the new clip's frame
/// numbers
/// ("NAME.marks.json"), so that they go along. Works on a thread of its own; nothing is left half-written.
class StretchWriter : public QObject {
    Q_OBJECT
  public:
    explicit StretchWriter(Bench& bench, QObject* parent = nullptr);
    ~StretchWriter() override;
    /// Gives one line when it cannot start.
    QString start(int from, int to, const QString& file);
    void cancel() { cancel_ = true; }
    bool busy() const { return busy_; }

  signals:
    void progress(double share);
    void finished(const QString& line);  ///< what was written, or why not

  private:
    Bench& bench_;
    std::atomic<bool> cancel_{false};
    bool busy_ = false;
    std::thread thread_;
};

}  // namespace aspen::app
