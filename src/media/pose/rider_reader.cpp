#include "media/pose/rider_reader.hpp"

#include <algorithm>
#include <cmath>
#include <future>
#include <map>
#include <opencv2/imgproc.hpp>
#include <optional>
#include <utility>

#include "media/pose/camera_reader.hpp"
#include "media/pose/flow_step.hpp"
#include "media/pose/horse_outline.hpp"
#include "media/pose/horse_strip.hpp"
#include "media/pose/rider_finder.hpp"
#include "media/pose/rider_strip.hpp"

namespace aspen::media {
namespace {

using core::Point;
using strip::kJoints;
using L = core::Landmark;

/// The network looks this often, and loses a rider that it did not see so many times in a row.
constexpr double kLookEveryS = 0.25;
constexpr int kMissedAtMost = 2;
/// Pictures are shrunk until the trunk is as long as this: surfaces are followed well enough there.
constexpr double kTrunkInCut = 72;
// The cut around the rider, trunk lengths from the hip.
constexpr double kCutAcross = 1.8, kCutAbove = 2.1, kCutBelow = 2.4;
/// Frames read at once on the way back.
constexpr int kReadBack = 24;
constexpr std::size_t kFramesAtOnce = 400, kOverlap = 30;
constexpr double kSmallestTrunkPx = 8;
// A sight that is this far off, or of this much another size, is of somebody else; trunk lengths.
constexpr double kAnotherAt = 1.0, kAnotherSize = 1.6;
constexpr double kTrunkInertia = 0.8;
/// An end of a limb of which its network is less sure than this was not seen.
constexpr double kEndScore = 0.5;

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
    Walk(VideoReader& reader, const RiderNetworks& networks, core::Travel travel, const ReadWith& with)
        : reader_(reader), networks_(networks), travel_(travel), with_(with) {
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
        first_trunk_ = out.trunk;
        shrunk_ = std::min(1.0, kTrunkInCut / out.trunk);
        size_ = {static_cast<int>(std::lround(2 * kCutAcross * out.trunk * shrunk_)),
                 static_cast<int>(std::lround((kCutAbove + kCutBelow) * out.trunk * shrunk_))};
        look(out);
        collect(out);
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
        if (looks_at(now.frame)) {
            collect(now);
            look(now);
        }
        return now.missed < kMissedAtMost;
    }
    /// Waits for the network's last look and takes what it saw into account.
    void collect(Standing& now) {
        if (!pending_) return;
        const Looking seen = std::move(*pending_);
        pending_.reset();
        take(now, seen, pending_run_.get());
    }

    /// What was gathered of the frame one stands on; the network's sights come later.
    strip::Frame gathered(const Standing& now) {
        if (!cut_ || cut_frame_ != now.frame) cut_ = cut(now), cut_frame_ = now.frame;
        return {*cut_, horse_cut(now), now.carried, now.trunk, {}};
    }
    /// What was seen by frame since it was asked for last.
    std::vector<std::pair<int, std::vector<strip::Sight>>> sights() { return std::exchange(sights_, {}); }

    /// The whole frame one stands on, in grey, and how far it is shrunk.
    const cv::Mat& picture(const Standing& now) { return kept(now.frame).grey; }
    double shrunk(const Standing& now) { return kept(now.frame).shrunk; }
    const std::atomic<bool>* stop() const { return with_.stop; }
    /// Frames from one look of the networks to the next.
    int look_every() const { return every_; }

  private:
    /// A frame as it is followed in, and whole where the network looks.
    struct Kept {
        cv::Mat grey;
        double shrunk = 1;
        std::optional<Picture> whole;
    };
    bool looks_at(int frame) const {
        return frame % every_ == 0 || frame == 0 || frame + 1 == reader_.facts().frames;
    }
    /// Backwards a block is read at once, forwards: a film cannot be decoded back.
    const Kept& kept(int frame) {
        if (const auto at = kept_.find(frame); at != kept_.end()) return at->second;
        const bool back = !kept_.empty() && frame + 1 == kept_.begin()->first;
        const int from = back ? std::max(0, frame - kReadBack + 1) : frame;
        kept_.clear();
        for (int n = from; n <= frame; ++n) {
            if (with_.stop && *with_.stop) throw ReadCancelled{};
            Kept& k = kept_[n];
            const ClipFacts& facts = reader_.facts();
            const Picture picture = reader_.picture(n, static_cast<int>(std::lround(facts.width * shrunk_)),
                                                    static_cast<int>(std::lround(facts.height * shrunk_)));
            k.grey = flow::grey_of(picture);
            // The reader keeps the clip's shape: what it gave is what counts.
            k.shrunk = static_cast<double>(picture.width) / facts.width;
            if (looks_at(n)) k.whole = reader_.picture(n);
        }
        return kept_.at(frame);
    }
    strip::Cut cut(const Standing& now) {
        const Kept& here = kept(now.frame);
        const double shrunk = here.shrunk;
        const Point hip = now.at[kHip];
        strip::Cut out;
        out.shrunk = shrunk;
        const cv::Point corner(static_cast<int>(std::lround((hip.x - kCutAcross * now.trunk) * shrunk)),
                               static_cast<int>(std::lround((hip.y - kCutAbove * now.trunk) * shrunk)));
        out.origin = corner;
        out.grey = part_of(here.grey, {corner, size_});
        return out;
    }

