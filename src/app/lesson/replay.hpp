#pragma once

#include <QByteArray>
#include <QImage>
#include <deque>
#include <optional>
#include <vector>

#include "app/jobs/jobs.hpp"

namespace aspen::app {

/// The last minutes of a live picture, kept as JPEG: what the rider just did is shown a little later, and the
/// last half minute can be kept as a clip. Interface thread only.
class Replay {
  public:
    static constexpr qint64 kMostBytes = 200LL << 20;
    static constexpr qint64 kLongestMs = 120'000;
    static constexpr int kLeastDelay_s = 5, kMostDelay_s = 60;

    struct Kept {
        qint64 at_ms = 0;
        QByteArray jpeg;
    };

    void push(const QImage& picture, qint64 at_ms);
    /// The picture that was taken `delay_s` before the newest; null where it does not go back so far.
    QImage delayed(int delay_s) const;
    /// When that one was taken.
    std::optional<qint64> delayed_at(int delay_s) const;
    qint64 bytes() const { return bytes_; }
    double seconds() const;
    std::size_t pictures() const { return kept_.size(); }
    /// The pictures of the last so many seconds.
    std::vector<Kept> last(double seconds) const;
    void clear();

  private:
    const Kept* kept_before(int delay_s) const;
    std::deque<Kept> kept_;
    qint64 bytes_ = 0;
};

/// Writes kept pictures as an MP4 of their own size and times; false when stopped. Any thread. Throws
/// core::Refused where the file cannot be written or there is nothing to write.
bool write_replay(const std::vector<Replay::Kept>& pictures, const std::string& file, Job& job);

}  // namespace aspen::app
