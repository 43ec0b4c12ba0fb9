#include "media/pose/rider_reader.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "media/pose/flow_step.hpp"
#include "media/pose/rider_finder.hpp"
#include "media/pose/rider_strip.hpp"
#include "media/pose/to_carry.hpp"

namespace aspen::media {
namespace {

using core::Point;
using strip::kJoints;
using L = core::Landmark;

/// The network looks this often, and loses a rider that it did not see so many times in a row.
constexpr double kLookEveryS = 0.2;
constexpr int kMissedAtMost = 2;
/// Pictures are shrunk until the trunk is as long as this: surfaces are followed well enough there.
constexpr double kTrunkInCut = 72;
// The cut around the rider, trunk lengths from the hip.
constexpr double kCutAcross = 1.8, kCutAbove = 2.1, kCutBelow = 2.4;
constexpr std::size_t kFramesAtOnce = 480, kOverlap = 30;
constexpr double kSmallestTrunkPx = 8;
// A sight that is this far off, or of this much another size, is of somebody else; trunk lengths.
constexpr double kAnotherAt = 1.0, kAnotherSize = 1.6;
constexpr double kTrunkInertia = 0.8;

using strip::place_of;
constexpr std::size_t kEar = place_of(L::ear), kShoulder = place_of(L::shoulder), kElbow = place_of(L::elbow),
                      kHip = place_of(L::hip);

/// A rider on the way from frame to frame.
struct Standing {
    int frame = 0;
    strip::Places at{};
    double trunk = 0;
    Point carried{};
    int missed = 0;

    void shift(Point by) {
        for (Point& p : at) p.x += by.x, p.y += by.y;
        carried.x += by.x, carried.y += by.y;
    }
};

class Walk {
  public:
    Walk(VideoReader& reader, PoseNetwork& network, core::Travel travel, const ReadWith& with)
        : reader_(reader), network_(network), travel_(travel), with_(with) {
        const ClipFacts& facts = reader.facts();
        const double fps = facts.average_fps > 0 ? facts.average_fps : 30;
        every_ = std::max(1, static_cast<int>(std::lround(fps * kLookEveryS)));
    }

    /// Where the rider stands on an anchor's frame.
    std::optional<Standing> begin(const RiderAnchor& anchor) {
        const core::Figure& figure = anchor.figure;
        for (const L l : {L::shoulder, L::hip}) {
            if (figure[l].visibility != core::Visibility::seen) return std::nullopt;
        }
        Standing out{anchor.frame};
        out.trunk = core::distance(figure[L::shoulder].at, figure[L::hip].at);
        if (out.trunk < kSmallestTrunkPx) return std::nullopt;
        const Point shoulder = figure[L::shoulder].at;
        for (std::size_t j = 0; j < kJoints.size(); ++j) {
            const core::Mark& m = figure[kJoints[j]];
            out.at[j] = m.visibility == core::Visibility::seen ? m.at : shoulder;
        }
        if (figure[L::ear].visibility != core::Visibility::seen)
            out.at[kEar] = {shoulder.x, shoulder.y - 0.5 * out.trunk};
        shrunk_ = std::min(1.0, kTrunkInCut / out.trunk);
        size_ = {static_cast<int>(std::lround(2 * kCutAcross * out.trunk * shrunk_)),
                 static_cast<int>(std::lround((kCutAbove + kCutBelow) * out.trunk * shrunk_))};
        look(out);
        return out;
    }

    /// To the next frame in a direction; false where the rider was lost on it.
    bool step(Standing& now, int way) {
        if (with_.stop && *with_.stop) throw ReadCancelled{};
        if (!cut_ || cut_frame_ != now.frame) cut_ = cut(now);
        const strip::Cut before = *cut_;
        now.frame += way;
        strip::Cut after = cut(now);
        now.shift(common_step(now, before, after));
        cut_ = std::move(after);
        cut_frame_ = now.frame;
        sights_.clear();
        const bool last = now.frame == 0 || now.frame + 1 == reader_.facts().frames;
        if (now.frame % every_ == 0 || last) look(now);
        return now.missed < kMissedAtMost;
    }

    /// What was gathered of the frame one stands on.
    strip::Frame gathered(const Standing& now) {
        if (!cut_ || cut_frame_ != now.frame) cut_ = cut(now), cut_frame_ = now.frame, sights_.clear();
        return {*cut_, now.carried, now.trunk, sights_};
    }

