#include "core/proposal/second_look.hpp"

#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

#include "core/body/geometry.hpp"

namespace aspen::core {
namespace {

using L = Landmark;

// Trunk lengths.
constexpr double kApartBody = 0.06, kApartWithers = 0.05, kApartEndsOfHorse = 0.12, kAnotherRider = 0.4;
constexpr double kReadersErrors = 3, kReadersErrorsAtEnds = 1.5;

bool is_rough(L l) { return l == L::withers || l == L::poll || l == L::croup; }

/// Joints that the reader sees as well as they are followed; heel, toe and knuckle it does not.
bool is_found_again(L l) {
    return l == L::ear || l == L::shoulder || l == L::elbow || l == L::wrist || l == L::hip || l == L::knee ||
           l == L::ankle;
}

/// A joint's way as the reader sees it, and how far the marks lie beside it.
struct ReadWay {
    std::map<int, const TrackPoint*> seen;
    std::map<int, Point> beside;  ///< mark minus read, by frame

    std::optional<Point> bent(int frame) const {
        const auto at = seen.find(frame);
        if (at == seen.end() || beside.empty()) return std::nullopt;
        const Point p = at->second->at;
        const auto after = beside.lower_bound(frame);
        if (after == beside.begin()) return Point{p.x + after->second.x, p.y + after->second.y};
        const auto before = std::prev(after);
        if (after == beside.end()) return Point{p.x + before->second.x, p.y + before->second.y};
        const double share = static_cast<double>(frame - before->first) / (after->first - before->first);
        return Point{p.x + std::lerp(before->second.x, after->second.x, share),
                     p.y + std::lerp(before->second.y, after->second.y, share)};
    }
};

/// By joint; empty where the reader's rider is somebody else.
std::map<L, ReadWay> ways_of(const Tracks& read, const std::map<int, Figure>& marked, double trunk_px) {
    std::map<L, ReadWay> out;
    std::map<int, std::vector<double>> off;  // of the body's joints, by mark
    for (const TrackPoint& p : read.points) {
        if (p.hidden) continue;
        ReadWay& way = out[p.landmark];
        way.seen[p.frame] = &p;
        const auto mark = marked.find(p.frame);
        if (mark == marked.end() || mark->second[p.landmark].visibility != Visibility::seen) continue;
        const Point at = mark->second[p.landmark].at;
        way.beside[p.frame] = {at.x - p.at.x, at.y - p.at.y};
        if (is_found_again(p.landmark)) off[p.frame].push_back(distance(at, p.at));
    }
    for (auto& [frame, distances] : off) {
        const auto middle = distances.begin() + static_cast<std::ptrdiff_t>(distances.size() / 2);
        std::ranges::nth_element(distances, middle);
        if (*middle > kAnotherRider * trunk_px) return {};
    }
    return out;
}

double apart_at_most(L l, double sd_px, double trunk_px) {
    if (l == L::withers) return kApartWithers * trunk_px;
    if (is_rough(l)) return kApartEndsOfHorse * trunk_px;
    return std::max(kApartBody * trunk_px,
                    (is_found_again(l) ? kReadersErrors : kReadersErrorsAtEnds) * sd_px);
}

}  // namespace

Tracks held_against_the_reader(Tracks followed, const Tracks& read, const std::map<int, Figure>& marked,
                               double trunk_px) {
    const auto ways = ways_of(read, marked, trunk_px);
    for (TrackPoint& p : followed.points) {
        const auto way = ways.find(p.landmark);
        if (way == ways.end() || marked.contains(p.frame)) continue;
        const auto there = way->second.bent(p.frame);
        if (!there) continue;
        const TrackPoint& seen = *way->second.seen.at(p.frame);
        if (!p.hidden) p.hidden = distance(p.at, *there) > apart_at_most(p.landmark, seen.sd_px, trunk_px);
        if (!p.hidden || !is_found_again(p.landmark)) continue;
        p.at = *there;
        p.hidden = false;
        p.sd_px = seen.sd_px;
        p.confidence = seen.confidence;
    }
    return followed;
}

}  // namespace aspen::core
