// Fills a yard's folder with plausible records, for measuring: make_yard FOLDER --riders N --rides M --seed
// S. No video is needed: the clips are named by hashes of which a few repeat. Six moments of thirteen joints
// a ride, notes, findings, corrections, exercises; the last forty rides wait.

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <random>

#include "store/yard_store.hpp"

using namespace aspen;
using store::YardStore;

namespace {

constexpr int kMomentsARide = 6, kJoints = 13, kWaiting = 40;

struct Plan {
    std::filesystem::path folder;
    int riders = 300, rides = 20000;
    unsigned seed = 1;
};

Plan read(int argc, char** argv) {
    Plan p;
    if (argc < 2) {
        std::fprintf(stderr, "make_yard FOLDER --riders N --rides M --seed S\n");
        std::exit(2);
    }
    p.folder = argv[1];
    for (int i = 2; i + 1 < argc; i += 2) {
        if (!std::strcmp(argv[i], "--riders")) p.riders = std::atoi(argv[i + 1]);
        if (!std::strcmp(argv[i], "--rides")) p.rides = std::atoi(argv[i + 1]);
        if (!std::strcmp(argv[i], "--seed")) p.seed = static_cast<unsigned>(std::atoi(argv[i + 1]));
    }
    return p;
}

std::string day(int n) {
    using namespace std::chrono;
    const year_month_day d(sys_days(year(2006) / 11 / 26) + days(n));
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(d.year()), static_cast<unsigned>(d.month()),
                       static_cast<unsigned>(d.day()));
}

class Maker {
  public:
    Maker(YardStore& yard, const Plan& plan) : yard_(yard), plan_(plan), engine_(plan.seed) {}

    void people() {
        static const char* schools[] = {"classical", "hunter", "jumper", "stock", "gaited"};
        for (int i = 0; i < plan_.riders; ++i) {
            store::Rider r;
            r.name = fmt::format("Rider {:03}", i);
            r.birth_year = 1960 + static_cast<int>(engine_() % 50);
            r.school = schools[i % 5];
            r.level = i % 3 ? "novice" : "beginner";
            riders_.push_back(yard_.add(r));
        }
        for (int i = 0; i < std::max(2, plan_.riders / 4); ++i)
            horses_.push_back(yard_.add(store::Horse{{}, fmt::format("Horse {:02}", i), 150 + i % 25, ""}));
    }

    void ride(int n, SQLite::Statement& mark) {
        const bool waits = n >= plan_.rides - kWaiting;
        const auto who = static_cast<std::size_t>(engine_() % riders_.size());
        store::Ride r;
        r.rider = riders_[who];
        r.horse = horses_[(who + engine_() % 2) % horses_.size()];
        r.day = day(static_cast<int>(7300.0 * n / plan_.rides));
        r.school = "hunter";
        r.own.goal = "a steady leg";
        r.own.question = n % 9 ? "" : "is the leg better than last time?";
        r.state = waits ? store::RideState::fresh : store::RideState::done;
        r.id = yard_.add(r);
        store::Clip c;
        c.path = fmt::format("/films/{}.mp4", n);
        c.hash = fmt::format("{:064x}", n % 500);
        c.recorded_at = r.day + "T17:00:00";
        c.duration_s = 20 + static_cast<double>(engine_() % 60);
        c.id = yard_.add(c);
        yard_.put(store::Slot{c.id, 0, r.id});
        core::Stretches ridden = core::whole_clip();
        ridden[0].gait = core::Gait::trot;
        ridden[0].seat = core::Seat::rising;
        ridden[0].travel = n % 2 ? core::Travel::left : core::Travel::right;
        ridden[0].camera.roll_sd_deg = 0.4;
        yard_.put_stretches(c.id, ridden);
        if (waits) return;
        moments(c.id, ridden[0].travel, mark);
        said(r, c.id, n);
    }

