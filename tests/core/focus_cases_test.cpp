// The one focus of forty riders, against what was written by hand before the program was run on them.

#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

#include "core/core_support.hpp"
#include "core/ride/ride.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using Json = nlohmann::json;

/// A value that lies so many half band-widths beyond what its error reaches; 0 in the middle.
Judged judged_at(const std::string& id, double beyond, const Setting& setting) {
    constexpr double kSd = 0.5;
    const auto found = knowledge().schools.band(id, setting);
    Judged j;
    j.measured.info = find_measure(id);
    j.measured.sd = kSd;
    j.band = std::get<Band>(found);
    const Band& b = *j.band;
    const double middle = b.lo && b.hi ? (*b.lo + *b.hi) / 2 : b.lo ? *b.lo + 10 : *b.hi - 10;
    const double past = kNinetyPercent * kSd + std::abs(beyond) * b.half_width;
    j.measured.value = beyond < 0 ? *b.lo - past : beyond > 0 ? *b.hi + past : middle;
    j.verdict = beyond == 0 ? Verdict::inside : Verdict::outside;
    j.beyond = beyond < 0 ? Beyond::below : beyond > 0 ? Beyond::above : Beyond::neither;
    j.severity = std::abs(beyond);
    return j;
}

struct Ride {
    RideData data;
    std::vector<std::vector<Judged>> judged;
};
/// ID[@GAIT/SEAT[/SIDE]].
InWork in_work(const std::string& said) {
    InWork out(said.substr(0, said.find('@')));
    if (out.fault == said) return out;
    std::istringstream where(said.substr(out.fault.size() + 1));
    std::string gait, seat;
    std::getline(where, gait, '/');
    std::getline(where, seat, '/');
    std::getline(where, out.side);
    out.gait = gait_from(gait);
    out.seat = seat_from(seat);
    return out;
}
Ride ride_of(const Json& one) {
    Ride out;
    out.data.level = one.value("level", "");
    for (const std::string& said : one.value("in_work", std::vector<std::string>{}))
        out.data.in_work.push_back(in_work(said));
    for (InWork& w : out.data.in_work) w.inside_before = one.value("inside_before", false);
    const Gait gait = *gait_from(one.value("gait", "trot"));
    const Seat seat = *seat_from(one.value("seat", "sitting"));
    const View view = *view_from(one.value("view", "side"));
    for (const Json& m : one["moments"]) {
        RideMoment moment;
        moment.setting.school = "hunter";
        moment.setting.gait = gait;
        moment.setting.seat = seat;
        moment.setting.phase = m.value("phase", "");
        moment.figure.view = view;
        moment.seen = {gait, seat, view == View::side ? "right" : ""};
        std::vector<Judged> judged;
        for (const auto& [id, beyond] : m["values"].items())
            judged.push_back(judged_at(id, beyond.get<double>(), moment.setting));
        const Json checks = m.value("checks", Json::object());
        for (const auto& [id, said] : checks.items()) {
            out.data.checks.push_back({id,
                                       said == "fault" ? CheckAnswer::Said::fault : CheckAnswer::Said::good,
                                       out.data.moments.size()});
        }
        out.data.moments.push_back(std::move(moment));
        out.judged.push_back(std::move(judged));
    }
    return out;
}

TEST(FocusCases, AsAGoodCoachWould) {
    std::ifstream in(ASPEN_SOURCE_DIR "/tests/data/focus_cases.json");
    const Json cases = Json::parse(in)["cases"];
    EXPECT_EQ(cases.size(), 48U);
    for (const Json& one : cases) {
        const std::string rider = one["rider"];
        Ride ride = ride_of(one);
        const RideAssessment a = assess_judged(ride.data, std::move(ride.judged), knowledge());
        if (one["focus"].is_null()) {
            EXPECT_FALSE(a.focus) << rider << ": " << (a.focus ? a.focus->fault->id : "");
            continue;
        }
        ASSERT_TRUE(a.focus) << rider;
        EXPECT_EQ(a.focus->fault->id, one["focus"].get<std::string>()) << rider << ": " << a.focus->why;
        EXPECT_THAT(a.focus->why, testing::HasSubstr(one["because"].get<std::string>())) << rider;
    }
}

}  // namespace
}  // namespace aspen::core
