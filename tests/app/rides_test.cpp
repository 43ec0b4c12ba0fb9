// Rides: how clips come together, what the yard's list says of them, and what a ride of several clips says.

#include <QAbstractItemModelTester>

#include "app/bench_fixture.hpp"
#include "app/models/riders_model.hpp"
#include "app/models/rides_model.hpp"
#include "app/review/finding_row.hpp"
#include "app/yard/own_knowledge.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

class Rides : public testing::Test {
  protected:
    Rides() : yard(QString::fromStdString((folder / "yard").string()), shipped_knowledge()) {
        yard.set_clock(test::noon_of(QDate(2026, 11, 26)));
        joss = add_rider(yard, test::rider("Joss Penhallow", 2012, "hunter", "novice"));
        maude = add_rider(yard, test::rider("Maude Estrell", 1990, "jumper"));
        fig = add_horse(yard, {{}, "Fig", 157, ""});
    }
    store::ClipId clip(const char* name, const char* day) {
        store::Clip c;
        c.path = std::string("clips/") + name;
        c.hash = name;
        c.recorded_at = day;
        c.added_on = "2026-11-26";
        return take_in_clip(yard, c);
    }
    store::RideId ride(store::ClipId c) { return test::ride_of(yard, c); }
    QStringList titles(RidesModel& model) {
        QStringList out;
        for (int i = 0; i < model.rowCount(); ++i) out << model.index(i).data().toString();
        return out;
    }
    test::TempFolder folder;
    Yard yard;
    store::RiderId joss, maude;
    store::HorseId fig;
};

TEST_F(Rides, ClipsOfOneRiderHorseAndDayAreOneRide) {
    const auto a = clip("a.mp4", "2026-11-25T17:00:00"), b = clip("b.mp4", "2026-11-25T17:20:00"),
               c = clip("c.mp4", "2026-11-24T17:00:00");
    for (const auto id : {a, b, c}) {
        say_rider(yard, ride(id), joss);
        set_pair(yard, ride(id), joss, fig, "horse");
    }
    EXPECT_EQ(ride(a), ride(b));
    EXPECT_NE(ride(a), ride(c)) << "another day";
    EXPECT_EQ(yard.records().rides.ride(ride(a))->school, "hunter")
        << "the rider's own school, shown and changeable";
    yard.steps().undo();  // the third one's horse
    yard.steps().undo();  // its rider
    yard.steps().undo();  // the second one's horse
    EXPECT_NE(ride(a), ride(b)) << "and one step takes the joining back";
}

TEST_F(Rides, AreTakenApartAndJoinedAgain) {
    const auto a = clip("a.mp4", "2026-11-25"), b = clip("b.mp4", "2026-11-25"),
               c = clip("c.jpg", "2026-11-25");
    join_rides(yard, ride(b), ride(a));
    join_rides(yard, ride(c), ride(a));
    EXPECT_EQ(yard.records().rides.clips_of(ride(a)).size(), 3U);
    split_ride(yard, ride(a));
    EXPECT_NE(ride(a), ride(b));
    EXPECT_NE(ride(b), ride(c));
    EXPECT_EQ(yard.records().rides.waiting().size(), 3U);
    yard.steps().undo();
    EXPECT_EQ(ride(a), ride(c));
}

