#pragma once

#include <QImage>
#include <QObject>

#include "app/leaving/gate.hpp"
#include "app/review/bench.hpp"
#include "core/body/face.hpp"

/// Frames and stretches that leave the bench. All pass the gate; no face leaves bare that should not.
namespace aspen::app {

/// What the coach drew over a face that no joint marks, and whether it holds the head in every frame of a
/// stretch.
struct Cover {
    std::optional<core::Ellipse> drawn;
    bool holds_throughout = false;
};

/// The bench's frame at full display size, with or without the figure. `trouble` is one line when it may not
/// leave or is not there yet. A frame where the face of somebody is not marked leaves only under the drawn
/// cover, a minor's not at all; `wants_cover` says that drawing one would help.
struct FrameOut {
    QImage picture;
    QString trouble;
    bool wants_cover = false;
};
FrameOut frame_out(Bench& bench, bool with_figure, const Cover& cover = {});

/// Writes frames from..to of the open clip as an MP4 of its own, upright and with square pixels as they are
/// shown, each frame with its own time; and beside it the marks of its moments with the new clip's frame
/// numbers ("NAME.marks.json"), so that they go along. A job; nothing is left half-written, and nothing that
/// was there before is lost by a stop.
class StretchWriter : public QObject {
    Q_OBJECT
  public:
    explicit StretchWriter(Bench& bench, QObject* parent = nullptr);
    /// Gives one line when it cannot start.
    QString start(int from, int to, const QString& file, const Cover& cover = {});
    void cancel();
    bool busy() const { return job_ && !job_->ended(); }
    /// True when the last refusal asked for a drawn cover.
    bool wants_cover() const { return wants_cover_; }

  signals:
    void finished(const QString& line);  ///< what was written, or why not

  private:
    Bench& bench_;
    JobHandle job_;
    bool wants_cover_ = false;
};

}  // namespace aspen::app
