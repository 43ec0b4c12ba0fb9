#include "app/leaving/gate.hpp"

#include <gtest/gtest.h>

namespace aspen::app {
namespace {

const QDate kToday(2026, 11, 24);

store::Rider rider(std::optional<int> born, const char* by = "", const char* on = "",
                   const char* until = "") {
    store::Rider r;
    r.name = "Joss Penhallow";
    r.birth_year = born;
    r.consent_by = by;
    r.consent_on = on;
    r.consent_until = until;
    return r;
}

TEST(Gate, AdultsPass) { EXPECT_FALSE(refuses_to_leave(rider(1990), kToday)); }

TEST(Gate, MinorsNeedAConsentThatIsValidToday) {
    EXPECT_TRUE(refuses_to_leave(rider(2012), kToday));
    EXPECT_FALSE(refuses_to_leave(rider(2012, "Guardian", "2026-01-01", "2026-12-31"), kToday));
    EXPECT_FALSE(refuses_to_leave(rider(2012, "Guardian", "2026-11-24", "2026-11-24"), kToday))
        << "both days count";
    EXPECT_TRUE(
        refuses_to_leave(rider(2012, "Guardian", "2025-01-01", "2026-11-23"), kToday)->contains("ran out"));
    EXPECT_TRUE(refuses_to_leave(rider(2012, "Guardian", "2026-12-01", "2027-12-01"), kToday)
                    ->contains("not valid yet"));
    EXPECT_TRUE(refuses_to_leave(rider(2012, "", "2026-01-01", "2026-12-31"), kToday)) << "nobody gave it";
    EXPECT_TRUE(refuses_to_leave(rider(2012, "Guardian", "soon", "later"), kToday));
}

TEST(Gate, WhoTurns18ThisYearCountsAsAMinorUntilItIsOver) {
    EXPECT_TRUE(refuses_to_leave(rider(2008), kToday));
    EXPECT_FALSE(refuses_to_leave(rider(2007), kToday));
}

TEST(Gate, AnUnknownAgeIsNotGuessed) {
    const auto line = refuses_to_leave(rider(std::nullopt), kToday);
    ASSERT_TRUE(line);
    EXPECT_TRUE(line->contains("birth year is not recorded"));
    EXPECT_EQ(line->count('\n'), 0);
}

}  // namespace
}  // namespace aspen::app
