#include "core/proposal/proposal.hpp"

#include <algorithm>
#include <cmath>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using L = Landmark;

double middle(std::vector<double> v) {
    if (v.empty()) return 0;
    std::ranges::sort(v);
    const std::size_t n = v.size();
    return n % 2 ? v[n / 2] : (v[n / 2 - 1] + v[n / 2]) / 2;
}

/// Place in COCO's list of a landmark: the left one of a pair from the side, exactly it from front or rear.
struct Place {
    L landmark;
    std::size_t left;
};
constexpr Place kSidePlaces[] = {{L::ear, 3},   {L::eye, 1},  {L::shoulder, 5}, {L::elbow, 7},
                                 {L::wrist, 9}, {L::hip, 11}, {L::knee, 13},    {L::ankle, 15}};
constexpr Place kFrontalPlaces[] = {{L::left_shoulder, 5}, {L::right_shoulder, 6}, {L::left_elbow, 7},
                                    {L::right_elbow, 8},   {L::left_hip, 11},      {L::right_hip, 12},
                                    {L::left_knee, 13},    {L::right_knee, 14},    {L::left_ankle, 15},
                                    {L::right_ankle, 16}};

ProposedJoint joint_of(std::span<const NetworkRun> runs, L landmark, std::size_t place) {
    std::vector<double> x, y, score, away;
    for (const NetworkRun& r : runs) {
        x.push_back(r.at[place].x);
        y.push_back(r.at[place].y);
        score.push_back(r.score[place]);
    }
    ProposedJoint out{landmark, {middle(x), middle(y)}, middle(score), 0, false};
    for (const NetworkRun& r : runs) away.push_back(distance(r.at[place], out.at));
    out.spread_px = middle(away);
    return out;
}

Mark placed(Point at, Origin way, double sd_px) {
    Mark m;
    m.at = at;
    m.visibility = Visibility::seen;
    m.origin = way;
    m.confirmed = false;
    m.sd_px = sd_px;
    m.put_at = at;
    return m;
}

/// Keeps what the coach placed; everything else may be placed anew.
bool stays(const Mark& m) {
    return m.visibility != Visibility::absent && (m.confirmed || m.origin == Origin::clicked);
}

/// A rider's shape seen from front or rear, as shares of the distance from heels to head top: across, up
/// (from memory).
struct JointShare {
    L left, right;
    double across, up;
};
constexpr JointShare kFrontalShape[] = {
    {L::left_shoulder, L::right_shoulder, 0.13, 0.76}, {L::left_elbow, L::right_elbow, 0.19, 0.60},
    {L::left_knuckle, L::right_knuckle, 0.06, 0.56},   {L::left_hip, L::right_hip, 0.115, 0.42},
    {L::left_knee, L::right_knee, 0.20, 0.27},         {L::left_ankle, L::right_ankle, 0.20, 0.05},
    {L::left_heel, L::right_heel, 0.20, 0.0},          {L::left_toe, L::right_toe, 0.22, 0.02},
    {L::left_iron, L::right_iron, 0.21, 0.01}};

/// From three clicks: head top, left heel, right heel (their places in the figure).
Figure laid_frontal(const Figure& figure, const FigureErrors& errors, Point top) {
    Figure out = figure;
    const Point a = figure[L::left_heel].at, b = figure[L::right_heel].at;
    if (figure[L::left_heel].visibility == Visibility::absent ||
        figure[L::right_heel].visibility == Visibility::absent)
        return out;
    const Point foot{(a.x + b.x) / 2, (a.y + b.y) / 2};
    const double high = distance(top, foot);
    if (high < 4) return out;
    const Point up{(top.x - foot.x) / high, (top.y - foot.y) / high};
    // Where the rider's left is, is told by the heels; the width across comes from the height.
    const double sign = (b.x - a.x) * -up.y + (b.y - a.y) * up.x > 0 ? -1 : 1;
    const Point left{sign * -up.y, sign * up.x};
    const double trunk = 0.34 * high;
    const auto put = [&](L l, double across, double height) {
        if (stays(figure[l])) return;
        const Point at{foot.x + high * (left.x * across + up.x * height),
                       foot.y + high * (left.y * across + up.y * height)};
        out[l] = placed(at, Origin::laid, errors.of(Origin::laid, l) * trunk);
    };
    for (const JointShare& s : kFrontalShape) {
        put(s.left, s.across, s.up);
        put(s.right, -s.across, s.up);
    }
    put(L::chin, 0, 0.84);
    return out;
}

}  // namespace

