#pragma once

#include <QString>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/arena/ridden_words.hpp"
#include "core/body/stretches.hpp"
#include "media/way/ground_film.hpp"
#include "store/yard_store.hpp"

/// The arena as it lies in a clip, and where a horse went in it: put together from what the coach clicked and
/// from what the pictures say. Derived, like strides: what was read of the pictures lies in the cache.
namespace aspen::app {

/// Reads camera and silhouettes of a clip and keeps them. `going_on(share)` false stops it: nothing then.
/// Throws what the reader throws.
std::optional<media::GroundFilm> read_ground_film(const QString& file, const std::string& hash,
                                                  const std::function<bool(double)>& going_on);
/// Of the clip with this hash; nothing where it was not read yet.
std::optional<media::GroundFilm> kept_ground_film(const std::string& hash);

/// A hall of own measures says its places so: "A 0 0;C 24 0". Throws Refused.
core::ArenaFrame arena_of(const store::LaidArena& arena);

/// What is known of a clip besides: its size, its times, how it is held.
struct ClipSeen {
    int width = 0, height = 0;
    std::vector<double> times_s;  ///< of each frame, real seconds
    core::CameraPose camera{};
};

struct RiddenGround {
    core::ArenaFrame arena{40, 20};
    std::optional<core::LaidGround> laid;  ///< in the pixels of one picture of the clip, `to_laid`
    double depth_sign = 1;                 ///< of what lies before the camera, under the laid homography
    bool still = true;
    bool guessed = false;  ///< fewer than four marks that spread: a first guess
    QString trouble;       ///< why it is not laid
    std::vector<core::WayPoint> way;
    std::vector<int> frames;   ///< of the way's points
    double height_sd_m = 0;    ///< of what was followed, about what it stands on
    bool by_pictures = false;  ///< else by the coach's own marks alone
    /// From a frame's pixels to those it is laid in, also between frames that were looked at; nothing where
    /// it is lost.
    std::optional<Eigen::Matrix3d> to_laid(int frame) const;
    std::vector<std::pair<int, Eigen::Matrix3d>> turns;  ///< by frame; empty for a still camera

    struct Held {
        store::AskedLine asked;
        core::AskedFigure figure;
        std::optional<core::RiddenFigure> ridden;
        QString trouble;
    };
    std::vector<Held> held;
    /// The way's point nearest to a frame; -1 for none within half a second.
    int nearest(int frame, double frames_a_second) const;
};

struct GroundMarks {
    store::LaidArena arena;
    std::vector<store::ArenaMark> marks;
    std::vector<store::AskedLine> asked;
};
RiddenGround ridden_ground(const GroundMarks& marks, const ClipSeen& clip, int slot,
                           const media::GroundFilm* film);

/// A figure as it was asked, in the arena's frame. Throws Refused naming what is missing.
core::AskedFigure figure_of(const store::AskedLine& asked, const core::ArenaFrame& arena,
                            const std::vector<double>& times_s);

/// What a clip's ways say of faults and of the horse's answers, as if the eye had answered: kept in the cache
/// by whoever put the ground together, so that a ride is judged by it wherever it is judged.
/// False when just this was kept already.
bool keep_ground_answers(const store::Clip& clip, int slot, const GroundMarks& marks,
                         const RiddenGround& ground);
std::vector<store::Answer> answers_by_ground(const store::YardStore& records, const store::Clip& clip,
                                             int slot);

}  // namespace aspen::app
