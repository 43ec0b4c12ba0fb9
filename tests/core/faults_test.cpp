#include <gmock/gmock.h>

#include <set>

#include "core/core_support.hpp"
#include "core/knowledge/knowledge.hpp"
#include "core/ride/ride.hpp"
#include "support/refusal.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::ElementsAre;
using testing::HasSubstr;

/// Values that stand where they are put, with a band of -5 to 5 and an error of 1.
std::vector<Judged> values(const std::map<std::string, double>& set) {
    std::vector<Judged> out;
    for (const auto& [id, value] : set) {
        Judged j;
        j.measured = {find_measure(id), value, 1, {}};
        j.band = Band{-5, 5, 5, {}, {}};
        j.verdict = verdict_of(value, 1, *j.band);
        if (std::abs(value) > 5) j.beyond = value > 0 ? Beyond::above : Beyond::below;
        if (j.verdict == Verdict::outside) j.severity = (std::abs(value) - 5 - 1.645) / 5;
        out.push_back(j);
    }
    return out;
}
std::vector<std::string> ids(const std::vector<FoundFault>& found, Verdict v) {
    std::vector<std::string> out;
    for (const FoundFault& f : found) {
        if (f.verdict == v) out.push_back(f.fault->id);
    }
    return out;
}
Setting in(Seat seat, const std::string& phase = {}) {
    Setting out;
    out.school = "classical";
    out.gait = Gait::trot;
    out.seat = seat;
    out.phase = phase;
    return out;
}
ObservedMoment seen(const std::map<std::string, double>& set, const std::string& phase = {},
                    Seat seat = Seat::sitting) {
    return knowledge().faults.observe(values(set), in(seat, phase), View::side);
}
std::vector<FoundFault> look(const std::map<std::string, double>& set, Seat seat = Seat::sitting) {
    return knowledge().faults.merge({seen(set, {}, seat)}).found;
}

TEST(Faults, ShippedBookHasAtLeastTenMeasuredOnes) {
    const auto& all = knowledge().faults.faults();
    EXPECT_GE(std::ranges::count_if(all, [](const Fault& f) { return !f.by_eye; }), 10);
    std::set<std::string> letters;
    for (const Fault& f : all) {
        EXPECT_FALSE(f.says.empty() || f.rider.empty() || f.horse.empty()) << f.id;
        EXPECT_TRUE(letters.insert(f.letters).second && f.letters.size() == 2) << f.id << ' ' << f.letters;
    }
    for (const Fault& f : knowledge().faults.states()) EXPECT_TRUE(letters.insert(f.letters).second) << f.id;
    for (const StrengthRule& s : knowledge().strengths.all())
        EXPECT_TRUE(letters.insert(s.letters).second) << s.id;
    // The trade's list has 58 names; told apart from them are leaning to a side, uneven irons, thumbs, the
    // seat too far out over the fence, the hand before the seat, pulling while asking, standing up in the
    // change.
    EXPECT_EQ(all.size(), 65U);
}

TEST(Faults, AreNamedOnlyWhenCertain) {
    EXPECT_THAT(ids(look({{"heel_offset", -12}}), Verdict::outside), ElementsAre("lower_leg_back"));
    EXPECT_THAT(ids(look({{"heel_offset", -5.5}}), Verdict::outside), ElementsAre());
    EXPECT_THAT(ids(look({{"heel_offset", -5.5}}), Verdict::borderline), ElementsAre("lower_leg_back"));
    EXPECT_TRUE(look({{"heel_offset", 0}}).empty());
}

TEST(Faults, AChairSeatNeedsTheSeatBackOrTheKneeUp) {
    EXPECT_THAT(ids(look({{"heel_offset", 12}, {"seat_place", -12}}), Verdict::outside),
                ElementsAre("chair_seat"));
    EXPECT_THAT(ids(look({{"heel_offset", 12}, {"knee_angle", -12}}), Verdict::outside),
                ElementsAre("chair_seat"))
        << "the trunk may be upright";
    EXPECT_THAT(ids(look({{"heel_offset", 12}, {"seat_place", 0}, {"knee_angle", 0}}), Verdict::outside),
                ElementsAre("lower_leg_forward"));
    EXPECT_THAT(ids(look({{"heel_offset", 12}, {"trunk_lean", 0}}), Verdict::outside),
                ElementsAre("lower_leg_forward"))
        << "where the seat cannot be told, only what is seen is named";
    EXPECT_THAT(ids(look({{"heel_offset", 12}, {"seat_place", -6}, {"knee_angle", 0}}), Verdict::outside),
                ElementsAre("lower_leg_forward"))
        << "a borderline chair seat covers nothing";
}

