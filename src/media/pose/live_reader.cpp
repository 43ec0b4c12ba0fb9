#include "media/pose/live_reader.hpp"

#include <algorithm>
#include <cmath>

#include "core/body/geometry.hpp"
#include "core/proposal/proposal.hpp"
#include "media/pose/rider_finder.hpp"

namespace aspen::media {
namespace {

using L = core::Landmark;

constexpr double kSeenScore = 0.3;
/// From one reading to the next a rider keeps about that size, and comes no further; trunk lengths.
constexpr double kOtherSize = 1.5, kOtherPlace = 1.2;
constexpr int kTurnedFor = 3, kMissedFor = 3;
constexpr double kEarOverShoulder = 0.5;  // from memory, where no ear was seen

bool seen(const core::Figure& f, L l) { return f[l].visibility == core::Visibility::seen; }

double trunk_px(const core::Figure& f) { return core::distance(f[L::shoulder].at, f[L::hip].at); }

/// A horse's leg is not the rider's: a knee further from the hip than this, trunk lengths, is none of hers;
/// and an ankle hangs on a knee.
constexpr double kLongestThigh = 1.1;
void leave_out_the_horse(core::Figure& f, double trunk) {
    if (seen(f, L::knee) && core::distance(f[L::knee].at, f[L::hip].at) > kLongestThigh * trunk)
        f[L::knee] = {};
    if (!seen(f, L::knee) || core::distance(f[L::ankle].at, f[L::knee].at) > kLongestThigh * trunk)
        f[L::ankle] = {};
}

/// Knees go before hips.
bool looks_the_other_way(const core::Figure& f) {
    if (!seen(f, L::knee)) return false;
    const double forward = f[L::knee].at.x - f[L::hip].at.x;
    return f.travel == core::Travel::left ? forward > 0 : forward < 0;
}

}  // namespace

std::optional<core::Figure> LiveReader::where_it_was(const Picture& picture) {
    const double trunk = trunk_px(*last_);
    const core::Point shoulder = (*last_)[L::shoulder].at;
    const core::Point ear = seen(*last_, L::ear)
                                ? (*last_)[L::ear].at
                                : core::Point{shoulder.x, shoulder.y - kEarOverShoulder * trunk};
    const core::Crop crop = crop_round(ear, (*last_)[L::hip].at, trunk);
    const core::NetworkRun run = network_.run(picture, crop.centre, crop.side, false);
    const core::Proposal said = core::combine({&run, 1}, core::View::side, last_->travel, trunk);
    if (!said.rider_found) return std::nullopt;
    core::Figure out;
    out.view = core::View::side;
    out.travel = last_->travel;
    for (const core::ProposedJoint& j : said.joints) {
        if (j.score < kSeenScore) continue;
        out[j.landmark] = {
            j.at, core::Visibility::seen, std::max(2.0, j.spread_px), core::Origin::proposed, false, j.at};
    }
    if (!seen(out, L::shoulder) || !seen(out, L::hip)) return std::nullopt;
    const double now = trunk_px(out);
    if (now > kOtherSize * trunk || now * kOtherSize < trunk ||
        core::distance(out[L::hip].at, (*last_)[L::hip].at) > kOtherPlace * trunk)
        return std::nullopt;
    leave_out_the_horse(out, now);
    turned_ = looks_the_other_way(out) ? turned_ + 1 : 0;
    if (turned_ >= kTurnedFor) return std::nullopt;
    return out;
}

std::optional<core::Figure> LiveReader::read(const Picture& picture, const std::atomic<bool>* stop) {
    if (last_) {
        if (auto here = where_it_was(picture)) {
            missed_ = 0;
            return last_ = std::move(here);
        }
        if (++missed_ < kMissedFor && turned_ < kTurnedFor) return std::nullopt;
        last_.reset();
    }
    missed_ = turned_ = 0;
    if (const auto found = find_rider(network_, picture, stop)) last_ = found->figure;
    return last_;
}

}  // namespace aspen::media