  private:
    strip::Cut cut(const Standing& now) {
        const ClipFacts& facts = reader_.facts();
        const Picture picture =
            shrunk_ < 1 ? reader_.picture(now.frame, static_cast<int>(std::lround(facts.width * shrunk_)),
                                          static_cast<int>(std::lround(facts.height * shrunk_)))
                        : reader_.picture(now.frame);
        // The reader keeps the clip's shape: what it gave is what counts.
        const double shrunk = static_cast<double>(picture.width) / facts.width;
        const cv::Mat whole(picture.height, picture.width, CV_8UC4,
                            const_cast<std::uint8_t*>(picture.bgra.data()));
        const Point hip = now.at[kHip];
        strip::Cut out;
        out.shrunk = shrunk;
        out.origin = {static_cast<int>(std::lround((hip.x - kCutAcross * now.trunk) * shrunk)),
                      static_cast<int>(std::lround((hip.y - kCutAbove * now.trunk) * shrunk))};
        const cv::Rect wanted(out.origin, size_), there = wanted & cv::Rect(0, 0, whole.cols, whole.rows);
        if (there.area() == 0) {
            out.grey = cv::Mat::zeros(size_, CV_8U);
            return out;
        }
        cv::Mat grey;
        cv::cvtColor(whole(there), grey, cv::COLOR_BGRA2GRAY);
        cv::copyMakeBorder(grey, out.grey, there.y - wanted.y, wanted.br().y - there.br().y,
                           there.x - wanted.x, wanted.br().x - there.br().x, cv::BORDER_REPLICATE);
        return out;
    }

    /// How the trunk as a whole moved between two cuts: the middle one of its parts.
    Point common_step(const Standing& now, const strip::Cut& before, const strip::Cut& after) const {
        const double reach = flow::reach_of(now.trunk * before.shrunk);
        std::vector<flow::Traveller> travellers;
        const Point middle{(now.at[kShoulder].x + now.at[kHip].x) / 2,
                           (now.at[kShoulder].y + now.at[kHip].y) / 2};
        for (const Point& p : {now.at[kEar], now.at[kShoulder], now.at[kElbow], now.at[kHip], middle})
            travellers.push_back({before.small(p), {}});
        flow::step_all(travellers, flow::pyramid_of(before.grey, reach), flow::pyramid_of(after.grey, reach),
                       reach);
        std::vector<double> x, y;
        std::size_t k = 0;
        for (const Point& p : {now.at[kEar], now.at[kShoulder], now.at[kElbow], now.at[kHip], middle}) {
            const flow::Traveller& t = travellers[k++];
            if (!t.sure()) continue;
            const Point to = after.whole(t.at);
            x.push_back(to.x - p.x);
            y.push_back(to.y - p.y);
        }
        if (x.empty()) return {0, 0};
        const auto of = [](std::vector<double>& v) {
            std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
            return v[v.size() / 2];
        };
        return {of(x), of(y)};
    }

    /// The network's look at the frame one stands on, where the rider is expected.
    void look(Standing& now) {
        sights_.clear();
        const core::Crop crop = crop_round(now.at[kEar], now.at[kHip], now.trunk);
        const Picture picture = reader_.picture(now.frame);
        // Plain and mirrored in turns: what one sees askew the next one does not.
        const core::NetworkRun run =
            network_.run(picture, crop.centre, crop.side, now.frame / every_ % 2 == 1);
        const core::Proposal said = core::combine(std::span(&run, 1), core::View::side, travel_, now.trunk);
        strip::Places at = now.at;
        for (const core::ProposedJoint& j : said.joints) at[place_of(j.landmark)] = j.at;
        const double trunk = core::distance(at[kShoulder], at[kHip]);
        const bool same = core::distance(at[kShoulder], now.at[kShoulder]) < kAnotherAt * now.trunk &&
                          trunk < kAnotherSize * now.trunk && now.trunk < kAnotherSize * trunk;
        if (!said.rider_found || !same) {
            ++now.missed;
            return;
        }
        now.missed = 0;
        now.at = at;
        now.trunk = kTrunkInertia * now.trunk + (1 - kTrunkInertia) * trunk;
        strip::Sight& sight = sights_.emplace_back();
        for (const core::ProposedJoint& j : said.joints) {
            sight.at[place_of(j.landmark)] = j.at;
            sight.score[place_of(j.landmark)] = j.score;
        }
    }

