#include "painter/reading_verb.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <cmath>
#include <map>
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <ostream>
#include <string>
#include <vector>

#include "app/files/cache_folder.hpp"
#include "app/files/data_files.hpp"
#include "app/review/figure_maker.hpp"
#include "app/review/prepared.hpp"
#include "core/reading/refused.hpp"
#include "media/pose/pose_network.hpp"
#include "media/reading/content_hash.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::painter {
namespace {

using Json = nlohmann::json;
using L = core::Landmark;
using core::Refused;

// Of the trunk: how far the network scatters where it is sure, how much more where it is not, and what
// following from its finds adds. They weigh one against the other; what is stated is a share of them, set so
// that the 90 % interval held nine of ten on the two clips of riders not drawn here that there are
// (tools/measure/riders.py
// --read); riders of another kind may need another one.
constexpr double kSureSd = 0.015, kUnsureSd = 0.10, kFollowedSd = 0.05, kStatedShare = 0.36;
/// What the reader's own place of a joint is off the landmark, at least, until somebody corrects it.
constexpr double kOffsetSd = 0.04;
constexpr double kApartSd = 3;  // two that lie further apart are not of one joint: the surer one stands
constexpr double kHeadOverEar = 0.35, kSoleUnderHip = 1.75;  // of the trunk, as the rider finder has it

struct ReadSaid {
    std::string clip;
    std::vector<int> frames;
    bool json = true;  ///< there is nothing else
};

/// Where a joint was seen, with one standard deviation along each axis.
struct Seen {
    core::Point at;
    double sd_px = 0;
    double score = 0;
};

/// Two observations of one joint as the likelier place; where they contradict each other the surer one.
Seen fused(const Seen& a, const Seen& b) {
    const double both = std::hypot(a.sd_px, b.sd_px);
    if (core::distance(a.at, b.at) > kApartSd * both) return a.sd_px <= b.sd_px ? a : b;
    const double wa = 1 / (a.sd_px * a.sd_px), wb = 1 / (b.sd_px * b.sd_px);
    return {{(wa * a.at.x + wb * b.at.x) / (wa + wb), (wa * a.at.y + wb * b.at.y) / (wa + wb)},
            std::sqrt(1 / (wa + wb)),
            std::max(a.score, b.score)};
}

/// A clip that was looked through, asked frame by frame.
class Reading {
  public:
    explicit Reading(const std::string& clip)
        : file_(clip),
          known_(app::shipped_knowledge()),
          hash_(media::content_hash(clip)),
          reader_(clip, {}, {std::size_t{64} << 20, {app::cache_folder().toStdString(), hash_}}) {
        if (!app::FigureMaker::has_model())
            throw Refused("read: the body-pose network is not there; ./aspen setup fetches it");
        app::Job job(0, {}, true);
        const auto kept = app::kept_prepared(hash_);
        prepared_ = kept ? *kept : app::prepare({QString::fromStdString(file_), hash_, {}}, *known_, job);
        if (!prepared_.found()) return;
        const app::FollowPlan plan =
            app::prepared_plan(prepared_, QString::fromStdString(file_), hash_, reader_.facts().frames);
        for (const core::TrackPoint& p :
             app::tracks_of(plan, app::kept_of(plan), reader_.facts().pts_s).points) {
            if (!p.hidden) followed_[p.frame][p.landmark] = {p.at, p.sd_px, p.confidence};
        }
        network_ = std::make_unique<media::PoseNetwork>(app::FigureMaker::model_file().toStdString());
    }

    Json stretches() const {
        Json out = Json::array();
        for (const app::PreparedStretch& s : prepared_.stretches) {
            Json moments = Json::array();
            for (const app::PreparedMoment& m : prepared_.moments) {
                if (m.frame >= s.first && m.frame <= s.last)
                    moments.push_back({{"frame", m.frame}, {"phase", m.phase}});
            }
            Json one{{"first", s.first},
                     {"last", s.last},
                     {"gait", core::word(s.gait)},
                     {"rein", nullptr},
                     {"seat", s.rising ? Json("rising") : Json(nullptr)},
                     {"travel", core::word(prepared_.travel)},
                     {"view", "side"},
                     {"moments", moments}};
            one["tempo_per_min"] = s.tempo_per_min > 0 ? Json(s.tempo_per_min) : Json(nullptr);
            out.push_back(one);
        }
        return out;
    }

