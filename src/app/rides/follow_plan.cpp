#include "app/rides/follow_plan.hpp"

#include <fmt/format.h>

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QSaveFile>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "app/files/cache_folder.hpp"
#include "core/proposal/pose.hpp"
#include "media/pose/to_carry.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

using nlohmann::json;

constexpr int kFollowVersion = 1;  // of the way joints are followed: another one finds nothing kept
constexpr int kKeepEvery = 150;    // frames
constexpr double kSamePx = 0.051;  // as spelled

bool same(const media::FollowAnchor& kept, const media::FollowAnchor& wanted) {
    if (kept.frame != wanted.frame) return false;
    for (std::size_t i = 0; i < wanted.points.size(); ++i) {
        if (!wanted.points[i]) continue;
        if (!kept.points[i] || core::distance(kept.points[i]->at, wanted.points[i]->at) > kSamePx)
            return false;
    }
    return true;
}

const media::FollowPass* find(const std::vector<media::FollowPass>& passes, const media::FollowAnchor& anchor,
                              int way) {
    const auto at = std::ranges::find_if(
        passes, [&](const media::FollowPass& p) { return p.way == way && same(p.anchor, anchor); });
    return at == passes.end() ? nullptr : &*at;
}

QString kept_name(const std::string& hash, const QString& rest) {
    return QDir(cache_folder()).filePath(QString::fromStdString(hash.substr(0, 16)) + rest);
}
QString pass_name(const FollowPlan& plan, const media::FollowAnchor& anchor, int way) {
    std::string key =
        fmt::format("{}|{}|{}|{}", kFollowVersion, plan.with.seen_at_most_px, way, anchor.frame);
    for (std::size_t i = 0; i < anchor.points.size(); ++i) {
        if (anchor.points[i])
            key += fmt::format("|{} {:.1f} {:.1f}", core::id(plan.landmarks[i]), anchor.points[i]->at.x,
                               anchor.points[i]->at.y);
    }
    const auto sum = QCryptographicHash::hash(QByteArray::fromStdString(key), QCryptographicHash::Sha1);
    return kept_name(plan.hash, "-" + QString::fromLatin1(sum.toHex().left(16)) + ".pass");
}
QString camera_name(const FollowPlan& plan) {
    return kept_name(plan.hash, QString("-%1.camera").arg(kFollowVersion));
}

void write(const QString& file, const json& what) {
    const std::vector<std::uint8_t> bytes = json::to_cbor(what);
    QSaveFile out(file);
    if (!out.open(QIODevice::WriteOnly)) return;  // a cache that cannot be written costs time, nothing else
    out.write(reinterpret_cast<const char*>(bytes.data()), static_cast<qint64>(bytes.size()));
    out.commit();
}
json read(const QString& file) {
    QFile in(file);
    if (!in.open(QIODevice::ReadOnly)) return nullptr;
    const QByteArray bytes = in.readAll();
    json out = json::from_cbor(bytes.begin(), bytes.end(), true, false);
    return out.is_discarded() ? json(nullptr) : out;
}

json carried(const std::vector<std::optional<media::CarriedPoint>>& points) {
    json out = json::array();
    for (const auto& p : points)
        out.push_back(p ? json{p->at.x, p->at.y, p->sd_px, p->confidence, p->sure} : json(nullptr));
    return out;
}
void keep(const QString& name, const FollowPlan& plan, const media::FollowPass& pass) {
    json out{{"frame", pass.anchor.frame}, {"way", pass.way},         {"landmarks", json::array()},
             {"anchor", json::array()},    {"frames", json::array()}, {"end", json::array()}};
    const auto under_way = [](const std::optional<media::PointUnderWay>& p) {
        if (!p) return json(nullptr);
        json ties = json::array();
        for (const core::Point& t : p->tied_to) ties.push_back({t.x, t.y});
        return json{p->at.x, p->at.y, p->solid,    p->variance, p->least_share,
                    ties,    p->name, p->hangs_on, p->free};
    };
    for (std::size_t i = 0; i < plan.landmarks.size(); ++i) {
        out["landmarks"].push_back(core::id(plan.landmarks[i]));
        const auto& a = pass.anchor.points[i];
        out["anchor"].push_back(
            under_way(a ? std::optional(media::PointUnderWay{a->at, a->tied_to, a->solid, a->name,
                                                             a->hangs_on, a->free, 0, 1})
                        : std::nullopt));
    }
    for (const auto& f : pass.frames) out["frames"].push_back(carried(f));
    for (const auto& p : pass.end) out["end"].push_back(under_way(p));
    write(name, out);
}

