#include "app/review/marking.hpp"
#include "app/review/review_changes.hpp"

#include "core/following/repeatability.hpp"
#include "core/motion/rise_phase.hpp"

#include <algorithm>
#include <set>

#include "app/yard/changes.hpp"
#include "core/proposal/proposal.hpp"
#include "core/proposal/reader_offset.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

std::vector<core::MarkedTwice> repeat_pairs(Yard& yard) {
    std::vector<core::MarkedTwice> out;
    for (const store::Repeat& r : yard.records().reviews.repeats())
        out.push_back({r.clip.value, r.frame, r.first, r.again});
    return out;
}

/// What was laid or carried says nothing of the reader: where it was put is not what the hand corrects.
void moved_by_hand(core::Mark& mark) {
    if (mark.origin != core::Origin::proposed && mark.origin != core::Origin::clicked) mark.put_at.reset();
    mark.origin = core::Origin::clicked;
    mark.confirmed = true;
}

}  // namespace

Marking::Marking(Review& review, QObject* parent)
    : QObject(parent), review_(review), yard_(review.yard()), deck_(review.deck()), news_(review.news()) {
    learn_click_error();
}

void Marking::let_go() {
    drag_.reset();
    selected_.reset();
}

/// A frame that says nothing else than the one before is no news: of a clip that plays, most are.
void Marking::come_to_frame() {
    const bool held = blind_ || selected_ || (offer_ && offer_->frame != deck_.frame());
    if (offer_ && offer_->frame != deck_.frame()) offer_.reset();
    blind_.reset();
    selected_.reset();
    const bool same = !held && review_.is_open() && review_.stretch().judged && figure() == judged_figure_ &&
                      review_.setting() == judged_in_;
    same ? choose_asked() : refresh();  // what was asked for by hand was asked for there
}

void Marking::refresh() {
    if (!review_.is_open()) {
        drag_.reset();
        offer_.reset();
        selected_.reset();
        asked_.reset();
        judged_.clear();
        judged_figure_ = {};
        judged_in_ = {};
        return say_figure();
    }
    news_.together([&] {
        if (review_.rider() != limbs_of_ || !limbs_of_) learn_limbs();
        if (selected_ && figure()[*selected_].visibility == core::Visibility::absent) selected_.reset();
        choose_asked();
        judge();
        say_figure();
    });
}

core::Figure Marking::figure() const {
    if (blind_) return blind_->shown;
    if (drag_) return drag_->figure;
    core::Figure out = review_.figure_of(review_.moment());
    if (!offered()) return out;
    out.marks = offer_->figure.marks;
    if (out.travel == core::Travel::unknown) out.travel = offer_->figure.travel;
    return out;
}

bool Marking::offered() const {
    return offer_ && review_.is_open() && !review_.moment() && offer_->frame == deck_.frame() &&
           offer_->clip == review_.clip().id && offer_->slot == review_.slot() &&
           review_.stretch().view == offer_->figure.view;
}

void Marking::offer(int frame, const core::Figure& figure, const std::string& phase) {
    if (blind_ || drag_ || !review_.is_open()) return;
    offer_ = Offer{review_.clip().id, review_.slot(), frame, figure, phase};
    if (read_.clip != offer_->clip || read_.slot != offer_->slot) read_ = {offer_->clip, offer_->slot, {}};
    read_.figures[frame] = figure;
    refresh();
}

bool Marking::beside(const core::Figure& figure, core::Landmark l) const {
    if (read_.clip != review_.clip().id || read_.slot != review_.slot()) return false;
    const auto read = read_.figures.find(deck_.frame());
    if (read == read_.figures.end() || read->second[l].origin != core::Origin::proposed) return false;
    return core::lies_beside(read->second[l].at, figure[l].at, core::marked_trunk_px(read->second));
}

