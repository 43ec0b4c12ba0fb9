#include "app/leaving/gate.hpp"

#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>

#include "app/files/whole_file.hpp"
#include "app/leaving/consents.hpp"
#include "app/yard/changes.hpp"
#include "app/yard_fixture.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

const QDate kToday(2026, 11, 24);

std::optional<QString> refusal(std::optional<int> born, const std::vector<store::Consent>& consents = {},
                               Use use = Use::page) {
    store::Rider r;
    r.name = "Joss Penhallow";
    r.birth_year = born;
    return refuses_to_leave(r, consents, use, kToday);
}
store::Consent consent(const char* by, const char* on, const char* until, const char* use = "page") {
    return {{}, {}, use, by, on, until};
}

TEST(Gate, GrownRidersPassUntilTheyTakeItBack) {
    EXPECT_FALSE(refusal(1990));
    EXPECT_FALSE(refusal(1990, {}, Use::clip));
    store::Consent taken_back = consent("Joss Penhallow", "2026-01-01", "");
    EXPECT_FALSE(refusal(1990, {taken_back})) << "no end: it holds until it is withdrawn";
    taken_back.withdrawn_on = "2026-11-20";
    EXPECT_TRUE(refusal(1990, {taken_back})->contains("withdrawn"));
    EXPECT_FALSE(refusal(1990, {taken_back}, Use::clip)) << "each use stands alone";
    EXPECT_TRUE(refusal(1990, {consent("Joss", "2025-01-01", "2026-11-23")})->contains("ran out"));
}

TEST(Gate, NobodyIsShownToOthersWithoutAgreeing) {
    EXPECT_TRUE(refusal(1990, {}, Use::teaching)->contains("shown to others"));
    EXPECT_TRUE(refusal(1990, {consent("Joss", "2026-01-01", "", "clip")}, Use::teaching));
    EXPECT_FALSE(refusal(1990, {consent("Joss", "2026-01-01", "", "teaching")}, Use::teaching));
}

TEST(Gate, MinorsNeedAConsentThatHoldsToday) {
    EXPECT_TRUE(refusal(2012));
    EXPECT_FALSE(refusal(2012, {consent("Guardian", "2026-01-01", "2026-12-31")}));
    EXPECT_TRUE(refusal(2012, {consent("Guardian", "2026-01-01", "2026-12-31")}, Use::clip))
        << "for a page, not for a film";
    EXPECT_FALSE(refusal(2012, {consent("Guardian", "2026-11-24", "2026-11-24")})) << "both days count";
    EXPECT_TRUE(refusal(2012, {consent("Guardian", "2025-01-01", "2026-11-23")})->contains("ran out"));
    EXPECT_TRUE(refusal(2012, {consent("Guardian", "2026-12-01", "2027-12-01")})->contains("not valid yet"));
    EXPECT_TRUE(refusal(2012, {consent("", "2026-01-01", "2026-12-31")})) << "nobody gave it";
    EXPECT_TRUE(refusal(2012, {consent("Guardian", "soon", "later")}));
}

TEST(Gate, WhoTurns18ThisYearCountsAsAMinorUntilItIsOver) {
    EXPECT_TRUE(refusal(2008));
    EXPECT_FALSE(refusal(2007));
}

TEST(Gate, AnUnknownAgeIsNotGuessed) {
    const auto line = refusal(std::nullopt);
    ASSERT_TRUE(line);
    EXPECT_TRUE(line->contains("birth year is not recorded"));
    EXPECT_EQ(line->count('\n'), 0);
}

class Register : public YardTest {
  protected:
    void SetUp() override {
        add_clip("aside", "2026-11-20");
        auto grown = *yard.records().people.rider(rider);
        grown.birth_year = 1990;
        change_rider(yard, grown);
    }
    void give(const char* use, bool face) {
        store::Consent c = consent("Joss Penhallow", "2026-01-01", "", use);
        c.rider = rider;
        c.face = face;
        give_consent(yard, c);
    }
    bool covers(Use use) {
        const auto asked = ask_for_rider(yard, rider, use);
        return asked->covers_faces();
    }
};

TEST_F(Register, AFaceIsBareOnlyWhereTheRegisterAllowsItForThatUse) {
    EXPECT_TRUE(covers(Use::page)) << "nobody agreed to be seen";
    give("page", true);
    EXPECT_FALSE(covers(Use::page));
    EXPECT_TRUE(covers(Use::clip)) << "agreed to for the page alone";
    auto minor = *yard.records().people.rider(rider);
    minor.birth_year = 2012;
    change_rider(yard, minor);
    EXPECT_TRUE(covers(Use::page)) << "a minor's face stays covered whatever was agreed to";
}

