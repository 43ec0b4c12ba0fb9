// Changes that go back and forth, records that become one or go for good, words that are found.

#include "store/store_support.hpp"

namespace aspen::store {
namespace {

TEST_F(Store, ChangesGoBackAndForthToTheByte) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    const auto dump = [&] { return test::dump_of(yard); };
    const std::string before = dump();
    const ChangeSet change = yard.transactions().recorded([&] {
        Moment m = moment_of(s.clip.id, 5);
        m.figure[core::Landmark::ear] = {{1, 2}, core::Visibility::seen, 1};
        const auto id = yard.add(m);
        yard.reviews.put(id, core::Landmark::ear, {{3, 4}, core::Visibility::seen, 1});
        yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted));
        yard.add(Horse{{}, "Cobalt", {}, ""});
    });
    const std::string after = dump();
    const Touched t = yard.transactions().touched_by(change);
    EXPECT_TRUE(t.horses);
    EXPECT_TRUE(t.marks.contains(s.clip.id));
    EXPECT_TRUE(t.findings.contains(s.ride.id));
    EXPECT_FALSE(t.riders);
    for (int i = 0; i < 3; ++i) {
        yard.transactions().apply(change.inverted());
        EXPECT_EQ(dump(), before);
        EXPECT_TRUE(yard.search.places("heel up").empty()) << "the search follows";
        yard.transactions().apply(change);
        EXPECT_EQ(dump(), after);
        EXPECT_EQ(yard.search.places("heel up").size(), 1U);
    }
    Horse cobalt = yard.people.horses()[0];
    cobalt.words = "cold this morning";
    yard.update(cobalt);
    const ChangeSet rename = yard.transactions().recorded([&] {
        cobalt.words = "fine";
        yard.update(cobalt);
    });
    cobalt.words = "changed behind its back";
    yard.update(cobalt);
    EXPECT_THROW(yard.transactions().apply(rename.inverted()), core::Refused)
        << "never written over what came after";
    EXPECT_EQ(yard.people.horses()[0].words, "changed behind its back");
}

TEST_F(Store, AChangeInsideALargerOneBelongsToThat) {
    YardStore yard(file());
    const ChangeSet all = yard.transactions().recorded([&] {
        EXPECT_TRUE(yard.transactions().recorded([&] { yard.add(Horse{{}, "Cobalt", {}, ""}); }).empty());
        yard.add(Horse{{}, "Saffron", {}, ""});
    });
    yard.transactions().apply(all.inverted());
    EXPECT_TRUE(yard.people.horses().empty());
    EXPECT_THROW(yard.transactions().recorded([&] {
        yard.add(Horse{{}, "Cobalt", {}, ""});
        throw core::Refused("stop");
    }),
                 core::Refused);
    EXPECT_TRUE(yard.people.horses().empty());
}

/// Two cards of one rider, each with a ride, and the second laid into the first.
class TwoCards : public Store {
  protected:
    TwoCards() : yard(file()), s(some_clip(yard)) {
        Rider twin;
        twin.name = "Joss P.";
        twin.goal = "first class";
        other = yard.add(twin);
        Ride second = s.ride;
        second.id = {};
        second.rider = other;
        second.id = yard.add(second);
        Correction own = correction_of(s.ride, "heel_up"), theirs = correction_of(second, "heel_up");
        theirs.focus = true;
        theirs.noticed_on = "2026-10-01";
        mine = yard.add(own);
        Prescription p;
        p.correction = yard.add(theirs);
        p.exercise = "x";
        yard.add(p);
        yard.add(correction_of(second, "lower_leg_back"));
        yard.people.put_limitations(other, {{{}, {}, "left hip", "left", "", ""}});
        yard.put(Stirrup{{}, other, "brown", "flat", 6, 6, "2026-11-20"});
        yard.put(Stirrup{{}, other, "brown", "jump", 4, 4, "2026-11-01"});
        yard.put(Stirrup{{}, s.ride.rider, "brown", "jump", 5, 5, "2026-11-10"});
        merged = yard.transactions().recorded([&] { yard.merge(other, s.ride.rider); });
    }
    YardStore yard;
    Some s;
    RiderId other;
    CorrectionId mine;
    ChangeSet merged;
};