TEST_F(Rides, StandInTheOrderOfNeedWithTheReason) {
    const auto waits = clip("waits.mp4", "2026-11-20"), older = clip("older.mp4", "2026-11-10"),
               promised = clip("promised.mp4", "2026-11-25"), hurts = clip("hurts.mp4", "2026-11-26"),
               fine = clip("fine.mp4", "2026-11-22"), done = clip("done.mp4", "2026-10-01");
    promise(yard, ride(promised), "2026-11-27");
    auto says = *yard.records().rides.ride(ride(hurts));
    says.own.hurts = "left knee";
    change_ride(yard, says, "pain");
    auto nothing = *yard.records().rides.ride(ride(fine));
    nothing.own.hurts = "Nothing";
    change_ride(yard, nothing, "pain");
    say_rider(yard, ride(done), maude);
    const store::SeenIn seen{core::Gait::trot, core::Seat::rising, "left"};
    prescribe(yard, ride(done), {"heel_up", seen}, {},
              *yard.knowledge().exercises.find("heel_drop_transitions"));
    RidesModel model(yard);
    QAbstractItemModelTester checked(&model);
    EXPECT_EQ(titles(model), (QStringList{"hurts.mp4", "promised.mp4", "Maude Estrell", "older.mp4",
                                          "waits.mp4", "fine.mp4", "Reviewed", "Maude Estrell"}));
    EXPECT_EQ(model.waiting(), 5);
    EXPECT_EQ(model.index(0).data(RidesModel::why_role).toString(), "Hurts: left knee");
    EXPECT_TRUE(model.index(1).data(RidesModel::why_role).toString().startsWith("Promised for tomorrow"));
    EXPECT_TRUE(model.index(2).data(RidesModel::why_role).toString().startsWith("Due"));
    EXPECT_EQ(model.rider_at(2), maude);
    EXPECT_EQ(model.index(3).data(RidesModel::why_role).toString(), "Who rides?");
    EXPECT_TRUE(model.index(0).data(Qt::AccessibleTextRole).toString().contains("left knee"))
        << "read aloud too";
    EXPECT_EQ(model.ride_at(3), ride(older));
    EXPECT_FALSE(model.ride_at(6)) << "a heading is no ride";
    (void)waits;
}

TEST_F(Rides, OfTwentyYearsComeAPageAtATime) {
    yard.quietly([&] {
        for (int i = 0; i < 130; ++i) {
            store::Ride r;
            r.rider = joss;
            r.day = QDate(2020, 1, 1).addDays(i).toString(Qt::ISODate).toStdString();
            r.state = store::RideState::done;
            test::to_write(yard).add(r);
        }
    });
    RidesModel model(yard);
    const int first = model.rowCount();
    EXPECT_LT(first, 60);
    while (model.canFetchMore({})) model.fetchMore({});
    EXPECT_EQ(model.rowCount(), 131);
    EXPECT_EQ(model.index(1).data(RidesModel::facts_role).toString(), "9 May 2020") << "the newest first";
}

TEST_F(Rides, AreProposedFromNamesAndTimesAndCountOnlyWhenSaidYesTo) {
    add_horse(yard, {{}, "Cobalt", 168, ""});
    const auto a = clip("joss-fig-1.mp4", "2026-11-25T17:00:00"),
               b = clip("IMG_2.mp4", "2026-11-25T17:12:00"), c = clip("IMG_3.mp4", "2026-11-25T18:30:00");
    RidesModel model(yard);
    const int row_a = model.row_of(ride(a)), row_b = model.row_of(ride(b)), row_c = model.row_of(ride(c));
    EXPECT_EQ(model.proposal_at(row_a).rider, joss);
    EXPECT_EQ(model.proposal_at(row_a).horse, fig);
    EXPECT_TRUE(model.index(row_a).data(RidesModel::why_role).toString().contains("Joss Penhallow on Fig?"));
    EXPECT_EQ(model.proposal_at(row_b).with, ride(a)) << "filmed twelve minutes later";
    EXPECT_TRUE(model.proposal_at(row_c).empty()) << "more than an hour is another ride";
    EXPECT_FALSE(yard.records().rides.ride(ride(a))->rider) << "nothing counts until it is said";
    accept_proposal(yard, ride(a), model.proposal_at(row_a));
    accept_proposal(yard, ride(b), model.proposal_at(row_b));
    EXPECT_EQ(ride(a), ride(b));
    EXPECT_EQ(yard.records().rides.ride(ride(b))->horse, fig);
    yard.steps().undo();
    yard.steps().undo();
    EXPECT_FALSE(yard.records().rides.ride(ride(a))->rider) << "a yes is one step each";
    add_rider(yard, test::rider("Joss Oddleif", 1990, "stock"));
    model.refresh();
    EXPECT_FALSE(model.proposal_at(model.row_of(ride(a))).rider) << "two who could be meant are none";
}

