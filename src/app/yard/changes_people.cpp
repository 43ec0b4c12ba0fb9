#include <algorithm>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "core/training/exercises.hpp"

/// Riders, horses, rides and clips.
namespace aspen::app {
namespace {

std::string path_in(const Yard& yard, const QString& file) {
    const QString inside = yard.folder().relativeFilePath(file);
    return (inside.startsWith("..") ? file : inside).toStdString();
}

}  // namespace

store::RiderId add_rider(Yard& yard, const store::Rider& rider) {
    store::RiderId id;
    yard.step(QObject::tr("Add rider"), [&](store::YardStore& records) { id = records.add(rider); });
    return id;
}
void change_rider(Yard& yard, const store::Rider& rider) {
    yard.step(QObject::tr("Change rider"), [&](store::YardStore& records) { records.update(rider); });
}
void set_limitations(Yard& yard, store::RiderId rider, const QString& words) {
    const auto before = yard.records().people.limitations(rider);
    std::vector<store::Limitation> after;
    for (const QString& part : words.split(',', Qt::SkipEmptyParts)) {
        const std::string said = part.trimmed().toStdString();
        if (said.empty()) continue;
        const auto known = std::ranges::find(before, said, &store::Limitation::words);
        store::Limitation l = known == before.end() ? store::Limitation{} : *known;
        if (known == before.end()) {
            const QString lower = part.toLower();
            const bool left = lower.contains("left"), right = lower.contains("right");
            l.words = said;
            l.side = left && right ? "both" : left ? "left" : right ? "right" : "";
            l.since = yard.today_iso();
        }
        after.push_back(l);
    }
    set_limitations(yard, rider, after);
}
void set_limitations(Yard& yard, store::RiderId rider, const std::vector<store::Limitation>& after) {
    if (after == yard.records().people.limitations(rider)) return;
    yard.step(QObject::tr("Change what the rider's body allows"),
              [&](store::YardStore& records) { records.people.put_limitations(rider, after); });
}
void put_stirrup(Yard& yard, const store::Stirrup& stirrup) {
    yard.step(QObject::tr("Note the stirrups"), [&](store::YardStore& records) { records.put(stirrup); });
}
QString limitations_in_words(Yard& yard, store::RiderId rider) {
    QStringList out;
    const std::string today = yard.today_iso();
    for (const store::Limitation& l : yard.records().people.limitations(rider)) {
        if (l.until.empty() || l.until >= today) out << QString::fromStdString(l.words);
    }
    return out.join(", ");
}
void sign_off(Yard& yard, store::RiderId rider, store::HorseId horse, const std::string& gate) {
    if (!rider || !horse) return;
    yard.step(QObject::tr("Sign off: ") + QString::fromUtf8(core::spoken_gate(gate).data()),
              [&](store::YardStore& records) {
                  records.put(store::SignOff{{}, rider, horse, gate, yard.today_iso()});
              });
}
void take_back_sign_off(Yard& yard, const store::SignOff& s) {
    yard.step(QObject::tr("Take back: ") + QString::fromUtf8(core::spoken_gate(s.gate).data()),
              [&](store::YardStore& records) { records.remove(s.id); });
}
std::vector<std::string> signed_off(Yard& yard, store::RiderId rider, store::HorseId horse) {
    std::vector<std::string> out;
    for (const store::SignOff& s : yard.records().people.sign_offs(rider)) {
        if (s.horse == horse) out.push_back(s.gate);
    }
    return out;
}
store::HorseId add_horse(Yard& yard, const store::Horse& horse) {
    store::HorseId id;
    yard.step(QObject::tr("Add horse"), [&](store::YardStore& records) { id = records.add(horse); });
    return id;
}
void change_horse(Yard& yard, const store::Horse& horse) {
    yard.step(QObject::tr("Change horse"), [&](store::YardStore& records) { records.update(horse); });
}
void merge_riders(Yard& yard, store::RiderId from, store::RiderId into) {
    yard.step(QObject::tr("Make two riders one"),
              [&](store::YardStore& records) { records.merge(from, into); });
}
void merge_horses(Yard& yard, store::HorseId from, store::HorseId into) {
    yard.step(QObject::tr("Make two horses one"),
              [&](store::YardStore& records) { records.merge(from, into); });
}

void change_ride(Yard& yard, const store::Ride& ride, const QString& what) {
    yard.step(QObject::tr("Change ") + what, [&](store::YardStore& records) { records.update(ride); });
}

store::RideId set_pair(Yard& yard, store::RideId id, store::RiderId rider, store::HorseId horse,
                       const QString& what) {
    store::RideId at = id;
    yard.step(QObject::tr("Change ") + what, [&](store::YardStore& records) {
        auto ride = records.rides.ride(id);
        if (!ride) return;
        ride->rider = rider;
        ride->horse = horse;
        if (horse) ride->mount = core::Mount::horse;
        records.update(*ride);
        if (!rider || !horse || ride->state == store::RideState::done) return;
        for (const store::Ride& other : records.rides.rides_of(rider)) {
            if (other.id == id || other.horse != horse || other.day != ride->day ||
                other.mount != ride->mount || other.state == store::RideState::done)
                continue;
            if (!other.school.empty() && !ride->school.empty() && other.school != ride->school) continue;
            records.merge(id, other.id);
            at = other.id;
            return;
        }
    });
    return at;
}

store::RideId say_rider(Yard& yard, store::RideId id, store::RiderId who) {
    store::RideId at = id;
    yard.step(QObject::tr("Change rider"), [&](store::YardStore& records) {
        auto ride = records.rides.ride(id);
        const auto rider = records.people.rider(who);
        if (!ride || !rider) return;
        if (ride->school.empty()) ride->school = rider->school;
        if (ride->level.empty()) ride->level = rider->level;
        for (const store::Ride& before : records.rides.rides_of(who)) {
            if (before.id == id) continue;
            if (ride->own.goal.empty()) ride->own.goal = before.own.goal;
            if (ride->own.hurts.empty()) ride->own.hurts = before.own.hurts;
            break;
        }
        if (ride->own.goal.empty()) ride->own.goal = rider->goal;
        records.update(*ride);
        at = set_pair(yard, id, who, ride->horse, "rider");
    });
    return at;
}

void join_rides(Yard& yard, store::RideId from, store::RideId into) {
    yard.step(QObject::tr("Join rides"), [&](store::YardStore& records) { records.merge(from, into); });
}

void split_ride(Yard& yard, store::RideId id) {
    yard.step(QObject::tr("Take a ride apart"), [&](store::YardStore& records) {
        const auto ride = records.rides.ride(id);
        const auto clips = records.rides.clips_of(id);
        if (!ride) return;
        for (std::size_t i = 1; i < clips.size(); ++i) {
            store::Ride own = *ride;
            own.id = {};
            own.coach_word.clear();
            own.state = store::RideState::fresh;
            const store::RideId to = records.add(own);
            for (store::Slot s : records.rides.places(clips[i].id)) {
                if (s.ride != id) continue;
                s.ride = to;
                records.put(s);
            }
        }
    });
}

int add_companion(Yard& yard, store::ClipId clip, store::RiderId rider, store::HorseId horse) {
    int slot = 0;
    yard.step(QObject::tr("Change the riders of this clip"), [&](store::YardStore& records) {
        const auto all = records.rides.places(clip);
        store::Ride ride;
        if (!all.empty()) {
            slot = all.back().slot + 1;
            if (const auto first = records.rides.ride(all.front().ride)) {
                ride.day = first->day;
                ride.place = first->place;
                ride.school = first->school;
                ride.state = store::RideState::started;
            }
        }
        ride.rider = rider;
        ride.horse = horse;
        records.put(store::Slot{clip, slot, records.add(ride)});
    });
    return slot;
}

void change_clip(Yard& yard, const store::Clip& clip, const QString& what) {
    yard.step(QObject::tr("Change ") + what, [&](store::YardStore& records) { records.update(clip); });
}

void set_clock(Yard& yard, store::ClipId id, int late_by_s) {
    yard.step(QObject::tr("Set the camera's clock right"), [&](store::YardStore& records) {
        const auto clip = records.rides.clip(id);
        if (!clip) return;
        for (store::Clip other : records.rides.clips()) {
            if (other.id != id && (clip->batch == 0 || other.batch != clip->batch)) continue;
            other.clock_off_s = late_by_s;
            records.update(other);
        }
    });
}

void trash_clip(Yard& yard, store::ClipId id) {
    yard.step(QObject::tr("Put clip in the trash"), [&](store::YardStore& records) {
        auto clip = records.rides.clip(id);
        if (!clip) return;
        clip->trashed = true;
        records.update(*clip);
    });
}
void trash_ride(Yard& yard, store::RideId id) {
    const auto clips = yard.records().rides.clips_of(id);
    yard.step(clips.size() == 1 ? QObject::tr("Put clip in the trash")
                                : QObject::tr("Put the ride's clips in the trash"),
              [&](store::YardStore& records) {
                  for (store::Clip clip : clips) {
                      clip.trashed = true;
                      records.update(clip);
                  }
              });
}
void promise(Yard& yard, store::RideId id, const std::string& day) {
    yard.step(day.empty() ? QObject::tr("Take a promise back") : QObject::tr("Promise an answer"),
              [&](store::YardStore& records) {
                  auto ride = records.rides.ride(id);
                  if (!ride) return;
                  ride->promised = day;
                  records.update(*ride);
              });
}

store::ClipId take_in_clip(Yard& yard, const store::Clip& clip) {
    store::ClipId id;
    yard.quietly([&](store::YardStore& records) {
        id = records.add(clip);
        store::Ride ride;
        ride.day = clip.day();
        records.put(store::Slot{id, 0, records.add(ride)});
    });
    return id;
}
void move_clip(Yard& yard, store::ClipId id, const QString& new_path, bool out_of_trash) {
    yard.quietly([&](store::YardStore& records) {
        auto clip = records.rides.clip(id);
        if (!clip) return;
        clip->path = path_in(yard, new_path);
        if (out_of_trash) clip->trashed = false;
        records.update(*clip);
    });
}
void leave_at(Yard& yard, store::ClipId id, int frame) {
    auto clip = yard.records().rides.clip(id);
    if (!clip || clip->last_frame == frame) return;
    clip->last_frame = frame;
    yard.silently([&](store::YardStore& records) { records.update(*clip); });
}
void set_length(Yard& yard, store::ClipId id, double duration_s, int frames) {
    yard.quietly([&](store::YardStore& records) {
        auto clip = records.rides.clip(id);
        if (!clip || (clip->frames == frames && clip->duration_s == duration_s)) return;
        clip->duration_s = duration_s;
        clip->frames = frames;
        records.update(*clip);
    });
}
void set_ride_state(Yard& yard, store::RideId id, store::RideState state) {
    yard.quietly([&](store::YardStore& records) {
        auto ride = records.rides.ride(id);
        if (!ride || ride->state == state) return;
        ride->state = state;
        records.update(*ride);
    });
}

}  // namespace aspen::app