// What looks alike is told apart by the eye, and what the eye has to settle is asked for.
using Offsets = std::map<std::string, double>;
std::vector<std::string> named_sitting(const Offsets& set, const EyeAnswers& eye) {
    const FaultBook& book = knowledge().faults;
    const auto merged = book.merge({book.observe(values(set), in(Seat::sitting), View::side, eye)});
    return ids(merged.found, Verdict::outside);
}

// What looks alike is told apart by the eye, and what the eye has to settle is asked for.
TEST(Faults, AClosedOrOpenKneeNeedsTheEyesWordOnTheStirrup) {
    EXPECT_TRUE(named_sitting({{"knee_angle", -12}}, {}).empty());
    const auto asked = knowledge().faults.merge({seen({{"knee_angle", -12}})}).wanted;
    ASSERT_FALSE(asked.empty());
    EXPECT_EQ(asked.front().check, "tread_too_high");
    EXPECT_THAT(named_sitting({{"knee_angle", -12}}, {{"tread_too_high", true}}),
                ElementsAre("stirrup_too_short"));
    EXPECT_THAT(named_sitting({{"knee_angle", -12}}, {{"tread_too_high", false}}),
                ElementsAre("leg_drawn_up"));
    EXPECT_TRUE(named_sitting({{"knee_angle", 12}}, {}).empty());
    EXPECT_THAT(named_sitting({{"knee_angle", 12}}, {{"tread_too_low", true}}),
                ElementsAre("stirrup_too_long"));
    EXPECT_THAT(named_sitting({{"knee_angle", 12}, {"heel_drop", -12}}, {}),
                testing::UnorderedElementsAre("stirrup_too_long", "heel_up"))
        << "a reaching toe";
}

TEST(Faults, ALowHeelAndASlantingLeatherAreNoFaultsByThemselves) {
    EXPECT_TRUE(named_sitting({{"heel_drop", 12}}, {{"ankle_stiff", false}}).empty())
        << "a low heel is a good heel";
    EXPECT_THAT(named_sitting({{"heel_drop", 12}}, {{"ankle_stiff", true}}), ElementsAre("jammed_heel"));
    EXPECT_TRUE(named_sitting({{"leather", 12}}, {}).empty()) << "a slanting leather is an observation";
    EXPECT_THAT(named_sitting({}, {{"slack_leather", true}}), ElementsAre("slack_leather"));
    EXPECT_TRUE(named_sitting({{"heel_offset", -12}}, {{"lower_leg_back", false}}).empty())
        << "the eye's word stands above the measured";
}

std::vector<FoundFault> from_behind(const std::map<std::string, double>& set, Setting s = in(Seat::sitting),
                                    View view = View::rear) {
    return knowledge().faults.merge({knowledge().faults.observe(values(set), s, view)}).found;
}

