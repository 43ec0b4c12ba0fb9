#include "app/random_steps.hpp"
#include "support/support.hpp"

#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

template <typename T>
const T& any_of(const std::vector<T>& all, std::mt19937& engine) {
    return all[engine() % all.size()];
}

core::Mark mark_at(std::mt19937& engine) {
    return {{static_cast<double>(engine() % 1000), static_cast<double>(engine() % 700)},
            core::Visibility::seen,
            1.5};
}

void step_on_moments(Yard& yard, store::ClipId clip, std::mt19937& engine) {
    const auto moments = yard.records().reviews.moments(clip);
    if (moments.empty() || engine() % 4 == 0) {
        store::Moment m;
        m.clip = clip;
        m.frame = static_cast<int>(engine() % 50);  // a frame that is taken is refused
        m.figure[core::Landmark::ear] = mark_at(engine);
        add_moment(yard, m);
        return;
    }
    const store::Moment m = any_of(moments, engine);
    switch (engine() % 5) {
        case 0:
            return put_mark(yard, m, core::Landmark::heel, mark_at(engine),
                            static_cast<int>(1 + engine() % 3));
        case 1: {
            core::Figure f = m.figure;
            for (const core::Landmark l : core::first_nine()) f[l] = mark_at(engine);
            return put_figure(yard, m, f, core::Point{5, 6}, "Lay figure");
        }
        case 2:
            return set_phase(yard, m, engine() % 2 ? "rise_top" : "rise_bottom");
        case 3:
            return remove_moment(yard, m);
        default:
            return put_mark(yard, m, core::Landmark::ear, {});
    }
}

void step_on_review(Yard& yard, store::ClipId clip, store::RideId ride, std::mt19937& engine) {
    switch (engine() % 8) {
        case 0: {
            store::Note n;
            n.clip = clip;
            n.frame = static_cast<int>(engine() % 90);
            n.kind = store::NoteKind::words;
            n.words = "word " + std::to_string(engine() % 7);
            add_note(yard, n);
            return;
        }
        case 1:
            for (const store::Note& n : yard.records().reviews.notes(clip)) return remove_note(yard, n);
            return;
        case 2: {
            auto all = core::split_at(yard.records().rides.stretches(clip), static_cast<int>(engine() % 90));
            any_of(all, engine);
            all.back().gait = core::Gait::canter;
            return set_stretches(yard, clip, all, "Cut here");
        }
        case 3: {
            store::Finding f;
            f.ride = ride;
            f.fault = engine() % 2 ? "heel_up" : "lower_leg_back";
            f.seen = {core::Gait::trot, core::Seat::rising, "left"};
            f.decision = engine() % 2 ? store::Decision::accepted : store::Decision::rejected;
            return decide(yard, f);
        }
        case 4: {
            store::Remark r;
            r.ride = ride;
            r.part = "trunk";
            r.words = "soft back";
            return add_remark(yard, r);
        }
        case 5: {
            store::Event e;
            e.ride = ride;
            e.clip = clip;
            e.time_s = static_cast<double>(engine() % 90) / 25;
            e.event = "aid";
            const auto there = yard.records().reviews.events_in(clip);
            if (there.size() < 2) return (void)add_event(yard, e, "Log");
            e = any_of(there, engine);
            if (engine() % 2) return remove_event(yard, e, "Take away");
            e.detail = "with=heel";
            return change_event(yard, e);
        }
        case 6: {
            const auto there = yard.records().reviews.ground_marks(clip);
            if (engine() % 3 == 0 && !there.empty()) return remove_ground_mark(yard, any_of(there, engine));
            store::GroundMark g;
            g.clip = clip;
            g.kind = engine() % 2 ? store::GroundMarkKind::lap_line : store::GroundMarkKind::step;
            g.b = {static_cast<double>(engine() % 100), 5};
            return add_ground_mark(yard, g);
        }
        default:
            return prescribe(yard, ride, {"heel_up", {core::Gait::trot, core::Seat::rising, "left"}}, {},
                             *yard.knowledge().exercises.find("two_point_walk_trot"));
    }
}

void step_on_people(Yard& yard, store::ClipId clip, store::RideId ride, std::mt19937& engine) {
    store::YardStore& records = test::to_write(yard);
    const auto riders = records.people.riders();
    const auto horses = records.people.horses();
    switch (engine() % 10) {
        case 0: {
            store::Rider r;
            if (engine() % 3) r.name = "Rider " + std::to_string(engine() % 100);  // else refused: no name
            add_rider(yard, r);
            return;
        }
        case 1:
            set_pair(yard, ride, any_of(riders, engine).id, any_of(horses, engine).id, "rider");
            return;
        case 2:
            if (riders.size() > 3) merge_riders(yard, riders[0].id, riders[1].id);
            return;
        case 3:
            split_ride(yard, ride);
            return;
        case 4:
            return trash_clip(yard, clip);
        case 5:
            for (const store::Clip& c : records.rides.trashed_clips()) return put_back(yard, c.id);
            return;
        case 6:
            add_companion(yard, clip, any_of(riders, engine).id, {});
            return;
        case 7:
            return set_limitations(yard, any_of(riders, engine).id,
                                   engine() % 2 ? "left hip, wrist" : "back");
        case 8: {
            store::Stirrup s;
            s.rider = any_of(riders, engine).id;
            s.job = engine() % 3 ? "flat" : engine() % 2 ? "jump" : "walk";  // no such job: refused
            s.left_hole = s.right_hole = static_cast<double>(engine() % 9);
            s.day = "2026-11-20";
            return put_stirrup(yard, s);
        }
        default:  // several changes that are one step, refused half-way now and then
            yard.step("Several at once", [&] {
                add_horse(yard, {{}, "Horse " + std::to_string(engine() % 100), {}, ""});
                promise(yard, ride, "2026-12-01");
                if (engine() % 3 == 0) throw core::Refused("refused half-way");
                step_on_moments(yard, clip, engine);
            });
    }
}

}  // namespace

void plant_yard(Yard& yard) {
    yard.quietly([&] {
        for (const char* name : {"Bram Oddleif", "Ines Varga-Holt", "Joss Penhallow", "Maude Estrell"}) {
            store::Rider r;
            r.name = name;
            test::to_write(yard).add(r);
        }
        for (const char* name : {"Cobalt", "Fig"}) test::to_write(yard).add(store::Horse{{}, name, {}, ""});
        for (int i = 0; i < 6; ++i) {
            store::Clip c;
            c.path = "clips/" + std::to_string(i) + ".mp4";
            c.hash = "hash" + std::to_string(i);
            c.recorded_at = i % 2 ? "2026-11-20" : "2026-11-21";
            take_in_clip(yard, c);
        }
    });
}

QString random_step(Yard& yard, std::mt19937& engine) {
    const auto clips = yard.records().rides.clips();
    if (clips.empty()) {
        put_back(yard, yard.records().rides.trashed_clips().front().id);
        return "put back";
    }
    const store::ClipId clip = any_of(clips, engine).id;
    const auto places = yard.records().rides.places(clip);
    const store::RideId ride = any_of(places, engine).ride;
    switch (engine() % 3) {
        case 0:
            step_on_moments(yard, clip, engine);
            return "moments";
        case 1:
            step_on_review(yard, clip, ride, engine);
            return "review";
        default:
            step_on_people(yard, clip, ride, engine);
            return "people";
    }
}

}  // namespace aspen::app
