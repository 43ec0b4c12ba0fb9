#include "media/pose/face_follower.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "media/pose/grey_pictures.hpp"

namespace aspen::media {
namespace {

constexpr double kMostError = 0.2;    // of the face's shorter half, beyond which a place is not sure
constexpr double kAgreeWithin = 0.5;  // likewise, of two ways that meet
constexpr double kTrunkOfFace =
    2.7;  // a trunk is so many halves of the ellipse that covers a face (from memory)
constexpr int kSolid = 1;
constexpr double kLeastLike =
    0.5;  // of 1, the same picture; turned heads stay above it (tried on the simulator)

FollowPass pass_from(const FaceAnchor& a, int way) {
    FollowPass out;
    out.anchor.frame = a.frame;
    for (std::size_t i = 0; i < a.points.size(); ++i) {
        PointToCarry p;
        p.at = a.points[i];
        p.solid = kSolid;
        out.anchor.points.emplace_back(p);
    }
    out.way = way;
    return out;
}

/// The anchor's ellipse as its points were carried; nothing where that is not sure.
std::optional<core::Ellipse> face_at(const FollowPass& pass, const FaceAnchor& anchor, int frame) {
    if (frame == anchor.frame) return anchor.face;
    if (!pass.covers(frame)) return std::nullopt;
    double dx = 0, dy = 0, error = 0;
    int n = 0;
    for (std::size_t i = 0; i < anchor.points.size(); ++i) {
        const auto p = pass.at(frame, i);
        if (!p || !p->sure) continue;
        dx += p->at.x - anchor.points[i].x;
        dy += p->at.y - anchor.points[i].y;
        error = std::max(error, p->sd_px);
        ++n;
    }
    const bool most = 2 * n > static_cast<int>(anchor.points.size());
    if (!most || error > kMostError * anchor.face.short_half) return std::nullopt;
    core::Ellipse out = anchor.face;
    out.centre = {out.centre.x + dx / n, out.centre.y + dy / n};
    out.long_half += error;
    out.short_half += error;
    return out;
}

/// How a face looks, in so few points that its own small movements do not count; mean 0, length 1.
class Look {
  public:
    static constexpr int kSide = 16;
    Look(const cv::Mat& grey, double scale, const core::Ellipse& face) {
        const double half = face.short_half * kPartOfFace;
        double mean = 0;
        for (int j = 0; j < kSide; ++j) {
            for (int i = 0; i < kSide; ++i) {
                const double x = face.centre.x + half * (2.0 * (i + 0.5) / kSide - 1);
                const double y = face.centre.y + half * (2.0 * (j + 0.5) / kSide - 1);
                at_[static_cast<std::size_t>(j * kSide + i)] =
                    mean_of(grey, x * scale, y * scale, half * scale / kSide);
                mean += at_[static_cast<std::size_t>(j * kSide + i)] / at_.size();
            }
        }
        double length = 0;
        for (double& v : at_) {
            v -= mean;
            length += v * v;
        }
        for (double& v : at_) v /= std::max(1e-9, std::sqrt(length));
    }
    double like(const Look& other) const {
        double out = 0;
        for (std::size_t i = 0; i < at_.size(); ++i) out += at_[i] * other.at_[i];
        return out;
    }

  private:
    static constexpr double kPartOfFace = 0.75;
    /// Over a small square.
    static double mean_of(const cv::Mat& grey, double x, double y, double reach) {
        const int r = std::max(0, static_cast<int>(reach));
        double sum = 0;
        int n = 0;
        for (int dy = -r; dy <= r; ++dy) {
            for (int dx = -r; dx <= r; ++dx) {
                const int px = std::clamp(static_cast<int>(x) + dx, 0, grey.cols - 1);
                const int py = std::clamp(static_cast<int>(y) + dy, 0, grey.rows - 1);
                sum += grey.at<std::uint8_t>(py, px);
                ++n;
            }
        }
        return sum / n;
    }
    std::array<double, kSide * kSide> at_{};
};

class Following {
  public:
    Following(VideoReader& reader, const std::function<void(double)>& each, const Stopped* cancel, int steps)
        : pictures_(pictures_for(reader, {}, kKept)),
          each_(each),
          cancel_(cancel),
          steps_(std::max(1, steps)) {}

