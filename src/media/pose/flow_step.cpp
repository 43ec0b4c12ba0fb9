#include "media/pose/flow_step.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>
#include <optional>
#include <set>

namespace aspen::media::flow {
namespace {

constexpr int kAcross = 5;                    // points of a cloud along each side
constexpr double kComesBackWithin = 0.8;      // px a step: farther off after going there and back is lost
constexpr double kLimbReach = 3.5;            // of the reach: how far along a limb the cloud lies
constexpr double kWide = 1.4, kNarrow = 0.8;  // of the reach: the flow's window around a joint in its
                                              // clothes, on a solid before the background
constexpr double kAgree = 1.2;  // px: farther off than this from what the others do counts little

float median(std::vector<float>& v) {
    const auto middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
    std::nth_element(v.begin(), middle, v.end());
    return *middle;
}

/// Where the cloud of a point lies: along its limbs, or all around when it has none.
std::vector<cv::Point2f> cloud_of(const Traveller& t, float reach) {
    std::vector<cv::Point2f> out;
    for (const cv::Point2f& end : t.tied_to) {
        const cv::Point2f along = end - t.at;
        const float length = std::hypot(along.x, along.y);
        if (length < 2) continue;
        const cv::Point2f unit = along / length, across(-unit.y, unit.x);
        const float far = std::min(0.9f * length, static_cast<float>(kLimbReach) * reach);
        for (int i = 0; i < 7; ++i) {
            for (int side = -1; side <= 1; ++side)
                out.push_back(t.at + unit * (far * static_cast<float>(i) / 6) +
                              across * (0.25f * reach * static_cast<float>(side)));
        }
    }
    if (!out.empty()) return out;
    for (int i = 0; i < kAcross * kAcross; ++i) {
        const float dx = (static_cast<float>(i % kAcross) / (kAcross - 1) - 0.5f) * 2,
                    dy = (static_cast<float>(i / kAcross) / (kAcross - 1) - 0.5f) * 2;
        out.push_back(t.at + cv::Point2f(dx, dy) * reach * 0.6f);
    }
    return out;
}

}  // namespace

cv::Mat grey_of(const Picture& picture) {
    const cv::Mat whole(picture.height, picture.width, CV_8UC4,
                        const_cast<std::uint8_t*>(picture.bgra.data()));
    cv::Mat grey;
    cv::cvtColor(whole, grey, cv::COLOR_BGRA2GRAY);
    return grey;
}

cv::Point2f Motion::apply(cv::Point2f p) const {
    const double x = p.x - from.x, y = p.y - from.y;
    return {static_cast<float>(a * x - b * y + to.x), static_cast<float>(b * x + a * y + to.y)};
}

Motion motion_of(const std::vector<cv::Point2f>& before, const std::vector<cv::Point2f>& after) {
    std::vector<float> dx, dy;
    for (std::size_t i = 0; i < before.size(); ++i)
        dx.push_back(after[i].x - before[i].x), dy.push_back(after[i].y - before[i].y);
    Motion m;
    m.to = cv::Point2d(median(dx), median(dy));
    std::vector<double> weight(before.size());
    for (int round = 0; round < 6; ++round) {
        double sum = 0, dot = 0, cross = 0, size = 0;
        cv::Point2d from, to;
        for (std::size_t i = 0; i < before.size(); ++i) {
            const double off = cv::norm(m.apply(before[i]) - after[i]) / kAgree;
            weight[i] = off < 1 ? (1 - off * off) * (1 - off * off) + 1e-6 : 1e-6;
            sum += weight[i];
            from += weight[i] * cv::Point2d(before[i]);
            to += weight[i] * cv::Point2d(after[i]);
        }
        m.from = from / sum;
        m.to = to / sum;
        for (std::size_t i = 0; i < before.size(); ++i) {
            const cv::Point2d p = cv::Point2d(before[i]) - m.from, q = cv::Point2d(after[i]) - m.to;
            dot += weight[i] * (p.x * q.x + p.y * q.y);
            cross += weight[i] * (p.x * q.y - p.y * q.x);
            size += weight[i] * (p.x * p.x + p.y * p.y);
        }
        // Few points close together say nothing of a turn.
        m.a = size > 40 ? std::clamp(dot / size, 0.95, 1.05) : 1;
        m.b = size > 40 ? std::clamp(cross / size, -0.2, 0.2) : 0;
    }
    std::vector<float> off;
    for (std::size_t i = 0; i < before.size(); ++i)
        off.push_back(static_cast<float>(cv::norm(m.apply(before[i]) - after[i])));
    m.scatter = median(off);
    return m;
}

namespace {

constexpr int kLevels = 3;

cv::Size window_of(double reach, double share) {
    const int window = std::clamp(static_cast<int>(reach * share) | 1, 7, 41);
    return {window, window};
}

/// One step of points from one picture to the next, with one size of window.
class Step {
  public:
    Step(const Pyramid& before, const Pyramid& after, double reach, double window_share)
        : before_(before),
          after_(after),
          reach_(static_cast<float>(reach)),
          window_(window_of(reach, window_share)) {}

