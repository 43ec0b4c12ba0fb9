#include "store/store_support.hpp"

namespace aspen::store {
namespace {

/// Records of every kind, written, closed and opened again.
class Reopened : public Store {
  protected:
    void SetUp() override {
        {
            YardStore before(file());
            write(before);
        }
        yard = std::make_unique<YardStore>(file());
    }
    void write(YardStore& before) {
        s = some_clip(before);
        Moment m = moment_of(s.clip.id, 37);
        m.phase = "rise_top";
        m.head_top = core::Point{601, 90};
        m.figure[core::Landmark::ear] = {
            {600.125, 130.75}, core::Visibility::seen, 1.3, core::Origin::clicked, true};
        m.figure[core::Landmark::hip] = {{595, 292}, core::Visibility::hidden, 2, core::Origin::laid, false};
        before.add(m);
        Finding found = finding_of(s.ride.id, "lower_leg_back", Decision::changed);
        found.changed_to = "heel_up";
        before.put(found);
        Correction c = correction_of(s.ride, "lower_leg_back");
        c.focus = true;
        c.focus_since = s.ride.id;
        Prescription p;
        p.correction = before.add(c);
        p.exercise = "two_point_walk_trot";
        p.step = 1;
        p.ride = s.ride.id;
        before.add(p);
        Event e;
        e.ride = s.ride.id;
        e.clip = s.clip.id;
        e.time_s = 3.25;
        e.event = "aid";
        e.detail = "side=left with=calf";
        before.add(e);
        before.people.put_limitations(s.ride.rider, {{{}, {}, "left hip", "left", "2026-01-01", ""}});
        before.settings.set_setting("coach", "Tamsin Quillfeather");
    }
    Some s;
    std::unique_ptr<YardStore> yard;
};

TEST_F(Reopened, HasItsRideRiderAndHorse) {
    EXPECT_EQ(yard->rides.ride(s.ride.id), s.ride);
    EXPECT_EQ(yard->people.rider(s.ride.rider)->height_cm, 158);
    EXPECT_EQ(yard->people.limitations(s.ride.rider).at(0).side, "left");
    const auto horse = yard->people.horse(s.ride.horse);
    EXPECT_EQ(horse->stage, "green");
    EXPECT_TRUE(horse->half_seat_better && horse->cold_backed);
}

TEST_F(Reopened, HasItsClipWithStretchesAndEvents) {
    EXPECT_EQ(yard->rides.clip(s.clip.id)->told_by, ToldBy::container);
    EXPECT_EQ(yard->rides.stretches(s.clip.id), s.stretches);
    ASSERT_EQ(yard->reviews.events(s.ride.id).size(), 1U);
    EXPECT_EQ(yard->reviews.events(s.ride.id)[0].detail, "side=left with=calf");
}

TEST_F(Reopened, HasItsMomentWithEveryJointAsItWasPlaced) {
    const auto moments = yard->reviews.moments(s.clip.id);
    ASSERT_EQ(moments.size(), 1U);
    const Moment& m = moments[0];
    EXPECT_EQ(m.phase, "rise_top");
    EXPECT_EQ(m.head_top, (core::Point{601, 90}));
    EXPECT_EQ(m.figure[core::Landmark::ear].at, (core::Point{600.125, 130.75}));
    EXPECT_EQ(m.figure[core::Landmark::hip].origin, core::Origin::laid);
    EXPECT_FALSE(m.figure[core::Landmark::hip].confirmed);
    EXPECT_EQ(m.figure.travel, core::Travel::left) << "the stretch's";
    EXPECT_EQ(m.figure.camera, s.stretches[0].camera);
    EXPECT_EQ(yard->reviews.moment(m.id)->figure, m.figure);
}

TEST_F(Reopened, HasWhatTheCoachDecidedAndGave) {
    ASSERT_EQ(yard->reviews.findings(s.ride.id).size(), 1U);
    EXPECT_EQ(yard->reviews.findings(s.ride.id)[0].changed_to, "heel_up");
    EXPECT_EQ(yard->reviews.findings(s.ride.id)[0].seen.side, "left");
    const auto corrections = yard->work.corrections(s.ride.rider);
    ASSERT_EQ(corrections.size(), 1U);
    EXPECT_EQ(corrections[0].focus_since, s.ride.id);
    EXPECT_EQ(yard->work.prescriptions(corrections[0].id).at(0).step, 1);
}

TEST_F(Reopened, HasItsSettingsAndGivesWhatIsAskedForOtherwise) {
    EXPECT_EQ(yard->settings.setting("coach"), "Tamsin Quillfeather");
    EXPECT_EQ(yard->settings.setting("none", "otherwise"), "otherwise");
}

TEST_F(Store, WhatIsNotSaidStaysUnsaid) {
    YardStore yard(file());
    Clip c;
    c.path = "a";
    c.hash = "b";
    c.added_on = "2026-11-26";
    c.id = yard.add(c);
    const auto seen = yard.rides.stretches(c.id);
    ASSERT_EQ(seen.size(), 1U) << "every frame lies in exactly one stretch";
    EXPECT_FALSE(seen[0].gait);
    EXPECT_EQ(seen[0].travel, core::Travel::unknown);
    EXPECT_EQ(seen[0].missing().size(), 3U);
    EXPECT_EQ(Ride{}.missing().size(), 3U);
    Ride mechanical;
    mechanical.mount = core::Mount::mechanical;
    EXPECT_EQ(mechanical.missing().size(), 2U) << "the mechanical horse has no name";
    EXPECT_EQ(c.day(), "2026-11-26");
}

TEST_F(Store, TheRecordersClockMovesTheDay) {
    Clip c;
    c.recorded_at = "2026-11-20T23:50:00";
    EXPECT_EQ(c.day(), "2026-11-20");
    c.clock_off_s = 900;
    EXPECT_EQ(c.day(), "2026-11-21");
    c.recorded_at = "2026-11-20";
    EXPECT_EQ(c.day(), "2026-11-20") << "a day alone is not moved";
}

TEST_F(Store, AnAbsentMarkIsTakenAway) {
    YardStore yard(file());
    const Clip c = some_clip(yard).clip;
    const auto id = yard.add(moment_of(c.id, 3));
    yard.reviews.put(id, core::Landmark::knee, {{1, 2}, core::Visibility::seen, 1});
    yard.reviews.put(id, core::Landmark::knee, {{3, 4}, core::Visibility::seen, 1});
    EXPECT_EQ(yard.reviews.moments(c.id)[0].figure[core::Landmark::knee].at, (core::Point{3, 4}));
    yard.reviews.put(id, core::Landmark::knee, {});
    EXPECT_EQ(yard.reviews.moments(c.id)[0].figure.marked(), 0);
}

TEST_F(Store, TrashedClipsAreLeftOutButNotLost) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Clip c = s.clip;
    c.trashed = true;
    yard.update(c);
    EXPECT_TRUE(yard.rides.clips().empty());
    EXPECT_TRUE(yard.rides.ridden_by(s.ride.rider).empty());
    EXPECT_TRUE(yard.rides.waiting().empty());
    EXPECT_TRUE(yard.rides.clip_with_hash("0123"));
}

TEST_F(Store, BrokenRowsAreRefusedAndChangeNothing) {
    YardStore yard(file());
    const Clip c = some_clip(yard).clip;
    EXPECT_THROW(yard.add(Rider{}), core::Refused) << "a rider without a name";
    yard.add(moment_of(c.id, 3));
    EXPECT_THROW(yard.add(moment_of(c.id, 3)), core::Refused) << "two moments on one frame";
    EXPECT_THROW(yard.add(moment_of(ClipId{999}, 4)), core::Refused) << "a moment of no clip";
    EXPECT_EQ(yard.reviews.moments(c.id).size(), 1U);
    EXPECT_EQ(yard.people.riders().size(), 1U);
}

TEST_F(Store, AGroupIsAllOrNothing) {
    YardStore yard(file());
    EXPECT_THROW(yard.within([&] {
        yard.add(Horse{{}, "Cobalt", {}, ""});
        yard.within([&] { yard.add(Horse{{}, "Saffron", {}, ""}); });
        throw core::Refused("stop");
    }),
                 core::Refused);
    EXPECT_TRUE(yard.people.horses().empty());
    yard.within([&] { yard.add(Horse{{}, "Cobalt", {}, ""}); });
    EXPECT_EQ(yard.people.horses().size(), 1U) << "and the next group works";
}

TEST_F(Store, WhatLeavesComesBackAndGoesWithWhatItHangsOn) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    EXPECT_THROW(yard.add(Consent{{}, s.ride.rider, "sale", "Guardian", "2026-01-01"}), core::Refused);
    EXPECT_THROW(yard.add(Consent{{}, s.ride.rider, "page", "", "2026-01-01"}), core::Refused);
    yard.add(Consent{{}, s.ride.rider, "page", "Guardian", "2026-01-01"});
    yard.add(
        Departure{{}, "2026-11-24T10:00:00", s.ride.rider, "page", "page", "a ride", "p.pdf", "", "none"});
    const SpokenId spoken = yard.add(Spoken{{}, s.clip.id, 0, "2026-11-24T10:00:00", "first", "{}", "a.wav"});
    EXPECT_EQ(yard.leaving.spoken(spoken)->title, "first");
    EXPECT_THROW(yard.add(Spoken{{}, s.clip.id, 0, "2026-11-24T10:00:00", "", "", ""}), core::Refused);
    yard.put(FaceMark{{}, s.clip.id, -1, 12, 100, 50, 20, 30});
    yard.put(FaceMark{{}, s.clip.id, -1, 12, 110, 50, 20, 30});
    ASSERT_EQ(yard.leaving.face_marks(s.clip.id).size(), 1U) << "one a person and frame";
    EXPECT_EQ(yard.leaving.face_marks(s.clip.id)[0].x, 110);
    yard.add(Parcel{{}, "2026-11-24T10:00:00", "A coach", "abc", s.ride.id, "{}"});
    EXPECT_TRUE(yard.leaving.parcel_known("abc") && !yard.leaving.parcel_known("abd"));
    yard.remove(s.clip.id);
    EXPECT_FALSE(yard.leaving.spoken(spoken));
    EXPECT_TRUE(yard.rides.ride(s.ride.id)) << "the sender's words still hang on it";
    yard.remove(s.ride.rider);
    ASSERT_EQ(yard.leaving.departures().size(), 1U) << "that something left stays";
    EXPECT_EQ(
        yard.leaving.departures()[0],
        (Departure{
            yard.leaving.departures()[0].id, "2026-11-24T10:00:00", {}, "page", "page", "", "", "", "none"}));
    EXPECT_EQ(yard.database().raw().execAndGet("SELECT count(*) FROM pragma_foreign_key_check").getInt(), 0);
}

