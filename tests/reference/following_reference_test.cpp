// What counts as a change, against the published formula.

#include <gtest/gtest.h>

#include <cmath>

#include "core/following/following.hpp"

namespace aspen::core {
namespace {

// Weir 2005, "Quantifying test-retest reliability using the intraclass correlation coefficient and the SEM":
// the minimal difference to be considered real is SEM * 1.96 * sqrt(2) (formula from memory). With the same
// error on both occasions our rule has to be exactly that one.
TEST(Weir2005, MinimalDifference) {
    const Band band{0, 10, 5, {}, {}};
    for (const double sem : {0.4, 1.0, 2.7}) {
        const double minimal = sem * 1.96 * std::sqrt(2.0);
        const ReviewValue a{5, sem, Verdict::inside, band, 3};
        EXPECT_FALSE(changed(a, {5 + minimal * 0.999, sem, Verdict::inside, band, 3}));
        EXPECT_TRUE(changed(a, {5 + minimal * 1.001, sem, Verdict::inside, band, 3}));
    }
}

}  // namespace
}  // namespace aspen::core