    VideoReader& reader_;
    PoseNetwork& network_;
    core::Travel travel_;
    const ReadWith& with_;
    int every_ = 10;
    double shrunk_ = 1;
    cv::Size size_;
    std::optional<strip::Cut> cut_;
    int cut_frame_ = -1;
    std::vector<strip::Sight> sights_;
};

using JointsOfFrame = std::vector<core::Observed>;

/// All that was read so far, by frame; where strips overlap the later one fades in.
class Done {
  public:
    explicit Done(const std::vector<ReadRun>& runs) {
        for (const ReadRun& run : runs) {
            for (std::size_t f = 0; f < run.joints.front().size(); ++f) {
                JointsOfFrame& now = frames_[run.first + static_cast<int>(f)];
                for (const auto& joint : run.joints) now.push_back(joint[f]);
            }
        }
    }
    void put(const strip::Strip& strip) {
        const auto read = strip::read(strip);
        if (read.empty()) return;
        for (std::size_t f = 0; f < strip.frames.size(); ++f) {
            JointsOfFrame now;
            for (const auto& joint : read) now.push_back(joint[f]);
            const int frame = strip.first + static_cast<int>(f);
            const auto [at, fresh] = frames_.emplace(frame, now);
            if (fresh) continue;
            const double share = std::min(1.0, static_cast<double>(f) / kOverlap);
            for (std::size_t j = 0; j < now.size(); ++j) {
                core::Observed& o = at->second[j];
                o.at.x += share * (now[j].at.x - o.at.x);
                o.at.y += share * (now[j].at.y - o.at.y);
                o.sd_px = std::max(o.sd_px, now[j].sd_px);
            }
        }
    }
    bool has(int frame) const { return frames_.contains(frame); }
    std::vector<ReadRun> runs() const {
        std::vector<ReadRun> out;
        for (const auto& [frame, joints] : frames_) {
            if (out.empty() || out.back().last() + 1 != frame)
                out.push_back({frame, std::vector<JointsOfFrame>(joints.size())});
            for (std::size_t j = 0; j < joints.size(); ++j) out.back().joints[j].push_back(joints[j]);
        }
        return out;
    }

  private:
    std::map<int, JointsOfFrame> frames_;
};

/// Frames after the last look say nothing surely: the rider may have been gone already.
void cut_back(strip::Strip& strip) {
    while (!strip.frames.empty() && strip.frames.back().sights.empty()) strip.frames.pop_back();
}

/// Forwards from a standing to the clip's end or until the rider is lost, a strip after the other.
void read_on(Walk& walk, Standing now, int last, core::Travel travel, Done& done,
             const std::function<void(int)>& at) {
    strip::Strip strip{now.frame, travel, {}};
    strip.frames.push_back(walk.gathered(now));
    // Up to what is there already, if anything.
    while (now.frame < last && !done.has(now.frame + 1)) {
        if (!walk.step(now, 1)) {
            cut_back(strip);
            break;
        }
        strip.frames.push_back(walk.gathered(now));
        at(now.frame);
        if (strip.frames.size() < kFramesAtOnce) continue;
        done.put(strip);
        const auto rest = static_cast<std::ptrdiff_t>(strip.frames.size() - kOverlap);
        strip.frames.erase(strip.frames.begin(), strip.frames.begin() + rest);
        strip.first += static_cast<int>(rest);
    }
    if (!strip.frames.empty()) done.put(strip);
}

}  // namespace

std::span<const core::Landmark> read_joints() { return kJoints; }

void read_rider(VideoReader& reader, PoseNetwork& network, const std::vector<RiderAnchor>& found,
                std::vector<ReadRun>& runs, const ReadWith& with) {
    Done done(runs);
    const int last = reader.facts().frames - 1;
    const auto progress = [&](int frame) {
        if (with.progress) with.progress(static_cast<double>(frame) / std::max(1, last));
    };
    for (const RiderAnchor& anchor : found) {
        if (done.has(anchor.frame)) continue;
        Walk walk(reader, network, anchor.figure.travel, with);
        std::optional<Standing> now = walk.begin(anchor);
        if (!now || now->missed > 0) continue;
        // Back as far as there is a rider and nothing read, then everything forwards in one go.
        Standing first = *now;
        while (first.frame > 0 && !done.has(first.frame - 1)) {
            Standing next = first;
            if (!walk.step(next, -1)) break;
            first = next;
        }
        if (first.frame != anchor.frame && first.missed > 0) first = *now;
        first.carried = {};
        read_on(walk, first, last, anchor.figure.travel, done, progress);
    }
    runs = done.runs();
}

}  // namespace aspen::media
