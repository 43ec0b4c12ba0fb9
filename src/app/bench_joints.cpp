#include <algorithm>
#include <set>

#include "app/bench.hpp"
#include "app/review_setting.hpp"
#include "core/proposal.hpp"
#include "core/stride_guess.hpp"

/// The bench's joints and moments.
namespace aspen::app {

const store::Moment* Bench::moment() const { return moment_at(frame_); }

const store::Moment* Bench::moment_at(int frame) const {
    const auto it = std::ranges::find_if(
        moments_, [&](const store::Moment& m) { return m.frame == frame && m.slot == slot_; });
    return it == moments_.end() ? nullptr : &*it;
}

core::Figure Bench::figure() const {
    if (drag_) return drag_->figure;
    return figure_of(moment());
}

core::Figure Bench::figure_of(const store::Moment* m) const {
    core::Figure f;
    if (m) f = m->figure;
    if (!clip_) return f;
    f.view = clip_->context.view;
    f.travel = clip_->context.travel;
    f.camera = clip_->context.camera;
    return f;
}

core::Setting Bench::setting() const {
    const store::Moment* m = moment();
    return setting_of(frame_, m ? m->phase : std::string());
}

core::Setting Bench::setting_of(int frame, const std::string& phase) const {
    return clip_ ? setting_at(clip_->context, stretches_, frame, phase) : core::Setting{};
}

std::vector<std::string> Bench::missing() const {
    if (!clip_) return {};
    std::vector<std::string> out = clip_->context.missing();
    const auto at = core::stretch_at(stretches_, frame_);
    if (at && stretches_[*at].gait) std::erase(out, "gait");
    if (at && stretches_[*at].seat) std::erase(out, "seat");
    if (slot_ > 0) {  // another rider of the clip: who and on which horse is said apart
        std::erase(out, "rider");
        std::erase(out, "horse");
        if (!horse()) out.insert(out.begin(), "horse");
        if (!rider()) out.insert(out.begin(), "rider");
    }
    return out;
}

store::RiderId Bench::rider() const {
    if (!clip_) return {};
    if (slot_ == 0) return clip_->context.rider;
    const auto it = std::ranges::find(companions_, slot_, &store::Companion::slot);
    return it == companions_.end() ? store::RiderId{} : it->rider;
}

store::HorseId Bench::horse() const {
    if (!clip_) return {};
    if (slot_ == 0) return clip_->context.horse;
    const auto it = std::ranges::find(companions_, slot_, &store::Companion::slot);
    return it == companions_.end() ? store::HorseId{} : it->horse;
}

void Bench::set_pair(store::RiderId rider, store::HorseId horse, const QString& what) {
    if (!clip_) return;
    if (slot_ == 0) {
        store::ClipContext c = clip_->context;
        c.rider = rider;
        c.horse = horse;
        return set_context(c, what);
    }
    auto all = companions_;
    const auto it = std::ranges::find(all, slot_, &store::Companion::slot);
    if (it == all.end()) return;
    it->rider = rider;
    it->horse = horse;
    yard_.set_companions(clip_->id, all);
}

void Bench::show_slot(int slot) {
    if (!clip_ || slot == slot_) return;
    if (slot != 0 && std::ranges::find(companions_, slot, &store::Companion::slot) == companions_.end())
        return;
    end_drag();
    slot_ = slot;
    selected_.reset();
    learn_limbs();
    choose_asked();
    judge();
    emit moments_changed();
    emit figure_changed();
}

void Bench::add_companion(store::RiderId rider, store::HorseId horse) {
    if (!clip_) return;
    auto all = companions_;
    const int slot = all.empty() ? 1 : all.back().slot + 1;
    all.push_back({slot, rider, horse});
    yard_.set_companions(clip_->id, all);
    show_slot(slot);
}

void Bench::learn_limbs() {
    limbs_of_ = rider();
    const core::Body& body = yard_.knowledge().body;
    limbs_ =
        limbs_of_ ? core::limbs_of(yard_.records().figures_of(limbs_of_), body) : core::typical_limbs(body);
}

core::PoseFrame Bench::pose_frame() const {
    const core::Figure f = figure();
    return {f.travel, f.camera, limbs_, core::usual_pose(setting(), yard_.knowledge().schools), {}};
}

void Bench::choose_asked() {
    const auto before = asked_;
    asked_.reset();
    const core::Figure f = figure();
    const bool side = f.view == core::View::side;
    const auto all = side && !others_ ? core::first_nine() : core::asking_order(f.view);
    std::vector<core::Landmark> order(all.begin(), all.end());
    if (side && others_) {  // of the others those first that a band waits for
        const core::Setting here = setting();
        std::set<core::Landmark> wanted(core::first_nine().begin(), core::first_nine().end());
        for (const core::MeasureInfo& m : core::measures_of(f.view)) {
            if (std::holds_alternative<core::Band>(yard_.knowledge().schools.band(m.id, here)))
                wanted.insert(m.needs.begin(), m.needs.end());
        }
        std::ranges::stable_partition(order, [&](core::Landmark l) { return wanted.contains(l); });
    }
    for (const core::Landmark l : order) {
        if (f[l].visibility != core::Visibility::absent) continue;
        asked_ = l;
        break;
    }
    if (asked_ != before) emit asked_changed();
}

void Bench::ask_for(core::Landmark l) {
    asked_ = l;
    emit asked_changed();
}

void Bench::ask_for_others(bool others) {
    others_ = others;
    choose_asked();
    emit asked_changed();
}

store::Moment& Bench::moment_here() {
    const auto here = [this](const store::Moment& m) { return m.frame == frame_ && m.slot == slot_; };
    if (!moment()) {
        store::Moment m;
        m.clip = clip_->id;
        m.frame = frame_;
        m.time_s = stream_s(frame_);
        m.field = field_;
        m.slot = slot_;
        yard_.add_moment(std::move(m));
    }
    return *std::ranges::find_if(moments_, here);
}

void Bench::put(core::Landmark l, const core::Mark& mark, int gesture) {
    // A first joint makes its moment in the same undo step, so that taking it back leaves nothing behind.
    const bool fresh = !moment();
    std::optional<OneStep> step;
    if (fresh) step.emplace(yard_, "Place " + QString::fromUtf8(core::spoken(l).data()));
    const store::Moment here = moment_here();
    yard_.put_mark(here, l, here.figure[l], mark, gesture);
    step.reset();
    keep_place();
}

void Bench::put_figure(const core::Figure& figure, std::optional<core::Point> head_top, const QString& what,
                       int gesture) {
    if (!clip_ || !ready()) return;
    const bool fresh = !moment();
    std::optional<OneStep> step;
    if (fresh) step.emplace(yard_, what);
    const store::Moment here = moment_here();
    yard_.put_figure(here, figure, head_top ? head_top : here.head_top, what, gesture);
    step.reset();
    keep_place();
}

void Bench::mark_moment() {
    if (!clip_ || !ready() || moment()) return;
    moment_here();
    keep_place();
}

void Bench::confirm(std::optional<core::Landmark> only) {
    const store::Moment* m = moment();
    if (!m) return;
    const core::Figure after = core::confirmed(figure_of(m), only);
    put_figure(after, std::nullopt,
               only ? "Confirm " + QString::fromUtf8(core::spoken(*only).data()) : QString("Confirm figure"));
    learn_limbs();
}

bool Bench::has_unconfirmed() const {
    const core::Figure f = figure();
    return std::ranges::any_of(f.marks, [](const core::Mark& m) {
        return m.visibility != core::Visibility::absent && !m.confirmed;
    });
}

void Bench::place(core::Point at, double zoom) {
    if (!asked_ || !picture_is_current()) return;
    core::Mark mark;
    mark.at = at;
    mark.visibility = core::Visibility::seen;
    mark.sd_px = core::click_sd_px(facts_.width, facts_.height, zoom);
    const core::Landmark l = *asked_;
    put(l, mark, 0);
    selected_ = l;
    choose_asked();
    emit figure_changed();
}

void Bench::skip() {
    if (!asked_ || !ready()) return;
    core::Mark mark;
    mark.visibility = core::Visibility::hidden;
    mark.at = {facts_.width / 2.0, facts_.height / 2.0};
    // A guess near its neighbours, so that the figure can be drawn; never measured.
    const core::Figure f = figure();
    for (const auto& [a, b] : core::segments_of(f.view)) {
        const auto other = a == *asked_ ? b : b == *asked_ ? a : *asked_;
        if (other != *asked_ && f[other].visibility != core::Visibility::absent)
            mark.at = {f[other].at.x, f[other].at.y + 30};
    }
    mark.sd_px = core::click_sd_px(facts_.width, facts_.height);
    put(*asked_, mark, 0);
}

void Bench::select(std::optional<core::Landmark> l) {
    selected_ = l;
    ++gesture_;
    emit figure_changed();
}

void Bench::select_next(int by) {
    const core::Figure f = figure();
    std::vector<core::Landmark> there;
    for (const core::Landmark l : core::asking_order(f.view)) {
        if (f[l].visibility != core::Visibility::absent) there.push_back(l);
    }
    if (there.empty()) return;
    const int n = static_cast<int>(there.size());
    const auto it = selected_ ? std::ranges::find(there, *selected_) : there.end();
    const int at =
        it == there.end() ? (by > 0 ? 0 : n - 1) : (static_cast<int>(it - there.begin()) + by + n) % n;
    select(there[static_cast<std::size_t>(at)]);
}

void Bench::take_away_selected() {
    if (!selected_ || !moment()) return;
    put(*selected_, core::Mark{}, 0);
    selected_.reset();
    emit figure_changed();
}

void Bench::nudge_selected(double dx, double dy) {
    const store::Moment* m = moment();
    if (!selected_ || !m) return;
    core::Mark mark = m->figure[*selected_];
    mark.at.x += dx;
    mark.at.y += dy;
    mark.origin = core::Origin::clicked;
    mark.confirmed = true;
    mark.sd_px = std::min(mark.sd_px, core::click_sd_px(facts_.width, facts_.height));
    put(*selected_, mark, gesture_ == 0 ? ++gesture_ : gesture_);
}

void Bench::drag(core::Landmark l, core::Point to, double zoom, bool alone) {
    const store::Moment* m = moment();
    if (!m) return;
    if (!drag_) {
        ++gesture_;
        selected_ = l;
        drag_ = Drag{l, figure_of(m), figure_of(m)};
        core::Mark& mark = drag_->before[l];
        mark.sd_px = core::click_sd_px(facts_.width, facts_.height, zoom);
        mark.visibility = core::Visibility::seen;
        mark.origin = core::Origin::clicked;
        mark.confirmed = true;
    }
    if (alone) {
        drag_->figure = drag_->before;
        drag_->figure[l].at = to;
    } else {
        const core::PoseFrame frame{drag_->before.travel,
                                    drag_->before.camera,
                                    limbs_,
                                    core::usual_pose(setting(), yard_.knowledge().schools),
                                    {}};
        drag_->figure =
            core::drag_joint(drag_->before, yard_.knowledge().body, frame.limbs, frame.usual, l, to);
    }
    judge();
    emit figure_changed();
}

void Bench::end_drag() {
    if (!drag_) return;
    const Drag done = *drag_;
    drag_.reset();
    put_figure(done.figure, std::nullopt, "Move " + QString::fromUtf8(core::spoken(done.landmark).data()));
}

void Bench::set_phase(const std::string& phase) {
    if (const store::Moment* m = moment()) yard_.set_phase(*m, phase);
}

void Bench::remove_moment() {
    if (const store::Moment* m = moment()) yard_.remove_moment(*m);
}

bool Bench::guess_next_stride() {
    const store::Moment* m = moment();
    if (!m || !ready()) return false;
    const core::Setting here = setting();
    std::vector<core::NamedInstant> named;
    const core::CaptureMap real = capture_map();
    for (const store::Moment& one : moments_) {
        if (one.slot == slot_) named.push_back({real.real_s(one.time_s), one.phase});
    }
    const double stride = core::stride_guess_s(named, m->phase, here.gait);
    if (stride <= 0) return false;
    const double wanted = real_s(frame_) + stride;
    int best = frame_;
    for (int n = frame_; n < facts_.frames; ++n) {
        if (std::abs(real.real_s(facts_.pts_s[static_cast<std::size_t>(n)]) - wanted) <
            std::abs(real.real_s(facts_.pts_s[static_cast<std::size_t>(best)]) - wanted))
            best = n;
    }
    if (best == frame_ || real.real_s(facts_.pts_s[static_cast<std::size_t>(best)]) < wanted - 0.5 * stride)
        return false;
    const std::string phase = m->phase;
    go_to(best);
    if (moment()) return true;
    const OneStep step(yard_, "Same phase, next stride");
    moment_here();
    if (!phase.empty()) set_phase(phase);
    return true;
}

}  // namespace aspen::app
