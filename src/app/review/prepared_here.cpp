#include "app/review/prepared_here.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/taken_along.hpp"

#include <QTimer>
#include <algorithm>
#include <cmath>

#include "app/yard/changes.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

constexpr std::size_t kFewestJoints = 4;
/// Less sure of than this, or with an error above this share of the trunk, a joint is asked for by itself.
constexpr double kSeenAtLeast = 0.25, kSureSd = 0.06;

std::vector<const core::TrackPoint*> seen_in(const core::Tracks& read, int frame) {
    std::vector<const core::TrackPoint*> out;
    for (auto p = std::ranges::lower_bound(read.points, frame, {}, &core::TrackPoint::frame);
         p != read.points.end() && p->frame == frame; ++p) {
        if (!p->hidden) out.push_back(&*p);
    }
    return out;
}

/// Nothing has a size without it.
bool has_trunk(const core::Figure& f) {
    return f[L::shoulder].visibility != core::Visibility::absent &&
           f[L::hip].visibility != core::Visibility::absent;
}

}  // namespace

PreparedHere::PreparedHere(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {
    connect(&bench_, &Bench::clip_opened, this, [this] {
        begun_ = false;
        reload();
        begin();
    });
    connect(&bench_.deck(), &ClipDeck::opened, this, &PreparedHere::begin);
    connect(&bench_, &Bench::closing, this, [this] {
        prepared_.reset();
        found_nobody_ = false;
        tracks_.reset();
        offsets_.reset();
        emit changed();
    });
    connect(&bench_, &Bench::changed, this, [this](const BenchState&, BenchParts what) {
        if (what & (BenchPart::records | BenchPart::rider)) {
            offsets_.reset();
            emit changed();
        }
    });
}

void PreparedHere::reload() {
    tracks_.reset();
    prepared_ = bench_.is_open() ? kept_prepared(bench_.review().clip().hash) : std::nullopt;
    found_nobody_ = prepared_ && !prepared_->found();
    if (found_nobody_) prepared_.reset();
    emit changed();
    // The way of a minute takes a tenth of a second to come: after the picture, and never while it is
    // painted.
    if (prepared_)
        QTimer::singleShot(0, this, [this] {
            if (!tracks_ && tracks()) emit changed();
        });
}

bool PreparedHere::has_moments() const { return bench_.is_open() && !bench_.review().moments().empty(); }

std::vector<PreparedMoment> PreparedHere::open_moments() const {
    // One rider was looked for: in a clip of several the coach says who is who.
    if (!prepared_ || !bench_.is_open() || bench_.review().slot() != 0) return {};
    std::vector<PreparedMoment> out;
    for (const PreparedMoment& m : prepared_->moments) {
        if (!bench_.review().moment_at(m.frame)) out.push_back(m);
    }
    return out;
}

bool PreparedHere::can_take() const {
    if (!prepared_ || !bench_.is_open() || bench_.review().slot() != 0) return false;
    return std::ranges::any_of(bench_.review().stretches(), [&](const core::Stretch& s) {
        return (!s.gait && !prepared_->stretches.empty()) || (prepared_->upright && !s.camera.roll_marked) ||
               (s.view == core::View::side && s.travel == core::Travel::unknown);
    });
}

void PreparedHere::take() {
    if (!can_take()) return;
    Review& review = bench_.review();
    core::Stretches out = review.stretches();
    const bool unsaid = out.size() == 1 && !out.front().gait;
    const auto fill = [&](core::Stretch& s, const PreparedStretch& p) {
        if (!s.gait) s.gait = p.gait;
        if (!s.seat && s.gait == p.gait) s.seat = seat_of(p);
    };
    for (const PreparedStretch& p : prepared_->stretches) {
        if (unsaid && p.first > 0) out = core::split_at(std::move(out), p.first);
    }
    for (core::Stretch& s : out) {
        // What the coach cut is kept as it is; each part gets what was seen where it begins.
        const auto at = std::ranges::find_if(prepared_->stretches, [&](const PreparedStretch& p) {
            return p.first <= s.first && s.first <= p.last;
        });
        if (at != prepared_->stretches.end()) fill(s, *at);
        if (s.view == core::View::side && s.travel == core::Travel::unknown) s.travel = prepared_->travel;
        if (prepared_->upright && !s.camera.roll_marked) {
            s.camera.roll_deg = prepared_->upright->roll_deg;
            s.camera.roll_sd_deg = prepared_->upright->sd_deg;
            s.camera.roll_marked = true;
        }
    }
    if (out == review.stretches()) return;
    set_stretches(review.yard(), review.clip().id, core::merged_alike(std::move(out)),
                  tr("Take what it seems"));
}

bool PreparedHere::go(int direction) {
    const auto all = open_moments();
    const int here = bench_.deck().frame();
    const PreparedMoment* best = nullptr;
    for (const PreparedMoment& m : all) {
        if (direction * (m.frame - here) <= 0) continue;
        if (!best || direction * (best->frame - m.frame) > 0) best = &m;
    }
    if (!best) return false;
    const int frame = best->frame;
    bench_.deck().go_to(frame);
    if (const auto figure = figure_on(frame)) bench_.marking().offer(frame, *figure, phase_on(frame));
    return true;
}

/// A clip that nobody marked or was in yet opens on its first moment that tells.
void PreparedHere::begin() {
    if (begun_ || !bench_.is_open() || !bench_.deck().ready()) return;
    begun_ = true;
    if (!has_moments() && bench_.deck().frame() == 0) go(1);
}

std::string PreparedHere::phase_on(int frame) const {
    for (const PreparedMoment& m : prepared_->moments) {
        if (m.frame == frame) return m.phase;
    }
    return {};
}

const std::map<L, core::ReaderOffset>& PreparedHere::learned() const {
    if (!offsets_) {
        const store::Reviews& reviews = bench_.yard().records().reviews;
        const store::RiderId rider = bench_.review().rider();
        std::vector<core::RiderCorrections> others = taken_along(bench_.yard());
        for (const auto& figures : reviews.placed_figures_of_others(rider))
            others.push_back(core::corrections_in(figures));
        offsets_ = core::reader_offsets(
            core::corrections_in(rider ? reviews.figures_of(rider) : std::vector<core::Figure>{}), others);
    }
    return *offsets_;
}

const core::Tracks* PreparedHere::tracks() const {
    if (tracks_) return &*tracks_;
    if (!prepared_ || !bench_.deck().ready()) return nullptr;
    const store::Clip& clip = bench_.review().clip();
    tracks_ = read_tracks(bench_.yard().file_of(clip), clip.hash, bench_.deck().facts().pts_s);
    return tracks_ ? &*tracks_ : nullptr;
}

std::optional<core::Figure> PreparedHere::seen_on(int frame) const {
    // Asked for while painting: what is not in memory yet comes with reload().
    if (!tracks_ || !prepared_ || bench_.review().slot() != 0) return std::nullopt;
    core::Figure figure;
    figure.view = core::View::side;
    figure.travel = prepared_->travel;
    for (const core::TrackPoint* p : seen_in(*tracks_, frame)) {
        if (!is_of_horse(p->landmark)) figure[p->landmark] = {p->at, core::Visibility::seen};
    }
    if (!has_trunk(figure)) return std::nullopt;
    const core::Limbs usual = core::typical_limbs(bench_.yard().knowledge().body);
    for (const L l : core::ends_of_unlike_limbs(figure, usual)) figure[l] = {};
    return figure;
}

std::optional<core::Figure> PreparedHere::figure_on(int frame) const {
    const core::Tracks* read = tracks();
    if (!read || prepared_->travel == core::Travel::unknown) return std::nullopt;
    core::Figure figure = bench_.review().figure_of(nullptr);
    if (figure.view != core::View::side) return std::nullopt;
    figure.travel = prepared_->travel;
    figure.marks = {};
    const auto seen = seen_in(*read, frame);
    for (const core::TrackPoint* p : seen) figure[p->landmark] = {p->at, core::Visibility::seen};
    if (!has_trunk(figure)) return std::nullopt;
    const double trunk = core::distance(figure[L::shoulder].at, figure[L::hip].at);
    const auto unlike =
        core::ends_of_unlike_limbs(figure, core::typical_limbs(bench_.yard().knowledge().body));
    std::size_t sure = 0;
    std::vector<core::KnownJoint> known;
    const auto& offsets = learned();
    for (const core::TrackPoint* p : seen) {
        // What was hardly seen is asked for one by one, as what was laid is.
        const bool doubtful = p->confidence < kSeenAtLeast || p->sd_px > kSureSd * trunk ||
                              std::ranges::find(unlike, p->landmark) != unlike.end();
        // Nobody has to say where the horse is for the rider to be judged.
        if (is_of_horse(p->landmark) && doubtful) {
            figure[p->landmark] = {};
            continue;
        }
        const auto learned = offsets.find(p->landmark);
        const core::ReaderOffset offset =
            learned != offsets.end() ? learned->second
                                     : core::ReaderOffset{{0, 0}, core::usual_reader_offset_sd(p->landmark)};
        const double sd = std::hypot(p->sd_px, offset.sd * trunk);
        const core::Point at = core::offset_taken(p->at, offset, figure, trunk);
        figure[p->landmark] = {at,
                               core::Visibility::seen,
                               std::max(2.0, sd),
                               doubtful ? core::Origin::laid : core::Origin::proposed,
                               false,
                               p->at};
        if (!doubtful) ++sure;
        known.push_back({p->landmark, at, sd});
    }
    if (sure < kFewestJoints) return std::nullopt;
    core::PoseFrame pose = bench_.marking().pose_frame();
    pose.travel = prepared_->travel;
    const core::Knowledge& knowledge = bench_.yard().knowledge();
    if (const auto fitted = core::fit_pose(pose, knowledge.body, known, std::nullopt)) {
        for (const L l : {L::heel, L::toe, L::knuckle}) {
            if (figure[l].visibility == core::Visibility::seen) continue;
            figure[l] = {(*fitted)[l],
                         core::Visibility::seen,
                         knowledge.figure_errors.of(core::Origin::laid, l) * trunk,
                         core::Origin::laid,
                         false,
                         (*fitted)[l]};
        }
    }
    return figure;
}

void PreparedHere::mark_here() {
    if (!bench_.is_open() || !bench_.deck().ready()) return;
    Review& review = bench_.review();
    const int frame = bench_.deck().frame();
    if (!tracks()) return emit say(tr("This clip was not prepared: [three_clicks] lays a figure."));
    if (review.moment() && review.moment()->figure.marked() > 0)
        return emit say(tr("This frame is marked already; nothing of it is overwritten."));
    const auto figure = figure_on(frame);
    if (!figure) return emit say(tr("Too few joints were seen on this frame; go to another one."));
    bench_.marking().offer(frame, *figure, phase_on(frame));
    bench_.marking().put_figure(*figure, std::nullopt, tr("Mark what was prepared"));
    emit say(tr("The figure as it was read. Look, drag what is off, then [confirm] confirms what was seen."));
}

}  // namespace aspen::app

#include "moc_prepared_here.cpp"