TEST_F(Register, WhatIsWithdrawnLeavesNothingBehindItAndNamesWhatLeft) {
    give("clip", false);
    give("clip", true);
    const auto permit = ask_for_rider(yard, rider, Use::clip).value();
    const QString file = QDir(yard.folder()).filePath("out.png");
    ASSERT_EQ(leave(yard, permit, {"picture", "aside.mp4, frame 10", file},
                    [](const QString& to) { return write_whole(to, "abc"); }),
              "");
    withdraw_consent(yard, *consents(yard, rider)[1].consent);
    EXPECT_TRUE(!ask_for_rider(yard, rider, Use::clip).has_value()) << "the one before it does not come back";
    const QStringList left = what_left(yard, rider, Use::clip);
    ASSERT_EQ(left.size(), 1);
    EXPECT_TRUE(left[0].contains("aside.mp4, frame 10") && left[0].contains("out.png"))
        << left[0].toStdString();
    // The sum of "abc", from FIPS 180-2, appendix B.1.
    EXPECT_EQ(yard.records().leaving.departures(rider)[0].sha256,
              "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
}

TEST_F(Register, AWithdrawalIsNotTakenBackByAKeyOnlySaidAnew) {
    give("clip", false);
    give("clip", true);
    withdraw_consent(yard, *consents(yard, rider)[1].consent);
    const auto shut = [&] { return !ask_for_rider(yard, rider, Use::clip).has_value(); };
    for (int i = 0; i < 5; ++i) {
        yard.steps().undo();
        EXPECT_TRUE(shut()) << "after " << i + 1 << " steps back";
    }
    for (int i = 0; i < 5; ++i) yard.steps().redo();
    EXPECT_TRUE(shut());
    store::Consent anew = consent("Joss Penhallow", "2026-01-01", "", "clip");
    anew.rider = rider;
    EXPECT_THROW(give_consent(yard, anew), core::Refused) << "dated before what was said since";
    anew.given_on = "2026-11-24";
    give_consent(yard, anew);
    EXPECT_FALSE(shut());
}

TEST_F(Register, WhatLeftCanBeAddedToAndNeverChangedOrTakenOut) {
    const auto permit = ask_for_rider(yard, rider, Use::page).value();
    EXPECT_EQ(hand_over(yard, permit, {"message", "the message", "clipboard", false}, [] {}), "");
    for (const char* sql : {"DELETE FROM departure", "UPDATE departure SET at = '2020-01-01T00:00:00'",
                            "UPDATE departure SET faces = 'none', sha256 = 'x'"}) {
        SQLite::Database raw(yard.folder().filePath("yard.db").toStdString(), SQLite::OPEN_READWRITE);
        EXPECT_THROW(raw.exec(sql), SQLite::Exception) << sql;
    }
    EXPECT_EQ(yard.records().leaving.departures(rider).size(), 1U);
}

TEST_F(Register, GoesByTheWallClockWhateverDayIsReckonedWith) {
    store::Consent c = consent("Joss Penhallow", "2026-01-01", "2026-11-30", "teaching");
    c.rider = rider;
    give_consent(yard, c);
    EXPECT_TRUE(ask_for_rider(yard, rider, Use::teaching).has_value());
    yard.set_clock(test::noon_of(QDate(2026, 12, 1)));
    EXPECT_TRUE(!ask_for_rider(yard, rider, Use::teaching).has_value())
        << "a window left open over the night";
    yard.reckon_with(QDate(2026, 11, 24));
    EXPECT_EQ(yard.today(), QDate(2026, 11, 24));
    EXPECT_TRUE(!ask_for_rider(yard, rider, Use::teaching).has_value());
    const auto permit = ask_for_rider(yard, rider, Use::page).value();
    hand_over(yard, permit, {"message", "the message", "clipboard", false}, [] {});
    EXPECT_EQ(yard.records().leaving.departures(rider)[0].at.substr(0, 10), "2026-12-01");
}

TEST_F(Register, OfTwoCardsTheStricterHoldsAndTheYounger) {
    give("clip", true);
    const auto twin = add_rider(yard, test::rider("Joss P.", 2012, "hunter"));
    store::Consent theirs = consent("Guardian", "2026-02-01", "", "clip");
    theirs.rider = twin;
    give_consent(yard, theirs);
    withdraw_consent(yard, *consents(yard, twin)[1].consent);
    merge_riders(yard, twin, rider);
    EXPECT_EQ(yard.records().people.rider(rider)->birth_year, 2012) << "a child does not grow up by it";
    EXPECT_TRUE(!ask_for_rider(yard, rider, Use::clip).has_value());
}

TEST_F(Register, AConsentThatSaysNobodyOrNoDayIsRefused) {
    store::Consent c = consent(" ", "2026-01-01", "");
    c.rider = rider;
    EXPECT_THROW(give_consent(yard, c), core::Refused);
    c.given_by = "Joss";
    c.given_on = "soon";
    EXPECT_THROW(give_consent(yard, c), core::Refused);
    c.given_on = "2026-02-01";
    c.until = "2026-01-01";
    EXPECT_THROW(give_consent(yard, c), core::Refused);
    EXPECT_TRUE(yard.records().leaving.consents_of(rider).empty());
}

}  // namespace
}  // namespace aspen::app