    /// The places from an anchor on to a frame that still look like it: what a face went behind does not,
    /// and what was lost once is not believed again.
    std::map<int, core::Ellipse> believed(const FaceAnchor& anchor, int to) {
        std::map<int, core::Ellipse> out{{anchor.frame, anchor.face}};
        const int way = to >= anchor.frame ? 1 : -1, before = done_, whole = std::abs(to - anchor.frame);
        FollowPass pass = pass_from(anchor, way);
        FollowWith with;
        with.trunk_px = kTrunkOfFace * anchor.face.long_half;
        const Look first = seen(anchor.frame, anchor.face);
        for (int n = anchor.frame; n != to;) {
            // In short runs: where it is lost nothing more need be read.
            const int next = way * (to - n) > kRun ? n + way * kRun : to;
            if (!follow_on(
                    pictures_, pass, next, nullptr, with, [&](int frames) { tell(frames); }, cancel_))
                throw ReadCancelled{};
            while (n != next) {
                n += way;
                const auto face = face_at(pass, anchor, n);
                if (!face || seen(n, *face).like(first) < kLeastLike) {
                    done_ = before + whole;
                    return out;
                }
                out[n] = *face;
            }
        }
        return out;
    }

  private:
    static constexpr std::size_t kKept = std::size_t{256} << 20;  ///< a quarter of a minute at 960 x 540
    static constexpr int kRun = 24;

    Look seen(int frame, const core::Ellipse& face) {
        const cv::Mat grey = pictures_.at(frame);
        return {grey, static_cast<double>(grey.cols) / pictures_.facts().width, face};
    }
    void tell(int frames) {
        done_ += frames;
        if (each_) each_(std::min(1.0, static_cast<double>(done_) / steps_));
    }
    flow::GreyPictures pictures_;
    const std::function<void(double)>& each_;
    const Stopped* cancel_;
    int steps_, done_ = 0;
};

/// Where two ways to a frame meet.
std::optional<core::Ellipse> met(const core::Ellipse& a, const core::Ellipse& b, double share) {
    const double apart = core::distance(a.centre, b.centre);
    if (apart > kAgreeWithin * std::min(a.short_half, b.short_half)) return std::nullopt;
    core::Ellipse out = share < 0.5 ? a : b;
    out.centre = {a.centre.x + share * (b.centre.x - a.centre.x),
                  a.centre.y + share * (b.centre.y - a.centre.y)};
    out.long_half = std::max(a.long_half, b.long_half) + apart / 2;
    out.short_half = std::max(a.short_half, b.short_half) + apart / 2;
    return out;
}

}  // namespace

FaceAnchor anchor_of(int frame, const core::Ellipse& face) {
    FaceAnchor out{frame, face, {face.centre}};
    const double a = face.long_half * 0.45, b = face.short_half * 0.45;
    const double turn = core::radians(face.angle_deg);
    for (const auto& [along, across] : {std::pair{a, 0.0}, {-a, 0.0}, {0.0, b}, {0.0, -b}})
        out.points.push_back({face.centre.x + along * std::cos(turn) - across * std::sin(turn),
                              face.centre.y + along * std::sin(turn) + across * std::cos(turn)});
    return out;
}

std::vector<core::FaceSeen> follow_face(VideoReader& reader, const std::vector<FaceAnchor>& anchors,
                                        int first, int last, const std::function<void(double)>& each,
                                        const Stopped* cancel) {
    std::map<int, core::Ellipse> sure;
    for (const FaceAnchor& a : anchors) sure[a.frame] = a.face;
    if (anchors.empty()) return {};
    Following following(reader, each, cancel, 2 * (last - first + 1));
    const auto way_of = [&](const FaceAnchor& a, int to) { return following.believed(a, to); };
    if (first < anchors.front().frame) sure.merge(way_of(anchors.front(), first));
    if (last > anchors.back().frame) sure.merge(way_of(anchors.back(), last));
    for (std::size_t i = 0; i + 1 < anchors.size(); ++i) {
        const FaceAnchor &a = anchors[i], &b = anchors[i + 1];
        if (b.frame <= first || a.frame >= last || b.frame - a.frame < 2) continue;
        const auto there = way_of(a, b.frame), back = way_of(b, a.frame);
        // Where only one way came the other one lost it: behind a post both are right, each on its own side.
        for (int n = a.frame + 1; n < b.frame; ++n) {
            const auto from_a = there.find(n), from_b = back.find(n);
            const bool one = from_a != there.end(), other = from_b != back.end();
            if (one && other) {
                const double share = static_cast<double>(n - a.frame) / (b.frame - a.frame);
                if (const auto face = met(from_a->second, from_b->second, share)) sure[n] = *face;
            } else if (one || other) {
                sure[n] = one ? from_a->second : from_b->second;
            }
        }
    }
    std::vector<core::FaceSeen> out;
    for (const auto& [frame, face] : sure) out.push_back({frame, face});
    return out;
}

}  // namespace aspen::media
