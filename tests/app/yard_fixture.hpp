#pragma once

#include <gmock/gmock.h>

#include "app/files/data_files.hpp"
#include "app/yard/changes.hpp"
#include "app/yard/yard.hpp"
#include "support/support.hpp"
#include "support/wait_for.hpp"

namespace aspen::app {

using test::wait_for;

inline const store::SeenIn kTrotRight{core::Gait::trot, core::Seat::two_point, "right"};

class YardTest : public testing::Test {
  protected:
    YardTest() : yard(QString::fromStdString((folder / "yard").string()), shipped_knowledge()) {
        yard.set_clock(test::noon_of(QDate(2026, 11, 24)));
    }

    store::Clip add_clip(const char* hash, const char* date) {
        if (!rider) rider = add_rider(yard, test::rider("Joss Penhallow", 2012, "hunter", "novice"));
        if (!horse) horse = add_horse(yard, {{}, "Fig", 157, ""});
        store::Clip c;
        c.path = "a.mp4";
        c.hash = hash;
        c.bytes = 5;
        c.recorded_at = date;
        c.id = take_in_clip(yard, c);
        test::say(yard, c.id,
                  {rider, horse, "hunter", core::Gait::trot, core::Seat::two_point, core::Travel::right});
        auto seen = yard.records().rides.stretches(c.id);
        seen[0].camera.roll_sd_deg = 0.3;
        test::to_write(yard).rides.put_stretches(c.id, seen);
        return c;
    }
    store::MomentId add_leg(const store::Clip& clip, int frame, double heel_behind_px) {
        store::Moment m;
        m.clip = clip.id;
        m.frame = frame;
        const auto put = [&](core::Landmark l, double x, double y) {
            m.figure[l] = {{x, y}, core::Visibility::seen, 1.0};
        };
        put(core::Landmark::shoulder, 620, 190);
        put(core::Landmark::hip, 595, 292);
        put(core::Landmark::knee, 665, 345);
        put(core::Landmark::ankle, 605 - heel_behind_px, 425);
        put(core::Landmark::heel, 594 - heel_behind_px, 440);
        return add_moment(yard, m);
    }

    test::TempFolder folder;
    Yard yard;
    store::RiderId rider;
    store::HorseId horse;
};

}  // namespace aspen::app