TEST(Faults, FromBehindSidesAreToldApart) {
    EXPECT_THAT(ids(from_behind({{"lateral_lean", 12}, {"hip_tilt", 0}}), Verdict::outside),
                ElementsAre("leaning_to_a_side"));
    EXPECT_TRUE(from_behind({{"lateral_lean", 12}, {"hip_tilt", 12}}).empty()) << "hips not level";
    EXPECT_THAT(ids(from_behind({{"shoulder_tilt", 12}, {"hip_tilt", -12}}), Verdict::outside),
                testing::UnorderedElementsAre("collapsed_side", "dropped_shoulder"));
    EXPECT_THAT(ids(from_behind({{"shoulder_tilt", 12}, {"hip_tilt", 12}}), Verdict::outside),
                ElementsAre("dropped_shoulder"))
        << "both tilted the same way collapses nothing";
    EXPECT_EQ(from_behind({{"shoulder_tilt", 12}, {"hip_tilt", 0}})[0].toward, Beyond::above);
    const auto rear = [](double tilt) {
        return knowledge().faults.observe(values({{"shoulder_tilt", tilt}, {"hip_tilt", 0}}),
                                          in(Seat::sitting), View::rear);
    };
    EXPECT_EQ(knowledge().faults.merge({rear(12), rear(-12)}).found.at(0).toward, Beyond::neither)
        << "to both sides in turn it tends to none";
    Setting circle = in(Seat::sitting);
    circle.movement = "circle";
    circle.rein = Rein::left;
    EXPECT_THAT(ids(from_behind({{"lateral_lean", -12}, {"hip_tilt", 0}}, circle), Verdict::outside),
                ElementsAre("leaning_in"));
    EXPECT_THAT(ids(from_behind({{"lateral_lean", 12}, {"hip_tilt", 0}}, circle), Verdict::outside),
                ElementsAre("leaning_to_a_side"))
        << "outward is not in";
}

TEST(Faults, OffCentreIsSafetyOnceAllOfItLiesFarOff) {
    const auto off = [](double value, View view = View::rear) {
        return from_behind({{"seat_on_saddle", value}, {"centre_offset", 0}}, in(Seat::sitting), view);
    };
    EXPECT_EQ(off(12).at(0).group(), AttentionGroup::base);
    EXPECT_EQ(off(21.6).at(0).group(), AttentionGroup::base);
    EXPECT_EQ(off(21.7).at(0).group(), AttentionGroup::safety);
    EXPECT_EQ(off(-21.7).at(0).group(), AttentionGroup::safety);
    EXPECT_TRUE(off(21.7, View::front).empty()) << "from the front middle over middle tells it";
}

TEST(Faults, NoStirrupIsTooShortWithoutStirrups) {
    Setting off = in(Seat::sitting);
    const auto found = [&] {
        return knowledge()
            .faults
            .merge({knowledge().faults.observe(values({{"knee_angle", -12}}), off, View::side,
                                               {{"tread_too_high", true}})})
            .found;
    };
    EXPECT_FALSE(found().empty());
    off.stirrups = Stirrups::off;
    EXPECT_TRUE(found().empty());
}

TEST(Faults, OverAFenceThePhaseNamesThem) {
    Setting jump = in(Seat::two_point, "take_off");
    jump.gait = Gait::jump;
    const auto named = [&] {
        return ids(from_behind({{"trunk_lean", 12}}, jump, View::side), Verdict::outside);
    };
    EXPECT_THAT(named(), ElementsAre("folding_further_over_the_fence"));
    jump.phase = "approach";
    EXPECT_THAT(named(), ElementsAre("tipped_forward"));
    const auto top = seen({{"knee_angle", 12}}, "rise_top", Seat::rising);
    EXPECT_THAT(ids(knowledge().faults.merge({top}).found, Verdict::outside),
                ElementsAre("standing_too_high_in_the_rise"));
}

// A13: every limit of every band is read by a fault, or the data says why not.
TEST(Faults, NoBandIsReadByNone) {
    std::set<std::pair<std::string, Condition::Side>> read;
    using S = Condition::Side;
    const auto add = [&](const std::string& measure, S side) {
        if (side != S::above) read.emplace(measure, S::below);
        if (side != S::below) read.emplace(measure, S::above);
    };
    for (const Fault& f : knowledge().faults.faults())
        each_condition(f.when, [&](const Condition& c) {
            if (!c.measure.empty() && c.side != S::inside) add(c.measure, c.side);
        });
    for (const Unread& u : knowledge().faults.unread()) add(u.measure, u.side);
    for (const School& school : knowledge().schools.all()) {
        for (const auto& [name, section] : school.sections) {
            for (const auto& [key, cell] : section.bands) {
                const std::string measure = key.substr(0, key.find_first_of("/@"));
                if (measure == "leg_swing" || std::holds_alternative<std::monostate>(cell)) continue;
                const auto* range = std::get_if<School::Range>(&cell);
                if (!range || range->lo) {
                    EXPECT_TRUE(read.contains({measure, S::below})) << measure << " below";
                }
                if (!range || range->hi) {
                    EXPECT_TRUE(read.contains({measure, S::above})) << measure << " above";
                }
            }
        }
    }
}