  private:
    void moments(store::ClipId clip, core::Travel travel, SQLite::Statement& mark) {
        using L = core::Landmark;
        static const std::pair<L, core::Point> points[kJoints] = {
            {L::ear, {600, 130}},      {L::eye, {620, 131}},   {L::chin, {618, 156}},
            {L::shoulder, {597, 182}}, {L::elbow, {606, 248}}, {L::wrist, {660, 268}},
            {L::knuckle, {676, 274}},  {L::hip, {595, 292}},   {L::knee, {668, 350}},
            {L::ankle, {608, 425}},    {L::heel, {594, 440}},  {L::toe, {648, 434}},
            {L::withers, {690, 300}}};
        std::normal_distribution<double> off(0, 8);
        for (int i = 0; i < kMomentsARide; ++i) {
            store::Moment m;
            m.clip = clip;
            m.frame = 40 + 30 * i;
            m.time_s = m.frame / 30.0;
            m.phase = i % 2 ? "rise_bottom" : "rise_top";
            const store::MomentId id = yard_.add(m);
            for (const auto& [l, p] : points) {
                const double x = travel == core::Travel::left ? 1280 - p.x : p.x;
                mark.reset();
                mark.bind(1, id.value);
                mark.bind(2, std::string(core::id(l)));
                mark.bind(3, x + off(engine_));
                mark.bind(4, p.y + off(engine_));
                mark.exec();
            }
        }
    }

    void said(const store::Ride& r, store::ClipId clip, int n) {
        static const char* faults[] = {"lower_leg_back", "tipped_forward", "heel_up"};
        static const char* words[] = {"leg slid back again", "soft back here", "looks down before the corner",
                                      "good hand"};
        const core::SeenIn seen{core::Gait::trot, core::Seat::rising, n % 2 ? "left" : "right"};
        for (int i = 0; i < 2; ++i) {
            store::Finding f;
            f.ride = r.id;
            f.fault = faults[(n + i) % 3];
            f.seen = seen;
            f.decision = store::Decision::accepted;
            f.decided_on = r.day;
            yard_.put(f);
        }
        store::Note note;
        note.clip = clip;
        note.frame = 30;
        note.kind = store::NoteKind::words;
        note.words = fmt::format("{} {}", words[n % 4], n);
        yard_.add(note);
        store::Correction c;
        c.rider = r.rider;
        c.horse = r.horse;
        c.fault = faults[n % 3];
        c.seen = seen;
        c.noticed_on = r.day;
        if (const auto there = yard_.correction_like(c))
            c = *there;
        else
            c.id = yard_.add(c);
        if (n % 20) return;
        c.focus = n % 60 == 0;
        yard_.update(c);
        store::Prescription p;
        p.correction = c.id;
        p.exercise = "two_point_walk_trot";
        p.given_on = r.day;
        p.until = r.day;
        p.ride = r.id;
        yard_.add(p);
    }

    YardStore& yard_;
    const Plan& plan_;
    std::mt19937 engine_;
    std::vector<store::RiderId> riders_;
    std::vector<store::HorseId> horses_;
};

}  // namespace

int main(int argc, char** argv) {
    const Plan plan = read(argc, argv);
    std::filesystem::create_directories(plan.folder);
    YardStore yard(plan.folder / "yard.db");
    Maker maker(yard, plan);
    yard.within([&] { maker.people(); });
    SQLite::Statement mark(yard.database().raw(),
                           "INSERT INTO mark(moment, landmark, x, y, visibility, sd_px, origin, confirmed) "
                           "VALUES(?,?,?,?,2,2,'clicked',1)");
    for (int n = 0; n < plan.rides; n += 500) {
        yard.within([&] {
            for (int i = n; i < std::min(n + 500, plan.rides); ++i) maker.ride(i, mark);
        });
    }
    std::printf("%d riders, %d rides, %d joints\n", plan.riders, plan.rides,
                yard.database().raw().execAndGet("SELECT count(*) FROM mark").getInt());
}
