#include "app/leaving/film_plan.hpp"

#include <algorithm>
#include <set>

#include "app/files/cache_folder.hpp"
#include "app/review/annotated.hpp"
#include "app/review/ride_findings.hpp"
#include "app/rides/ridden_in.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

constexpr double kStillFps = 25;
constexpr double kShownNear = 0.55;  // of the picture, round what a caption speaks of

/// What the coach says is there, by the names the rules give it: the same that the bench draws.
std::vector<const core::Fault*> faults_named(Yard& yard, const store::Ride& ride) {
    core::RideData data = ride_data(yard, ride);
    for (const store::Finding& f : yard.records().reviews.findings(ride.id))
        data.decided.push_back(to_core(f));
    data.level = ride.level;
    std::vector<const core::Fault*> out;
    for (const core::RideFinding& f : core::assess_ride(data, yard.knowledge()).findings) {
        if (f.said()) out.push_back(f.found.fault);
    }
    return out;
}

std::optional<store::Ride> ride_in(Yard& yard, const store::Clip& clip, int slot) {
    for (const store::Slot& s : yard.records().rides.places(clip.id)) {
        if (s.slot == slot) return yard.records().rides.ride(s.ride);
    }
    return std::nullopt;
}

/// The part of a picture round a joint, so that what is spoken of is large.
core::SeenPart part_round(const core::FrameMark& mark, const core::Figure& figure, QSizeF size) {
    const core::Point at = figure[mark.end].at;
    return {at.x / size.width(), at.y / size.height(), kShownNear};
}

class FromNotes {
  public:
    FromNotes(Yard& yard, const store::Clip& clip, int slot, QSizeF size)
        : yard_(yard), clip_(clip), slot_(slot), size_(size) {
        moments_ = moments_on_film(yard, clip, slot);
        for (const store::Note& n : yard.records().reviews.notes(clip.id)) {
            if (n.slot == slot) notes_.push_back(n);
        }
        std::ranges::stable_sort(notes_, {}, &store::Note::frame);
        ride_ = ride_in(yard, clip, slot);
    }
    std::vector<core::ToTell> all() {
        good();
        words();
        findings();
        return std::move(out_);
    }

  private:
    void tell(int frame, const QString& title, const std::string& words, core::SeenPart part = {}) {
        out_.push_back({{clip_.id.value, frame}, title.toStdString(), words, part});
    }
    void good() {
        for (const store::Note& n : notes_) {
            if (n.kind == store::NoteKind::good)
                tell(n.frame, QObject::tr("What is good"),
                     n.words.empty() ? QObject::tr("This is good.").toStdString() : n.words);
        }
        if (!ride_) return;
        for (const store::Remark& r : yard_.records().reviews.remarks(ride_->id)) {
            if (r.kind == store::RemarkKind::strength && r.clip == clip_.id && r.frame >= 0)
                tell(r.frame, QObject::tr("What is good"), r.words);
        }
    }
    void words() {
        for (const store::Note& n : notes_) {
            if (n.kind != store::NoteKind::good && !n.words.empty())
                tell(n.frame, QObject::tr("Look here"), n.words);
        }
    }
    /// Each fault once, on the first moment that shows it.
    void findings() {
        std::set<const core::Fault*> told;
        for (const auto& [frame, m] : moments_) {
            for (const core::FrameMark& mark : m.annotated.marks) {
                if (mark.doubtful || !told.insert(mark.fault).second) continue;
                const std::string& says = mark.fault->rider.empty() ? mark.fault->says : mark.fault->rider;
                tell(frame, QString::fromStdString(mark.fault->name), says,
                     part_round(mark, m.figure, size_));
            }
        }
    }

  private:
    Yard& yard_;
    const store::Clip& clip_;
    int slot_;
    std::map<int, MomentOnFilm> moments_;
    std::vector<store::Note> notes_;
    std::optional<store::Ride> ride_;
    std::vector<core::ToTell> out_;
    QSizeF size_;
};

}  // namespace

std::map<int, MomentOnFilm> moments_on_film(Yard& yard, const store::Clip& clip, int slot) {
    std::map<int, MomentOnFilm> out;
    const auto ride = ride_in(yard, clip, slot);
    if (!ride) return out;
    const core::Knowledge& knowledge = yard.knowledge();
    const RiddenIn ridden(yard.records(), knowledge, *ride);
    const core::Stretches stretches = yard.records().rides.stretches(clip.id);
    const auto named = faults_named(yard, *ride);
    const auto answers = yard.records().reviews.answers(clip.id);
    for (const store::Moment& m : yard.records().reviews.moments(clip.id)) {
        if (m.slot != slot) continue;
        const core::RideMoment here = ridden.moment(stretches, m);
        MomentOnFilm shown{here.figure, {}};
        const core::Stretch& s = core::ridden_at(stretches, m.frame);
        shown.figure.view = s.view;
        shown.figure.travel = s.travel;
        shown.figure.camera = s.camera;
        if (s.judged && !here.setting.school.empty())
            shown.annotated =
                annotated(knowledge.faults, shown.figure, here.setting,
                          core::judge(shown.figure, here.setting, knowledge.body, knowledge.schools), named,
                          eye_on(answers, slot, m.frame));
        out.emplace(m.frame, std::move(shown));
    }
    return out;
}