NetworkRun unmirrored(const NetworkRun& run, double width_px) {
    NetworkRun out = run;
    const auto take = [&](std::size_t to, std::size_t from) {
        out.at[to] = {width_px - run.at[from].x, run.at[from].y};
        out.score[to] = run.score[from];
    };
    take(0, 0);
    for (std::size_t left = 1; left < kNetworkJoints; left += 2) {
        take(left, left + 1);
        take(left + 1, left);
    }
    return out;
}

std::array<Crop, 3> crops_for(Point head_top, Point heel) {
    const double high = distance(head_top, heel);
    const Point middle_of{(head_top.x + heel.x) / 2, (head_top.y + heel.y) / 2};
    const auto shifted = [&](double dx, double dy, double scale) {
        return Crop{{middle_of.x + dx * high, middle_of.y + dy * high}, scale * high};
    };
    return {shifted(0, 0, 1.2), shifted(0.03, -0.02, 1.3), shifted(-0.03, 0.02, 1.25)};
}

double FigureErrors::of(Origin way, Landmark l) const {
    const auto w = sd_trunk.find(way);
    if (w == sd_trunk.end()) return otherwise;
    const auto it = w->second.find(l);
    return it == w->second.end() ? otherwise : it->second;
}

FigureErrors load_figure_errors(std::istream& in, const std::string& file) {
    const auto json = reading::parse(in, file);
    const reading::Entry top(json, file, "figure errors");
    FigureErrors out;
    out.otherwise = top.number("otherwise");
    for (const Origin way : {Origin::carried, Origin::proposed, Origin::laid}) {
        const auto& table = top.object(std::string(word(way)).c_str());
        const reading::Entry entry(table, file, std::string(word(way)));
        for (auto it = table.begin(); it != table.end(); ++it) {
            const auto l = landmark_from(it.key());
            if (!l) entry.complain(it.key().c_str(), "is no landmark");
            const double sd = entry.number(it.key().c_str());
            if (!(sd > 0)) entry.complain(it.key().c_str(), "must be larger than 0");
            out.sd_trunk[way][*l] = sd;
        }
    }
    return out;
}

JointOffsets learned_offsets(std::span<const Figure> figures) {
    constexpr double kNothingCounts = 4, kFollowedPx = 0.5;
    struct Sum {
        double f = 0, u = 0;
        int n = 0;
    };
    std::map<L, Sum> sums;
    for (const Figure& figure : figures) {
        if (figure.view != View::side || figure.travel == Travel::unknown ||
            !figure.measurable(L::shoulder) || !figure.measurable(L::hip))
            continue;
        const double trunk = distance(figure[L::shoulder].at, figure[L::hip].at);
        if (trunk < 1) continue;
        const double sign = figure.travel == Travel::left ? -1 : 1, roll = radians(figure.camera.roll_deg);
        for (const Place& p : kSidePlaces) {
            const Mark& m = figure[p.landmark];
            // A joint laid or carried teaches nothing of the network; one proposed and then moved keeps where
            // it was put.
            if (!m.measurable() || !m.put_at || (m.origin != Origin::proposed && m.origin != Origin::clicked))
                continue;
            // One that only followed another's correction was not put there by anyone.
            if (m.origin == Origin::proposed && distance(m.at, *m.put_at) > kFollowedPx) continue;
            const Point by = unrolled({m.at.x - m.put_at->x, m.at.y - m.put_at->y}, roll);
            Sum& s = sums[p.landmark];
            s.f += sign * by.x / trunk;
            s.u += -by.y / trunk;
            ++s.n;
        }
    }
    JointOffsets out;
    for (const auto& [l, s] : sums) out[l] = {s.f / (s.n + kNothingCounts), s.u / (s.n + kNothingCounts)};
    return out;
}