TEST_F(Rides, AreFoundByWords) {
    const auto a = clip("a.mp4", "2026-11-25");
    say_rider(yard, ride(a), joss);
    store::Note n;
    n.clip = a;
    n.kind = store::NoteKind::words;
    n.words = "leg slid back again";
    add_note(yard, n);
    RidesModel model(yard);
    model.look_for("slid");
    ASSERT_EQ(model.rowCount(), 1);
    EXPECT_EQ(model.ride_at(0), ride(a));
    EXPECT_EQ(model.index(0).data(RidesModel::why_role).toString(), "leg slid back again");
    model.look_for("");
    EXPECT_EQ(model.waiting(), 1);
}

TEST_F(Rides, RidersAreListedWithWhatIsInWork) {
    const auto a = clip("a.mp4", "2026-11-01");
    say_rider(yard, ride(a), joss);
    set_limitations(yard, joss, "left hip, wrist");
    prescribe(yard, ride(a), {"heel_up", {core::Gait::trot, core::Seat::rising, "left"}}, {},
              *yard.knowledge().exercises.find("heel_drop_transitions"));
    RidersModel model(yard);
    QAbstractItemModelTester checked(&model);
    ASSERT_EQ(model.rowCount(), 2);
    EXPECT_EQ(model.index(0).data().toString(), "Joss Penhallow");
    EXPECT_TRUE(model.index(0).data(RidersModel::about_role).toString().contains("mind the left hip, wrist"));
    EXPECT_FALSE(model.index(0).data(RidersModel::work_role).toString().isEmpty());
    EXPECT_EQ(model.index(0).data(RidersModel::number_role).toInt(), 1);
}

TEST_F(Rides, ASchoolOfTheCoachsOwnReplacesTheSnapshotWhole) {
    const auto before = yard.shared_knowledge();
    int told = 0;
    QObject::connect(&yard, &Yard::knowledge_changed, [&] { ++told; });
    put_own_school(yard, "mine", school_copied(yard, "hunter", "mine", "As taught here"));
    ASSERT_TRUE(yard.knowledge().schools.find("mine"));
    EXPECT_FALSE(before->schools.find("mine")) << "who still holds the old one keeps it unchanged";
    const core::Setting here{"mine", core::Gait::trot, core::Seat::sitting, {}, {}};
    auto band = std::get<core::Band>(yard.knowledge().schools.band("trunk_lean", here));
    EXPECT_EQ(band.hi, 7) << "the parent's, until it is changed";
    put_own_school(
        yard, "mine",
        R"({"id":"mine","name":"As taught here","about":"a","source":"the coach's own","inherits":"hunter",
        "sections":{"sitting":{"bands":{"trunk_lean":[2,12]}}}})");
    band = std::get<core::Band>(yard.knowledge().schools.band("trunk_lean", here));
    EXPECT_EQ(band.hi, 12);
    EXPECT_THROW(
        put_own_school(
            yard, "mine",
            R"({"id":"mine","name":"x","about":"a","source":"s","inherits":"nobody","sections":{}})"),
        core::Refused);
    EXPECT_EQ(std::get<core::Band>(yard.knowledge().schools.band("trunk_lean", here)).hi, 12)
        << "what does not fit changes nothing";
    EXPECT_THROW(
        put_own_school(yard, "other", R"({"id":"hunter","name":"x","about":"a","source":"s","sections":{}})"),
        core::Refused)
        << "the shipped ones stay as they ship";
    yard.steps().undo();
    EXPECT_EQ(std::get<core::Band>(yard.knowledge().schools.band("trunk_lean", here)).hi, 7)
        << "taken back like anything";
    EXPECT_GE(told, 3);
}