int slot_of(Yard& yard, store::ClipId clip, store::RiderId rider) {
    for (const store::Slot& s : yard.records().rides.places(clip)) {
        const auto ride = yard.records().rides.ride(s.ride);
        if (ride && ride->rider == rider) return s.slot;
    }
    return 0;
}

std::vector<store::ClipId> clips_of(const core::Telling& telling) {
    std::vector<store::ClipId> out;
    for (const core::Deed& d : telling.deeds()) {
        const bool shows = d.what == core::Deed::What::picture || d.what == core::Deed::What::beside;
        const store::ClipId id{d.shown.clip};
        if (shows && std::ranges::find(out, id) == out.end()) out.push_back(id);
    }
    return out;
}

PermitOrLine ask_to_leave(Yard& yard, const core::Telling& telling) {
    Going going{Use::clip, {}, {}, clips_of(telling)};
    // Companions in one clip were filmed together; clips of different riders are laid together here.
    std::vector<store::RideId> first;
    for (const store::ClipId clip : going.clips) {
        const auto places = yard.records().rides.places(clip);
        if (!places.empty()) first.push_back(places.front().ride);
    }
    if (!first.empty()) going.use = use_of(yard, first);
    return ask(yard, going);
}

FilmPlan film_plan(Yard& yard, const store::Spoken& spoken, const Permit* permit) {
    FilmPlan out;
    out.telling = core::read_telling(spoken.timeline);
    if (!spoken.sound.empty()) out.voice = yard.folder().filePath(QString::fromStdString(spoken.sound));
    const auto its_clip = yard.records().rides.clip(spoken.clip);
    const auto its_ride = its_clip ? ride_in(yard, *its_clip, spoken.slot) : std::nullopt;
    const store::RiderId rider = its_ride ? its_ride->rider : store::RiderId{};
    for (const store::ClipId id : clips_of(out.telling)) {
        const auto clip = yard.records().rides.clip(id);
        if (!clip) throw core::Refused("review: a clip it shows was deleted; record it anew");
        ClipOnFilm on{yard.file_of(*clip), QString::fromStdString(clip->hash), {}, {}};
        const int slot = id == spoken.clip ? spoken.slot : slot_of(yard, id, rider);
        on.moments = moments_on_film(yard, *clip, slot);
        if (permit) on.faces = faces_to_cover(yard, *clip, *permit);
        for (const store::Note& n : yard.records().reviews.notes(id)) {
            if (n.slot == slot && !n.words.empty()) out.notes.push_back({{id.value, n.frame}, n.words});
        }
        if (out.first_clip == 0) out.first_clip = id.value;
        out.clips.emplace(id.value, std::move(on));
    }
    if (out.first_clip == 0) throw core::Refused("review: it shows no picture; record it anew");
    return out;
}

std::map<std::int64_t, FaceCovers> follow_faces(const FilmPlan& plan, Job& job,
                                                const std::function<void(double)>& each) {
    // What runs lies between the frames that were told.
    std::map<std::int64_t, std::pair<int, int>> shown;
    for (const core::Deed& d : plan.telling.deeds()) {
        if (d.what != core::Deed::What::picture && d.what != core::Deed::What::beside) continue;
        const auto [it, fresh] = shown.emplace(d.shown.clip, std::pair{d.shown.frame, d.shown.frame});
        it->second = {std::min(it->second.first, d.shown.frame), std::max(it->second.second, d.shown.frame)};
    }
    std::map<std::int64_t, FaceCovers> out;
    double done = 0;
    for (const auto& [id, range] : shown) {
        const ClipOnFilm& clip = plan.clips.at(id);
        media::ReaderOptions options;
        options.order_cache = {cache_folder().toStdString(), clip.hash.toStdString()};
        media::VideoReader reader(clip.file.toStdString(), {&job.stopped(), {}}, options);
        const int last = reader.facts().frames - 1;
        out[id] = follow_faces(
            reader, clip.faces, std::min(range.first, last), std::min(range.second, last),
            [&](double share) {
                if (each) each((done + share) / static_cast<double>(shown.size()));
            },
            &job.stopped());
        done += 1;
    }
    return out;
}

exchange::FilmScene film_scene(const FilmPlan& plan, const core::Scene& scene, const QImage& main,
                               const QImage& beside) {
    const auto picture = [&](const core::ShownFrame& at, const QImage& image) {
        exchange::FilmPicture out;
        out.picture = image;
        const auto clip = plan.clips.find(at.clip);
        if (clip == plan.clips.end() || !scene.figure) return out;
        const auto moment = clip->second.moments.find(at.frame);
        if (moment == clip->second.moments.end()) return out;
        out.figure = moment->second.figure;
        out.annotated = moment->second.annotated;
        return out;
    };
    exchange::FilmScene out;
    out.main = picture(scene.shown, main);
    for (const core::Stroke& s : scene.strokes)
        out.main.annotated.drawn.push_back(
            {static_cast<exchange::Drawn::Kind>(s.kind), s.a, s.b, QString::fromStdString(s.words)});
    if (scene.beside) out.beside = picture(*scene.beside, beside);
    out.part = scene.part;
    return out;
}

std::optional<core::Telling> telling_from_notes(Yard& yard, const store::Clip& clip, int slot,
                                                const media::ClipFacts& facts) {
    const auto all = FromNotes(yard, clip, slot, QSizeF(facts.width, facts.height)).all();
    if (all.empty()) return std::nullopt;
    return core::telling_of(all, facts.average_fps > 0 ? facts.average_fps : kStillFps);
}

}  // namespace aspen::app
