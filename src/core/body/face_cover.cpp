#include "core/body/face_cover.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <stdexcept>

namespace aspen::core {
namespace {

constexpr double kRoomForSpeed = 1.5, kSlowestShare = 0.2, kMostOfPicture = 1.0 / 3;

Ellipse grown(const Ellipse& e, double by) {
    const double r = std::max(e.long_half, e.short_half) + by;
    return {e.centre, r, r, 0};
}

/// Area of the lens of two circles (elementary geometry).
double lens_px(double r1, double r2, double d) {
    if (d >= r1 + r2) return 0;
    if (d <= std::abs(r1 - r2)) return std::numbers::pi * std::pow(std::min(r1, r2), 2);
    const double a = std::acos(std::clamp((d * d + r1 * r1 - r2 * r2) / (2 * d * r1), -1.0, 1.0));
    const double b = std::acos(std::clamp((d * d + r2 * r2 - r1 * r1) / (2 * d * r2), -1.0, 1.0));
    return r1 * r1 * (a - std::sin(2 * a) / 2) + r2 * r2 * (b - std::sin(2 * b) / 2);
}

}  // namespace

double FaceCover::area_px() const {
    if (!also) return std::numbers::pi * reach.long_half * reach.short_half;
    return lens_px(reach.long_half, also->long_half, distance(reach.centre, also->centre));
}

double head_px_per_frame(const std::vector<FaceSeen>& sure) {
    double fastest = 0, size = 0;
    for (std::size_t i = 0; i < sure.size(); ++i) {
        size = std::max(size, sure[i].face.long_half);
        if (i == 0) continue;
        const int frames = sure[i].frame - sure[i - 1].frame;
        if (frames > 0)
            fastest = std::max(fastest, distance(sure[i].face.centre, sure[i - 1].face.centre) / frames);
    }
    return std::max(kRoomForSpeed * fastest, kSlowestShare * size);
}

std::vector<std::optional<FaceCover>> covers_through(const std::vector<FaceSeen>& sure,
                                                     const std::vector<int>& gone, int first, int last) {
    if (sure.empty()) throw std::invalid_argument("no place of the face is sure");
    const double speed = head_px_per_frame(sure);
    std::vector<std::optional<FaceCover>> out;
    for (int n = first; n <= last; ++n) {
        const auto after = std::ranges::lower_bound(sure, n, {}, &FaceSeen::frame);
        if (after != sure.end() && after->frame == n) {
            out.push_back(FaceCover{after->face});
            continue;
        }
        const FaceSeen* before = after == sure.begin() ? nullptr : &*std::prev(after);
        const FaceSeen* next = after == sure.end() ? nullptr : &*after;
        // It went out of the picture since it was last seen: nothing is there until it is seen again.
        const bool out_of_it =
            std::ranges::any_of(gone, [&](int g) { return g <= n && (!before || g > before->frame); });
        if (out_of_it) {
            out.emplace_back();
            continue;
        }
        const int leaves = [&] {  // the first frame after n on which it is said to be gone
            int at = next ? next->frame : last + 1;
            for (const int g : gone) {
                if (g > n) at = std::min(at, g);
            }
            return at;
        }();
        const bool comes_back = next && leaves == next->frame;
        FaceCover c;
        if (before) {
            c.reach = grown(before->face, speed * (n - before->frame));
            if (comes_back) c.also = grown(next->face, speed * (next->frame - n));
        } else if (next) {
            c.reach = grown(next->face, speed * (next->frame - n));
        }
        out.push_back(c);
    }
    return out;
}

std::optional<int> first_too_large(const std::vector<std::optional<FaceCover>>& covers, int width,
                                   int height) {
    const double most = kMostOfPicture * width * height;
    const auto it = std::ranges::find_if(covers, [&](const auto& c) { return c && c->area_px() > most; });
    if (it == covers.end()) return std::nullopt;
    return static_cast<int>(it - covers.begin());
}

}  // namespace aspen::core
