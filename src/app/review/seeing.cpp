#include "app/review/seeing.hpp"
#include "app/review/review_changes.hpp"

#include <algorithm>
#include <cmath>

#include "core/motion/stride_guess.hpp"

namespace aspen::app {

void go_to_moment(Review& review, int direction) {
    ClipDeck& deck = review.deck();
    const store::Moment* best = nullptr;
    for (const store::Moment& m : review.moments()) {
        if (m.slot != review.slot() || (m.frame - deck.frame()) * direction <= 0) continue;
        if (!best || (m.frame - best->frame) * direction < 0) best = &m;
    }
    if (best) deck.go_to(best->frame);
}

bool guess_next_stride(Review& review) {
    ClipDeck& deck = review.deck();
    const store::Moment* m = review.moment();
    if (!m || !deck.ready()) return false;
    const auto& pts = deck.facts().pts_s;
    std::vector<core::NamedInstant> named;
    const core::CaptureMap real = deck.capture_map();
    for (const store::Moment& one : review.moments()) {
        if (one.slot == review.slot()) named.push_back({real.real_s(one.time_s), one.phase});
    }
    const double stride = core::stride_guess_s(named, m->phase, review.setting().gait);
    if (stride <= 0) return false;
    const int frame = deck.frame();
    const double wanted = deck.real_s(frame) + stride;
    const auto off = [&](int n) { return std::abs(real.real_s(pts[static_cast<std::size_t>(n)]) - wanted); };
    int best = frame;
    for (int n = frame; n < deck.facts().frames; ++n) {
        if (off(n) < off(best)) best = n;
    }
    if (best == frame || real.real_s(pts[static_cast<std::size_t>(best)]) < wanted - 0.5 * stride)
        return false;
    const std::string phase = m->phase;
    deck.go_to(best);
    if (review.moment()) return true;
    review.yard().step(QObject::tr("Same phase, next stride"), [&](store::YardStore& records) {
        const store::Moment made = ensure_moment(review);
        if (!phase.empty()) records.reviews.set_phase(made.id, phase);
    });
    return true;
}

void set_upright(Review& review, core::Point a, core::Point b) {
    ClipDeck& deck = review.deck();
    if (!review.is_open() || core::distance(a, b) < 20) return;
    core::CameraPose camera = review.stretch().camera;
    camera.roll_deg = core::roll_from_upright(a, b);
    camera.roll_sd_deg =
        core::roll_sd_from_upright(a, b, core::click_sd_px(deck.facts().width, deck.facts().height));
    camera.roll_marked = true;
    set_camera(review, camera, "upright");
}
void set_level(Review& review, core::Point a, core::Point b) {
    if (a.x > b.x) std::swap(a, b);
    // A quarter turn makes the level line an upright one.
    set_upright(review, a, {a.x - (b.y - a.y), a.y + (b.x - a.x)});
}
void set_scale(Review& review, core::Point a, core::Point b, double metres) {
    ClipDeck& deck = review.deck();
    if (!review.is_open() || !(metres > 0)) return;
    store::Clip c = review.clip();
    c.px_per_m = core::distance(a, b) / metres;
    c.px_per_m_sd = std::sqrt(2.0) * core::click_sd_px(deck.facts().width, deck.facts().height) / metres;
    set_clip(review, c, "scale");
}
}  // namespace aspen::app