TEST(Faults, KeepToTheirSeatAndView) {
    EXPECT_THAT(ids(look({{"shoulder_past_knee", 30}}, Seat::two_point), Verdict::outside),
                ElementsAre("shoulder_past_knee"));
    EXPECT_THAT(ids(from_behind({{"shoulder_tilt", 9}, {"hip_tilt", 0}}), Verdict::outside),
                ElementsAre("dropped_shoulder"));
}

TEST(Faults, OverMomentsCountHowOftenAndMeanSeverity) {
    const auto a = seen({{"heel_offset", -12}}, "rise_top"), b = seen({{"heel_offset", -16}}, "rise_top"),
               c = seen({{"heel_offset", 0}}, "rise_bottom");
    const auto merged = knowledge().faults.merge({a, b, c, c, seen({{"knee_angle", 0}})});
    ASSERT_EQ(merged.found.size(), 1U);
    const FoundFault& f = merged.found[0];
    EXPECT_DOUBLE_EQ(f.share, 0.5) << "of the four moments that could judge it, not of five";
    EXPECT_NEAR(f.severity, ((12 - 5 - 1.645) / 5 + (16 - 5 - 1.645) / 5) / 2, 1e-12);
    EXPECT_EQ(f.phase, "rise_top");
    EXPECT_FALSE(f.seen_once);
    EXPECT_TRUE(knowledge().faults.merge({a, c, c, c}).found[0].seen_once) << "one of four is no habit";
    EXPECT_FALSE(knowledge().faults.merge({a, c}).found[0].seen_once) << "of two nobody can tell";
}

TEST(Faults, WhatIsCoveredIsStruckMomentByMoment) {
    const auto chair = seen({{"heel_offset", 12}, {"seat_place", -12}}),
               ahead = seen({{"heel_offset", 30}, {"seat_place", 0}, {"knee_angle", 0}});
    const auto merged = knowledge().faults.merge({chair, ahead, ahead, ahead});
    ASSERT_EQ(merged.found.size(), 2U) << "one mild chair seat does not swallow three legs ahead";
    const auto leg =
        std::ranges::find(merged.found, "lower_leg_forward", [](const FoundFault& f) { return f.fault->id; });
    ASSERT_NE(leg, merged.found.end());
    EXPECT_EQ(leg->judgeable, 3);
    EXPECT_DOUBLE_EQ(leg->share, 1);
    EXPECT_THAT(ids(merged.found, Verdict::outside),
                testing::UnorderedElementsAre("lower_leg_forward", "chair_seat"));
    const auto only = knowledge().faults.merge({chair, chair});
    ASSERT_EQ(only.found.size(), 1U);
    ASSERT_EQ(only.covered.size(), 1U);
    EXPECT_EQ(only.covered[0]->id, "lower_leg_forward") << "no fault of its own, yet an end of causes";
}

TEST(Faults, ForwardAndBackInTurnIsUnsteady) {
    const auto ahead = seen({{"heel_offset", 14}}), back = seen({{"heel_offset", -14}}),
               still = seen({{"heel_offset", 0}});
    const auto merged = knowledge().faults.merge({ahead, back, ahead, back});
    ASSERT_EQ(merged.found.size(), 1U);
    EXPECT_EQ(merged.found[0].fault->id, "unsteady_heel_offset");
    EXPECT_DOUBLE_EQ(merged.found[0].share, 1);
    EXPECT_EQ(merged.found[0].fault->group, AttentionGroup::base);
    EXPECT_EQ(knowledge().faults.merge({ahead, ahead, ahead, still, still, still, back}).found.size(), 2U)
        << "once the other way is not in turn";
}