/// A correction with everything that hangs on it.
class GoingOn : public Store {
  protected:
    void SetUp() override {
        yard = std::make_unique<YardStore>(file());
        s = some_clip(*yard);
        correction = yard->add(correction_of(s.ride, "lower_leg_back"));
        yard->add(CorrectionWord{{}, correction, s.ride.id, "2026-11-20", "holding", "steady all through"});
        yard->add(Milestone{{}, {}, s.ride.horse, "2026-11-01", "", "bit", "loose ring"});
        yard->add(Promise{
            {}, s.ride.rider, s.ride.horse, correction, "2026-11-20", "2026-12-04", "from the side", ""});
        yard->add(Outgoing{{},
                           s.ride.rider,
                           "ask",
                           "2026-11-20T18:00:00",
                           "2026-12-04",
                           "Joss",
                           "A clip",
                           "please",
                           "",
                           "waiting"});
        yard->add(DrillAnswer{{},
                              "2026-11-20T18:00:00",
                              "",
                              "angle",
                              "trunk_lean",
                              "own:1",
                              s.clip.id,
                              10,
                              "12",
                              "10",
                              2,
                              4.5});
    }
    std::unique_ptr<YardStore> yard;
    Some s;
    CorrectionId correction;
};

TEST_F(GoingOn, ComesBackUnderWhatItHangsOn) {
    EXPECT_EQ(yard->following.words_on(correction).at(0).words, "steady all through");
    EXPECT_EQ(yard->following.milestones_of(s.ride.rider).size(), 1U) << "of a horse that the rider rode";
    EXPECT_EQ(yard->following.open_promises().size(), 1U);
    EXPECT_EQ(yard->following.outbox(s.ride.rider).size(), 1U);
    EXPECT_EQ(yard->following.outbox().size(), 1U);
    EXPECT_EQ(yard->following.drills("angle").size(), 1U);
    EXPECT_TRUE(yard->following.drills("lead").empty());
    EXPECT_EQ(yard->rides.ridden_on(s.ride.horse).size(), 1U);
    EXPECT_EQ(yard->work.all_corrections().size(), 1U);
}