void Marking::judge() {
    core::RideMoment here;
    here.figure = figure();
    here.setting = review_.setting();
    here.judged = review_.stretch().judged;
    // Of a stretch that cannot be judged nothing is taken for what another frame says.
    judged_figure_ = here.judged ? here.figure : core::Figure{};
    judged_in_ = here.judged ? here.setting : core::Setting{};
    judged_ = core::judge_moment(here, yard_.knowledge());
}

void Marking::learn_limbs() {
    limbs_of_ = review_.rider();
    const core::Body& body = yard_.knowledge().body;
    limbs_ = limbs_of_ ? core::limbs_of(yard_.records().reviews.figures_of(limbs_of_), body)
                       : core::typical_limbs(body);
}

core::PoseFrame Marking::pose_frame() const {
    const core::Figure f = figure();
    return {f.travel, f.camera, limbs_, core::usual_pose(review_.setting(), yard_.knowledge().schools), {}};
}

/// Those first that a band waits for.
void Marking::wanted_first(std::vector<core::Landmark>& order) const {
    const core::Setting here = review_.setting();
    std::set<core::Landmark> wanted(core::first_nine().begin(), core::first_nine().end());
    for (const core::MeasureInfo& m : core::measures_of(figure().view)) {
        if (std::holds_alternative<core::Band>(yard_.knowledge().schools.band(m.id, here)))
            wanted.insert(m.needs.begin(), m.needs.end());
    }
    std::ranges::stable_partition(order, [&](core::Landmark l) { return wanted.contains(l); });
}

std::vector<core::Landmark> Marking::waiting() const {
    const core::Figure f = figure();
    const auto all = core::asking_order(f.view);
    std::vector<core::Landmark> out(all.begin(), all.end());
    std::erase_if(
        out, [&](core::Landmark l) { return f[l].visibility == core::Visibility::absent || f[l].confirmed; });
    wanted_first(out);
    return out;
}

void Marking::choose_asked() {
    const auto before = asked_;
    asked_.reset();
    const core::Figure f = figure();
    const bool side = f.view == core::View::side;
    const auto all = side && !others_ ? core::first_nine() : core::asking_order(f.view);
    std::vector<core::Landmark> order(all.begin(), all.end());
    if (side && others_) wanted_first(order);
    for (const core::Landmark l : order) {
        if (f[l].visibility != core::Visibility::absent) continue;
        asked_ = l;
        break;
    }
    if (asked_ != before) say_figure();
}

void Marking::ask_for(core::Landmark l) {
    asked_ = l;
    say_figure();
}
void Marking::ask_for_others(bool others) {
    others_ = others;
    news_.together([&] {
        choose_asked();
        say_figure();
    });
}

void Marking::put(core::Landmark l, const core::Mark& mark, int gesture) {
    if (offered()) {
        core::Figure whole = figure();
        whole[l] = mark;
        return put_figure(whole, std::nullopt, tr("Place ") + QString::fromUtf8(core::spoken(l).data()));
    }
    // A first joint makes its moment in the same step, so that taking it back leaves nothing behind.
    yard_.step(
        tr("Place ") + QString::fromUtf8(core::spoken(l).data()),
        [&] { put_mark(yard_, ensure_moment(review_), l, mark); }, review_.moment() ? gesture : 0);
    review_.keep_place();
}

void Marking::put_figure(const core::Figure& figure, std::optional<core::Point> head_top, const QString& what,
                         int gesture) {
    if (!review_.is_open() || !deck_.ready()) return;
    const std::string phase = offered() ? offer_->phase : std::string();
    yard_.step(
        what,
        [&](store::YardStore& records) {
            if (offered() && review_.stretch().travel == core::Travel::unknown)
                set_travel(review_, figure.travel);
            const store::Moment here = ensure_moment(review_);
            const auto known = core::phases(review_.setting().gait, review_.setting().seat);
            if (!phase.empty() && std::ranges::find(known, phase) != known.end())
                records.reviews.set_phase(here.id, phase);
            app::put_figure(yard_, here, figure, head_top ? head_top : here.head_top, what);
        },
        gesture);
    review_.keep_place();
}