TEST(Faults, ADoubtfulValueTendsOnlyWhereItLies) {
    Judged wide;
    wide.measured = {find_measure("heel_offset"), 0.5, 8, {}};
    wide.band = Band{-5, 5, 5, {}, {}};
    wide.verdict = verdict_of(0.5, 8, *wide.band);
    ASSERT_EQ(wide.verdict, Verdict::borderline);
    const ObservedMoment m = knowledge().faults.observe({wide}, in(Seat::sitting), View::side);
    EXPECT_TRUE(knowledge().faults.merge({m}).found.empty())
        << "inside, but too wide to tell: nobody's fault";
}

FocusRequest request(const std::vector<ObservedMoment>& moments, std::vector<std::string> in_work = {},
                     const std::string& level = {}) {
    const auto merged = knowledge().faults.merge(moments);
    FocusRequest out{{}, {}, level};
    for (std::string& id : in_work) out.in_work.push_back({InWork(std::move(id))});
    for (const FoundFault& f : merged.found)
        out.candidates.push_back({f, Gait::trot, Seat::sitting, "right"});
    for (const Fault* f : merged.covered) {
        out.candidates.push_back({{}, Gait::trot, Seat::sitting, "right", true});
        out.candidates.back().found.fault = f;
    }
    return out;
}
std::optional<Focus> focus_of(const std::map<std::string, double>& set, std::vector<std::string> in_work = {},
                              const std::string& level = {}) {
    return choose_focus(request({seen(set)}, std::move(in_work), level), knowledge().faults);
}

std::optional<Focus> focus_among(const std::vector<std::pair<const char*, double>>& certain) {
    FocusRequest out;
    for (const auto& [id, severity] : certain) {
        FocusCandidate c{{}, Gait::trot, Seat::sitting, "right"};
        c.found.fault = knowledge().faults.find(id);
        c.found.severity = severity;
        c.found.certain = c.found.judgeable = 3;
        out.candidates.push_back(std::move(c));
    }
    return choose_focus(out, knowledge().faults);
}

// A hair's breadth drives nothing: what follows from a fault counts up to three times its own weight.
TEST(Focus, WhatAFaultReachesCountsThriceItsOwnAtMost) {
    EXPECT_EQ(focus_among({{"lower_leg_back", 0.4}, {"tipped_forward", 1.9}, {"toe_out", 1.7}})->fault->id,
              "toe_out")
        << "0.4 and thrice 0.4 are less than 1.7, though it tips the trunk by 1.9";
    EXPECT_EQ(focus_among({{"lower_leg_back", 0.5}, {"tipped_forward", 1.9}, {"toe_out", 1.7}})->fault->id,
              "lower_leg_back");
}

TEST(Focus, AnAncestorOfALaterClassGoesFirstFromAQuarterOfWhatItReaches) {
    EXPECT_EQ(focus_among({{"looking_down", 0.35}, {"rounded_shoulders", 1.0}})->fault->id, "looking_down");
    EXPECT_EQ(focus_among({{"looking_down", 0.22}, {"rounded_shoulders", 1.0}})->fault->id,
              "rounded_shoulders");
}

TEST(Circle, TheLegInViewIsTheInnerOneOnTheReinItTravels) {
    EXPECT_EQ(circle_leg_of(Rein::right, Travel::right), CircleLeg::inner);
    EXPECT_EQ(circle_leg_of(Rein::left, Travel::left), CircleLeg::inner);
    EXPECT_EQ(circle_leg_of(Rein::left, Travel::right), CircleLeg::outer);
    EXPECT_FALSE(circle_leg_of(Rein::straight, Travel::right));
}

TEST(Causes, NeedBothEndsInOneGaitSeatAndSide) {
    auto all = request({seen({{"heel_offset", -12}, {"trunk_lean", 12}})}).candidates;
    const auto causes = causes_among(all, knowledge().faults.causes());
    ASSERT_EQ(causes.size(), 1U);
    EXPECT_EQ(causes[0].from, "lower_leg_back");
    EXPECT_EQ(causes[0].to, "tipped_forward");
    EXPECT_EQ(causes[0].gait, Gait::trot);
    all[0].side = "left";
    EXPECT_TRUE(causes_among(all, knowledge().faults.causes()).empty())
        << "the left leg does not tip the right side";
    all[0].side = "";
    EXPECT_EQ(causes_among(all, knowledge().faults.causes()).size(), 1U);
    all[0].gait = Gait::canter;
    EXPECT_TRUE(causes_among(all, knowledge().faults.causes()).empty());
}