TEST_F(GoingOn, WhatSaysNothingIsRefused) {
    EXPECT_THROW(yard->add(CorrectionWord{{}, correction, {}, "2026-11-20", "", ""}), core::Refused)
        << "neither a stage nor a word says nothing";
    EXPECT_THROW(yard->add(CorrectionWord{{}, correction, {}, "2026-11-20", "cured", ""}), core::Refused);
    EXPECT_THROW(yard->add(Milestone{{}, {}, {}, "2026-11-01", "", "bit", ""}), core::Refused) << "of nobody";
}

TEST_F(GoingOn, TwoCardsOfOneRiderBecomeOneWithAllOfIt) {
    Rider again;
    again.name = "Joss P";
    const auto other = yard->add(again);
    yard->merge(s.ride.rider, other);
    EXPECT_EQ(yard->following.promises_of(other).size(), 1U);
    EXPECT_EQ(yard->following.outbox(other).size(), 1U);
    EXPECT_EQ(yard->following.words_on(yard->work.corrections(other).at(0).id).size(), 1U);
}

TEST_F(GoingOn, AClipThatGoesForGoodLeavesWhatWasAnswered) {
    yard->remove(s.clip.id);
    ASSERT_EQ(yard->following.drills().size(), 1U);
    EXPECT_FALSE(yard->following.drills()[0].clip);
}