Proposal combine(std::span<const NetworkRun> runs, View view, Travel travel, double trunk_px) {
    Proposal out;
    if (runs.empty()) return out;
    const auto judged = [&](ProposedJoint j) {
        j.sure = j.score >= kLowestScore && j.spread_px <= kLargestSpread * trunk_px;
        return j;
    };
    if (view == View::side) {
        const std::size_t right =
            travel == Travel::left ? 0 : 1;  // travelling right shows the rider's right side
        for (const Place& p : kSidePlaces)
            out.joints.push_back(judged(joint_of(runs, p.landmark, p.left + right)));
    } else {
        for (const Place& p : kFrontalPlaces)
            out.joints.push_back(judged(joint_of(runs, p.landmark, p.left)));
    }
    for (const ProposedJoint& j : out.joints)
        out.mean_score += j.score / static_cast<double>(out.joints.size());
    out.rider_found = out.mean_score >= kNoRiderScore;
    return out;
}

Figure laid_figure(const Figure& figure, const PoseFrame& frame, const Body& body, const FigureErrors& errors,
                   Point head_top) {
    if (figure.view != View::side) return laid_frontal(figure, errors, head_top);
    Figure out = figure;
    std::vector<KnownJoint> known;
    for (const L l : posed_landmarks()) {
        if (stays(figure[l]) && figure[l].visibility == Visibility::seen)
            known.push_back({l, figure[l].at, figure[l].sd_px});
    }
    const auto pose = fit_pose(frame, body, known, head_top);
    if (!pose) return out;
    for (const L l : posed_landmarks()) {
        if (!stays(figure[l]))
            out[l] = placed((*pose)[l], Origin::laid, errors.of(Origin::laid, l) * pose->trunk_px);
    }
    return out;
}

Figure proposed_figure(const Figure& figure, const Proposal& proposal, const PoseFrame& frame,
                       const Body& body, const FigureErrors& errors, const JointOffsets& offsets,
                       Point head_top) {
    if (!proposal.rider_found) return figure;
    const Figure laid = laid_figure(figure, frame, body, errors, head_top);
    const bool side = figure.view == View::side;
    const L upper = side ? L::shoulder : L::left_shoulder, lower = side ? L::hip : L::left_hip;
    const double trunk = std::max(4.0, distance(laid[upper].at, laid[lower].at));
    const double sign = frame.travel == Travel::left ? -1 : 1;
    Figure with = figure;
    for (const ProposedJoint& j : proposal.joints) {
        if (!j.sure || stays(figure[j.landmark])) continue;
        // The heel that was clicked says better where the ankle is than a network that takes the horse's legs
        // for it.
        if (j.landmark == L::ankle && stays(figure[L::heel])) continue;
        const double sd = std::hypot(j.spread_px / 1.18, errors.of(Origin::proposed, j.landmark) * trunk);
        with[j.landmark] = placed(j.at, Origin::proposed, sd);
        if (const auto o = offsets.find(j.landmark); o != offsets.end()) {
            with[j.landmark].at.x += sign * o->second.f * trunk;
            with[j.landmark].at.y -= o->second.u * trunk;
        }
    }
    // Where the network doubts, the limbs between what it is sure of and what was clicked say where a joint
    // lies.
    std::vector<KnownJoint> known;
    for (const L l : posed_landmarks()) {
        if (side && with[l].visibility == Visibility::seen)
            known.push_back({l, with[l].at, std::max(with[l].sd_px, 0.01 * trunk)});
    }
    const auto pose = side ? fit_pose(frame, body, known, head_top) : std::nullopt;
    for (const L l : side ? posed_landmarks() : landmarks_of(figure.view)) {
        if (with[l].visibility != Visibility::absent || laid[l].visibility == Visibility::absent) continue;
        // Where the network doubts, the joint stays as it was laid; the leg follows what is sure.
        const bool doubted =
            std::ranges::any_of(proposal.joints, [&](const ProposedJoint& j) { return j.landmark == l; });
        const bool follows = !doubted || l == L::knee || l == L::ankle;
        with[l] = placed(pose && follows ? (*pose)[l] : laid[l].at, Origin::laid,
                         errors.of(Origin::laid, l) * trunk);
    }
    return with;
}

Figure confirmed(const Figure& figure, std::optional<Landmark> only) {
    Figure out = figure;
    for (const L l : landmarks_of(figure.view)) {
        Mark& mark = out[l];
        if (mark.visibility == Visibility::absent || mark.confirmed || (only && *only != l)) continue;
        const bool laid = mark.origin == Origin::laid;
        if ((laid || mark.origin == Origin::clicked) && !only) continue;
        mark.confirmed = true;
        if (laid) mark.sd_px = kLaidInPlaceSdTrunk * marked_trunk_px(figure);
    }
    return out;
}

}  // namespace aspen::core
