#include "app/review/ground_marks.hpp"

#include <algorithm>
#include <cmath>

#include "app/yard/changes.hpp"
#include "core/motion/ground.hpp"

namespace aspen::app {
namespace {

constexpr double kSameCrossingS = 1.5;
constexpr double kTrunkM = 0.50;  // from memory: shoulder to hip of a grown rider

/// Pixels of a metre at the rider: drawn along a known length, else from a trunk that was marked; 0 for
/// neither.
double scale_of(const Review& review) {
    if (review.clip().px_per_m > 0) return review.clip().px_per_m;
    std::vector<double> trunks;
    for (const store::Moment& m : review.moments()) {
        if (const double px = core::marked_trunk_px(m.figure); px > 0) trunks.push_back(px);
    }
    if (trunks.empty()) return 0;
    std::ranges::sort(trunks);
    return trunks[trunks.size() / 2] / kTrunkM;
}

}  // namespace

void mark_ground(Bench& bench, store::GroundMarkKind kind, core::Point a, core::Point b) {
    if (!bench.is_open() || !bench.deck().ready()) return;
    store::GroundMark g;
    g.clip = bench.review().clip().id;
    g.slot = bench.review().slot();
    g.frame = kind == store::GroundMarkKind::lap_line ? 0 : bench.deck().frame();
    g.kind = kind;
    g.a = a;
    g.b = b;
    add_ground_mark(bench.yard(), g);
}

bool unmark_ground(Bench& bench) {
    const auto& all = bench.review().ground();
    const store::GroundMark* last = nullptr;
    for (const store::GroundMark& g : all) {
        const bool line = g.kind == store::GroundMarkKind::lap_line;
        if (line ? !last : g.frame == bench.deck().frame()) last = &g;
    }
    if (!last) return false;
    const store::GroundMark gone = *last;
    remove_ground_mark(bench.yard(), gone);
    return true;
}

QStringList ground_in_words(const BenchState& bench) {
    QStringList out;
    if (!bench.is_open() || !bench.deck().ready()) return out;
    const Review& review = bench.review();
    const core::CaptureMap real = bench.deck().capture_map();
    const double scale = scale_of(review);
    std::vector<core::PrintPair> oversteps, steps;
    for (const store::GroundMark& g : review.ground()) {
        if (g.kind == store::GroundMarkKind::lap_line || g.slot != review.slot()) continue;
        const bool left = core::ridden_at(review.stretches(), g.frame).travel == core::Travel::left;
        const double px = (g.b.x - g.a.x) * (left ? -1 : 1);
        const int frame = std::min(g.frame, bench.deck().facts().frames - 1);
        (g.kind == store::GroundMarkKind::overstep ? oversteps : steps)
            .push_back({bench.deck().real_s(frame), px, scale});
    }
    std::vector<double> poles;
    for (const store::Event& e : review.events()) {
        if (e.event == "pole" && e.slot == review.slot()) poles.push_back(real.real_s(e.time_s));
    }
    for (const std::string& line : core::in_words(core::ground_sums(oversteps, steps, poles)))
        out << QString::fromStdString(line);
    return out;
}

std::vector<double> laps_seen(Bench& bench, const core::Tracks& tracks) {
    using L = core::Landmark;
    std::vector<double> out;
    const Review& review = bench.review();
    const auto line =
        std::ranges::find(review.ground(), store::GroundMarkKind::lap_line, &store::GroundMark::kind);
    if (!bench.is_open() || line == review.ground().end()) return out;
    // The seat goes where the horse goes; the line lies on the ground of the first picture.
    std::vector<core::PlaceAt> way;
    for (const core::TrackPoint& p : tracks.points) {
        if (p.hidden || (p.landmark != L::hip && p.landmark != L::horse_mid)) continue;
        core::Point at = p.at;
        if (const auto c = tracks.camera.find(p.frame); c != tracks.camera.end())
            at = {(at.x - c->second.x) / c->second.scale, (at.y - c->second.y) / c->second.scale};
        way.push_back({p.time_s, at});
    }
    for (const double t : core::crossings(way, line->a, line->b)) {
        const bool logged = std::ranges::any_of(review.events(), [&](const store::Event& e) {
            return e.event == "lap_line" && e.slot == review.slot() &&
                   std::abs(e.time_s - t) < kSameCrossingS;
        });
        if (!logged) out.push_back(t);
    }
    return out;
}

int log_laps_seen(Bench& bench, const core::Tracks& tracks) {
    const std::vector<double> all = laps_seen(bench, tracks);
    if (all.empty()) return 0;
    const QString words = QObject::tr("Log the laps that were seen");
    bench.yard().step(words, [&] {
        for (const double t : all) {
            store::Event e;
            e.ride = bench.review().ride().id;
            e.clip = bench.review().clip().id;
            e.slot = bench.review().slot();
            e.time_s = t;
            e.event = "lap_line";
            add_event(bench.yard(), e, words);
        }
    });
    return static_cast<int>(all.size());
}

}  // namespace aspen::app
