#include "cli/happenings_json.hpp"

#include <algorithm>

namespace aspen::cli {
namespace {

using Json = nlohmann::ordered_json;

template <typename T>
Json or_null(const std::optional<T>& v) {
    return v ? Json(*v) : Json(nullptr);
}

Json delay_json(const core::Delay& d) {
    const auto around = core::median_interval(d.all_s);
    return {{"from", d.from},
            {"to", d.to},
            {"n", d.n()},
            {"median_s", or_null(core::median(d.all_s))},
            {"lo_s", around ? Json(around->first) : Json(nullptr)},
            {"hi_s", around ? Json(around->second) : Json(nullptr)}};
}

Json runs_json(const core::HappeningSums& s, std::optional<double> tempo) {
    const auto longest = s.longest_run_s();
    return {
        {"n", s.runs_s.size()},
        {"longest_s", or_null(longest)},
        {"median_s", or_null(core::median(s.runs_s))},
        {"longest_strides", longest && tempo ? Json(core::whole_strides(*longest, *tempo)) : Json(nullptr)}};
}

Json laps_json(const core::HappeningSums& s) {
    return {{"n", s.laps_s.size()},
            {"times_s", s.laps_s.empty() ? Json(nullptr) : Json(s.laps_s)},
            {"median_s", or_null(core::median(s.laps_s))},
            {"cv_pct", or_null(core::cv_pct(s.laps_s))},
            {"trend_s_per_lap", or_null(core::slope(s.laps_s))},
            {"fastest_clean_s", or_null(s.fastest_clean_s())}};
}

Json attempts_json(const core::HappeningSums& s) {
    const auto share = core::wilson(s.good, s.attempts);
    return {{"n", s.attempts},
            {"good", share ? Json(s.good) : Json(nullptr)},
            {"share", share ? Json(share->share) : Json(nullptr)},
            {"lo", share ? Json(share->lo) : Json(nullptr)},
            {"hi", share ? Json(share->hi) : Json(nullptr)}};
}

Json sums_json(const core::HappeningSums& s, std::optional<double> tempo) {
    Json delays = Json::array();
    for (const core::Delay& d : s.delays) delays.push_back(delay_json(d));
    const auto lead = [](const core::LeadCount& l) { return Json{{"taken", l.taken}, {"wrong", l.wrong}}; };
    return {{"counts", s.counts.empty() ? Json::object() : Json(s.counts)},
            {"delays", delays},
            {"got_by", Json(s.got_by)},
            {"runs", runs_json(s, tempo)},
            {"laps", laps_json(s)},
            {"attempts", attempts_json(s)},
            {"leads", {{"left", lead(s.left)}, {"right", lead(s.right)}}}};
}

}  // namespace

Json happenings_json(const core::HappeningReport& report, std::optional<double> tempo) {
    Json out = sums_json(report, tempo);
    out["groups"] = Json::array();
    for (const core::HappeningGroup& g : report.groups) {
        Json one{{"rein", or_null(g.rein)}, {"gait", or_null(g.gait)}, {"bout", or_null(g.bout)}};
        one.update(sums_json(g, tempo));
        out["groups"].push_back(one);
    }
    return out;
}

}  // namespace aspen::cli
