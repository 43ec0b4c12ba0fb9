#include "app/review/prepared.hpp"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QObject>
#include <QSaveFile>
#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>
#include <mutex>
#include <nlohmann/json.hpp>
#include <set>

#include "app/files/cache_folder.hpp"
#include "app/review/figure_maker.hpp"
#include "app/review/real_time.hpp"
#include "app/rides/stride_values.hpp"
#include "core/proposal/second_look.hpp"
#include "media/pose/rider_finder.hpp"
#include "media/pose/rider_reader.hpp"
#include "media/pose/to_carry.hpp"
#include "media/pose/upright_edges.hpp"

namespace aspen::app {
namespace {

using nlohmann::json;
using L = core::Landmark;

constexpr int kPreparedVersion = 4;
/// A rider is looked for every so many seconds, so that no joint is followed far; at so many places at least
/// and at most.
constexpr double kLookEveryS = 4;
constexpr int kUprightFrames = 5, kFewestMoments = 3;
/// Strides a minute, which no trot comes near.
constexpr double kNoTrotPerMin = 120;
constexpr int kFewestPlaces = 5, kMostPlaces = 9, kTellTheWay = 3;
constexpr std::size_t kHeldWhileReading = std::size_t{64} << 20;
constexpr double kSearchShare = 0.15, kReadShare = 0.9;  // of the job's progress

QString file_for(const std::string& hash) {
    return QDir(cache_folder())
        .filePath(QString::fromStdString(hash.substr(0, 16)) + QString("-%1.prepared").arg(kPreparedVersion));
}

json written(const Prepared& p) {
    json out{{"travel", core::word(p.travel)},
             {"stretches", json::array()},
             {"moments", json::array()},
             {"anchors", json::array()}};
    if (p.upright)
        out["upright"] = {
            {"roll", p.upright->roll_deg}, {"sd", p.upright->sd_deg}, {"edges", p.upright->edges}};
    for (const PreparedStretch& s : p.stretches)
        out["stretches"].push_back({{"first", s.first},
                                    {"last", s.last},
                                    {"gait", core::word(s.gait)},
                                    {"rising", s.rising},
                                    {"strides", s.strides},
                                    {"tempo", s.tempo_per_min}});
    for (const PreparedMoment& m : p.moments)
        out["moments"].push_back({{"frame", m.frame}, {"phase", m.phase}});
    for (const auto& [frame, figure] : p.anchors) {
        json joints = json::object();
        for (const L l : core::landmarks_of(core::View::side)) {
            if (figure[l].visibility == core::Visibility::seen)
                joints[std::string(core::id(l))] = {figure[l].at.x, figure[l].at.y, figure[l].sd_px};
        }
        out["anchors"].push_back({{"frame", frame}, {"joints", joints}});
    }
    return out;
}

core::Figure anchor_of(const json& joints, core::Travel travel) {
    core::Figure out;
    out.view = core::View::side;
    out.travel = travel;
    for (const auto& [name, at] : joints.items()) {
        const core::Point p{at.at(0), at.at(1)};
        out[core::landmark_from(name).value()] = {
            p, core::Visibility::seen, at.at(2), core::Origin::proposed, false, p};
    }
    return out;
}

std::optional<Prepared> read_kept(const QString& name) {
    QFile file(name);
    if (!file.open(QIODevice::ReadOnly)) return std::nullopt;
    const QByteArray bytes = file.readAll();
    const json in = json::parse(bytes.begin(), bytes.end(), nullptr, false);
    if (!in.is_object()) return std::nullopt;
    try {
        Prepared out;
        out.travel = core::travel_from(in.at("travel").get<std::string>()).value_or(core::Travel::unknown);
        if (const auto u = in.find("upright"); u != in.end())
            out.upright = core::ReadUpright{u->at("roll"), u->at("sd"), u->at("edges")};
        for (const json& s : in.at("stretches"))
            out.stretches.push_back({s.at("first"), s.at("last"),
                                     core::gait_from(s.at("gait").get<std::string>()).value(), s.at("rising"),
                                     s.at("strides"), s.at("tempo")});
        for (const json& m : in.at("moments")) out.moments.push_back({m.at("frame"), m.at("phase")});
        for (const json& a : in.at("anchors"))
            out.anchors.emplace_back(a.at("frame").get<int>(), anchor_of(a.at("joints"), out.travel));
        return out;
    } catch (const std::exception&) {
        return std::nullopt;  // made again then
    }
}

/// What lies in the cache, its names read once: the inbox asks for each of its clips.
class KeptRider {
  public:
    static KeptRider& of_this_machine() {
        static KeptRider kept;
        return kept;
    }
    std::optional<Prepared> find(const std::string& hash) {
        const std::lock_guard guard(mutex_);
        const QString name = file_for(hash);
        if (const auto at = read_.find(name); at != read_.end()) return at->second;
        if (!names_.contains(QFileInfo(name).fileName())) return std::nullopt;
        return read_[name] = read_kept(name);
    }
    void keep(const std::string& hash, const Prepared& p) {
        const std::lock_guard guard(mutex_);
        const QString name = file_for(hash);
        read_[name] = p;
        QSaveFile file(name);
        if (!file.open(QIODevice::WriteOnly))
            return;  // a cache that cannot be written costs time, nothing else
        file.write(QByteArray::fromStdString(written(p).dump()));
        file.commit();
    }

