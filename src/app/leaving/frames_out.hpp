#pragma once

#include <QImage>
#include <QObject>

#include "app/leaving/face_plan.hpp"
#include "app/leaving/gate.hpp"
#include "app/review/bench.hpp"
#include "app/review/stride_work.hpp"

/// Frames and stretches that leave the bench. All pass the gate; no face leaves bare that should not.
namespace aspen::app {

/// The bench's frame at full display size, with or without the figure. `trouble` is one line when it may not
/// leave or is not there yet; `wants_face` says that an ellipse round the face on this frame would help.
struct FrameOut {
    QImage picture;
    QString trouble;
    bool wants_face = false;
    std::optional<Permit> permit{};  ///< with which it may leave
};
FrameOut frame_out(Bench& bench, bool with_figure);

/// What became of a film that was written with its faces covered: nothing amiss, or where an ellipse would
/// help.
struct CoveredFilm {
    QString trouble;
    int help_at = -1;
    std::string sha256{};
};
/// Writes a whole film with its faces covered, frame for frame at its own times. Any thread.
CoveredFilm write_covered(const std::filesystem::path& clip, const std::filesystem::path& file,
                          const std::vector<FaceToCover>& faces, const Permit& permit, Job& job,
                          const std::function<void(double)>& each);

/// How a stretch is written.
struct StretchLook {
    double slow = 1;      ///< so many times as long
    bool figure = false;  ///< the joints as they were followed, or marked
    std::string curve{};  ///< a measure drawn under the picture as it runs; "" for none
};

/// Writes frames from..to of the open clip as an MP4 of its own, upright and with square pixels as they are
/// shown, each frame with its own time; and beside it, when it is as long as it was, the marks of its moments
/// with the new clip's frame numbers ("NAME.marks.json"), so that they go along. A job; nothing is left
/// half-written, and nothing that was there before is lost by a stop.
class StretchWriter : public QObject {
    Q_OBJECT
  public:
    explicit StretchWriter(Bench& bench, QObject* parent = nullptr);
    /// Gives one line when it cannot start. `strides` where figure or curve are asked for.
    QString start(int from, int to, const QString& file, const StretchLook& look = {},
                  const StrideWork* strides = nullptr);
    void cancel();
    bool busy() const { return job_ && !job_->ended(); }

  signals:
    void finished(const QString& line);  ///< what was written, or why not
    /// An ellipse round the face on this frame would help; the line says why.
    void wants_face(int frame, const QString& line);

  private:
    Bench& bench_;
    JobHandle job_;
};

}  // namespace aspen::app
