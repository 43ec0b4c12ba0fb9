#include "app/review/rider_reading.hpp"

#include <cmath>

#include "app/files/cache_folder.hpp"
#include "app/review/figure_maker.hpp"
#include "core/body/geometry.hpp"
#include "core/reading/refused.hpp"
#include "media/pose/rider_finder.hpp"
#include "media/reading/content_hash.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

// Of the trunk: how far the network scatters where it is sure, how much more where it is not, and what
// following from its finds adds. They weigh one against the other; what is stated is a share of them, set so
// that the 90 % interval held nine of ten on the two clips of riders not drawn here that there are
// (tools/measure/riders.py,
// --read). Riders of another kind may need another one.
constexpr double kNetworkSd = 0.015, kDoubtSd = 0.10, kFollowingSd = 0.075, kStatedShare = 0.36;
/// What the reader's own place of a joint is off the landmark, at least, until somebody corrects it.
constexpr double kOffsetSd = 0.04;
constexpr double kSmallestTrunkPx = 8;
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
    const auto kept = kept_prepared(hash_);
    prepared_ = kept ? *kept : prepare({file, hash_, {}}, knowledge_, job);
    if (!prepared_.found()) return;
    const FollowPlan plan = prepared_plan(prepared_, file, hash_, facts().frames);
    // Where nothing could be kept it is followed once more.
    const FollowedStretch followed = follow(plan, kept_of(plan), job);
    for (const core::TrackPoint& p : tracks_of(plan, followed, facts().pts_s).points) {
        if (!p.hidden) followed_[p.frame][p.landmark] = {p.at, p.sd_px, p.confidence};
    }
    network_ = std::make_unique<media::PoseNetwork>(FigureMaker::model_file().toStdString());
}

std::optional<ReadRider> RiderReading::on(int frame) {
    const auto at = followed_.find(frame);
    if (at == followed_.end()) return std::nullopt;
    const auto& followed = at->second;
    const auto shoulder = followed.find(L::shoulder), hip = followed.find(L::hip),
               ear = followed.find(L::ear);
    if (shoulder == followed.end() || hip == followed.end()) return std::nullopt;
    const double trunk = core::distance(shoulder->second.at, hip->second.at);
    if (trunk < kSmallestTrunkPx) return std::nullopt;
    const core::Crop crop =
        media::crop_round((ear != followed.end() ? ear : shoulder)->second.at, hip->second.at, trunk);
    const media::Picture picture = reader_.picture(frame);
    std::vector<core::NetworkRun> runs;
    for (const bool mirrored : {false, true})
        runs.push_back(network_->run(picture, crop.centre, crop.side, mirrored));
    const core::Proposal said = core::combine(runs, core::View::side, prepared_.travel, trunk);
    if (!said.rider_found) return std::nullopt;
    ReadRider out{said.mean_score, {}};
    for (const core::ProposedJoint& j : said.joints) {
        core::Observed joint{j.at, trunk * (kNetworkSd + kDoubtSd * (1 - j.score)) + j.spread_px / 2,
                             j.score};
        if (const auto f = followed.find(j.landmark); f != followed.end())
            joint = core::fused(
                joint, {f->second.at, std::hypot(f->second.sd_px, kFollowingSd * trunk), f->second.score});
        out.joints.push_back(
            {j.landmark, joint.at, kStatedShare * joint.sd_px, kOffsetSd * trunk, joint.score});
    }
    return out;
}

}  // namespace aspen::app