/// Puts points in the order of a plan's landmarks.
template <typename T>
std::vector<std::optional<T>> in_wanted_order(const std::vector<std::optional<T>>& points,
                                              const std::vector<core::Landmark>& theirs,
                                              const std::vector<core::Landmark>& wanted) {
    std::vector<std::optional<T>> out(wanted.size());
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        const auto at = std::ranges::find(theirs, wanted[i]);
        if (at != theirs.end() && !points.empty())
            out[i] = points[static_cast<std::size_t>(at - theirs.begin())];
    }
    return out;
}
media::FollowPass in_wanted_order(media::FollowPass pass, const std::vector<core::Landmark>& theirs,
                                  const std::vector<core::Landmark>& wanted) {
    if (theirs == wanted) return pass;
    pass.anchor.points = in_wanted_order(pass.anchor.points, theirs, wanted);
    for (auto& f : pass.frames) f = in_wanted_order(f, theirs, wanted);
    if (!pass.end.empty()) pass.end = in_wanted_order(pass.end, theirs, wanted);
    return pass;
}

std::optional<media::PointUnderWay> under_way(const json& p) {
    if (p.is_null()) return std::nullopt;
    media::PointUnderWay out{{p[0], p[1]}, {}, p[2], p[6], p[7], p[8], p[3], p[4]};
    for (const json& t : p[5]) out.tied_to.push_back({t[0], t[1]});
    return out;
}
/// Nothing where it is not kept or cannot be read: it is made again then.
std::optional<media::FollowPass> kept_pass(const QString& name, const std::vector<core::Landmark>& wanted) {
    const json in = read(name);
    if (!in.is_object()) return std::nullopt;
    try {
        media::FollowPass out;
        std::vector<core::Landmark> landmarks;
        for (const json& l : in.at("landmarks"))
            landmarks.push_back(core::landmark_from(l.get<std::string>()).value());
        out.anchor.frame = in.at("frame");
        out.way = in.at("way");
        for (const json& p : in.at("anchor")) {
            const auto a = under_way(p);
            out.anchor.points.push_back(a ? std::optional(media::PointToCarry{a->at, a->tied_to, a->solid,
                                                                              a->name, a->hangs_on, a->free})
                                          : std::nullopt);
        }
        for (const json& f : in.at("frames")) {
            auto& points = out.frames.emplace_back(landmarks.size());
            for (std::size_t i = 0; i < points.size(); ++i) {
                const json& p = f.at(i);
                if (!p.is_null()) points[i] = media::CarriedPoint{{p[0], p[1]}, p[2], p[3], p[4]};
            }
        }
        for (const json& p : in.at("end")) out.end.push_back(under_way(p));
        if (out.anchor.points.size() != landmarks.size()) return std::nullopt;
        return in_wanted_order(std::move(out), landmarks, wanted);
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

void keep_camera(const FollowPlan& plan, const media::CameraSteps& steps) {
    json out = json::array();
    for (const auto& [from, s] : steps) out.push_back({from, s.to, s.scale, s.x, s.y});
    write(camera_name(plan), out);
}
media::CameraSteps kept_camera(const FollowPlan& plan) {
    media::CameraSteps out;
    const json in = read(camera_name(plan));
    if (!in.is_array()) return out;
    for (const json& s : in) {
        if (s.is_array() && s.size() == 5) out[s[0]] = {s[1], s[2], s[3], s[4]};
    }
    return out;
}

/// What is marked at an anchor and at none before it: only from there can it be followed back.
media::FollowAnchor first_marked(const FollowPlan& plan, std::size_t a) {
    media::FollowAnchor out = plan.anchors[a];
    for (std::size_t i = 0; i < out.points.size(); ++i) {
        for (std::size_t k = 0; k < a; ++k) {
            if (plan.anchors[k].points[i]) out.points[i].reset();
        }
    }
    return out;
}
bool any(const media::FollowAnchor& anchor) {
    return std::ranges::any_of(anchor.points, [](const auto& p) { return p.has_value(); });
}

/// What a moment leaves unmarked is followed on from before it.
media::FollowAnchor filled(const FollowPlan& plan, std::size_t a,
                           const std::vector<media::FollowPass>& passes) {
    media::FollowAnchor out = plan.anchors[a];
    if (a == 0) return out;
    const std::vector<media::FollowAnchor> so_far(plan.anchors.begin(),
                                                  plan.anchors.begin() + static_cast<std::ptrdiff_t>(a));
    const auto frames = media::bend_through(so_far.front().frame, out.frame, so_far, passes, {});
    core::Figure seen = plan.figures[a];
    for (std::size_t i = 0; i < out.points.size(); ++i) {
        const auto& p = frames.back().points[i];
        if (out.points[i] || !p || !p->sure) continue;
        seen[plan.landmarks[i]] = {p->at, core::Visibility::seen, 2};
        out.points[i] = media::to_carry(seen, plan.landmarks[i]);
    }
    return out;
}

}  // namespace

std::vector<const store::Moment*> follow_anchors(const std::vector<store::Moment>& moments, int slot,
                                                 int first, int last) {
    std::vector<const store::Moment*> out;
    for (const store::Moment& m : moments) {
        if (m.slot != slot || m.frame < first || m.frame > last) continue;
        const auto joints =
            std::ranges::count_if(m.figure.marks, [](const core::Mark& k) { return k.measurable(); });
        if (joints >= kFewestToFollow) out.push_back(&m);
    }
    std::ranges::sort(out, {}, &store::Moment::frame);
    return out;
}

std::string spelled(const std::vector<const store::Moment*>& anchors) {
    std::string out;
    for (const store::Moment* m : anchors) {
        out += fmt::format("{}:", m->frame);
        for (const core::Mark& k : m->figure.marks)
            out += k.measurable() ? fmt::format("{:.1f},{:.1f};", k.at.x, k.at.y) : ";";
    }
    return out;
}

FollowPlan plan_to_follow(const std::vector<const store::Moment*>& from, core::View view, int first,
                          int last) {
    FollowPlan plan;
    plan.first = first;
    plan.last = last;
    for (const core::Landmark l : core::landmarks_of(view)) {
        if (std::ranges::any_of(from, [&](const store::Moment* m) { return m->figure[l].measurable(); }))
            plan.landmarks.push_back(l);
    }
    for (const store::Moment* m : from) {
        media::FollowAnchor anchor{m->frame, {}};
        for (const core::Landmark l : plan.landmarks)
            anchor.points.push_back(m->figure[l].measurable() ? std::optional(media::to_carry(m->figure, l))
                                                              : std::nullopt);
        plan.anchors.push_back(std::move(anchor));
        plan.figures.push_back(m->figure);
        if (const double px = core::marked_trunk_px(m->figure); px > 0) plan.with.trunk_px = px;
    }
    return plan;
}

bool FollowedStretch::any() const {
    return std::ranges::any_of(passes, [](const media::FollowPass& p) { return !p.frames.empty(); });
}

bool followed_through(const FollowPlan& plan, const FollowedStretch& so_far) {
    if (plan.anchors.empty() || so_far.landmarks != plan.landmarks) return false;
    const auto whole = [&](const media::FollowAnchor& from, int way, int to) {
        const media::FollowPass* p = find(so_far.passes, from, way);
        return to == from.frame || !any(from) || (p && p->covers(to));
    };
    bool out = true;
    for (std::size_t a = 0; a < plan.anchors.size(); ++a) {
        const int next = a + 1 < plan.anchors.size() ? plan.anchors[a + 1].frame : plan.last;
        out = out && whole(plan.anchors[a], 1, next) && whole(first_marked(plan, a), -1, plan.first);
    }
    return out;
}

FollowedStretch kept_of(const FollowPlan& plan) {
    FollowedStretch out{{}, plan.landmarks, kept_camera(plan)};
    const auto take = [&](const media::FollowAnchor& from, int way) {
        if (auto pass = kept_pass(pass_name(plan, from, way), plan.landmarks))
            out.passes.push_back(*std::move(pass));
    };
    for (std::size_t a = 0; a < plan.anchors.size(); ++a) {
        take(plan.anchors[a], 1);
        if (const media::FollowAnchor back = first_marked(plan, a); any(back)) take(back, -1);
    }
    return out;
}

FollowedStretch follow(const FollowPlan& plan, const FollowedStretch& so_far, Job& job) {
    media::ReaderOptions options;
    options.order_cache = plan.cache;
    media::VideoReader reader(plan.file.toStdString(), {&job.stopped(), {}}, options);
    FollowedStretch out{{}, plan.landmarks, so_far.camera};
    out.camera.merge(kept_camera(plan));
    double total = plan.last - plan.anchors.front().frame + 1, done = 0;
    for (std::size_t a = 0; a < plan.anchors.size(); ++a) {
        if (any(first_marked(plan, a))) total += plan.anchors[a].frame - plan.first;
    }
    /// `marked` names what is kept; `from` holds besides what was followed to it.
    const auto go = [&](const media::FollowAnchor& marked, media::FollowAnchor from, int way, int to) {
        const QString name = pass_name(plan, marked, way);
        media::FollowPass pass{std::move(from), way, {}, {}};
        if (const media::FollowPass* p = find(so_far.passes, marked, way))
            pass = in_wanted_order(*p, so_far.landmarks, plan.landmarks);
        else if (auto kept = kept_pass(name, plan.landmarks))
            pass = *std::move(kept);
        const int missing = way * (to - pass.reached());
        done += std::abs(to - marked.frame) - std::max(0, missing);
        const auto each = [&](int n) {
            done += n;
            job.progress(std::min(1.0, done / total));
            if (pass.frames.size() % kKeepEvery == 0) keep(name, plan, pass);
        };
        try {
            if (!media::follow_on(reader, pass, to, out.camera, plan.with, each, &job.stopped()))
                throw media::ReadCancelled{};
        } catch (...) {  // stopped, or the film cannot be read on: what was done is not lost
            keep(name, plan, pass);
            throw;
        }
        if (missing > 0) keep(name, plan, pass);
        out.passes.push_back(std::move(pass));
    };
    for (std::size_t a = 0; a < plan.anchors.size(); ++a)
        go(plan.anchors[a], filled(plan, a, out.passes), 1,
           a + 1 < plan.anchors.size() ? plan.anchors[a + 1].frame : plan.last);
    for (std::size_t a = 0; a < plan.anchors.size(); ++a) {
        if (const media::FollowAnchor back = first_marked(plan, a); any(back)) go(back, back, -1, plan.first);
    }
    add_camera(plan, out, reader, job);
    return out;
}

void add_camera(const FollowPlan& plan, FollowedStretch& followed, media::VideoReader& reader, Job& job) {
    if (!media::follow_camera(reader, plan.first, plan.last, followed.passes, followed.camera, plan.with,
                              &job.stopped()))
        throw media::ReadCancelled{};
    keep_camera(plan, followed.camera);
}

void keep(const FollowPlan& plan, const FollowedStretch& made) {
    for (const media::FollowPass& p : made.passes) keep(pass_name(plan, p.anchor, p.way), plan, p);
    keep_camera(plan, made.camera);
}

core::Tracks tracks_of(const FollowPlan& plan, const FollowedStretch& followed,
                       const std::vector<double>& pts_s) {
    core::Tracks out;
    std::vector<media::FollowPass> passes;
    for (const media::FollowPass& p : followed.passes)
        passes.push_back(in_wanted_order(p, followed.landmarks, plan.landmarks));
    const auto frames = media::bend_through(plan.first, plan.last, plan.anchors, passes, followed.camera);
    for (const media::FollowedFrame& f : frames) {
        const auto n = static_cast<std::size_t>(f.frame);
        if (n >= pts_s.size()) break;
        if (!followed.camera.empty()) out.camera[f.frame] = {f.cam_x, f.cam_y, f.cam_scale};
        const auto near = std::ranges::min_element(
            plan.anchors, {}, [&](const media::FollowAnchor& a) { return std::abs(a.frame - f.frame); });
        const core::Figure& marked = plan.figures[static_cast<std::size_t>(near - plan.anchors.begin())];
        core::Figure seen;
        seen.view = marked.view;
        for (std::size_t i = 0; i < plan.landmarks.size(); ++i) {
            if (f.points[i] && f.points[i]->sure)
                seen[plan.landmarks[i]] = {f.points[i]->at, core::Visibility::seen, 2, core::Origin::carried};
        }
        std::vector<core::Landmark> doubtful;
        if (near->frame != f.frame) {
            doubtful = core::doubtful_by_limbs(marked, seen);
            // What the marked figure itself breaks is the rider's own way, or the mark's.
            seen.travel = marked.travel;
            const auto own = core::against_the_joints(marked);
            for (const core::Landmark l : core::against_the_joints(seen)) {
                if (std::ranges::find(own, l) == own.end()) doubtful.push_back(l);
            }
        }
        for (std::size_t i = 0; i < plan.landmarks.size(); ++i) {
            if (!f.points[i]) continue;
            // What missed the next mark by far was lost on the way to it, though each step looked like one.
            const bool lost = !followed.by_reader && f.points[i]->sd_px > kLostSdTrunk * plan.with.trunk_px;
            const bool hidden = !f.points[i]->sure || lost ||
                                std::ranges::find(doubtful, plan.landmarks[i]) != doubtful.end();
            out.points.push_back({f.frame, pts_s[n], plan.landmarks[i], f.points[i]->at, hidden,
                                  f.points[i]->sd_px, f.points[i]->confidence});
        }
    }
    return out;
}

}  // namespace aspen::app
