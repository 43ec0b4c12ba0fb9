#include "app/review/prepared_here.hpp"
#include "app/review/review_changes.hpp"

#include <algorithm>

#include "app/yard/changes.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

constexpr std::size_t kFewestJoints = 4;

}  // namespace

PreparedHere::PreparedHere(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {
    connect(&bench_, &Bench::clip_opened, this, &PreparedHere::reload);
    connect(&bench_, &Bench::closing, this, [this] {
        prepared_.reset();
        found_nobody_ = false;
        tracks_.reset();
        emit changed();
    });
    connect(&bench_, &Bench::changed, this, [this](const BenchState&, BenchParts what) {
        if (what & (BenchPart::records | BenchPart::rider)) emit changed();
    });
}

void PreparedHere::reload() {
    tracks_.reset();
    prepared_ = bench_.is_open() ? kept_prepared(bench_.review().clip().hash) : std::nullopt;
    found_nobody_ = prepared_ && !prepared_->found();
    if (found_nobody_) prepared_.reset();
    emit changed();
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
        return (!s.gait && !prepared_->stretches.empty()) ||
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
        if (!s.seat && s.gait == core::Gait::trot)
            s.seat = p.rising ? core::Seat::rising : core::Seat::sitting;
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
    if (best) bench_.deck().go_to(best->frame);
    return best != nullptr;
}

const core::Tracks* PreparedHere::tracks() const {
    if (tracks_) return &*tracks_;
    if (!prepared_ || !bench_.deck().ready()) return nullptr;
    const media::ClipFacts& facts = bench_.deck().facts();
    const store::Clip& clip = bench_.review().clip();
    const FollowPlan plan = prepared_plan(*prepared_, bench_.yard().file_of(clip), clip.hash, facts.frames);
    const FollowedStretch kept = prepared_ways(plan);
    if (!kept.any()) return nullptr;
    tracks_ = tracks_of(plan, kept, facts.pts_s);
    return &*tracks_;
}

void PreparedHere::mark_here() {
    if (!bench_.is_open() || !bench_.deck().ready()) return;
    Review& review = bench_.review();
    const int frame = bench_.deck().frame();
    const core::Tracks* followed = tracks();
    if (!followed) return emit say(tr("This clip was not prepared: [three_clicks] lays a figure."));
    if (review.moment() && review.moment()->figure.marked() > 0)
        return emit say(tr("This frame is marked already; nothing of it is overwritten."));
    core::Figure figure = review.figure_of(review.moment());
    std::size_t joints = 0;
    for (auto p = std::ranges::lower_bound(followed->points, frame, {}, &core::TrackPoint::frame);
         p != followed->points.end() && p->frame == frame; ++p) {
        if (p->hidden) continue;
        figure[p->landmark] = {
            p->at, core::Visibility::seen, std::max(2.0, p->sd_px), core::Origin::carried, false, p->at};
        ++joints;
    }
    if (joints < kFewestJoints)
        return emit say(tr("Too few joints were seen on this frame; go to another one."));
    std::string phase;
    for (const PreparedMoment& m : prepared_->moments) {
        if (m.frame == frame) phase = m.phase;
    }
    if (prepared_->travel != core::Travel::unknown && figure.travel == core::Travel::unknown)
        figure.travel = prepared_->travel;
    Yard& yard = bench_.yard();
    yard.step(tr("Mark what was prepared"), [&](store::YardStore& records) {
        if (review.stretch().travel == core::Travel::unknown) set_travel(review, figure.travel);
        const store::Moment made = ensure_moment(review);
        const auto known = core::phases(review.setting().gait, review.setting().seat);
        if (!phase.empty() && std::ranges::find(known, phase) != known.end())
            records.reviews.set_phase(made.id, phase);
        put_figure(yard, made, figure, std::nullopt, tr("Mark what was prepared"));
    });
    emit say(tr("%1 joints as they were followed to here. Look, drag what is off, then [confirm] confirms.")
                 .arg(joints));
}

}  // namespace aspen::app

#include "moc_prepared_here.cpp"
