// What is drawn of a finding: the rider's own limbs laid into the bands, the marks on the frame, the words.

#include "core/judging/target.hpp"
#include "core/ride/ride.hpp"

#include <gmock/gmock.h>

#include "core/core_support.hpp"
#include "core/motion/rise_phase.hpp"
#include "core/ride/stirrup.hpp"
#include "core/ride/summary.hpp"

namespace aspen::core {
namespace {

using L = Landmark;
using test::knowledge;
using testing::HasSubstr;

Setting classical() {
    Setting s;
    s.school = "classical";
    s.gait = Gait::trot;
    return s;
}
std::vector<Judged> judged_of(const Figure& f) {
    return judge(f, classical(), knowledge().body, knowledge().schools);
}
Figure leg_back_and_tipped(Travel travel = Travel::right) {
    Figure f = test::sitting_rider();
    f.camera = {0, 0.3, 0, 3, true, true};
    for (const L l : {L::ankle, L::heel, L::toe}) f[l].at.x -= 70;
    for (const L l : {L::shoulder, L::ear, L::elbow, L::wrist, L::knuckle}) f[l].at.x += 45;
    if (travel == Travel::left) {
        f.travel = travel;
        for (Mark& m : f.marks) m.at.x = 1280 - m.at.x;
    }
    return f;
}

TEST(Target, LiesInsideEveryBandWithTheRidersOwnLimbs) {
    for (const Travel travel : {Travel::right, Travel::left}) {
        const Figure f = leg_back_and_tipped(travel);
        const auto before = judged_of(f);
        ASSERT_EQ(find(before, "heel_offset")->verdict, Verdict::outside);
        ASSERT_EQ(find(before, "trunk_lean")->verdict, Verdict::outside);
        const auto target = target_figure(f, before);
        ASSERT_TRUE(target);
        Figure t = *target;
        t.camera = f.camera;
        const auto after = judged_of(t);
        for (const char* id : {"heel_offset", "trunk_lean", "knee_angle", "heel_drop", "ear_offset",
                               "upper_arm", "elbow_angle"}) {
            const Judged* j = find(after, id);
            ASSERT_TRUE(j && j->measured.value && j->band) << id;
            EXPECT_GE(*j->measured.value, *j->band->lo - 1.0) << id;
            EXPECT_LE(*j->measured.value, *j->band->hi + 1.0) << id;
        }
        for (const auto& [a, b] : {std::pair{L::hip, L::shoulder},
                                   {L::hip, L::knee},
                                   {L::knee, L::ankle},
                                   {L::ankle, L::heel},
                                   {L::shoulder, L::elbow},
                                   {L::elbow, L::wrist}})
            EXPECT_NEAR(distance(t[a].at, t[b].at), distance(f[a].at, f[b].at), 1e-6) << id(a) << id(b);
        EXPECT_EQ(t[L::hip].at, f[L::hip].at) << "from where the rider sits";
    }
}

TEST(Target, OfARiderInsideIsTheRider) {
    const Figure f = test::sitting_rider();
    auto judged = judged_of(f);
    for (Judged& j : judged) j.band.reset();
    const auto target = target_figure(f, judged);
    ASSERT_TRUE(target);
    for (const L l : {L::ear, L::shoulder, L::elbow, L::wrist, L::knee, L::ankle, L::heel, L::toe})
        EXPECT_LT(distance((*target)[l].at, f[l].at), 1e-6) << id(l);
    Figure without = f;
    without[L::knee] = Mark{};
    EXPECT_FALSE(target_figure(without, judged));
}

TEST(FrameMarks, ShowWhatIsNamedWithTheWayBack) {
    const Figure f = leg_back_and_tipped();
    const auto judged = judged_of(f);
    const auto observed = knowledge().faults.observe(judged, classical(), View::side).observations;
    const Fault* leg = knowledge().faults.find("lower_leg_back");
    const auto marks = frame_marks(f, judged, observed, {leg});
    ASSERT_EQ(marks.size(), 1U) << "what the coach does not name is not drawn";
    EXPECT_EQ(marks[0].fault, leg);
    EXPECT_EQ(marks[0].end, L::heel);
    ASSERT_TRUE(marks[0].should_be);
    EXPECT_GT(marks[0].should_be->x, f[L::heel].at.x + 20) << "forward, under the hip";
    EXPECT_TRUE(frame_marks(f, judged, observed, {}).empty());
    const Fault* eyes = knowledge().faults.find("looking_down");
    const auto by_eye =
        knowledge().faults.observe(judged, classical(), View::side, {{"looking_down", true}}).observations;
    const auto head = frame_marks(f, judged, by_eye, {eyes});
    ASSERT_EQ(head.size(), 1U) << "what the eye named is drawn at its part";
    EXPECT_EQ(head[0].end, L::ear);
    EXPECT_FALSE(head[0].should_be) << "and no way back is invented for it";
}

TEST(Words, ComeBeforeTheNumber) {
    const Figure f = leg_back_and_tipped();
    const auto judged = judged_of(f);
    const auto say = [&](const char* id, std::optional<int> height = {}) {
        return knowledge().measure_words.of(*find(judged, id), knowledge().body, {height, false});
    };
    EXPECT_THAT(say("heel_offset"), HasSubstr("hand"));
    EXPECT_THAT(say("heel_offset", 170), testing::ContainsRegex("heel [0-9]+ cm behind the hip"));
    EXPECT_EQ(say("trunk_lean"), "trunk tipped forward");
    for (const View view : {View::side, View::rear}) {
        for (const MeasureInfo& info : measures_of(view)) {
            Setting s = classical();
            const auto band = knowledge().schools.band(info.id, s);
            if (!std::holds_alternative<Band>(band)) continue;
            Judged j;
            j.measured.info = &info;
            j.measured.value = 1;
            j.beyond = Beyond::above;
            EXPECT_EQ(knowledge().measure_words.of(j, knowledge().body, {}), info.spoken)
                << info.id << ": without a band no word of judgement";
            j.band = std::get<Band>(band);
            EXPECT_NE(knowledge().measure_words.of(j, knowledge().body, {}), info.spoken) << info.id;
        }
    }
}

TEST(Summary, GoodFirstThenFindingsTheHorseAndWhatIsOpen) {
    RideMoment m;
    m.figure = leg_back_and_tipped();
    m.setting = classical();
    m.seen = {Gait::trot, Seat::sitting, "right"};
    const RideData ride{{m},
                        {},
                        {},
                        {},
                        {{"above_the_bit", CheckAnswer::Said::fault, 0},
                         {"foot_slips", CheckAnswer::Said::fault, 0},
                         {"hand_drawn_back", CheckAnswer::Said::fault, 0},
                         {"looking_down", CheckAnswer::Said::good, 0}}};
    const RideAssessment a = assess_ride(ride, knowledge());
    const RideSummary s = summary_of(a, ride, knowledge());
    ASSERT_FALSE(s.good.empty());
    EXPECT_EQ(s.good.front(), "Eyes up and ahead") << "what the eye saw stands first";
    ASSERT_FALSE(s.findings.empty());
    EXPECT_EQ(s.findings.front().words, "from one moment");
    ASSERT_EQ(s.horse.size(), 1U);
    EXPECT_THAT(s.horse.front(), HasSubstr("Hand drawn back"));
    EXPECT_TRUE(std::ranges::any_of(s.open, [](const NotJudged& n) { return n.view == "rear"; }));
    EXPECT_TRUE(std::ranges::any_of(a.causes, [](const Cause& c) { return c.from == "foot_slips"; }));
    for (const RideFinding& f : a.findings) EXPECT_EQ(f.found.fault->kind, Fault::Kind::fault);
}

// Common practice, no source: just below the ankle bone for flat work, at it for general, just above for
// jumping, several holes higher for galloping; 25 mm a hole. Common practice, numbers from memory.
TEST(Stirrups, FollowTheAnkleBoneAndTheJob) {
    EXPECT_EQ(stirrup_advice(StirrupJob::general, 0).holes, 0);
    EXPECT_EQ(stirrup_advice(StirrupJob::general, -5).holes, 2) << "it hangs two holes too low";
    EXPECT_EQ(stirrup_advice(StirrupJob::jump, 0).holes, 1);
    EXPECT_EQ(stirrup_advice(StirrupJob::gallop, 0).holes, 4);
    EXPECT_EQ(stirrup_advice(StirrupJob::flat, 3).holes, -2);
    RideMoment m;
    m.setting = classical();
    m.seen = {Gait::trot, Seat::sitting, "right"};
    RideData ride{{m}, {}, {}, {}, {}};
    const auto advice = [&] { return stirrup_advice(ride, assess_ride(ride, knowledge())); };
    EXPECT_FALSE(advice()) << "nobody looked";
    ride.checks = {{"tread_too_high", CheckAnswer::Said::fault, 0}};
    EXPECT_EQ(advice()->holes, -1);
    ride.checks.push_back({"leg_drawn_up", CheckAnswer::Said::fault, 0});
    EXPECT_EQ(advice()->holes, 0) << "never longer for a leg that is drawn up";
    ride.checks = {{"tread_too_low", CheckAnswer::Said::fault, 0}};
    EXPECT_EQ(advice()->holes, 1);
    EXPECT_THAT(advice()->words, HasSubstr("both sides"));
}

// By hand, law of cosines: thigh and shank of 41.7 and 41.8 cm (a rider of 170 cm) reach 80.2 cm at 148
// degrees and 73.4 at 123, the middle of the band: 6.9 cm, 2.8 holes.
TEST(Stirrups, GoUpBySeveralHolesAtOnceAndDownOneAtATime) {
    RideMoment m;
    m.figure = test::sitting_rider();
    m.setting = classical();
    m.seen = {Gait::trot, Seat::sitting, "right"};
    const auto advice = [&](double knee_deg, const char* check) {
        const double t = 0.43, s = 0.42;  // metres would do: only the angle counts
        const Point hip = m.figure.marks[index(Landmark::hip)].at,
                    knee = m.figure.marks[index(Landmark::knee)].at;
        const double length = std::hypot(knee.x - hip.x, knee.y - hip.y) * s / t;
        const double up = std::atan2(hip.y - knee.y, hip.x - knee.x), turn = radians(knee_deg);
        const Point ankle{knee.x + length * std::cos(up + turn), knee.y + length * std::sin(up + turn)};
        m.figure.marks[index(Landmark::ankle)].at =
            ankle.y > knee.y
                ? ankle
                : Point{knee.x + length * std::cos(up - turn), knee.y + length * std::sin(up - turn)};
        RideData ride{{m}, {}, {}, {}, {}};
        ride.checks = {{check, CheckAnswer::Said::fault, 0}};
        return *stirrup_advice(ride, assess_ride(ride, knowledge()), 170);
    };
    EXPECT_EQ(advice(148, "tread_too_low").holes, 3);
    EXPECT_THAT(advice(148, "tread_too_low").words, HasSubstr("3 holes up"));
    EXPECT_THAT(advice(148, "tread_too_low").words, HasSubstr("about 8 cm"));
    EXPECT_EQ(advice(126, "tread_too_low").holes, 1) << "the eye's word is worth one";
    const StirrupAdvice longer = advice(95, "tread_too_high");
    EXPECT_EQ(longer.holes, -1);
    EXPECT_THAT(longer.words, HasSubstr("one at a time"));
}

TEST(RisePhase, IsProposedWhereTheHipTellsItAndElseNot) {
    Figure f = test::sitting_rider();
    const double trunk = distance(f[L::hip].at, f[L::shoulder].at);
    f[L::cantle].at.y = f[L::hip].at.y + 0.05 * trunk;
    EXPECT_EQ(rise_phase(f), "rise_bottom");
    f[L::cantle].at.y = f[L::hip].at.y + 0.22 * trunk;
    EXPECT_EQ(rise_phase(f), "rise_top");
    f[L::cantle].at.y = f[L::hip].at.y + 0.14 * trunk;
    EXPECT_EQ(rise_phase(f), "") << "in between nobody guesses";
    f[L::cantle].confirmed = false;
    EXPECT_EQ(rise_phase(f), "");
}

}  // namespace
}  // namespace aspen::core
