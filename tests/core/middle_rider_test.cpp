// The rider that a school's page draws sits inside what the school asks, by the measures themselves.

#include <gtest/gtest.h>

#include "core/core_support.hpp"
#include "core/judging/judgement.hpp"
#include "core/judging/middle_rider.hpp"

namespace aspen::core {
namespace {

TEST(MiddleRider, SitsInsideEveryRangeOfEverySchool) {
    const Knowledge& known = test::knowledge();
    int held = 0;
    for (const School& school : known.schools.all()) {
        for (const Seat seat : {Seat::sitting, Seat::rising, Seat::two_point}) {
            Setting s;
            s.school = school.id;
            s.seat = seat;
            s.gait = Gait::trot;
            s.phase = seat == Seat::rising ? "rise_bottom" : "";
            for (const Judged& j : judge(middle_rider(known.schools, s), s, known.body, known.schools)) {
                if (!j.measured.value || !j.band) continue;
                const double v = *j.measured.value;
                EXPECT_TRUE((!j.band->lo || v >= *j.band->lo - 1.5) &&
                            (!j.band->hi || v <= *j.band->hi + 1.5))
                    << school.id << " " << word(seat) << " " << j.info().id << " " << v;
                ++held;
            }
        }
    }
    EXPECT_GT(held, 80) << "most of what a side view can say";
}

TEST(MiddleRider, LeansAsItsSchoolDoes) {
    const Knowledge& known = test::knowledge();
    const auto lean = [&](const char* school) {
        Setting s;
        s.school = school;
        s.seat = Seat::two_point;
        s.gait = Gait::canter;
        const Figure f = middle_rider(known.schools, s);
        return f[Landmark::shoulder].at.x;
    };
    EXPECT_GT(lean("hunter"), lean("stock")) << "the stock seat barely leaves the saddle";
}

}  // namespace
}  // namespace aspen::core
