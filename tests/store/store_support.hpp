#pragma once

#include <SQLiteCpp/SQLiteCpp.h>
#include <gmock/gmock.h>
#include <signal.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/reading/refused.hpp"
#include "store/yard_store.hpp"
#include "support/dump.hpp"

/// A folder of its own and records to start from.
namespace aspen::store {

namespace fs = std::filesystem;
using testing::HasSubstr;

class Store : public testing::Test {
  protected:
    Store() {
        std::string pattern = (fs::temp_directory_path() / "aspen-store-XXXXXX").string();
        folder_ = mkdtemp(pattern.data());
    }
    ~Store() override { fs::remove_all(folder_); }
    fs::path file() const { return folder_ / "yard.db"; }
    std::string refusal() const {
        try {
            YardStore yard(file());
        } catch (const core::Refused& e) {
            return e.what();
        }
        return "opened";
    }
    void run_sql(const std::string& sql) const {
        SQLite::Database db(file().string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        db.exec(sql);
    }
    fs::path folder_;
};

/// A clip with its ride.
struct Some {
    Ride ride;
    Clip clip;
    core::Stretches stretches = core::whole_clip();
};

inline Some some_clip(YardStore& yard) {
    Some s;
    Rider joss;
    joss.name = "Joss Penhallow";
    joss.birth_year = 2012;
    joss.height_cm = 158;
    s.ride.rider = yard.add(joss);
    s.ride.horse = yard.add(Horse{{}, "Fig", 157, "stiff to the left", "green", "left", true, true});
    s.ride.day = "2026-11-20";
    s.ride.school = "hunter";
    s.ride.place = Place::show;
    s.ride.own = {"steady leg", "is it back?", "left knee"};
    s.ride.promised = "2026-11-22";
    s.ride.id = yard.add(s.ride);
    s.clip.path = "clips/a.mp4";
    s.clip.hash = "0123";
    s.clip.bytes = 77;
    s.clip.recorded_at = "2026-11-20T17:05:12";
    s.clip.told_by = ToldBy::container;
    s.clip.id = yard.add(s.clip);
    yard.put(Slot{s.clip.id, 0, s.ride.id});
    core::Stretch& all = s.stretches.front();
    all.gait = core::Gait::trot;
    all.seat = core::Seat::rising;
    all.travel = core::Travel::left;
    all.camera = {1.5, 0.25, -4, 3, true, true};
    all.stirrups = core::Stirrups::off;
    all.hands = core::Hands::strap;
    yard.rides.put_stretches(s.clip.id, s.stretches);
    return s;
}

inline Moment moment_of(ClipId clip, int frame, int slot = 0) {
    Moment m;
    m.clip = clip;
    m.frame = frame;
    m.time_s = 0.1;
    m.slot = slot;
    return m;
}

inline Finding finding_of(RideId ride, const char* fault, Decision decision, const char* day = "2026-11-21") {
    Finding f;
    f.ride = ride;
    f.fault = fault;
    f.seen = {core::Gait::trot, core::Seat::rising, "left"};
    f.measured_verdict = "outside";
    f.measured_severity = 0.8;
    f.decision = decision;
    f.decided_on = day;
    return f;
}

inline Correction correction_of(const Ride& ride, const char* fault) {
    Correction c;
    c.rider = ride.rider;
    c.horse = ride.horse;
    c.fault = fault;
    c.seen = {core::Gait::trot, core::Seat::rising, "left"};
    c.noticed_on = ride.day;
    return c;
}

}  // namespace aspen::store