TEST_F(TwoCards, BecomeOneWithAllItsRides) {
    EXPECT_FALSE(yard.people.rider(other));
    EXPECT_EQ(yard.people.rider(s.ride.rider)->goal, "first class")
        << "what only the other card said is kept";
    EXPECT_EQ(yard.rides.rides_of(s.ride.rider).size(), 2U);
    EXPECT_EQ(yard.people.limitations(s.ride.rider).size(), 1U);
    const auto holes = yard.people.stirrups(s.ride.rider);
    ASSERT_EQ(holes.size(), 2U) << "one for each saddle and job";
    EXPECT_EQ(holes[0].job, "flat");
    EXPECT_EQ(holes[1].left_hole, 5) << "the later one";
}

TEST_F(TwoCards, HaveTheSameCorrectionOnce) {
    const auto corrections = yard.work.corrections(s.ride.rider);
    ASSERT_EQ(corrections.size(), 2U);
    EXPECT_EQ(corrections[0].id, mine);
    EXPECT_TRUE(corrections[0].focus);
    EXPECT_EQ(corrections[0].noticed_on, "2026-10-01");
    EXPECT_EQ(yard.work.prescriptions(mine).size(), 1U);
    yard.transactions().apply(merged.inverted());
    EXPECT_EQ(yard.work.corrections(other).size(), 2U) << "and taken back they are two again";
}

TEST_F(Store, OfTwoRidesTheLaterDecisionStays) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Ride second;
    second.day = s.ride.day;
    second.own.hurts = "back";
    second.id = yard.add(second);
    yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted, "2026-11-21"));
    yard.put(finding_of(second.id, "heel_up", Decision::rejected, "2026-11-23"));
    yard.put(finding_of(second.id, "lower_leg_back", Decision::accepted));
    yard.merge(second.id, s.ride.id);
    const auto findings = yard.reviews.findings(s.ride.id);
    ASSERT_EQ(findings.size(), 2U);
    EXPECT_EQ(findings[0].decision, Decision::rejected);
    EXPECT_EQ(yard.rides.ride(s.ride.id)->own.hurts, "left knee; back");
    EXPECT_THROW(yard.merge(s.ride.id, s.ride.id), core::Refused);
}

TEST_F(Store, ARiderGoesForGoodWithEverythingButOthersClips) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Rider maude;
    maude.name = "Maude Estrell";
    Ride hers;
    hers.rider = yard.add(maude);
    hers.id = yard.add(hers);
    Clip shared = s.clip;
    shared.id = {};
    shared.hash = "4567";
    shared.id = yard.add(shared);
    yard.put(Slot{shared.id, 0, s.ride.id});
    yard.put(Slot{shared.id, 1, hers.id});
    yard.add(moment_of(shared.id, 1, 0));
    yard.add(moment_of(shared.id, 1, 1));
    yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted));
    yard.add(correction_of(s.ride, "heel_up"));
    const auto gone = yard.remove(s.ride.rider);
    ASSERT_EQ(gone.size(), 1U);
    EXPECT_EQ(gone[0].id, s.clip.id);
    EXPECT_TRUE(yard.rides.clip(shared.id));
    EXPECT_EQ(yard.reviews.moments(shared.id).size(), 1U) << "the other rider's figure stays";
    EXPECT_FALSE(yard.people.rider(s.ride.rider));
    EXPECT_TRUE(yard.search.places("heel").empty());
    EXPECT_EQ(yard.database().raw().execAndGet("SELECT count(*) FROM correction").getInt(), 0);
}

