#include "painter/follow_verb.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <fstream>
#include <memory>
#include <ostream>
#include <sstream>
#include <vector>

#include "app/files/cache_folder.hpp"
#include "app/files/data_files.hpp"
#include "app/files/whole_file.hpp"
#include "app/review/figure_maker.hpp"
#include "app/review/rider_reading.hpp"
#include "app/rides/follow_plan.hpp"
#include "core/reading/refused.hpp"
#include "exchange/coco.hpp"
#include "exchange/tracks.hpp"
#include "media/reading/content_hash.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::painter {
namespace {

using core::Refused;

/// Looking through takes longer than the film: a longer one is held against the reader only where it was
/// looked through before.
constexpr double kLookedThroughS = 90;

/// `follow`: which clip, from which marks, over which frames, into which file.
struct FollowSaid {
    std::string clip, marks, out;
    std::optional<int> from, to;
};

/// The moments of the file that belong to this clip, as the bench follows from them.
std::vector<store::Moment> moments_in(const std::string& file, const media::ClipFacts& facts) {
    std::ifstream in(file);
    if (!in) throw Refused(file + ": cannot be opened; check the path");
    const auto read = exchange::read_coco(in, file);
    exchange::check_times(read, facts.pts_s, file);
    std::vector<store::Moment> out;
    for (const exchange::MarkedMoment& m : read) {
        if (m.width != facts.width || m.height != facts.height)
            throw Refused(fmt::format("{}: was marked at {} x {}, the clip shows {} x {}; choose its marks",
                                      file, m.width, m.height, facts.width, facts.height));
        if (!out.empty() && out.front().figure.view != m.figure.view)
            throw Refused(file + ": holds moments from several sides; keep those of one");
        if (m.rider_ref != read.front().rider_ref)
            throw Refused(file + ": holds moments of several riders; keep those of one");
        store::Moment& moment = out.emplace_back();
        moment.frame = m.frame;
        moment.figure = m.figure;
    }
    return out;
}

int follow_joints(const FollowSaid& said, std::ostream& out) {
    const media::ClipFacts facts = media::VideoReader(said.clip, {}, {}).facts();
    const int first = said.from.value_or(0), last = said.to.value_or(facts.frames - 1);
    if (first > last || last >= facts.frames)
        throw Refused(fmt::format("{}: has frames 0 to {}; say --from and --to among them", said.clip,
                                  facts.frames - 1));
    const auto moments = moments_in(said.marks, facts);
    const auto anchors = app::follow_anchors(moments, 0, first, last);
    if (anchors.empty())
        throw Refused(fmt::format("{}: no moment between frames {} and {} has {} joints to follow; mark one",
                                  said.marks, first, last, app::kFewestToFollow));
    app::FollowPlan plan = app::plan_to_follow(anchors, anchors.front()->figure.view, first, last);
    plan.file = QString::fromStdString(said.clip);
    plan.hash = media::content_hash(said.clip);
    plan.cache = {app::cache_folder().toStdString(), plan.hash};
    app::Job job(0, {}, true);
    const app::FollowedStretch followed = app::follow(plan, app::kept_of(plan), job);
    // What the reader sees of the clip is kept, and held against what was followed.
    if (anchors.front()->figure.view == core::View::side && facts.duration_s <= kLookedThroughS &&
        app::FigureMaker::has_model())
        app::RiderReading(said.clip, *app::shipped_knowledge()).look_through();
    const core::Tracks tracks =
        app::checked_tracks(plan, followed, facts.pts_s, app::read_tracks(plan.file, plan.hash, facts.pts_s));
    if (said.out.empty()) {
        exchange::write_tracks(out, tracks);
        return 0;
    }
    std::ostringstream text;
    exchange::write_tracks(text, tracks);
    const QString trouble =
        app::write_whole(QString::fromStdString(said.out), QByteArray::fromStdString(text.str()));
    if (!trouble.isEmpty()) throw Refused(trouble.toStdString());
    return 0;
}

}  // namespace

void add_following(CLI::App& app, std::function<int(std::ostream&)>& work) {
    auto said = std::make_shared<FollowSaid>();
    CLI::App* v =
        app.add_subcommand("follow", "one rider's marked joints followed through the clip, as tracks");
    v->add_option("VIDEO", said->clip)->required();
    v->add_option("MARKS.json", said->marks, "one rider's marked moments")->required();
    v->add_option("--from", said->from, "the first frame")->check(CLI::NonNegativeNumber);
    v->add_option("--to", said->to, "the last frame")->check(CLI::NonNegativeNumber);
    v->add_option("-o", said->out, "write the tracks here; else to standard output");
    v->callback([said, &work] { work = [said](std::ostream& out) { return follow_joints(*said, out); }; });
}

}  // namespace aspen::painter