  private:
    KeptRider() {
        for (const QString& name : QDir(cache_folder()).entryList({"*.prepared"}, QDir::Files))
            names_.insert(name);
    }
    std::mutex mutex_;
    std::set<QString> names_;
    std::map<QString, std::optional<Prepared>> read_;
};

/// The same figures as moments that are followed from.
std::vector<store::Moment> moments_of(const Prepared& p) {
    std::vector<store::Moment> out;
    for (const auto& [frame, figure] : p.anchors) {
        store::Moment& m = out.emplace_back();
        m.frame = frame;
        m.figure = figure;
        for (core::Mark& mark : m.figure.marks) mark.confirmed = mark.visibility == core::Visibility::seen;
    }
    std::ranges::sort(out, {}, &store::Moment::frame);
    return out;
}

/// Looks for the rider at places all over the clip, as few as tell the way, then reads; where that left
/// frames out it looks again.
class RiderSearch {
  public:
    RiderSearch(media::VideoReader& reader, const media::RiderNetworks& networks, Job& job)
        : reader_(reader), networks_(networks), job_(job) {
        const int places =
            std::clamp(static_cast<int>(reader.facts().duration_s / kLookEveryS), kFewestPlaces, kMostPlaces);
        for (const int k : in_turn(places))
            waiting_.push_back((2 * k + 1) * (reader.facts().frames - 1) / (2 * places));
    }
    /// Most of a few tell the way, and who looks the other way in one is taken for the same rider still.
    core::Travel way() {
        int right = 0;
        while (!waiting_.empty() && static_cast<int>(found_.size()) < kTellTheWay) look();
        for (const media::RiderAnchor& a : found_) right += a.figure.travel == core::Travel::right ? 1 : -1;
        return found_.empty() ? core::Travel::unknown : right >= 0 ? core::Travel::right : core::Travel::left;
    }
    std::vector<media::ReadRun> read(core::Travel way, media::CameraSteps& camera) {
        std::vector<media::ReadRun> out;
        while (true) {
            std::vector<media::RiderAnchor> from;
            for (media::RiderAnchor& a : found_) {
                a.figure.travel = way;
                from.push_back(a);
            }
            std::ranges::sort(from, {}, &media::RiderAnchor::frame);
            media::read_rider(reader_, networks_, from, out, camera,
                              {&job_.stopped(), [&](double share) {
                                   job_.progress(kSearchShare + (kReadShare - kSearchShare) * share);
                               }});
            found_.clear();
            const auto read = [&](int frame) {
                return std::ranges::any_of(
                    out, [&](const media::ReadRun& r) { return r.first <= frame && frame <= r.last(); });
            };
            std::erase_if(waiting_, read);
            if (waiting_.empty()) return out;
            while (!waiting_.empty() && found_.empty()) look();
            if (found_.empty()) return out;
        }
    }