TEST_F(GoingOn, ACorrectionTakesItsWordsAlongAndLeavesThePromise) {
    yard->remove(correction);
    EXPECT_TRUE(yard->following.words_on(correction).empty());
    EXPECT_FALSE(yard->following.promises_of(s.ride.rider).at(0).correction);
}

TEST_F(GoingOn, ARiderTakesAllOfItAlong) {
    yard->remove(s.ride.rider);
    EXPECT_TRUE(yard->following.outbox().empty());
    EXPECT_TRUE(yard->following.open_promises().empty());
}

TEST_F(Store, MomentsInTheTrashLeaveTheirFrameFree) {
    YardStore yard(file());
    const Clip c = some_clip(yard).clip;
    const auto a = yard.add(moment_of(c.id, 3));
    yard.reviews.trash(a, true);
    const auto b = yard.add(moment_of(c.id, 3));
    EXPECT_THROW(yard.reviews.trash(a, false), core::Refused) << "its frame has another one";
    yard.add(moment_of(c.id, 3, 1));
    EXPECT_EQ(yard.reviews.moments(c.id).size(), 2U) << "another rider's is apart";
    yard.remove(b);
    yard.reviews.trash(a, false);
    EXPECT_EQ(yard.reviews.moments(c.id).size(), 2U);
}

