#include "cli/motion_verb.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <charconv>
#include <fstream>
#include <nlohmann/json.hpp>

#include "app/files/data_files.hpp"
#include "cli/judgement_json.hpp"
#include "cli/usage.hpp"
#include "cli/verbs.hpp"
#include "core/motion/motion.hpp"
#include "core/reading/refused.hpp"
#include "exchange/events.hpp"
#include "exchange/tracks.hpp"

namespace aspen::cli {
namespace {

/// "DEG" or "DEG,SD".
std::pair<double, std::optional<double>> angle(const std::string& option, const std::string& text) {
    const auto number = [&](std::string_view part) {
        double v = 0;
        const auto [end, error] = std::from_chars(part.data(), part.data() + part.size(), v);
        if (part.empty() || error != std::errc() || end != part.data() + part.size())
            throw WrongUsage(
                fmt::format("{}: \"{}\" is no angle; write degrees, or degrees,error", option, text));
        return v;
    };
    const auto comma = text.find(',');
    const double degrees = number(std::string_view(text).substr(0, comma));
    if (comma == std::string::npos) return {degrees, std::nullopt};
    const double sd = number(std::string_view(text).substr(comma + 1));
    if (sd < 0) throw WrongUsage(option + ": an error is not below 0");
    return {degrees, sd};
}

core::MotionSetting setting_of(const MotionSaid& said, const core::Knowledge& knowledge) {
    core::MotionSetting out;
    out.setting.gait = *core::gait_from(said.gait);
    out.seat_said = !said.seat.empty();
    if (out.seat_said) out.setting.seat = *core::seat_from(said.seat);
    out.setting.school = said.school;
    if (!said.school.empty() && !knowledge.schools.find(said.school))
        throw core::Refused(fmt::format("school \"{}\": is not known; `schools` lists them", said.school));
    out.view = *core::view_from(said.view);
    if (out.view == core::View::side && said.travel.empty())
        throw WrongUsage("--travel right or left is needed from the side");
    out.travel = said.travel == "left" ? core::Travel::left : core::Travel::right;
    if (out.view != core::View::side) out.camera.yaw_sd_deg = core::CameraPose::kUnmarkedFrontalYawSdDeg;
    // Marked is what was said; how far off that may be, in degrees, when no error is said with it (from
    // memory).
    constexpr double kSaidRollSd = 0.5, kSaidYawSd = 2;
    if (!said.roll.empty()) {
        const auto [degrees, sd] = angle("--roll", said.roll);
        out.camera.roll_deg = degrees;
        out.camera.roll_sd_deg = sd.value_or(kSaidRollSd);
        out.camera.roll_marked = true;
    }
    if (!said.yaw.empty()) {
        const auto [degrees, sd] = angle("--yaw", said.yaw);
        out.camera.yaw_deg = degrees;
        out.camera.yaw_sd_deg = sd.value_or(kSaidYawSd);
        out.camera.yaw_marked = true;
    }
    out.time_scale = said.time_scale;
    out.change_at_s = said.change_at;
    out.hold = said.hold;
    for (const std::string& id : said.hold) {
        if (!core::find_measure(id)) throw WrongUsage(fmt::format("--hold: \"{}\" is not a measure", id));
    }
    return out;
}

Json motion_json(const core::MotionReport& r) {
    Json strides = Json::array(), measures = Json::array();
    for (const core::StrideSpan& s : r.strides)
        strides.push_back({{"start_s", s.start_s}, {"end_s", s.end_s}});
    for (const core::MotionMeasure& m : r.measures) {
        Json extra = Json::object();
        for (const auto& [key, word] : m.words) extra[key] = word;
        for (const auto& [key, number] : m.numbers) extra[key] = number;
        if (m.id == "strides_held" && m.value && !m.words.contains("lets_go_first"))
            extra["lets_go_first"] = nullptr;
        measures.push_back({{"id", m.id},
                            {"value", optional(m.value)},
                            {"unit", m.unit},
                            {"spread", optional(m.spread)},
                            {"sd", m.value ? Json(m.sd) : Json(nullptr)},
                            {"strides", m.strides},
                            {"lo", m.band ? optional(m.band->lo) : Json(nullptr)},
                            {"hi", m.band ? optional(m.band->hi) : Json(nullptr)},
                            {"verdict", core::word(m.verdict)},
                            {"reason", m.reason},
                            {"extra", extra}});
    }
    const auto word = [](const std::string& w) { return w.empty() ? Json(nullptr) : Json(w); };
    return {{"strides", strides},
            {"stride_source", word(r.stride_source)},
            {"parity", word(r.parity)},
            {"tempo_per_min", optional(r.tempo_per_min)},
            {"tempo_cv_pct", optional(r.tempo_cv_pct)},
            {"uneven", optional(r.uneven)},
            {"measures", measures}};
}

}  // namespace

void add_motion_options(CLI::App& verb, MotionSaid& said) {
    verb.add_option("TRACKS.csv", said.file)->required();
    const auto one_of = [](auto words) {
        std::set<std::string> all;
        for (const auto w : words) all.insert(std::string(core::word(w)));
        return CLI::IsMember(all);
    };
    verb.add_option("--gait", said.gait)->required()->check(one_of(core::kGaits));
    verb.add_option("--travel", said.travel, "the way the horse goes in the picture")
        ->check(CLI::IsMember({"right", "left"}));
    verb.add_option("--view", said.view)->check(CLI::IsMember({"side", "front", "rear"}));
    verb.add_option("--seat", said.seat)->check(one_of(core::kSeats));
    verb.add_option("--school", said.school, "hold the values against this school's bands");
    verb.add_option("--size", said.size, "of the picture, WxH")->check([](const std::string& s) {
        int w = 0, h = 0;
        char rest = 0;
        const bool good = std::sscanf(s.c_str(), "%dx%d%c", &w, &h, &rest) == 2 && w > 0 && h > 0;
        return good ? std::string() : "\"" + s + "\" is no size; write it as 1280x720";
    });
    verb.add_option("--roll", said.roll, "of the camera: degrees, or degrees,error");
    verb.add_option("--yaw", said.yaw, "of the camera: degrees, or degrees,error");
    verb.add_option("--time-scale", said.time_scale, "real seconds for one of the tracks' (slow motion)")
        ->check(CLI::PositiveNumber);
    verb.add_option("--change-at", said.change_at, "when the pace or direction was changed");
    verb.add_option("--events", said.events, "take-off, landing, diagonals on the tracks' clock, as CSV");
    verb.add_option("--hold", said.hold, "what strides_held watches")->delimiter(',');
}

int motion(const MotionSaid& said, std::ostream& out) {
    const auto knowledge = app::shipped_knowledge();
    core::MotionSetting setting = setting_of(said, *knowledge);
    std::ifstream in(said.file);
    if (!in) throw core::Refused(said.file + ": cannot be opened; check the path");
    const core::Tracks tracks = exchange::read_tracks(in, said.file);
    if (!said.events.empty()) {
        std::ifstream events(said.events);
        if (!events) throw core::Refused(said.events + ": cannot be opened; check the path");
        for (const exchange::EventRow& row : exchange::read_events(events, said.events))
            setting.events.push_back({row.time_s, row.event, row.detail});
    }
    const core::MotionReport report = core::motion_of(tracks, setting, knowledge->body, knowledge->schools);
    if (said.json) {
        out << motion_json(report).dump(1) << '\n';
        return kDone;
    }
    out << fmt::format("{} strides", report.strides.size());
    if (report.tempo_per_min) out << fmt::format(", {:.1f} a minute", *report.tempo_per_min);
    out << '\n';
    for (const core::MotionMeasure& m : report.measures) {
        if (m.value)
            out << fmt::format("{}  {:.2f} {} ± {:.2f}  {}\n", m.id, *m.value, m.unit, m.sd,
                               core::word(m.verdict));
    }
    return kDone;
}

}  // namespace aspen::cli