TEST_F(Rides, TheClockOfAWholeBatchIsSetRight) {
    store::Clip c;
    c.hash = "x";
    c.path = "x";
    c.batch = 7;
    c.recorded_at = "2026-11-20T23:30:00";
    const auto x = take_in_clip(yard, c);
    c.hash = "y";
    const auto y = take_in_clip(yard, c);
    c.hash = "z";
    c.batch = 8;
    const auto z = take_in_clip(yard, c);
    set_clock(yard, x, 3600);
    EXPECT_EQ(yard.records().rides.clip(y)->day(), "2026-11-21");
    EXPECT_EQ(yard.records().rides.clip(z)->day(), "2026-11-20") << "another batch";
    yard.steps().undo();
    EXPECT_EQ(yard.records().rides.clip(x)->day(), "2026-11-20");
}

TEST_F(Rides, DeletingForGoodTakesFilesAlong) {
    const QString copy = yard.folder().filePath("clips/0123456789abcdef-a.mp4");
    const QString thumb = yard.folder().filePath("cache/0123456789abcdef-7.jpg");
    yard.folder().mkpath("cache");
    for (const QString& f : {copy, thumb}) {
        QFile made(f);
        ASSERT_TRUE(made.open(QIODevice::WriteOnly));
    }
    store::Clip c;
    c.path = "clips/0123456789abcdef-a.mp4";
    c.hash = "0123456789abcdef0000";
    const auto id = take_in_clip(yard, c);
    say_rider(yard, ride(id), maude);
    EXPECT_TRUE(what_goes_with(yard, id).contains("the copy in the yard's folder"));
    EXPECT_TRUE(what_goes_with(yard, maude).contains("1 ride"));
    delete_for_good(yard, maude);
    EXPECT_FALSE(QFile::exists(copy));
    EXPECT_FALSE(QFile::exists(thumb));
    EXPECT_FALSE(yard.records().people.rider(maude));
    EXPECT_FALSE(yard.records().rides.clip(id));
    EXPECT_FALSE(yard.steps().stack().canUndo()) << "no step leads back to what is gone";
}

using RideOfTwoClips = BenchTest;

TEST_F(RideOfTwoClips, IsJudgedAsOne) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    const auto alone = bench.findings().rows();
    ASSERT_FALSE(alone.empty());
    // A second clip of the ride in canter, with the same figure: its faults are findings of their own.
    store::Clip other = *yard.records().rides.clip(clip);
    other.id = {};
    other.hash = "other";
    other.id = take_in_clip(yard, other);
    test::say(yard, other.id,
              {bench.review().rider(), bench.review().horse(), "hunter", core::Gait::canter,
               core::Seat::two_point, core::Travel::right});
    store::Moment m = *bench.review().moment();
    m.id = {};
    m.clip = other.id;
    add_moment(yard, m);
    join_rides(yard, test::ride_of(yard, other.id), bench.review().ride().id);
    ASSERT_EQ(bench.review().elsewhere().size(), 1U);
    EXPECT_GT(bench.findings().rows().size(), alone.size()) << "gaits are kept apart";
    const core::RideData data = ride_data(yard, bench.review().ride());
    EXPECT_EQ(data.moments.size(), 2U);
    const auto assessed = core::assess_ride(data, yard.knowledge());
    ASSERT_EQ(assessed.findings.size(), bench.findings().rows().size()) << "bench and records say the same";
    for (std::size_t i = 0; i < assessed.findings.size(); ++i)
        EXPECT_EQ(assessed.findings[i].found.fault, bench.findings().rows()[i].found.fault);
    // A decision on the one gait's finding leaves the other's open.
    const std::string fault = alone[0].found.fault->id;
    bench.findings().decide(alone[0].key(), store::Decision::accepted);
    for (const FindingRow& r : bench.findings().rows()) {
        if (r.found.fault->id != fault) continue;
        EXPECT_EQ(r.decision,
                  r.seen.gait == core::Gait::trot ? store::Decision::accepted : store::Decision::open);
    }
}

}  // namespace
}  // namespace aspen::app