TEST_F(Store, AFigureIsSeenAsItsOwnStretchIs) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    core::Stretches two = core::split_at(s.stretches, 50);
    two[1].travel = core::Travel::right;
    two[1].camera.roll_deg = 9;
    yard.rides.put_stretches(s.clip.id, two);
    for (const int frame : {49, 50}) {
        Moment m = moment_of(s.clip.id, frame);
        m.figure[core::Landmark::ear] = {{1, 2}, core::Visibility::seen, 1, core::Origin::laid,
                                         false,  core::Point{1, 2}};
        yard.add(m);
    }
    EXPECT_EQ(yard.reviews.moments(s.clip.id)[0].figure.travel, core::Travel::left);
    EXPECT_EQ(yard.reviews.moments(s.clip.id)[1].figure.travel, core::Travel::right);
    const auto figures = yard.reviews.figures_of(s.ride.rider);
    ASSERT_EQ(figures.size(), 2U);
    EXPECT_EQ(figures[0].camera.roll_deg, 9) << "the newest first";
    EXPECT_EQ(figures[1].travel, core::Travel::left);
    EXPECT_EQ(yard.reviews.placed_figures(1).size(), 1U);
    EXPECT_TRUE(yard.reviews.placed_figures_of_others(s.ride.rider).empty()) << "nobody else rode";
    const auto others = yard.reviews.placed_figures_of_others({});
    ASSERT_EQ(others.size(), 1U) << "to a rider who is not said yet everybody is another";
    EXPECT_EQ(others[0].size(), 2U);
}

TEST_F(Store, SignOffsAreDatedByRiderAndHorseAndComeAlongWhenNamesAreOne) {
    YardStore yard(file());
    Rider card;
    card.name = "Joss Penhallow";
    const RiderId joss = yard.add(card);
    card.name = "Joss P.";
    const RiderId twin = yard.add(card);
    Horse one;
    one.name = "Fig";
    const HorseId fig = yard.add(one);
    one.name = "Rook";
    const HorseId rook = yard.add(one);
    yard.put(SignOff{{}, joss, fig, "canter", "2026-11-01"});
    yard.put(SignOff{{}, joss, fig, "canter", "2026-11-20"});
    ASSERT_EQ(yard.people.sign_offs(joss).size(), 1U);
    EXPECT_EQ(yard.people.sign_offs(joss)[0].day, "2026-11-01") << "since when it holds";
    yard.put(SignOff{{}, twin, fig, "canter", "2026-10-01"});
    yard.put(SignOff{{}, twin, rook, "jump", "2026-10-02"});
    yard.merge(twin, joss);
    ASSERT_EQ(yard.people.sign_offs(joss).size(), 2U);
    yard.merge(rook, fig);
    for (const SignOff& s : yard.people.sign_offs(joss)) EXPECT_EQ(s.horse, fig);
    yard.remove(yard.people.sign_offs(joss)[0].id);
    EXPECT_EQ(yard.people.sign_offs(joss).size(), 1U);
    EXPECT_THROW(yard.put(SignOff{{}, joss, fig, "fly", "2026-11-01"}), std::exception);
}

/// Whoever holds the records const cannot write: said by the compiler, part by part.
template <typename Part, typename Record>
constexpr bool kAdds = requires(Part& part, const Record& record) {
    part.add(record);
};

TEST_F(Store, HeldConstIsReadOnly) {
    static_assert(kAdds<YardStore, Rider> && !kAdds<const YardStore, Rider>);
    static_assert(kAdds<People, Horse> && !kAdds<const People, Horse>);
    static_assert(kAdds<Rides, Clip> && !kAdds<const Rides, Clip>);
    static_assert(kAdds<Reviews, Note> && !kAdds<const Reviews, Note>);
    static_assert(kAdds<Work, Correction> && !kAdds<const Work, Correction>);
    static_assert(kAdds<Training, Lesson> && !kAdds<const Training, Lesson>);
    static_assert(kAdds<Following, Milestone> && !kAdds<const Following, Milestone>);
    static_assert(kAdds<Leaving, Consent> && !kAdds<const Leaving, Consent>);
    YardStore store(file());
    const HorseId id = store.add(Horse{{}, "Fig", 157, ""});
    const YardStore& read = store;
    ASSERT_TRUE(read.people.horse(id));
    EXPECT_EQ(read.people.horse(id)->name, "Fig");
}

}  // namespace
}  // namespace aspen::store
