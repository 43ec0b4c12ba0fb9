#pragma once

#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>
#include <set>
#include <string>

#include "app/review/bench.hpp"
#include "app/rides/ridden_ground.hpp"

namespace aspen::app {

/// The arena laid into the clip on the bench, and the way of the horse in it: what the coach clicks becomes
/// records, what the pictures say is read as a job and kept in the cache. Interface thread only.
class WayWork : public QObject {
    Q_OBJECT
  public:
    explicit WayWork(Bench& bench, QObject* parent = nullptr);
    ~WayWork() override;

    /// What is laid and ridden here; nullptr while nothing is laid. Stands until `changed`.
    const RiddenGround* ground() const;
    /// What is recorded of it; an arena of the usual measures while nothing is.
    const GroundMarks& marks() const;
    bool any() const { return bench_.is_open() && marks().arena.id; }
    /// The clip's pictures were read for camera and horse.
    bool read() const;
    bool busy() const { return job_ && !job_->ended(); }

    /// Another arena for this clip, and for the next ones; its marks stay where their names are in it.
    void choose_arena(const store::LaidArena& arena);
    /// A click on a named place; a name that is there already moves there. `zoom`: of the picture.
    void mark_place(const std::string& name, core::Point at, double zoom);
    /// The point on the ground between the hooves, on the deck's frame.
    void mark_horse(core::Point at, double zoom);
    void take_back_place();
    void take_back_horse();
    void ask_for(store::AskedLine asked);
    void take_back_asked();
    /// Reads the clip's pictures, once.
    void read_pictures();
    /// Looks for a clip of the same day whose camera stood where this one's stands, and takes its arena over.
    void look_for_same_stand();

    /// A circle of usual size at a usual place that the way between two frames comes nearest to: "20 m at C".
    std::optional<store::AskedLine> likely_circle(int from, int to) const;
    /// The frame of the way's point nearest to a place on the ground.
    std::optional<int> frame_near(core::GroundPoint at) const;

  signals:
    void changed();
    void say(const QString& line);

  private:
    void forget();
    void tell_the_judge();
    ClipSeen seen() const;
    store::ArenaMark mark_here(store::ArenaMarkKind kind, core::Point at, double zoom) const;
    void take_over(store::ClipId from);
    Bench& bench_;
    JobHandle job_, look_;
    QTimer judge_later_;            ///< not from inside what the bench says
    std::set<std::string> looked_;  ///< clips for which the same stand was looked for
    mutable std::optional<GroundMarks> marks_;
    mutable std::optional<RiddenGround> ground_;
    mutable std::string film_of_;
    mutable std::shared_ptr<const media::GroundFilm> film_;
};

/// "20 x 40", "20 x 60", "a hall of 17 x 35 m", "a field with two cones, 30 m apart".
QString arena_in_words(const store::LaidArena& arena);
/// A hall of own measures, with A, C, E, B and X where they stand in any arena; two cones.
store::LaidArena own_hall(double length_m, double width_m);
store::LaidArena two_cones(double apart_m);

}  // namespace aspen::app