void Marking::confirm(std::optional<core::Landmark> only) {
    if (blind_) return;
    const store::Moment* m = review_.moment();
    if (!m && !offered()) return;
    const core::Figure before = figure();
    core::Figure after = core::confirmed(before, only);
    for (const core::Landmark l : core::landmarks_of(before.view)) {
        // Pulled far from where it was seen: whoever takes all at once did not look at this one.
        if (!only && !before[l].confirmed && beside(before, l)) after[l] = before[l];
    }
    // Which moment of the rise this is, is proposed with the joints; naming it by key stands above it.
    const core::Stretch& stretch = review_.stretch();
    const bool rises = stretch.seat == core::Seat::rising && (m ? m->phase.empty() : offer_->phase.empty());
    const std::string phase = rises ? core::rise_phase(after) : std::string();
    const QString what =
        only ? tr("Confirm ") + QString::fromUtf8(core::spoken(*only).data()) : tr("Confirm figure");
    news_.together([&] {
        yard_.step(what, [&] {
            put_figure(after, std::nullopt, what);
            if (!phase.empty()) set_phase(review_, phase);
        });
        learn_limbs();
        // What was only laid is looked at one by one, the next one under the loupe.
        const auto left = waiting();
        select(left.empty() ? std::nullopt : std::optional(left.front()));
    });
}

bool Marking::has_unconfirmed() const {
    const core::Figure f = figure();
    return std::ranges::any_of(f.marks, [](const core::Mark& m) {
        return m.visibility != core::Visibility::absent && !m.confirmed;
    });
}

void Marking::place(core::Point at, double zoom) {
    if (!asked_ || !deck_.picture_is_current()) return;
    if (blind_) return place_blind(at);
    core::Mark mark;
    mark.at = at;
    mark.visibility = core::Visibility::seen;
    mark.sd_px = click_sd(zoom);
    const core::Landmark l = *asked_;
    news_.together([&] {
        put(l, mark, 0);
        selected_ = l;
        choose_asked();
        say_figure();
    });
}

void Marking::skip() {
    if (!asked_ || !deck_.ready() || blind_) return;  // blind, only clicks say something
    core::Mark mark;
    mark.visibility = core::Visibility::hidden;
    mark.at = {deck_.facts().width / 2.0, deck_.facts().height / 2.0};
    // A guess near its neighbours, so that the figure can be drawn; never measured.
    const core::Figure f = figure();
    for (const auto& [a, b] : core::segments_of(f.view)) {
        const auto other = a == *asked_ ? b : b == *asked_ ? a : *asked_;
        if (other != *asked_ && f[other].visibility != core::Visibility::absent)
            mark.at = {f[other].at.x, f[other].at.y + 30};
    }
    mark.sd_px = click_sd(1.0);
    put(*asked_, mark, 0);
}

void Marking::select(std::optional<core::Landmark> l) {
    if (blind_) return;
    selected_ = l;
    nudges_ = 0;
    say_figure();
}