// From the canter to the fence (common practice, no source): a leg that is back on the way there throws the
// trunk forward at the take-off. Other causes stay in their gait.
TEST(Causes, SomeGoFromTheCanterToTheFence) {
    const auto of = [](const char* id, Gait gait, Seat seat) {
        FocusCandidate c{{}, gait, seat, ""};
        c.found.fault = knowledge().faults.find(id);
        c.found.verdict = Verdict::outside;
        c.found.certain = c.found.judgeable = 3;
        c.found.severity = c.found.share = 1;
        return c;
    };
    const auto joined = [](const FocusCandidate& a, const FocusCandidate& b) {
        return !causes_among({a, b}, knowledge().faults.causes()).empty();
    };
    const FocusCandidate ahead = of("ahead_of_the_motion", Gait::jump, Seat::two_point);
    EXPECT_TRUE(joined(of("lower_leg_back", Gait::canter, Seat::half), ahead));
    EXPECT_TRUE(joined(of("lower_leg_back", Gait::jump, Seat::two_point), ahead));
    EXPECT_FALSE(joined(of("lower_leg_back", Gait::trot, Seat::rising), ahead));
    EXPECT_FALSE(joined(of("swinging_leg", Gait::canter, Seat::half), ahead)) << "not every cause";
    EXPECT_FALSE(joined(of("ahead_of_the_motion", Gait::canter, Seat::half),
                        of("lower_leg_back", Gait::jump, Seat::two_point)))
        << "not backwards";
}

TEST(Focus, BaseComesBeforeWhatItCarries) {
    const auto focus = focus_of({{"trunk_lean", 30}, {"heel_offset", 14}});
    ASSERT_TRUE(focus);
    EXPECT_EQ(focus->fault->id, "lower_leg_forward") << "less severe, but the base";
    EXPECT_THAT(focus->why, HasSubstr("base"));
    ASSERT_EQ(focus->runners_up.size(), 1U);
    EXPECT_THAT(focus->runners_up[0].why_not, HasSubstr("the base before the trunk"));
}

TEST(Focus, AHairsBreadthGoesBeforeNothing) {
    const auto focus = focus_of({{"trunk_lean", 30}, {"heel_offset", 7}});
    ASSERT_TRUE(focus);
    EXPECT_EQ(focus->fault->id, "tipped_forward") << "the leg is slight beside it";
    EXPECT_THAT(focus->runners_up[0].why_not, HasSubstr("slight"));
    EXPECT_EQ(focus_of({{"heel_offset", 7}})->fault->id, "lower_leg_forward") << "when nothing else stands";
}

TEST(Focus, WhatExplainsAnotherGoesFirstWhenItCarriesEnough) {
    const auto focus = focus_of({{"ear_offset", 14}, {"trunk_lean", 20}});
    ASSERT_TRUE(focus);
    EXPECT_EQ(focus->fault->id, "head_poked") << "the head is a later group, but it drives the trunk";
    EXPECT_THAT(focus->why, HasSubstr("drives tipped forward"));
    EXPECT_EQ(focus_of({{"ear_offset", 9}, {"trunk_lean", 30}})->fault->id, "tipped_forward")
        << "a root without weight of its own drives nothing";
}

TEST(Focus, InWorkStaysUntilHeld) {
    const std::map<std::string, double> both{{"trunk_lean", 12}, {"heel_offset", -14}};
    EXPECT_EQ(focus_of(both)->fault->id, "lower_leg_back");
    EXPECT_EQ(focus_of(both, {"tipped_forward"})->fault->id, "tipped_forward");
    EXPECT_THAT(focus_of(both, {"tipped_forward"})->why, HasSubstr("in work"));
    auto held = request({seen(both)}, {"heel_up"});
    EXPECT_EQ(choose_focus(held, knowledge().faults)->fault->id, "heel_up")
        << "not judged in this ride: it stays";
    EXPECT_FALSE(choose_focus(held, knowledge().faults)->gait);
    held.in_work[0].held = true;
    EXPECT_EQ(choose_focus(held, knowledge().faults)->fault->id, "lower_leg_back") << "a held one gives way";
    EXPECT_EQ(focus_of({{"heel_offset", -5.5}}, {"lower_leg_back"})->fault->id, "lower_leg_back")
        << "doubtful stays";
}

