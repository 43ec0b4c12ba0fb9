#include "app/review/stride_work.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/review/event_log.hpp"
#include "app/review/figure_maker.hpp"
#include "core/motion/motion_words.hpp"
#include "media/pose/point_follower.hpp"

namespace aspen::app {
namespace {

constexpr int kFewestJoints = 5, kFollowedAtPx = 960;

struct Plan {
    QString file;
    media::OrderCache cache;
    int first = 0, last = 0;
    std::vector<core::Landmark> landmarks;
    std::vector<media::FollowAnchor> anchors;
    double trunk_px = 100;
};

core::Tracks follow(const Plan& plan, Job& job) {
    media::ReaderOptions options;
    options.order_cache = plan.cache;
    media::VideoReader reader(plan.file.toStdString(), {&job.stopped(), {}}, options);
    const auto frames = media::follow_points(
        reader, plan.first, plan.last, plan.anchors, plan.trunk_px, kFollowedAtPx,
        [&job](double share) { job.progress(share); }, &job.stopped());
    if (frames.empty()) throw media::ReadCancelled{};
    core::Tracks out;
    for (const media::FollowedFrame& f : frames) {
        out.camera[f.frame] = {f.cam_x, f.cam_y, f.cam_scale};
        for (std::size_t i = 0; i < plan.landmarks.size(); ++i) {
            if (!f.points[i]) continue;
            out.points.push_back({f.frame, reader.facts().pts_s[static_cast<std::size_t>(f.frame)],
                                  plan.landmarks[i], f.points[i]->at, !f.points[i]->sure});
        }
    }
    return out;
}

}  // namespace

StrideWork::StrideWork(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {
    connect(&bench_, &Bench::closing, this, [this] { cancel(); });
    connect(&bench_.review(), &Review::changed, this, &StrideWork::changed);
}
StrideWork::~StrideWork() { cancel(); }

void StrideWork::cancel() {
    if (job_) job_->stop();
    job_.reset();
}

StrideWork::Place StrideWork::here() const {
    return {bench_.review().clip().id, bench_.review().slot(), bench_.review().stretch().first};
}

/// The marked moments of this stretch that hold enough joints to follow.
std::vector<const store::Moment*> StrideWork::anchors() const {
    std::vector<const store::Moment*> out;
    const Review& review = bench_.review();
    const std::size_t place = core::stretch_at(review.stretches(), bench_.deck().frame());
    const auto [first, last] = core::extent(review.stretches(), place, bench_.deck().facts().frames);
    for (const store::Moment& m : review.moments()) {
        if (m.slot != review.slot() || m.frame < first || m.frame > last) continue;
        const auto joints =
            std::ranges::count_if(m.figure.marks, [](const core::Mark& k) { return k.measurable(); });
        if (joints >= kFewestJoints) out.push_back(&m);
    }
    return out;
}

std::string StrideWork::spelled() const {
    std::string out;
    for (const store::Moment* m : anchors()) {
        out += fmt::format("{}:", m->frame);
        for (const core::Mark& k : m->figure.marks)
            out += k.measurable() ? fmt::format("{:.1f},{:.1f};", k.at.x, k.at.y) : ";";
    }
    return out;
}

void StrideWork::follow() {
    if (!bench_.is_open() || !bench_.deck().ready() || busy()) return;
    const auto from = anchors();
    if (from.empty())
        return emit say(
            tr("Mark a moment of this stretch first, five joints at least; then they can be followed."));
    const Review& review = bench_.review();
    Plan plan;
    plan.file = bench_.yard().file_of(review.clip());
    plan.cache = {cache_folder().toStdString(), review.clip().hash};
    const std::size_t place = core::stretch_at(review.stretches(), bench_.deck().frame());
    std::tie(plan.first, plan.last) = core::extent(review.stretches(), place, bench_.deck().facts().frames);
    for (const core::Landmark l : core::landmarks_of(review.stretch().view)) {
        if (std::ranges::any_of(from, [&](const store::Moment* m) { return m->figure[l].measurable(); }))
            plan.landmarks.push_back(l);
    }
    for (const store::Moment* m : from) {
        media::FollowAnchor anchor{m->frame, {}};
        for (const core::Landmark l : plan.landmarks)
            anchor.points.push_back(m->figure[l].measurable() ? std::optional(to_carry(m->figure, l))
                                                              : std::nullopt);
        plan.anchors.push_back(std::move(anchor));
        if (const double px = core::marked_trunk_px(m->figure); px > 0) plan.trunk_px = px;
    }
    job_ = bench_.yard().jobs().run(
        JobLane::pose, tr("Following the joints"), this, [plan](Job& job) { return app::follow(plan, job); },
        [this, at = here(), spelled = spelled()](const Outcome<core::Tracks>& tracks) {
            job_.reset();
            if (tracks.value) followed_[at] = {*tracks.value, spelled};
            if (!tracks.trouble.isEmpty()) emit say(tracks.trouble);
            emit changed();
        });
    emit changed();
}

core::MotionSetting StrideWork::setting() const {
    const Review& review = bench_.review();
    const core::Stretch& s = review.stretch();
    core::MotionSetting out;
    out.setting = review.setting();
    out.setting.phase.clear();
    out.seat_said = s.seat.has_value();
    out.view = s.view;
    out.travel = s.travel;
    out.camera = s.camera;
    for (const store::Event& e : review.events()) {
        if (e.slot == review.slot()) out.events.push_back({e.time_s, e.event, e.detail});
    }
    return out;
}

std::optional<core::MotionReport> StrideWork::report() const {
    if (!bench_.is_open() || !bench_.deck().ready()) return std::nullopt;
    const auto at = followed_.find(here());
    if (at == followed_.end()) return std::nullopt;
    // Real time, also where a phone slowed only the middle; events lie on the same clock then.
    core::Tracks tracks = at->second.tracks;
    core::MotionSetting in = setting();
    const core::CaptureMap real = bench_.deck().capture_map();
    for (core::TrackPoint& p : tracks.points) p.time_s = real.real_s(p.time_s);
    for (core::Happening& e : in.events) e.time_s = real.real_s(e.time_s);
    const core::Knowledge& known = bench_.yard().knowledge();
    return core::motion_of(tracks, in, known.body, known.schools);
}

bool StrideWork::followed() const {
    return bench_.is_open() && bench_.deck().ready() && followed_.contains(here());
}

bool StrideWork::outdated() const {
    const auto at = followed_.find(here());
    return at != followed_.end() && at->second.anchors != spelled();
}

QStringList StrideWork::words() const {
    QStringList out;
    if (const auto r = report()) {
        for (const std::string& line : core::in_words(*r, setting())) out << QString::fromStdString(line);
    }
    return out;
}

std::optional<core::Figure> StrideWork::followed_at(int frame) const {
    if (!bench_.is_open() || !bench_.deck().ready()) return std::nullopt;
    const auto at = followed_.find(here());
    if (at == followed_.end()) return std::nullopt;
    core::Figure out;
    out.view = bench_.review().stretch().view;
    out.travel = bench_.review().stretch().travel;
    bool any = false;
    const auto& points = at->second.tracks.points;
    for (const core::TrackPoint& p : points) {
        if (p.frame != frame || p.hidden) continue;
        out[p.landmark] = {p.at, core::Visibility::seen, 2, core::Origin::carried, false, {}};
        any = true;
    }
    return any ? std::optional(out) : std::nullopt;
}

}  // namespace aspen::app
