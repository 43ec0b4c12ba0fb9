#include "painter/reading_verb.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <memory>
#include <nlohmann/json.hpp>
#include <ostream>
#include <string>
#include <vector>

#include "app/files/data_files.hpp"
#include "app/review/rider_reading.hpp"
#include "core/reading/refused.hpp"

namespace aspen::painter {
namespace {

using Json = nlohmann::json;

struct ReadSaid {
    std::string clip;
    std::vector<int> frames;
    bool json = true;  ///< there is nothing else
};

Json stretches_of(const app::Prepared& prepared) {
    Json out = Json::array();
    for (const app::PreparedStretch& s : prepared.stretches) {
        Json moments = Json::array();
        for (const app::PreparedMoment& m : prepared.moments) {
            if (m.frame >= s.first && m.frame <= s.last)
                moments.push_back({{"frame", m.frame}, {"phase", m.phase}});
        }
        const auto seat = app::seat_of(s);
        out.push_back({{"first", s.first},
                       {"last", s.last},
                       {"gait", core::word(s.gait)},
                       {"rein", nullptr},
                       {"seat", seat ? Json(core::word(*seat)) : Json(nullptr)},
                       {"travel", core::word(prepared.travel)},
                       {"view", "side"},
                       {"tempo_per_min", s.tempo_per_min > 0 ? Json(s.tempo_per_min) : Json(nullptr)},
                       {"moments", moments}});
    }
    return out;
}

Json frame_of(app::RiderReading& reading, int frame) {
    Json riders = Json::array();
    if (const auto rider = reading.on(frame)) {
        Json landmarks = Json::object();
        for (const app::ReadJoint& j : rider->joints)
            landmarks[std::string(core::id(j.landmark))] = {{"x", j.at.x},
                                                            {"y", j.at.y},
                                                            {"sd_px", j.sd_px},
                                                            {"offset_sd_px", j.offset_sd_px},
                                                            {"confidence", j.confidence}};
        riders.push_back({{"view", "side"},
                          {"travel", core::word(reading.prepared().travel)},
                          {"score", rider->score},
                          {"landmarks", landmarks}});
    }
    return {{"frame", frame}, {"riders", riders}};
}

int read_clip(const ReadSaid& said, std::ostream& out) {
    const auto knowledge = app::shipped_knowledge();
    app::RiderReading reading(said.clip, *knowledge);
    for (const int n : said.frames) {
        if (n < 0 || n >= reading.facts().frames)
            throw core::Refused(
                fmt::format("{}: has no frame {}; its last is {}", said.clip, n, reading.facts().frames - 1));
    }
    reading.look_through();
    std::vector<int> wanted = said.frames;
    if (wanted.empty()) {
        for (const app::PreparedMoment& m : reading.prepared().moments) wanted.push_back(m.frame);
    }
    Json frames = Json::array();
    for (const int n : wanted) frames.push_back(frame_of(reading, n));
    Json upright = nullptr;
    if (const auto& read = reading.prepared().upright)
        upright = {{"roll_deg", read->roll_deg}, {"sd_deg", read->sd_deg}, {"from", "lines"}};
    out << Json{{"upright", upright}, {"stretches", stretches_of(reading.prepared())}, {"frames", frames}}
               .dump()
        << '\n';
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
