#include "media/pose/rider_finder.hpp"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/proposal/proposal.hpp"

namespace aspen::media {
namespace {

using core::NetworkRun;
using core::Point;

// COCO's joints.
enum : std::size_t {
    nose = 0,
    eyes = 1,
    ears = 3,
    shoulders = 5,
    elbows = 7,
    hips = 11,
    knees = 13,
    ankles = 15
};

constexpr double kHeadScore = 0.25, kFoundScore = 0.3, kTellsTravel = 0.15;
constexpr double kSizes[] = {0.34, 0.45, 0.6,
                             0.8};        // of the picture's shorter side, head to heel and a fifth
constexpr double kCentreUnderEar = 0.34;  // of such a square
// Good enough to be followed, where only differences over time are read; a position is judged by more.
constexpr double kGoodScore = 0.3, kGoodSpread = 0.12;
constexpr std::size_t kFewestGood = 3;
constexpr double kHeadOverEar = 0.35, kAnkleUnderHip = 1.55,
                 kHeelUnderAnkle = 0.16;  // of the trunk, from memory
constexpr double kSeenAcross = 0.55;  // shoulders this far apart, of the trunk, are seen from front or behind

Point middle(const NetworkRun& r, std::size_t pair) {
    return {(r.at[pair].x + r.at[pair + 1].x) / 2, (r.at[pair].y + r.at[pair + 1].y) / 2};
}
double mean_score(const NetworkRun& r, std::initializer_list<std::size_t> pairs) {
    double sum = 0;
    for (const std::size_t pair : pairs) sum += std::max(r.score[pair], r.score[pair + 1]);
    return sum / static_cast<double>(pairs.size());
}
/// What is seen of a rider from afar; legs are looked for in the horse's own then.
double head_score(const NetworkRun& r) { return mean_score(r, {eyes, ears, shoulders}); }
double whole_score(const NetworkRun& r) {
    return mean_score(r, {ears, shoulders, elbows, hips, knees, ankles});
}
double trunk_of(const NetworkRun& r) { return core::distance(middle(r, shoulders), middle(r, hips)); }

struct Ends {
    Point head_top, heel;
};
Ends ends_of(const NetworkRun& r) {
    const double trunk = trunk_of(r);
    const Point ear = middle(r, ears), hip = middle(r, hips), ankle = middle(r, ankles);
    const bool ankle_fits = std::abs(ankle.y - hip.y - kAnkleUnderHip * trunk) < 0.4 * trunk;
    return {{ear.x, ear.y - kHeadOverEar * trunk},
            ankle_fits ? Point{ankle.x, ankle.y + kHeelUnderAnkle * trunk}
                       : Point{hip.x, hip.y + (kAnkleUnderHip + kHeelUnderAnkle) * trunk}};
}

/// Squares over the whole picture, each as large as its shorter side.
std::vector<core::Crop> over_all(const Picture& p) {
    const double side = std::min(p.width, p.height), rest = std::max(p.width, p.height) - side;
    const int n = rest < 0.1 * side ? 1 : static_cast<int>(std::ceil(rest / (0.45 * side))) + 1;
    std::vector<core::Crop> out;
    for (int i = 0; i < n; ++i) {
        const double along = side / 2 + (n == 1 ? rest / 2 : rest * i / (n - 1));
        out.push_back(
            {p.width >= p.height ? Point{along, p.height / 2.0} : Point{p.width / 2.0, along}, side});
    }
    return out;
}

/// Nose before ears, knee before hip: positive to the right, in trunk lengths. Hands are lost too often.
double points_right(const NetworkRun& r) {
    const double trunk = std::max(1.0, trunk_of(r));
    const std::size_t knee = r.score[knees] >= r.score[knees + 1] ? knees : knees + 1;
    return (2 * (r.at[nose].x - middle(r, ears).x) + r.at[knee].x - middle(r, hips).x) / trunk;
}

}  // namespace

std::optional<FoundRider> find_rider(PoseNetwork& network, const Picture& picture,
                                     const std::atomic<bool>* stop) {
    const auto stopped = [&] { return stop && *stop; };
    std::optional<NetworkRun> head;
    for (const core::Crop& c : over_all(picture)) {
        if (stopped()) return std::nullopt;
        NetworkRun run = network.run(picture, c.centre, c.side, false);
        if (!head || head_score(run) > head_score(*head)) head = run;
    }
    if (!head || head_score(*head) < kHeadScore) return std::nullopt;
    // How large the rider is nobody said: tried in several sizes under the head, the best once more, closer.
    std::optional<NetworkRun> best;
    const Point at = middle(*head, ears);
    for (const double share : kSizes) {
        if (stopped()) return std::nullopt;
        const double side = share * std::min(picture.width, picture.height);
        NetworkRun run = network.run(picture, {at.x, at.y + kCentreUnderEar * side}, side, false);
        if (trunk_of(run) >= 8 && (!best || whole_score(run) > whole_score(*best))) best = run;
    }
    if (!best) return std::nullopt;
    if (stopped()) return std::nullopt;
    const core::Crop closer = core::crops_for(ends_of(*best).head_top, ends_of(*best).heel).front();
    if (NetworkRun run = network.run(picture, closer.centre, closer.side, false);
        trunk_of(run) >= 8 && whole_score(run) > whole_score(*best))
        best = run;
    const double trunk = trunk_of(*best), right = points_right(*best);
    const double across = std::abs(best->at[shoulders].x - best->at[shoulders + 1].x) / std::max(1.0, trunk);
    if (whole_score(*best) < kFoundScore || across > kSeenAcross || std::abs(right) < kTellsTravel)
        return std::nullopt;
    FoundRider out;
    out.figure.view = core::View::side;
    out.figure.travel = right > 0 ? core::Travel::right : core::Travel::left;
    const Ends ends = ends_of(*best);
    std::vector<NetworkRun> runs;
    const core::Crop whole = core::crops_for(ends.head_top, ends.heel).front();
    for (const bool mirrored : {false, true}) {
        if (stopped()) return std::nullopt;
        runs.push_back(network.run(picture, whole.centre, whole.side, mirrored));
    }
    const core::Proposal said = core::combine(runs, core::View::side, out.figure.travel, trunk);
    if (!said.rider_found) return std::nullopt;
    out.score = said.mean_score;
    std::size_t good = 0;
    for (const core::ProposedJoint& j : said.joints) {
        // An ankle before the horse's belly is often one of the horse's.
        if (j.landmark == core::Landmark::ankle || j.score < kGoodScore || j.spread_px > kGoodSpread * trunk)
            continue;
        out.figure[j.landmark] = {
            j.at, core::Visibility::seen, std::max(2.0, j.spread_px), core::Origin::proposed, false, j.at};
        ++good;
    }
    if (good < kFewestGood || !out.figure[core::Landmark::hip].put_at ||
        !out.figure[core::Landmark::shoulder].put_at)
        return std::nullopt;
    return out;
}

core::Crop crop_round(Point ear, Point hip, double trunk_px) {
    return core::crops_for({ear.x, ear.y - kHeadOverEar * trunk_px},
                           {hip.x, hip.y + (kAnkleUnderHip + kHeelUnderAnkle) * trunk_px})
        .front();
}

}  // namespace aspen::media