    /// The same with the horse in it, smaller; about the knee, which goes with the horse also in a rising
    /// trot.
    strip::Cut horse_cut(const Standing& now) {
        const Kept& here = kept(now.frame);
        const double smaller = horse::kTrunkPx / (first_trunk_ * here.shrunk);
        const Point knee = now.at[place_of(L::knee)];
        const double unit = horse::kTrunkPx / smaller;  // of the picture at hand
        const cv::Point corner(
            static_cast<int>(std::lround(knee.x * here.shrunk - horse::kShownAcross * unit)),
            static_cast<int>(std::lround(knee.y * here.shrunk - horse::kShownAbove * unit)));
        const cv::Size size(static_cast<int>(std::lround(2 * horse::kShownAcross * unit)),
                            static_cast<int>(std::lround((horse::kShownAbove + horse::kShownBelow) * unit)));
        strip::Cut out;
        cv::resize(part_of(here.grey, {corner, size}), out.grey,
                   {static_cast<int>(2 * horse::kShownAcross * horse::kTrunkPx),
                    static_cast<int>((horse::kShownAbove + horse::kShownBelow) * horse::kTrunkPx)},
                   0, 0, cv::INTER_AREA);
        const double share = static_cast<double>(out.grey.cols) / size.width;
        out.shrunk = here.shrunk * share;
        out.origin = {corner.x * share, corner.y * share};
        return out;
    }
    /// A part of a picture; where the picture ends its edge goes on.
    static cv::Mat part_of(const cv::Mat& picture, const cv::Rect& wanted) {
        const cv::Rect there = wanted & cv::Rect(0, 0, picture.cols, picture.rows);
        cv::Mat out;
        if (there.area() == 0) return cv::Mat::zeros(wanted.size(), CV_8U);
        cv::copyMakeBorder(picture(there), out, there.y - wanted.y, wanted.br().y - there.br().y,
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

    struct Looking {
        int frame = 0;
        Point carried;
    };
    /// What both networks saw of a frame.
    struct Look {
        core::NetworkRun joints;
        std::optional<LimbEnds> ends;
    };
    /// Sends the networks to look at the frame one stands on, where the rider is expected. It looks while the
    /// next frames are read: one thread each.
    void look(const Standing& now) {
        const core::Crop crop = crop_round(now.at[kEar], now.at[kHip], now.trunk);
        const Kept& here = kept(now.frame);
        // Plain and mirrored in turns: what one sees askew the next one does not.
        const bool mirrored = now.frame / every_ % 2 == 1;
        // The limbs' ends are looked at half as often, for the time's sake.
        const bool ends_too = networks_.ends && now.frame / every_ % 2 == 0;
        pending_ = {now.frame, now.carried};
        pending_run_ =
            std::async(std::launch::async, [this, crop, mirrored, ends_too, frame = now.frame,
                                            picture = here.whole ? *here.whole : reader_.picture(now.frame)] {
                Look out{networks_.joints.run(picture, crop.centre, crop.side, mirrored), {}};
                if (ends_too)
                    out.ends = networks_.ends->run(picture, crop, travel_, frame / (2 * every_) % 2 == 1);
                return out;
            });
    }
    void take(Standing& now, const Looking& seen, const Look& look) {
        const core::Proposal said =
            core::combine(std::span(&look.joints, 1), core::View::side, travel_, now.trunk);
        // The rider went on meanwhile.
        const Point since{now.carried.x - seen.carried.x, now.carried.y - seen.carried.y};
        strip::Places at = now.at;
        for (const core::ProposedJoint& j : said.joints)
            at[place_of(j.landmark)] = {j.at.x + since.x, j.at.y + since.y};
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
        std::vector<strip::Sight>& sights = sights_.emplace_back().second;
        sights_.back().first = seen.frame;
        for (const core::ProposedJoint& j : said.joints)
            sights.push_back({place_of(j.landmark), j.at, j.score});
        if (look.ends) take_ends(*look.ends, sights);
    }
    static void take_ends(const LimbEnds& ends, std::vector<strip::Sight>& sights) {
        const auto take = [&](L landmark, const SeenEnd& end) {
            sights.push_back({place_of(landmark), end.at, end.score});
        };
        if (ends.knuckle.score >= kEndScore) take(L::knuckle, ends.knuckle);
        // A sole lies between heel and toe: one without the other is a place on the boot.
        if (std::min(ends.heel.score, ends.toe.score) < kEndScore) return;
        take(L::heel, ends.heel);
        take(L::toe, ends.toe);
    }

    VideoReader& reader_;
    RiderNetworks networks_;
    core::Travel travel_;
    const ReadWith& with_;
    int every_ = 10;
    double shrunk_ = 1, first_trunk_ = 1;
    cv::Size size_;
    std::map<int, Kept> kept_;
    std::optional<strip::Cut> cut_;
    int cut_frame_ = -1;
    std::vector<std::pair<int, std::vector<strip::Sight>>> sights_;
    std::optional<Looking> pending_;
    std::future<Look> pending_run_;
};

using JointsOfFrame = std::vector<std::optional<core::Observed>>;

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
    void put(const strip::Strip& strip, const CameraSteps& camera, int look_every,
             const std::atomic<bool>* stop) {
        auto read = strip::read(strip, stop);
        if (read.empty()) return;
        read.merge(strip::read_horse(strip, read, camera, look_every, stop));
        for (std::size_t f = 0; f < strip.frames.size(); ++f) {
            JointsOfFrame now(kJoints.size());
            for (const auto& [joint, frames] : read) now[joint] = frames[f];
            const int frame = strip.first + static_cast<int>(f);
            const auto [at, fresh] = frames_.emplace(frame, now);
            if (fresh) continue;
            const double share = std::min(1.0, static_cast<double>(f) / kOverlap);
            for (std::size_t j = 0; j < now.size(); ++j) {
                std::optional<core::Observed>& o = at->second[j];
                if (!o) o = now[j];
                if (!o || !now[j]) continue;
                o->at.x += share * (now[j]->at.x - o->at.x);
                o->at.y += share * (now[j]->at.y - o->at.y);
                o->sd_px = std::max(o->sd_px, now[j]->sd_px);
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

void put_sights(strip::Strip& strip, Walk& walk) {
    for (const auto& [frame, sights] : walk.sights()) {
        const int at = frame - strip.first;
        if (at >= 0 && at < static_cast<int>(strip.frames.size()))
            strip.frames[static_cast<std::size_t>(at)].sights = sights;
    }
}

/// Forwards from a standing to the clip's end or until the rider is lost, a strip after the other.
void read_on(Walk& walk, Standing now, int last, core::Travel travel, Done& done, CameraSteps& camera,
             const std::function<void(int)>& at) {
    strip::Strip strip{now.frame, travel, {}};
    CameraReader background({walk.shrunk(now), now.trunk}, camera);
    const auto gather = [&] {
        strip.frames.push_back(walk.gathered(now));
        background.take(now.frame, walk.picture(now), {now.at.begin(), now.at.end()});
    };
    gather();
    bool lost = false;
    // Up to what is there already, if anything.
    while (!lost && now.frame < last && !done.has(now.frame + 1)) {
        lost = !walk.step(now, 1);
        if (!lost) gather();
        put_sights(strip, walk);
        at(now.frame);
        if (strip.frames.size() < kFramesAtOnce) continue;
        done.put(strip, camera, walk.look_every(), walk.stop());
        const auto rest = static_cast<std::ptrdiff_t>(strip.frames.size() - kOverlap);
        strip.frames.erase(strip.frames.begin(), strip.frames.begin() + rest);
        strip.first += static_cast<int>(rest);
    }
    walk.collect(now);
    put_sights(strip, walk);
    if (lost || now.missed > 0) cut_back(strip);
    if (!strip.frames.empty()) done.put(strip, camera, walk.look_every(), walk.stop());
}

}  // namespace

std::span<const core::Landmark> read_joints() { return kJoints; }

void read_rider(VideoReader& reader, const RiderNetworks& networks, const std::vector<RiderAnchor>& found,
                std::vector<ReadRun>& runs, CameraSteps& camera, const ReadWith& with) {
    Done done(runs);
    const int last = reader.facts().frames - 1;
    const auto progress = [&](int frame) {
        if (with.progress) with.progress(static_cast<double>(frame) / std::max(1, last));
    };
    for (const RiderAnchor& anchor : found) {
        if (done.has(anchor.frame)) continue;
        Walk walk(reader, networks, anchor.figure.travel, with);
        std::optional<Standing> now = walk.begin(anchor);
        if (!now || now->missed > 0) continue;
        // Back as far as there is a rider and nothing read, then everything forwards in one go.
        Standing first = *now;
        while (first.frame > 0 && !done.has(first.frame - 1)) {
            Standing next = first;
            if (!walk.step(next, -1)) break;
            first = next;
        }
        walk.collect(first);
        if (first.missed > 0) first = *now;
        first.carried = {};
        read_on(walk, first, last, anchor.figure.travel, done, camera, progress);
    }
    runs = done.runs();
}

}  // namespace aspen::media