TEST(Focus, SafetyInterruptsWhateverIsInWork) {
    auto r = request({seen({{"heel_offset", -14}})}, {"lower_leg_back"});
    FocusCandidate iron{{}, Gait::trot, Seat::sitting, "right"};
    iron.found = {knowledge().faults.find("lost_iron"), Verdict::outside, 1, 1, {"lost_iron"}};
    r.candidates.push_back(iron);
    const auto focus = choose_focus(r, knowledge().faults);
    EXPECT_EQ(focus->fault->id, "lost_iron");
    EXPECT_THAT(focus->why, HasSubstr("safety"));
}

TEST(Focus, ABeginnerIsSparedTheHands) {
    EXPECT_FALSE(focus_of({{"upper_arm", -14}}, {}, "beginner"));
    EXPECT_EQ(focus_of({{"upper_arm", -14}}, {}, "novice")->fault->id, "elbow_behind");
}

TEST(Focus, IsNeverBorderlineNeverSeenOnceAndNeverInvented) {
    EXPECT_FALSE(focus_of({{"heel_offset", -5.5}}));
    EXPECT_FALSE(choose_focus({}, knowledge().faults));
    const auto once = request({seen({{"heel_offset", -14}}), seen({{"heel_offset", 0}}),
                               seen({{"heel_offset", 0}}), seen({{"heel_offset", 0}})});
    EXPECT_FALSE(choose_focus(once, knowledge().faults));
}

std::string fault_refusal(const std::string& faults, const std::string& causes = R"({"causes":[]})") {
    std::istringstream f(faults), c(causes);
    return test::refusal_of([&] { FaultBook(f, "faults.json", c, "causes.json"); });
}

TEST(FaultFiles, ComplaintNamesFileEntryAndField) {
    const std::string good =
        R"({"id":"a","name":"A","says":"s","part":"knee","group":"base","when":[{"measure":"knee_angle","side":"above"}]})";
    EXPECT_EQ(fault_refusal(R"({"faults":[)" + good + "]}"), "taken");
    EXPECT_EQ(fault_refusal(R"({"faults":[)" + good + "," + good + "]}"), "faults.json: \"a\" stands twice");
    EXPECT_EQ(fault_refusal(R"({"faults":[{"id":"a","name":"A","says":"s","part":"tail","group":"base"}]})"),
              "faults.json: fault \"a\": field \"part\" is not a part of the body");
    EXPECT_THAT(
        fault_refusal(
            R"({"faults":[{"id":"a","name":"A","says":"s","part":"knee","group":"base","when":[]}]})"),
        HasSubstr("at least one condition"));
    EXPECT_THAT(
        fault_refusal(
            R"({"faults":[{"id":"a","name":"A","says":"s","part":"knee","group":"base","when":[{"measure":"kneecap","side":"above"}]}]})"),
        HasSubstr("\"kneecap\" is not a measure"));
    EXPECT_THAT(
        fault_refusal(R"({"faults":[)" + good + "]}", R"({"causes":[{"from":"a","to":"b","because":"x"}]})"),
        HasSubstr("names \"b\", which is not a fault"));
    EXPECT_THAT(fault_refusal("[]"), HasSubstr("must be an object"));
    const std::string other = std::string(good).replace(good.find("\"a\""), 3, "\"b\"");
    EXPECT_EQ(fault_refusal(
                  R"({"faults":[)" + good + "," + other + "]}",
                  R"({"causes":[{"from":"a","to":"b","because":"x"},{"from":"b","to":"a","because":"x"}]})"),
              "causes.json: causes run in a ring: a → b → a; take one of them out");
}

}  // namespace
}  // namespace aspen::core
