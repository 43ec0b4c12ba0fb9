#include <QObject>
#include <algorithm>
#include <map>

#include "app/files/text.hpp"
#include "app/rides/lanes.hpp"
#include "core/training/exercises.hpp"

/// What lies on a rider's time beside the corrections.
namespace aspen::app {
namespace {

/// First rides on a horse, and another saddle than the ride before had.
void from_rides(std::vector<TimeMark>& out, const store::YardStore& records, store::RiderId rider) {
    auto rides = records.rides.rides_of(rider);
    std::ranges::reverse(rides);
    std::map<store::HorseId, bool> known;
    std::string saddle;
    bool first = true;
    for (const store::Ride& r : rides) {
        if (r.horse && !known[r.horse]) {
            known[r.horse] = true;
            const auto horse = records.people.horse(r.horse);
            // The first horse of all is no change.
            if (!first && horse)
                out.push_back({text(r.day), {}, "horse", QObject::tr("first on ") + text(horse->name), {}});
        }
        if (!r.saddle.empty()) {
            if (!saddle.empty() && r.saddle != saddle)
                out.push_back({text(r.day), {}, "saddle", QObject::tr("saddle: ") + text(r.saddle), {}});
            saddle = r.saddle;
        }
        first = false;
    }
}

}  // namespace

std::vector<TimeMark> time_marks(const store::YardStore& records, store::RiderId rider) {
    std::vector<TimeMark> out;
    for (const store::SignOff& s : records.people.sign_offs(rider)) {
        const auto horse = records.people.horse(s.horse);
        const std::string_view gate = core::spoken_gate(s.gate);
        out.push_back({text(s.day),
                       {},
                       "sign_off",
                       QString::fromUtf8(gate.data(), static_cast<qsizetype>(gate.size())) +
                           (horse ? QObject::tr(" on ") + text(horse->name) : QString()),
                       {}});
    }
    from_rides(out, records, rider);
    for (const store::Limitation& l : records.people.limitations(rider)) {
        // What never had a beginning is the rider's body, not something that happened.
        if (!l.since.empty()) out.push_back({text(l.since), text(l.until), "injury", text(l.words), {}});
    }
    for (const store::Milestone& m : records.following.milestones_of(rider)) {
        const auto horse = records.people.horse(m.horse);
        QString words = text(m.words);
        if (words.isEmpty())
            words = m.kind == "saddle"   ? QObject::tr("new saddle")
                    : m.kind == "bit"    ? QObject::tr("new bit")
                    : m.kind == "horse"  ? QObject::tr("new horse")
                    : m.kind == "injury" ? QObject::tr("injury")
                    : m.kind == "pause"  ? QObject::tr("pause")
                                         : QObject::tr("note");
        if (horse && m.kind != "horse") words += " (" + text(horse->name) + ")";
        out.push_back({text(m.day), text(m.until), m.kind, words, m.id});
    }
    std::ranges::stable_sort(out, {}, &TimeMark::day);
    return out;
}

}  // namespace aspen::app