    /// Moves points that belong together by the cloud of all of them. `as`: how what they hang on moved.
    void move(const std::vector<Traveller*>& together, const std::optional<cv::Point2f>& as) const {
        std::vector<cv::Point2f> start, there, back;
        for (const Traveller* t : together) {
            const auto cloud = cloud_of(*t, reach_);
            start.insert(start.end(), cloud.begin(), cloud.end());
        }
        std::vector<unsigned char> found, returned;
        std::vector<float> error;
        const cv::TermCriteria stop(cv::TermCriteria::COUNT + cv::TermCriteria::EPS, 30, 0.01);
        for (const cv::Point2f& p : start) there.push_back(as ? p + *as : p);
        back = start;
        // Both ways start from where the limb was seen to go: a background that passes by is not mistaken for
        // it.
        const int flags = as ? cv::OPTFLOW_USE_INITIAL_FLOW : 0;
        cv::calcOpticalFlowPyrLK(before_.levels, after_.levels, start, there, found, error, window_, kLevels,
                                 stop, flags);
        cv::calcOpticalFlowPyrLK(after_.levels, before_.levels, there, back, returned, error, window_,
                                 kLevels, stop, flags);
        const double free = together.front()->free * reach_;
        std::vector<cv::Point2f> kept, went;
        for (std::size_t i = 0; i < start.size(); ++i) {
            if (!found[i] || !returned[i] || cv::norm(back[i] - start[i]) > kComesBackWithin) continue;
            if (as && cv::norm(there[i] - start[i] - *as) > free) continue;
            kept.push_back(start[i]);
            went.push_back(there[i]);
        }
        const double share = static_cast<double>(kept.size()) / static_cast<double>(start.size());
        for (Traveller* t : together) t->least_share = std::min(t->least_share, share);
        if (kept.size() < 3) return;
        const Motion motion = motion_of(kept, went);
        for (Traveller* t : together) {
            t->at = motion.apply(t->at);
            for (cv::Point2f& end : t->tied_to) end = motion.apply(end);
            t->variance += 0.02 * 0.02 * reach_ * reach_ +
                           motion.scatter * motion.scatter / static_cast<double>(kept.size());
        }
    }

  private:
    const Pyramid &before_, &after_;
    float reach_;
    cv::Size window_;
};

}  // namespace

Pyramid pyramid_of(const cv::Mat& grey, double reach) {
    Pyramid out{grey.size(), {}};
    // Wide enough at its edges for both windows: one is built for a picture, not one for each window and way.
    cv::buildOpticalFlowPyramid(grey, out.levels, window_of(reach, kWide), kLevels);
    return out;
}

void step_all(std::vector<Traveller>& travellers, const Pyramid& before, const Pyramid& after, double reach) {
    const Step wide(before, after, reach, kWide), narrow(before, after, reach, kNarrow);
    // Groups that move as one; a point alone is a group too.
    std::vector<std::vector<Traveller*>> groups;
    std::map<int, std::size_t> solids;
    std::map<int, cv::Point2f> moved;  // by name
    std::set<int> waiting;
    for (Traveller& t : travellers) {
        if (t.name != 0) waiting.insert(t.name);
        const auto [at, fresh] = solids.emplace(t.solid, groups.size());
        if (t.solid == 0 || fresh)
            groups.push_back({&t});
        else
            groups[at->second].push_back(&t);
    }
    const auto parent = [](const std::vector<Traveller*>& group) {
        for (const Traveller* t : group) {
            const bool own =
                std::ranges::any_of(group, [&](const Traveller* o) { return o->name == t->hangs_on; });
            if (t->hangs_on != 0 && !own) return t->hangs_on;
        }
        return 0;
    };
    while (!groups.empty()) {
        // What hangs on nothing that still has to move; in a ring, which nobody should make, the first.
        auto next = std::ranges::find_if(groups, [&](const auto& g) { return !waiting.contains(parent(g)); });
        if (next == groups.end()) next = groups.begin();
        const std::vector<Traveller*> group = *next;
        groups.erase(next);
        const auto on = moved.find(parent(group));
        std::vector<cv::Point2f> stood;
        for (const Traveller* t : group) stood.push_back(t->at);
        (group.front()->solid != 0 ? narrow : wide)
            .move(group, on == moved.end() ? std::nullopt : std::optional(on->second));
        for (std::size_t i = 0; i < group.size(); ++i) {
            if (group[i]->sure()) moved[group[i]->name] = group[i]->at - stood[i];
            waiting.erase(group[i]->name);
        }
    }
}

Background background_step(const cv::Mat& before, const cv::Mat& after, const cv::Rect& without) {
    constexpr int kPoints = 120;
    cv::Mat mask(before.size(), CV_8U, cv::Scalar(255));
    cv::rectangle(mask, without & cv::Rect(0, 0, before.cols, before.rows), cv::Scalar(0), cv::FILLED);
    std::vector<cv::Point2f> start, there, back;
    cv::goodFeaturesToTrack(before, start, kPoints, 0.01, 0.02 * before.cols, mask);
    Background out;
    if (start.size() < 6) return out;
    std::vector<unsigned char> found, returned;
    std::vector<float> error;
    cv::calcOpticalFlowPyrLK(before, after, start, there, found, error, cv::Size(21, 21), kLevels);
    cv::calcOpticalFlowPyrLK(after, before, there, back, returned, error, cv::Size(21, 21), kLevels);
    for (std::size_t i = 0; i < start.size(); ++i) {
        if (!found[i] || !returned[i] || cv::norm(back[i] - start[i]) > kComesBackWithin) continue;
        out.before.push_back(start[i]);
        out.after.push_back(there[i]);
    }
    return out;
}

}  // namespace aspen::media::flow
