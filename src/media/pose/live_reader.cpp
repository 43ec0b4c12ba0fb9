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
constexpr int kTurnedFor = 3;
constexpr double kEarOverShoulder = 0.5;  // from memory, where no ear was seen

bool seen(const core::Figure& f, L l) { return f[l].visibility == core::Visibility::seen; }

double trunk_px(const core::Figure& f) { return core::distance(f[L::shoulder].at, f[L::hip].at); }

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
    turned_ = looks_the_other_way(out) ? turned_ + 1 : 0;
    if (turned_ >= kTurnedFor) return std::nullopt;
    return out;
}

std::optional<core::Figure> LiveReader::read(const Picture& picture, const std::atomic<bool>* stop) {
    if (last_) last_ = where_it_was(picture);
    if (last_) return last_;
    turned_ = 0;
    const auto found = find_rider(network_, picture, stop);
    if (found) last_ = found->figure;
    return last_;
}

}  // namespace aspen::media
