#include "app/review/stride_work.hpp"

#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/review/event_log.hpp"
#include "app/review/prepared.hpp"
#include "app/rides/stride_values.hpp"
#include "app/yard/changes.hpp"
#include "core/motion/happening_words.hpp"

namespace aspen::app {
namespace {

constexpr int kRestMs = 250;

}  // namespace

StrideWork::StrideWork(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {
    connect(&bench_, &Bench::closing, this, [this] {
        cancel();
        followed_.clear();
        read_.reset();
        forget();
    });
    connect(&bench_, &Bench::changed, this, [this](const BenchState&, BenchParts what) {
        using P = BenchPart;
        if (what & (P::records | P::events | P::rider | P::knowledge)) review_changed();
    });
    connect(&bench_, &Bench::clip_opened, this, &StrideWork::changed);
    retell_.setSingleShot(true);
    retell_.setInterval(kRestMs);
    connect(&retell_, &QTimer::timeout, this, &StrideWork::tell_the_judge);
}
StrideWork::~StrideWork() { cancel(); }

void StrideWork::forget() { now_.reset(); }

void StrideWork::review_changed() {
    forget();
    retell_.start();  // gait, seat, travel or what was logged may have changed what the same way says
    emit changed();
}

void StrideWork::cancel() {
    if (job_) job_->stop();
    job_.reset();
}

std::optional<StrideWork::Place> StrideWork::here() const {
    if (!bench_.is_open() || !bench_.deck().ready()) return std::nullopt;
    const Review& review = bench_.review();
    const std::size_t place = core::stretch_at(review.stretches(), bench_.deck().frame());
    const auto [first, last] = core::extent(review.stretches(), place, bench_.deck().facts().frames);
    return Place{review.clip().id, review.slot(), first, last};
}

std::vector<const store::Moment*> StrideWork::anchors() const {
    const auto place = here();
    if (!place) return {};
    const auto& [clip, slot, first, last] = *place;
    return follow_anchors(bench_.review().moments(), slot, first, last);
}

std::optional<FollowPlan> StrideWork::plan() const {
    const auto place = here();
    const auto from = anchors();
    if (!place || from.empty()) return std::nullopt;
    const Review& review = bench_.review();
    FollowPlan out = plan_to_follow(from, review.stretch().view, std::get<2>(*place), std::get<3>(*place));
    out.file = bench_.yard().file_of(review.clip());
    out.hash = review.clip().hash;
    out.cache = {cache_folder().toStdString(), review.clip().hash};
    return out;
}

FollowedStretch StrideWork::prepared_ways(const FollowPlan& wanted) const {
    const Review& review = bench_.review();
    const auto prepared = review.slot() == 0 ? kept_prepared(review.clip().hash) : std::nullopt;
    if (!prepared || !prepared->found()) return {};
    return app::prepared_ways(
        prepared_plan(*prepared, wanted.file, wanted.hash, bench_.deck().facts().frames));
}

/// What there is of the stretch shown, looked for in the cache the first time.
const FollowedStretch* StrideWork::found() const {
    const auto place = here();
    if (!place) return nullptr;
    auto at = followed_.find(*place);
    if (at == followed_.end()) {
        const auto wanted = plan();
        if (!wanted) return nullptr;
        at = followed_.emplace(*place, kept_of(*wanted)).first;
        // What was followed before anyone marked goes through the marks at once, shifted to them.
        if (!at->second.any()) at->second = prepared_ways(*wanted);
    }
    return at->second.any() ? &at->second : nullptr;
}

void StrideWork::follow() {
    if (!bench_.is_open() || !bench_.deck().ready() || busy()) return;
    const auto wanted = plan();
    if (!wanted)
        return emit say(
            tr("Mark a moment of this stretch first, five joints at least; then they can be followed."));
    const FollowedStretch* before = found();
    job_ = bench_.yard().jobs().run(
        JobLane::pose, tr("Following the joints"), this,
        [plan = *wanted, so_far = before ? *before : FollowedStretch{}](Job& job) {
            return app::follow(plan, so_far, job);
        },
        [this, at = *here()](Outcome<FollowedStretch> followed) {
            job_.reset();
            if (followed.value) followed_[at] = *std::move(followed.value);
            if (!followed.trouble.isEmpty()) emit say(followed.trouble);
            forget();
            tell_the_judge();
            emit changed();
        });
    emit changed();
}

/// The ride is judged by its strides from here on, wherever it is judged.
void StrideWork::tell_the_judge() {
    retell_.stop();
    if (busy() || !followed()) return;
    const core::MotionReport* r = outdated() ? nullptr : report();
    if (!r) return;
    const Review& review = bench_.review();
    const std::size_t place = core::stretch_at(review.stretches(), bench_.deck().frame());
    const auto key = stride_key(review.clip(), review.slot(), review.stretches(), place, review.moments(),
                                review.ridden().events());
    if (key && keep_strides(*key, values_of(*r))) bench_.judge_anew();
}

void StrideWork::log_stride(const char* event) {
    const Review& review = bench_.review();
    store::Event e;
    e.ride = review.ride().id;
    e.clip = review.clip().id;
    e.slot = review.slot();
    e.time_s = bench_.deck().stream_s(bench_.deck().frame());
    e.event = event;
    add_event(bench_.yard(), e, QString::fromUtf8(core::spoken_event(event).data()));
}

void StrideWork::say_stride_starts() {
    if (!followed()) return emit say(tr("Follow the joints first: [strides]."));
    log_stride("stride_start");
}

void StrideWork::say_stride_off() {
    const core::MotionReport* r = report();
    if (!r) return emit say(tr("Follow the joints first: [strides]."));
    const Review& review = bench_.review();
    const double here = real_at(bench_.deck().frame()),
                 reach = r->tempo_per_min ? 30 / *r->tempo_per_min : 0.5;
    for (const store::Event& e : review.events()) {
        const bool mine = e.slot == review.slot() && e.event == "stride_off";
        if (mine && std::abs(bench_.deck().capture_map().real_s(e.time_s) - here) < reach)
            return remove_event(bench_.yard(), store::Event(e), tr("This stride counts again"));
    }
    const bool in = std::ranges::any_of(
        r->strides, [&](const core::StrideSpan& s) { return s.start_s <= here && here < s.end_s; });
    if (!in) return emit say(tr("No stride was found at this frame."));
    log_stride("stride_off");
}

core::MotionSetting StrideWork::setting() const {
    const Review& review = bench_.review();
    const media::ClipFacts& facts = bench_.deck().facts();
    double trunk = 0;
    for (const store::Moment* m : anchors()) trunk = std::max(trunk, core::marked_trunk_px(m->figure));
    return motion_setting(
        review.ridden(), review.stretches(), core::stretch_at(review.stretches(), bench_.deck().frame()),
        review.slot(), review.events(),
        {facts.width, facts.height, review.clip().px_per_m, review.clip().px_per_m_sd}, trunk);
}

const core::Tracks* StrideWork::tracks() const {
    const auto place = here();
    if (!place) return nullptr;
    if (now_ && now_->place == *place) return &now_->tracks;
    const FollowedStretch* followed = found();
    const auto wanted = followed ? plan() : std::nullopt;
    if (!wanted) return nullptr;
    const std::vector<double>& pts_s = bench_.deck().facts().pts_s;
    if (!read_) read_ = read_tracks(wanted->file, wanted->hash, pts_s);
    now_ = Now{*place, checked_tracks(*wanted, *followed, pts_s, read_), {}};
    return &now_->tracks;
}

const core::MotionReport* StrideWork::report() const {
    const core::Tracks* found = tracks();
    if (!found) return nullptr;
    if (!now_->report) {
        now_->report =
            motion_report(*found, setting(), bench_.deck().capture_map(), bench_.yard().knowledge());
    }
    return &*now_->report;
}

bool StrideWork::followed() const { return found() != nullptr; }

bool StrideWork::outdated() const {
    const FollowedStretch* followed = found();
    const auto wanted = followed ? plan() : std::nullopt;
    return wanted && !followed_through(*wanted, *followed);
}

std::vector<core::StrideSaying> StrideWork::sayings() const {
    const core::MotionReport* r = report();
    return r ? core::sayings(*r, setting(), bench_.state().amounts()) : std::vector<core::StrideSaying>{};
}

QStringList StrideWork::words() const {
    QStringList out;
    for (const core::StrideSaying& s : sayings()) out << QString::fromStdString(s.words);
    return out;
}

std::optional<core::Figure> StrideWork::followed_at(int frame) const {
    const core::Tracks* found = tracks();
    if (!found) return std::nullopt;
    core::Figure out;
    out.view = bench_.review().stretch().view;
    out.travel = bench_.review().stretch().travel;
    out.camera = bench_.review().stretch().camera;
    bool any = false;
    // By frame, as they were put together.
    for (auto p = std::ranges::lower_bound(found->points, frame, {}, &core::TrackPoint::frame);
         p != found->points.end() && p->frame == frame; ++p) {
        if (p->hidden) continue;
        out[p->landmark] = {
            p->at, core::Visibility::seen, std::max(2.0, p->sd_px), core::Origin::carried, false, {}};
        any = true;
    }
    return any ? std::optional(out) : std::nullopt;
}

double StrideWork::real_at(int frame) const { return bench_.deck().real_s(frame); }

int StrideWork::frame_at(double real_s) const {
    const auto& pts = bench_.deck().facts().pts_s;
    const core::CaptureMap real = bench_.deck().capture_map();
    const auto at = std::ranges::lower_bound(pts, real_s, {}, [&](double s) { return real.real_s(s); });
    if (at == pts.begin()) return 0;
    const auto n = at - pts.begin();
    if (at == pts.end()) return static_cast<int>(n) - 1;
    const bool before = real_s - real.real_s(*(at - 1)) < real.real_s(*at) - real_s;
    return static_cast<int>(before ? n - 1 : n);
}

}  // namespace aspen::app

#include "moc_stride_work.cpp"
