#pragma once

#include <map>

#include "app/leaving/face_plan.hpp"
#include "core/telling/telling.hpp"
#include "exchange/film_frame.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {

/// What is drawn on a marked moment.
struct MomentOnFilm {
    core::Figure figure;
    exchange::Annotated annotated;
};
/// Of one rider in a clip, by frame: figures, and the findings that each moment shows and nobody rejected.
std::map<int, MomentOnFilm> moments_on_film(Yard& yard, const store::Clip& clip, int slot);

/// The place of a rider in a clip; the first where the rider is not in it.
int slot_of(Yard& yard, store::ClipId clip, store::RiderId rider);

/// A clip that a review shows.
struct ClipOnFilm {
    QString file, hash;
    std::map<int, MomentOnFilm> moments;
    std::vector<FaceToCover> faces;
};

/// All that a film is made from, read on the interface's thread; nothing of it reads the records.
struct FilmPlan {
    core::Telling telling;
    QString voice;  ///< the recording; "" for none
    std::vector<core::NoteOnFrame> notes;
    std::map<std::int64_t, ClipOnFilm> clips;
    std::int64_t first_clip = 0;  ///< whose size and rate the film has
};

/// The clips a telling shows.
std::vector<store::ClipId> clips_of(const core::Telling& telling);
/// Whoever rides in them has to be allowed to leave.
PermitOrLine ask_to_leave(Yard& yard, const core::Telling& telling);

/// Reads it. Without a permit no face is covered: for showing it here. Throws core::Refused when the telling
/// cannot be read or a clip is gone.
FilmPlan film_plan(Yard& yard, const store::Spoken& spoken, const Permit* permit);

/// What is covered in each clip over all of it that is shown. Any thread; throws what the reader throws.
std::map<std::int64_t, FaceCovers> follow_faces(const FilmPlan& plan, Job& job,
                                                const std::function<void(double)>& each = {});

/// The picture of a scene, from clip pictures at full display size.
exchange::FilmScene film_scene(const FilmPlan& plan, const core::Scene& scene, const QImage& main,
                               const QImage& beside);

/// A review without a voice, made from the coach's own notes on the ride: what is good, then what was noticed
/// with its word, the focus last. Nothing where there is neither a moment nor a note.
std::optional<core::Telling> telling_from_notes(Yard& yard, const store::Clip& clip, int slot,
                                                const media::ClipFacts& facts);

}  // namespace aspen::app