  private:
    /// The first, the middle and the last, which tell most of the way; then what lies between.
    static std::vector<int> in_turn(int places) {
        std::vector<int> out{0, places / 2, places - 1};
        for (int k = 0; k < places; ++k) {
            if (std::ranges::find(out, k) == out.end()) out.push_back(k);
        }
        return out;
    }
    void look() {
        if (job_.stopped()) throw media::ReadCancelled{};
        const int frame = waiting_.front();
        waiting_.erase(waiting_.begin());
        const auto found = media::find_rider(networks_.joints, reader_.picture(frame), &job_.stopped());
        if (found) found_.push_back({frame, found->figure});
    }
    media::VideoReader& reader_;
    media::RiderNetworks networks_;
    Job& job_;
    std::vector<int> waiting_;
    std::vector<media::RiderAnchor> found_;
};

/// The upright from a few frames all over the clip: one post tells little, and trees come and go.
std::optional<core::ReadUpright> upright_in(media::VideoReader& reader, const Job& job) {
    std::vector<core::StraightEdge> edges;
    const media::ClipFacts& facts = reader.facts();
    for (int k = 0; k < kUprightFrames; ++k) {
        if (job.stopped()) throw media::ReadCancelled{};
        const auto here =
            media::straight_edges(reader.picture((2 * k + 1) * (facts.frames - 1) / (2 * kUprightFrames)));
        edges.insert(edges.end(), here.begin(), here.end());
    }
    return core::read_upright(edges, facts.width, facts.height, kUprightFrames);
}

/// A run as a way that was followed from its first frame on; that frame's figure is its anchor.
core::Figure figure_on(const media::ReadRun& run, std::size_t frame, core::Travel travel) {
    core::Figure out;
    out.view = core::View::side;
    out.travel = travel;
    std::size_t j = 0;
    for (const L l : media::read_joints()) {
        if (const auto& o = run.joints[j++][frame])
            out[l] = {o->at, core::Visibility::seen, o->sd_px, core::Origin::proposed, false, o->at};
    }
    return out;
}

media::FollowPass pass_of(const media::ReadRun& run, const FollowPlan& plan, std::size_t anchor) {
    media::FollowPass out{plan.anchors[anchor], 1, {}, {}};
    const auto joints = media::read_joints();
    for (std::size_t f = 1; f < run.joints.front().size(); ++f) {
        auto& points = out.frames.emplace_back(plan.landmarks.size());
        for (std::size_t j = 0; j < joints.size(); ++j) {
            const auto at = std::ranges::find(plan.landmarks, joints[j]) - plan.landmarks.begin();
            // What the run does not begin with is not followed on it.
            if (const auto& o = run.joints[j][f]; o && at < std::ssize(plan.landmarks))
                points[static_cast<std::size_t>(at)] = media::CarriedPoint{o->at, o->sd_px, o->score, true};
        }
    }
    out.end.resize(plan.landmarks.size());
    return out;
}

core::MotionSetting setting_of(const Prepared& p, const media::ClipFacts& facts) {
    core::MotionSetting out;
    out.view = core::View::side;
    out.travel = p.travel;
    out.anchor_sd_px = core::click_sd_px(facts.width, facts.height);
    return out;
}

core::Tracks joint_part(const core::Tracks& all, int first, int last) {
    core::Tracks out;
    out.camera = all.camera;
    for (const core::TrackPoint& p : all.points) {
        if (p.frame >= first && p.frame <= last) out.points.push_back(p);
    }
    return out;
}

/// The reader's place of the horse is too rough for how it moves in a stride: the rider's own tells that.
void leave_out_the_horse(core::Tracks& tracks) {
    std::erase_if(tracks.points, [](const core::TrackPoint& p) { return is_of_horse(p.landmark); });
}

/// Where no phase tells, any instant does: so many, spread over the frames.
std::vector<PreparedMoment> spread_over(int first, int last) {
    std::vector<PreparedMoment> out;
    for (int k = 0; k < kFewestMoments; ++k)
        out.push_back({first + (2 * k + 1) * (last - first) / (2 * kFewestMoments), ""});
    return out;
}

/// The strides of a stretch that seems so. Without withers a rider who goes up once a stride is lowest once;
/// who is found lowest twice as often as any trot goes was not lifted by the rise alone.
core::MotionReport strides_of(const core::Tracks& tracks, core::MotionSetting& setting,
                              const core::Knowledge& known, const PreparedStretch& s) {
    setting.setting.gait = s.gait;
    setting.setting.seat = s.rising ? core::Seat::rising : core::Seat::sitting;
    setting.seat_said = s.gait == core::Gait::trot;
    const core::Tracks part = joint_part(tracks, s.first, s.last);
    core::MotionReport out = core::motion_of(part, setting, known.body, known.schools);
    if (!s.rising || out.tempo_per_min.value_or(0) < kNoTrotPerMin) return out;
    setting.setting.seat = core::Seat::sitting;
    return core::motion_of(part, setting, known.body, known.schools);
}

void say_stretches(core::Tracks tracks, const core::CaptureMap& real, const media::ClipFacts& facts,
                   const core::Knowledge& known, Prepared& out) {
    leave_out_the_horse(tracks);
    std::vector<double> real_s;
    for (const double t : facts.pts_s) real_s.push_back(real.real_s(t));
    for (core::TrackPoint& p : tracks.points) p.time_s = real.real_s(p.time_s);
    core::MotionSetting setting = setting_of(out, facts);
    for (const core::GuessedStretch& g : core::guess_stretches(tracks, setting, known.body)) {
        PreparedStretch s{nearest_frame(real_s, g.from_s), nearest_frame(real_s, g.to_s), g.guess.gait,
                          g.guess.rising};
        const core::MotionReport report = strides_of(tracks, setting, known, s);
        s.strides = static_cast<int>(report.strides.size());
        s.tempo_per_min = report.tempo_per_min.value_or(0);
        std::vector<PreparedMoment> moments;
        for (const core::TellingMoment& m : core::telling_moments(report, setting))
            moments.push_back({nearest_frame(real_s, m.time_s), m.phase});
        if (std::ssize(moments) < kFewestMoments &&
            std::ranges::all_of(moments, [](const PreparedMoment& m) { return m.phase.empty(); }))
            moments = spread_over(s.first, s.last);
        std::ranges::move(moments, std::back_inserter(out.moments));
        out.stretches.push_back(s);
    }
    // The first and last reach to the clip's ends: nothing else was seen there.
    if (!out.stretches.empty()) {
        out.stretches.front().first = 0;
        out.stretches.back().last = facts.frames - 1;
    } else if (!tracks.points.empty()) {
        const auto [first, last] = std::ranges::minmax(tracks.points, {}, &core::TrackPoint::frame);
        out.moments = spread_over(first.frame, last.frame);
    }
    std::ranges::stable_sort(out.moments, {}, &PreparedMoment::frame);
    const auto same = [](const PreparedMoment& a, const PreparedMoment& b) { return a.frame == b.frame; };
    out.moments.erase(std::unique(out.moments.begin(), out.moments.end(), same), out.moments.end());
}

}  // namespace

bool is_of_horse(L landmark) { return landmark == L::withers || landmark == L::poll || landmark == L::croup; }

FollowPlan prepared_plan(const Prepared& p, const QString& file, const std::string& hash, int frames) {
    const auto moments = moments_of(p);
    std::vector<const store::Moment*> anchors;
    for (const store::Moment& m : moments) anchors.push_back(&m);
    FollowPlan plan = plan_to_follow(anchors, core::View::side, 0, frames - 1);
    plan.file = file;
    plan.hash = hash;
    plan.cache = {cache_folder().toStdString(), hash};
    return plan;
}

FollowedStretch prepared_ways(const FollowPlan& plan) {
    FollowedStretch out = kept_of(plan);
    out.by_reader = true;
    return out;
}

std::optional<core::Tracks> read_tracks(const QString& file, const std::string& hash,
                                        const std::vector<double>& pts_s) {
    const auto prepared = kept_prepared(hash);
    if (!prepared || !prepared->found()) return std::nullopt;
    const FollowPlan plan = prepared_plan(*prepared, file, hash, static_cast<int>(pts_s.size()));
    const FollowedStretch ways = prepared_ways(plan);
    return ways.any() ? std::optional(tracks_of(plan, ways, pts_s)) : std::nullopt;
}

core::Tracks checked_tracks(const FollowPlan& plan, const FollowedStretch& followed,
                            const std::vector<double>& pts_s, const std::optional<core::Tracks>& read) {
    core::Tracks out = tracks_of(plan, followed, pts_s);
    const bool from_the_side = !plan.figures.empty() && plan.figures.front().view == core::View::side;
    if (!read || followed.by_reader || !from_the_side) return out;
    std::map<int, core::Figure> marked;
    for (std::size_t i = 0; i < plan.anchors.size(); ++i)
        marked.emplace(plan.anchors[i].frame, plan.figures[i]);
    return core::held_against_the_reader(std::move(out), *read, marked, plan.with.trunk_px);
}

LookedThrough look_through_clip(const ToPrepare& clip, const core::Knowledge& known, Job& job) {
    media::ReaderOptions options;
    options.order_cache = {cache_folder().toStdString(), clip.hash};
    options.quality = media::Quality::quick;
    options.cache_bytes = kHeldWhileReading;
    LookedThrough made;
    Prepared& out = made.seems;
    media::VideoReader reader(clip.file.toStdString(), {&job.stopped(), {}}, options);
    const media::ClipFacts facts = reader.facts();
    if (facts.frames > 1 && facts.duration_s <= kLongestPreparedS) {
        media::PoseNetwork joints(FigureMaker::model_file().toStdString());
        std::optional<media::LimbEndsNetwork> ends;
        if (QFileInfo::exists(FigureMaker::ends_file())) ends.emplace(FigureMaker::ends_file().toStdString());
        RiderSearch search(reader, {joints, ends ? &*ends : nullptr}, job);
        const core::Travel way = search.way();
        out.upright = upright_in(reader, job);
        job.progress(kSearchShare);
        const auto runs = way == core::Travel::unknown ? std::vector<media::ReadRun>{}
                                                       : search.read(way, made.followed.camera);
        for (const media::ReadRun& run : runs) {
            out.travel = way;
            out.anchors.emplace_back(run.first, figure_on(run, 0, out.travel));
        }
        if (out.found()) {
            const FollowPlan plan = prepared_plan(out, clip.file, clip.hash, facts.frames);
            FollowedStretch& followed = made.followed;
            followed.landmarks = plan.landmarks;
            followed.by_reader = true;
            for (std::size_t i = 0; i < runs.size(); ++i)
                followed.passes.push_back(pass_of(runs[i], plan, i));
            add_camera(plan, followed, reader, job);
            keep(plan, followed);
            say_stretches(tracks_of(plan, followed, facts.pts_s), real_time_of(clip.capture, facts), facts,
                          known, out);
        }
    }
    KeptRider::of_this_machine().keep(clip.hash, out);
    return made;
}

Prepared prepare(const ToPrepare& clip, const core::Knowledge& known, Job& job) {
    return look_through_clip(clip, known, job).seems;
}

void keep_prepared(const std::string& hash, const Prepared& prepared) {
    KeptRider::of_this_machine().keep(hash, prepared);
}

std::optional<Prepared> kept_prepared(const std::string& hash) {
    return KeptRider::of_this_machine().find(hash);
}

std::optional<core::Seat> seat_of(const PreparedStretch& s) {
    if (s.gait == core::Gait::canter || s.gait == core::Gait::jump) return std::nullopt;
    return s.rising ? core::Seat::rising : core::Seat::sitting;
}

QString in_words(const Prepared& p) {
    QStringList parts;
    for (const PreparedStretch& s : p.stretches) {
        QString one = QString::fromUtf8(core::spoken(s.gait).data());
        if (const auto seat = seat_of(s))
            one += QObject::tr(", ") + QString::fromUtf8(core::spoken(*seat).data());
        if (s.tempo_per_min > 0)
            one += QObject::tr(": %1 strides, %2 a minute").arg(s.strides).arg(s.tempo_per_min, 0, 'f', 0);
        parts << one;
    }
    QString out = parts.isEmpty() ? QString() : QObject::tr("Seems ") + parts.join(QObject::tr("; then "));
    if (!p.upright) return out;
    if (!out.isEmpty()) out += QObject::tr(" · ");
    const double lean = p.upright->roll_deg;
    if (std::abs(lean) < p.upright->sd_deg) return out + QObject::tr("the camera stands upright");
    return out + (lean > 0 ? QObject::tr("the picture leans %1° to the right")
                           : QObject::tr("the picture leans %1° to the left"))
                     .arg(std::abs(lean), 0, 'f', 0);
}

QString in_short(const Prepared& p) {
    QStringList out;
    for (const PreparedStretch& s : p.stretches) out << QString::fromUtf8(core::spoken(s.gait).data());
    out.removeDuplicates();
    return out.join(", ");
}

}  // namespace aspen::app