    Json frame(int n) {
        if (n < 0 || n >= reader_.facts().frames)
            throw Refused(
                fmt::format("{}: has no frame {}; its last is {}", file_, n, reader_.facts().frames - 1));
        Json riders = Json::array();
        if (const auto rider = rider_on(n)) riders.push_back(*rider);
        return {{"frame", n}, {"riders", riders}};
    }
    std::vector<int> moments() const {
        std::vector<int> out;
        for (const app::PreparedMoment& m : prepared_.moments) out.push_back(m.frame);
        return out;
    }

  private:
    /// The network looks where the rider was followed to, twice; what it says and where the joint was
    /// followed to are put together.
    std::optional<Json> rider_on(int n) {
        const auto at = followed_.find(n);
        if (at == followed_.end()) return std::nullopt;
        const std::map<L, Seen>& followed = at->second;
        const auto shoulder = followed.find(L::shoulder), hip = followed.find(L::hip);
        if (shoulder == followed.end() || hip == followed.end()) return std::nullopt;
        const double trunk = core::distance(shoulder->second.at, hip->second.at);
        if (trunk < 8) return std::nullopt;
        const auto ear = followed.find(L::ear);
        const core::Point head = ear != followed.end() ? ear->second.at : shoulder->second.at;
        const core::Crop crop = core::crops_for({head.x, head.y - kHeadOverEar * trunk},
                                                {hip->second.at.x, hip->second.at.y + kSoleUnderHip * trunk})
                                    .front();
        const media::Picture picture = reader_.picture(n);
        std::vector<core::NetworkRun> runs;
        for (const bool mirrored : {false, true})
            runs.push_back(network_->run(picture, crop.centre, crop.side, mirrored));
        const core::Proposal said = core::combine(runs, core::View::side, prepared_.travel, trunk);
        if (!said.rider_found) return std::nullopt;
        Json landmarks = Json::object();
        for (const core::ProposedJoint& j : said.joints) {
            Seen joint{j.at, trunk * (kSureSd + kUnsureSd * (1 - j.score)) + j.spread_px / 2, j.score};
            if (const auto f = followed.find(j.landmark); f != followed.end())
                joint =
                    fused(joint, {f->second.at,
                                  std::hypot(f->second.sd_px, kFollowedSd * trunk + kUnsureSd * trunk / 4),
                                  f->second.score});
            landmarks[std::string(core::id(j.landmark))] = {{"x", joint.at.x},
                                                            {"y", joint.at.y},
                                                            {"sd_px", kStatedShare * joint.sd_px},
                                                            {"offset_sd_px", kOffsetSd * trunk},
                                                            {"confidence", joint.score}};
        }
        return Json{{"view", "side"},
                    {"travel", core::word(prepared_.travel)},
                    {"score", said.mean_score},
                    {"landmarks", landmarks}};
    }

    std::string file_;
    std::shared_ptr<const core::Knowledge> known_;
    std::string hash_;
    media::VideoReader reader_;
    app::Prepared prepared_;
    std::map<int, std::map<L, Seen>> followed_;
    std::unique_ptr<media::PoseNetwork> network_;
};

int read_clip(const ReadSaid& said, std::ostream& out) {
    Reading reading(said.clip);
    Json frames = Json::array();
    for (const int n : said.frames.empty() ? reading.moments() : said.frames)
        frames.push_back(reading.frame(n));
    // The upright is not read from the picture yet.
    out << Json{{"upright", nullptr}, {"stretches", reading.stretches()}, {"frames", frames}}.dump() << '\n';
    return 0;
}

}  // namespace

void add_reading(CLI::App& app, std::function<int(std::ostream&)>& work) {
    auto said = std::make_shared<ReadSaid>();
    CLI::App* v =
        app.add_subcommand("read", "what is found of a rider without a mark: stretches and figures");
    v->add_flag("--json", said->json, "JSON on standard output, as always");
    v->add_option("VIDEO", said->clip)->required();
    v->add_option("--frames", said->frames, "these frames; without it the moments that tell")->delimiter(',');
    v->callback([said, &work] { work = [said](std::ostream& out) { return read_clip(*said, out); }; });
}

}  // namespace aspen::painter