void Marking::select_next(int by) {
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

void Marking::take_away_selected() {
    if (blind_ || !selected_ || (!review_.moment() && !offered())) return;
    news_.together([&] {
        put(*selected_, core::Mark{}, 0);
        selected_.reset();
        say_figure();
    });
}

void Marking::nudge_selected(double dx, double dy) {
    if (blind_) return;
    if (!selected_ || (!review_.moment() && !offered())) return;
    core::Mark mark = figure()[*selected_];
    mark.at.x += dx;
    mark.at.y += dy;
    moved_by_hand(mark);
    core::Figure moved = figure();
    moved[*selected_] = mark;
    mark.confirmed = !beside(moved, *selected_);
    mark.sd_px = std::min(mark.sd_px, click_sd(1.0));
    if (nudges_ == 0) nudges_ = yard_.steps().new_gesture();
    put(*selected_, mark, nudges_);
}

void Marking::drag(core::Landmark l, core::Point to, double zoom, bool alone) {
    if ((!review_.moment() && !offered()) || blind_) return;
    if (!drag_) {
        nudges_ = 0;
        selected_ = l;
        drag_ = Drag{l, figure(), figure()};
        core::Mark& mark = drag_->before[l];
        mark.sd_px = click_sd(zoom);
        mark.visibility = core::Visibility::seen;
        moved_by_hand(mark);
    }
    if (alone) {
        drag_->figure = drag_->before;
        drag_->figure[l].at = to;
    } else {
        const core::PoseFrame frame{drag_->before.travel,
                                    drag_->before.camera,
                                    limbs_,
                                    core::usual_pose(review_.setting(), yard_.knowledge().schools),
                                    {}};
        drag_->figure =
            core::drag_joint(drag_->before, yard_.knowledge().body, frame.limbs, frame.usual, l, to);
    }
    judge();
    say_figure();
}

void Marking::end_drag() {
    if (!drag_) return;
    Drag done = *drag_;
    drag_.reset();
    done.figure[done.landmark].confirmed = !beside(done.figure, done.landmark);
    put_figure(done.figure, std::nullopt,
               tr("Move ") + QString::fromUtf8(core::spoken(done.landmark).data()));
}

double Marking::click_sd(double zoom) const {
    return core::click_sd_px(deck_.facts().width, deck_.facts().height, zoom) * own_click_sd_ /
           core::kClickSdAt1080Px;
}

bool Marking::start_blind() {
    constexpr std::size_t kFewestAgain = 5;
    const store::Moment* m = review_.moment();
    if (!m || !deck_.picture_is_current()) return false;
    Blind blind;
    blind.shown = review_.figure_of(m);
    for (const core::Landmark l : core::asking_order(blind.shown.view)) {
        const core::Mark& mark = blind.shown[l];
        if (mark.measurable() && mark.origin == core::Origin::clicked) blind.left.push_back(l);
    }
    if (blind.left.size() < kFewestAgain) return false;
    blind.shown.marks = {};
    selected_.reset();
    blind_ = std::move(blind);
    asked_ = blind_->left.front();
    judged_.clear();
    say_figure();
    return true;
}

void Marking::leave_blind() {
    if (!blind_) return;
    blind_.reset();
    refresh();
}

void Marking::place_blind(core::Point at) {
    core::Mark& mark = blind_->shown[*asked_];
    mark.at = at;
    mark.visibility = core::Visibility::seen;
    blind_->left.erase(blind_->left.begin());
    if (!blind_->left.empty()) {
        asked_ = blind_->left.front();
        return say_figure();
    }
    const core::Figure again = blind_->shown;
    const store::Moment m = *review_.moment();
    const double scale = 1080.0 / std::min(deck_.facts().width, deck_.facts().height);
    yard_.step(tr("Mark again, blind"), [&](store::YardStore& records) {
        for (const core::Landmark l : core::landmarks_of(again.view)) {
            if (again[l].visibility == core::Visibility::absent) continue;
            const core::Point was = m.figure[l].at, is = again[l].at;
            records.add(store::Repeat{{},
                                      m.clip,
                                      m.slot,
                                      m.frame,
                                      std::string(core::id(l)),
                                      {was.x * scale, was.y * scale},
                                      {is.x * scale, is.y * scale},
                                      yard_.today_iso()});
        }
    });
    leave_blind();
    learn_click_error();
    const auto error = core::click_error(repeat_pairs(yard_));
    emit blind_done(error.frames < core::kFewestBlindFrames
                        ? tr("Your own error so far: %1 px at 1080; after three frames it is used.")
                              .arg(error.sd_px, 0, 'f', 1)
                        : tr("Your own error: %1 px at 1080, from %2 frames; it is used from now on.")
                              .arg(error.sd_px, 0, 'f', 1)
                              .arg(error.frames));
}

void Marking::learn_click_error() {
    const auto error = core::click_error(repeat_pairs(yard_));
    own_click_sd_ = error.frames < core::kFewestBlindFrames ? core::kClickSdAt1080Px : error.sd_px;
}

}  // namespace aspen::app

#include "moc_marking.cpp"