TEST_F(Store, WordsAreFoundWhereverTheyStand) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Note n;
    n.clip = s.clip.id;
    n.frame = 3;
    n.kind = NoteKind::words;
    n.words = "leg slid back again";
    yard.add(n);
    yard.put(finding_of(s.ride.id, "lower_leg_back", Decision::accepted));
    const auto kinds = [&](const char* words) {
        std::vector<HitKind> out;
        for (const Hit& h : yard.search.places(words)) out.push_back(h.kind);
        std::sort(out.begin(), out.end());
        return out;
    };
    using testing::ElementsAre;
    EXPECT_THAT(kinds("slid joss"), ElementsAre(HitKind::note)) << "with the rider's name beside it";
    EXPECT_THAT(kinds("lower leg"), ElementsAre(HitKind::finding));
    EXPECT_THAT(kinds("penh"), testing::Contains(HitKind::rider)) << "a beginning is enough";
    EXPECT_THAT(kinds("fig"), testing::Contains(HitKind::horse));
    EXPECT_THAT(kinds("november hunter"), ElementsAre(HitKind::ride));
    EXPECT_THAT(kinds("2026-11-20 knee"), ElementsAre(HitKind::ride));
    EXPECT_TRUE(yard.search.places("\"; DROP TABLE rider; --").empty()) << "words are words";
    EXPECT_TRUE(yard.search.places("   ").empty());
    Rider joss = *yard.people.rider(s.ride.rider);
    joss.name = "Josephine Penhallow";
    yard.update(joss);
    EXPECT_TRUE(yard.search.places("slid joss").empty());
    EXPECT_EQ(yard.search.places("slid josephine").size(), 1U) << "a new name is known at once";
    EXPECT_EQ(yard.search.places("slid")[0].ride, s.ride.id);
    EXPECT_EQ(yard.search.places("slid")[0].day, "2026-11-20");
}

TEST_F(Store, NothingThatIsAskedOftenScansATable) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    std::vector<std::string> asked;
    yard.database().listen([&](const std::string& sql) { asked.push_back(sql); });
    const auto id = yard.add(moment_of(s.clip.id, 3));
    yard.reviews.put(id, core::Landmark::ear, {{1, 2}, core::Visibility::seen, 1});
    yard.reviews.moments(s.clip.id);
    yard.reviews.moment(id);
    yard.rides.stretches(s.clip.id);
    yard.reviews.notes(s.clip.id);
    yard.rides.places(s.clip.id);
    yard.rides.clips_of(s.ride.id);
    yard.rides.ridden_by(s.ride.rider);
    yard.rides.rides_of(s.ride.rider);
    yard.reviews.findings(s.ride.id);
    yard.reviews.remarks(s.ride.id);
    yard.reviews.events(s.ride.id);
    yard.reviews.events_in(s.clip.id);
    yard.reviews.ground_marks(s.clip.id);
    yard.reviews.answers(s.clip.id);
    yard.reviews.sketches(s.clip.id);
    yard.people.stirrups(s.ride.rider);
    yard.people.named_on(s.ride.horse);
    yard.work.corrections(s.ride.rider);
    yard.work.prescriptions(CorrectionId{1});
    yard.work.correction_like(correction_of(s.ride, "heel_up"));
    yard.reviews.figures_of(s.ride.rider);
    yard.reviews.placed_figures();
    yard.rides.clip_with_hash("0123");
    yard.rides.trashed_clips();
    yard.reviews.trashed_moments();
    yard.rides.waiting();
    yard.rides.done(0, 40);
    yard.people.limitations(s.ride.rider);
    yard.reviews.phrases();
    yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted));
    yard.search.places("heel");
    yard.remove(s.clip.id);
    yard.database().listen({});
    ASSERT_GT(asked.size(), 30U);
    for (const std::string& sql : asked) {
        SQLite::Statement plan(yard.database().raw(), "EXPLAIN QUERY PLAN " + sql);
        while (plan.executeStep()) {
            const std::string step = plan.getColumn(3).getString();
            const bool whole = step.find("SCAN") != std::string::npos &&
                               step.find("USING INDEX") == std::string::npos &&
                               step.find("USING COVERING INDEX") == std::string::npos &&
                               step.find("chosen") == std::string::npos &&
                               step.find("search VIRTUAL TABLE") == std::string::npos &&
                               step.find("CONSTANT ROW") == std::string::npos;
            EXPECT_FALSE(whole) << step << " in " << sql;
        }
    }
}

}  // namespace
}  // namespace aspen::store
