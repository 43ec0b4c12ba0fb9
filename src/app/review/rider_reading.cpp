#include "app/review/rider_reading.hpp"

#include <cmath>

#include "app/files/cache_folder.hpp"
#include "app/review/figure_maker.hpp"
#include "core/body/geometry.hpp"
#include "core/proposal/reader_offset.hpp"
#include "core/reading/refused.hpp"
#include "media/pose/rider_finder.hpp"
#include "media/reading/content_hash.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

constexpr std::size_t kKeptPictures = std::size_t{64} << 20;

std::string hash_of_clip(const std::string& clip) {
    if (!FigureMaker::has_model())
        throw core::Refused("read: the body-pose network is not there; ./aspen setup fetches it");
    return media::content_hash(clip);
}

}  // namespace

RiderReading::RiderReading(const std::string& clip, const core::Knowledge& knowledge)
    : file_(clip),
      hash_(hash_of_clip(clip)),
      knowledge_(knowledge),
      reader_(clip, {}, {kKeptPictures, {cache_folder().toStdString(), hash_}}) {}

void RiderReading::look_through() {
    Job job(0, {}, true);
    const QString file = QString::fromStdString(file_);
    FollowedStretch followed;
    if (const auto kept = kept_prepared(hash_)) {
        prepared_ = *kept;
        if (prepared_.found())
            followed = prepared_ways(prepared_plan(prepared_, file, hash_, facts().frames));
    }
    // Where nothing could be kept it is looked through once more.
    if (!followed.any()) {
        LookedThrough made = look_through_clip({file, hash_, {}}, knowledge_, job);
        prepared_ = std::move(made.seems);
        followed = std::move(made.followed);
    }
    if (!prepared_.found()) return;
    const FollowPlan plan = prepared_plan(prepared_, file, hash_, facts().frames);
    for (const core::TrackPoint& p : tracks_of(plan, followed, facts().pts_s).points) {
        if (!p.hidden) followed_[p.frame][p.landmark] = {p.at, p.sd_px, p.confidence};
    }
}

std::optional<ReadRider> RiderReading::on(int frame) const {
    const auto at = followed_.find(frame);
    if (at == followed_.end()) return std::nullopt;
    const auto& joints = at->second;
    const auto shoulder = joints.find(L::shoulder), hip = joints.find(L::hip);
    if (shoulder == joints.end() || hip == joints.end()) return std::nullopt;
    const double trunk = core::distance(shoulder->second.at, hip->second.at);
    ReadRider out;
    for (const auto& [landmark, joint] : joints) {
        out.joints.push_back(
            {landmark, joint.at, joint.sd_px, core::usual_reader_offset_sd(landmark) * trunk, joint.score});
        out.score += joint.score / static_cast<double>(joints.size());
    }
    return out;
}

}  // namespace aspen::app
