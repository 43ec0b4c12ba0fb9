#pragma once

#include <QObject>

#include "app/leaving/film_plan.hpp"

namespace aspen::app {

/// How a review is written.
struct FilmWish {
    int most_mb = 0;    ///< for messaging; 0: no limit
    bool burn = false;  ///< captions in the picture too; without a voice they always are
};

/// What became of a film.
struct FilmMade {
    QString trouble;             ///< one line; "" when it was written
    std::int64_t help_clip = 0;  ///< where an ellipse round a face would help
    int help_at = -1;
    double length_s = 0, bytes = 0;
    std::string sha256{};
};
/// Writes the film, and its captions and chapters beside it as WebVTT ("NAME.vtt", "NAME.chapters.vtt"). Any
/// thread; nothing is left half-written. Throws core::Refused and ReadCancelled.
FilmMade write_film(const FilmPlan& plan, const Permit& permit, const FilmWish& wish, const QString& file,
                    Job& job);

/// Writes a spoken review as one film, as a job; passes the gate and is noted in the log.
class FilmWriter : public QObject {
    Q_OBJECT
  public:
    explicit FilmWriter(Yard& yard, QObject* parent = nullptr) : QObject(parent), yard_(yard) {}
    /// Gives one line when it cannot start.
    QString start(const store::Spoken& spoken, const QString& file, const FilmWish& wish = {});
    void cancel();
    bool busy() const { return job_ && !job_->ended(); }

  signals:
    void finished(const QString& line, bool written);
    void wants_face(aspen::store::ClipId clip, int frame, const QString& line);

  private:
    Yard& yard_;
    JobHandle job_;
};

}  // namespace aspen::app
