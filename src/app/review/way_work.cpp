#include "app/review/way_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

constexpr double kClickPx = 2, kFinestPx = 0.7;  // of a click at full and at closest view
constexpr double kShortSide = 1080;
constexpr const char* kArenaSetting = "arena_laid";

store::LaidArena usual_arena(const Yard& yard) {
    store::LaidArena out;
    const std::string kept = yard.records().settings.setting(kArenaSetting, "40");
    out.length_m = kept == "60" ? 60 : 40;
    return out;
}

}  // namespace

WayWork::WayWork(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {
    connect(&bench_, &Bench::closing, this, [this] {
        for (JobHandle* job : {&job_, &look_}) {
            if (*job) (*job)->stop();
            job->reset();
        }
        film_.reset();
        film_of_.clear();
        forget();
    });
    connect(&bench_, &Bench::changed, this, [this](const BenchState&, BenchParts what) {
        using P = BenchPart;
        if (!(what & (P::clip | P::records | P::events | P::rider))) return;
        forget();
        emit changed();
        judge_later_.start();
    });
    connect(&bench_, &Bench::clip_opened, this, [this] {
        forget();
        emit changed();
        judge_later_.start();
    });
    judge_later_.setSingleShot(true);
    judge_later_.setInterval(0);
    connect(&judge_later_, &QTimer::timeout, this, &WayWork::tell_the_judge);
}

WayWork::~WayWork() {
    for (const JobHandle& job : {job_, look_}) {
        if (job) job->stop();
    }
}

void WayWork::forget() {
    marks_.reset();
    ground_.reset();
}

const GroundMarks& WayWork::marks() const {
    if (!marks_) {
        marks_.emplace();
        marks_->arena = usual_arena(bench_.yard());
        if (bench_.is_open()) {
            const auto& grounds = bench_.yard().records().grounds;
            const store::ClipId clip = bench_.review().clip().id;
            if (const auto laid = grounds.laid(clip)) marks_->arena = *laid;
            marks_->arena.clip = clip;
            marks_->marks = grounds.arena_marks(clip);
            marks_->asked = grounds.asked_lines(clip);
        }
    }
    return *marks_;
}

ClipSeen WayWork::seen() const {
    ClipSeen out;
    const media::ClipFacts& facts = bench_.deck().facts();
    out.width = facts.width;
    out.height = facts.height;
    const core::CaptureMap real = bench_.deck().capture_map();
    for (const double t : facts.pts_s) out.times_s.push_back(real.real_s(t));
    out.camera = bench_.review().stretch().camera;
    return out;
}

bool WayWork::read() const {
    if (!bench_.is_open()) return false;
    const std::string& hash = bench_.review().clip().hash;
    if (film_of_ != hash) {
        film_of_ = hash;
        auto kept = kept_ground_film(hash);
        film_ = kept ? std::make_shared<const media::GroundFilm>(*std::move(kept)) : nullptr;
    }
    return film_ != nullptr;
}

const RiddenGround* WayWork::ground() const {
    if (!bench_.is_open() || !bench_.deck().ready() || !any()) return nullptr;
    if (!ground_) {
        read();
        ground_ = ridden_ground(marks(), seen(), bench_.review().slot(), film_.get());
    }
    return &*ground_;
}

/// The ride is judged by it from here on, wherever it is judged.
void WayWork::tell_the_judge() {
    if (!bench_.is_open() || marks().asked.empty()) return;
    const RiddenGround* here = ground();
    if (here && here->laid &&
        keep_ground_answers(bench_.review().clip(), bench_.review().slot(), marks(), *here))
        bench_.judge_anew();
}

void WayWork::choose_arena(const store::LaidArena& arena) {
    if (!bench_.is_open()) return;
    store::LaidArena laid = arena;
    laid.id = {};
    laid.clip = bench_.review().clip().id;
    const core::ArenaFrame frame = arena_of(laid);  // refused before anything is changed
    const auto there = [&](const store::ArenaMark& m) {
        return m.kind != store::ArenaMarkKind::place || frame.places().contains(m.name);
    };
    const std::vector<store::ArenaMark> all = marks().marks;
    bench_.yard().step(tr("Choose the arena"), [&](store::YardStore& records) {
        records.put(laid);
        for (const store::ArenaMark& m : all) {
            if (!there(m)) records.remove(m.id);
        }
    });
    if (laid.places.empty()) bench_.yard().set(kArenaSetting, laid.length_m > 50 ? "60" : "40");
}

store::ArenaMark WayWork::mark_here(store::ArenaMarkKind kind, core::Point at, double zoom) const {
    store::ArenaMark m;
    m.clip = bench_.review().clip().id;
    m.slot = bench_.review().slot();
    m.frame = bench_.deck().frame();
    m.kind = kind;
    m.a = at;
    const media::ClipFacts& facts = bench_.deck().facts();
    const double size = std::min(facts.width, facts.height) / kShortSide;
    m.sd_px = std::max(kFinestPx, kClickPx * size / std::max(1.0, zoom));
    return m;
}

void WayWork::mark_place(const std::string& name, core::Point at, double zoom) {
    if (!bench_.is_open() || !bench_.deck().ready()) return;
    store::ArenaMark m = mark_here(store::ArenaMarkKind::place, at, zoom);
    m.name = name;
    const std::vector<store::ArenaMark> before = marks().marks;
    const store::LaidArena arena = marks().arena;
    const bool still = !ground() || ground()->still;
    bench_.yard().step(tr("Mark %1 on the ground").arg(QString::fromStdString(name)),
                       [&](store::YardStore& records) {
                           if (!arena.id) records.put(arena);
                           for (const store::ArenaMark& b : before) {
                               if (b.kind == m.kind && b.name == name && (still || b.frame == m.frame))
                                   records.remove(b.id);
                           }
                           records.add(m);
                       });
}

void WayWork::mark_horse(core::Point at, double zoom) {
    if (!bench_.is_open() || !bench_.deck().ready()) return;
    const store::ArenaMark m = mark_here(store::ArenaMarkKind::horse, at, zoom);
    const std::vector<store::ArenaMark> before = marks().marks;
    bench_.yard().step(tr("Mark the horse on the ground"), [&](store::YardStore& records) {
        for (const store::ArenaMark& b : before) {
            if (b.kind == m.kind && b.slot == m.slot && b.frame == m.frame) records.remove(b.id);
        }
        records.add(m);
    });
}

void WayWork::take_back_place() {
    const auto& all = marks().marks;
    const auto last = std::ranges::find_if(all.rbegin(), all.rend(), [](const store::ArenaMark& m) {
        return m.kind != store::ArenaMarkKind::horse;
    });
    if (last == all.rend()) return emit say(tr("Nothing of the arena is marked here."));
    const store::ArenaMarkId id = last->id;
    bench_.yard().step(tr("Take a mark of the arena away"),
                       [&](store::YardStore& records) { records.remove(id); });
}

void WayWork::take_back_horse() {
    const auto& all = marks().marks;
    const auto last = std::ranges::find_if(all.rbegin(), all.rend(), [this](const store::ArenaMark& m) {
        return m.kind == store::ArenaMarkKind::horse && m.slot == bench_.review().slot();
    });
    if (last == all.rend()) return emit say(tr("The horse is not marked on the ground here."));
    const store::ArenaMarkId id = last->id;
    bench_.yard().step(tr("Take the horse's mark away"),
                       [&](store::YardStore& records) { records.remove(id); });
}

void WayWork::ask_for(store::AskedLine asked) {
    const RiddenGround* here = ground();
    if (!here || !here->laid) return emit say(tr("Lay the arena into the picture first."));
    asked.clip = bench_.review().clip().id;
    asked.slot = bench_.review().slot();
    (void)figure_of(asked, here->arena, seen().times_s);  // refused before anything is kept
    bench_.yard().step(tr("Say what was asked"), [&](store::YardStore& records) { records.add(asked); });
}

void WayWork::take_back_asked() {
    std::optional<store::AskedLineId> last;
    for (const store::AskedLine& l : marks().asked) {
        if (l.slot == bench_.review().slot() && (!last || l.id > *last)) last = l.id;
    }
    if (!last) return emit say(tr("No figure was said here."));
    bench_.yard().step(tr("Take a figure away"), [&](store::YardStore& records) { records.remove(*last); });
}

void WayWork::read_pictures() {
    if (!bench_.is_open() || !bench_.deck().ready() || busy() || read()) return;
    const store::Clip clip = bench_.review().clip();
    job_ = bench_.yard().jobs().run(
        JobLane::pose, tr("Following the horse on the ground"), this,
        [file = bench_.yard().file_of(clip), hash = clip.hash](Job& job) {
            return read_ground_film(file, hash, [&job](double share) {
                job.progress(share);
                return !job.stopped();
            });
        },
        [this](const Outcome<std::optional<media::GroundFilm>>& done) {
            job_.reset();
            if (!done.trouble.isEmpty()) emit say(done.trouble);
            film_of_.clear();
            forget();
            emit changed();
            tell_the_judge();
        });
    emit changed();
}

void WayWork::look_for_same_stand() {
    if (!bench_.is_open() || !bench_.deck().ready() || any() || look_) return;
    const store::Clip clip = bench_.review().clip();
    if (!looked_.insert(clip.hash).second) return;
    struct Candidate {
        store::ClipId id;
        std::string file;
    };
    std::vector<Candidate> candidates;
    for (const store::ClipId id : bench_.yard().records().grounds.laid_on(clip.day())) {
        const auto other = bench_.yard().records().rides.clip(id);
        if (other && id != clip.id) candidates.push_back({id, bench_.yard().file_of(*other).toStdString()});
    }
    if (candidates.empty()) return;
    look_ = bench_.yard().jobs().run_quietly(
        JobLane::look, tr("Looking for the same stand"), this,
        [file = bench_.yard().file_of(clip).toStdString(), candidates](Job& job) {
            media::VideoReader here(file);
            for (const Candidate& c : candidates) {
                if (job.stopped()) break;
                media::VideoReader there(c.file);
                if (media::same_stand(here, there)) return c.id;
            }
            return store::ClipId{};
        },
        [this, id = clip.id](const Outcome<store::ClipId>& found) {
            look_.reset();
            if (found.value && *found.value && bench_.is_open() && bench_.review().clip().id == id && !any())
                take_over(*found.value);
        });
}

void WayWork::take_over(store::ClipId from) {
    const auto& grounds = bench_.yard().records().grounds;
    const auto arena = grounds.laid(from);
    const auto clip = bench_.yard().records().rides.clip(from);
    if (!arena || !clip) return;
    // What a camera that turned saw later on does not lie where this clip begins.
    const auto film = kept_ground_film(clip->hash);
    const bool stood = film && film->camera.still;
    store::LaidArena laid = *arena;
    laid.id = {};
    laid.clip = bench_.review().clip().id;
    const auto marks = grounds.arena_marks(from);
    bench_.yard().step(tr("Take the arena over"), [&](store::YardStore& records) {
        records.put(laid);
        for (store::ArenaMark m : marks) {
            if (m.kind == store::ArenaMarkKind::horse || (!stood && m.frame != 0)) continue;
            m.id = {};
            m.clip = laid.clip;
            m.frame = 0;
            records.add(m);
        }
    });
    emit say(tr("The camera stood where it stood in another clip of this day: its arena lies here too."));
}

std::optional<store::AskedLine> WayWork::likely_circle(int from, int to) const {
    const RiddenGround* here = ground();
    if (!here || here->way.empty()) return std::nullopt;
    store::AskedLine free;
    free.kind = "circle";
    free.from_frame = from;
    free.to_frame = to;
    try {
        const ClipSeen clip = seen();
        const core::RiddenFigure ridden = core::hold_against(figure_of(free, here->arena, clip.times_s),
                                                             here->way, {*here->laid}, here->arena);
        double least = 1e9;
        store::AskedLine best = free;
        for (const double diameter : {10.0, 15.0, 20.0}) {
            for (const auto& [name, at] : here->arena.places()) {
                if (here->arena.is_corner(name)) continue;
                store::AskedLine one = free;
                one.diameter_m = diameter;
                one.at = name;
                const core::AskedFigure f = figure_of(one, here->arena, clip.times_s);
                const double off =
                    core::distance(*f.centre, *ridden.centre) + std::abs(diameter - *ridden.diameter_m);
                if (off < least) least = off, best = one;
            }
        }
        return best;
    } catch (const core::Refused&) {
        return std::nullopt;
    }
}

std::optional<int> WayWork::frame_near(core::GroundPoint at) const {
    const RiddenGround* here = ground();
    if (!here || here->way.empty()) return std::nullopt;
    const auto best = std::ranges::min_element(
        here->way, {}, [&](const core::WayPoint& p) { return core::distance(p.place.at, at); });
    return here->frames[static_cast<std::size_t>(best - here->way.begin())];
}

QString arena_in_words(const store::LaidArena& arena) {
    if (arena.places.empty()) return QObject::tr("20 × %1 m").arg(arena.length_m);
    if (arena.places.find("CONE1") != std::string::npos)
        return QObject::tr("two cones, %1 m apart").arg(arena.length_m);
    return QObject::tr("a hall of %1 × %2 m").arg(arena.width_m).arg(arena.length_m);
}

store::LaidArena own_hall(double length_m, double width_m) {
    store::LaidArena out;
    out.length_m = length_m;
    out.width_m = width_m;
    out.places =
        fmt::format("A 0 0;C {0} 0;E {1} {2};B {1} -{2};X {1} 0", length_m, length_m / 2, width_m / 2);
    return out;
}

store::LaidArena two_cones(double apart_m) {
    store::LaidArena out;
    out.length_m = out.width_m = apart_m;
    out.places = fmt::format("CONE1 0 0;CONE2 {} 0", apart_m);
    return out;
}

}  // namespace aspen::app

#include "moc_way_work.cpp"
