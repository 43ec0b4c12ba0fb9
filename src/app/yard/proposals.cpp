#include "app/yard/proposals.hpp"

#include <QDateTime>
#include <QFileInfo>
#include <QRegularExpression>
#include <set>

#include "app/files/text.hpp"
#include "app/yard/changes.hpp"

namespace aspen::app {
namespace {

constexpr qint64 kOneRideWithinS = 20 * 60;

std::set<QString> words_in(const QString& name) {
    static const QRegularExpression letters("[^\\p{L}]+");
    std::set<QString> out;
    for (const QString& w : name.toLower().split(letters, Qt::SkipEmptyParts)) {
        if (w.size() > 2) out.insert(w);
    }
    return out;
}

/// The one whose name's first word, or whole name, stands in the file's name; none when two could be meant.
template <typename Record>
const Record* named_in(const std::set<QString>& file, const std::vector<Record>& all) {
    const Record* found = nullptr;
    for (const Record& r : all) {
        const QString first = text(r.name).toLower().section(' ', 0, 0);
        if (!file.contains(first)) continue;
        if (found) return nullptr;
        found = &r;
    }
    return found;
}

QDateTime filmed(const store::Clip& clip) {
    return QDateTime::fromString(text(clip.recorded_at), Qt::ISODate).addSecs(clip.clock_off_s);
}

bool may_be_one(const store::Ride& a, const store::Ride& b) {
    const auto fits = [](auto x, auto y) { return !x || !y || x == y; };
    return a.day == b.day && fits(a.rider, b.rider) && fits(a.horse, b.horse);
}

}  // namespace

RideProposal propose(Yard& yard, const store::RideLine& line, const std::vector<store::RideLine>& waiting) {
    RideProposal out;
    if (line.ride.rider && line.ride.horse) return out;
    const auto words = words_in(QFileInfo(text(line.first.path)).completeBaseName());
    if (!line.ride.rider) {
        const auto riders = yard.records().people.riders();
        if (const auto* r = named_in(words, riders)) out.rider = r->id;
    }
    const auto horses = yard.records().people.horses();
    if (const auto* h = named_in(words, horses)) {
        out.horse = h->id;
    } else if (const store::RiderId rider = line.ride.rider ? line.ride.rider : out.rider; rider) {
        std::set<store::HorseId> ridden;
        for (const store::Ride& r : yard.records().rides.rides_of(rider)) {
            if (r.horse) ridden.insert(r.horse);
        }
        if (ridden.size() == 1) out.horse = *ridden.begin();
    }
    if (line.ride.horse) out.horse = {};
    const QDateTime now = filmed(line.first);
    if (!now.isValid() || line.first.recorded_at.size() < 19) return out;
    for (const store::RideLine& other : waiting) {
        const QDateTime then = filmed(other.first);
        if (other.ride.id == line.ride.id || !then.isValid() || other.first.recorded_at.size() < 19) continue;
        const qint64 apart = then.secsTo(now);
        if (apart < 0 || apart > kOneRideWithinS || (apart == 0 && other.ride.id > line.ride.id)) continue;
        if (may_be_one(line.ride, other.ride) &&
            (!out.rider || !other.ride.rider || out.rider == other.ride.rider))
            out.with = other.ride.id;
    }
    return out;
}

QString in_words(Yard& yard, const RideProposal& p) {
    const auto rider = p.rider ? yard.records().people.rider(p.rider) : std::nullopt;
    const auto horse = p.horse ? yard.records().people.horse(p.horse) : std::nullopt;
    QStringList out;
    if (rider && horse)
        out << text(rider->name) + QObject::tr(" on ") + text(horse->name);
    else if (rider)
        out << text(rider->name);
    else if (horse)
        out << QObject::tr("on ") + text(horse->name);
    if (p.with) out << QObject::tr("one ride with the film before it");
    return out.isEmpty() ? QString() : out.join(", ") + "?";
}

void accept_proposal(Yard& yard, store::RideId id, const RideProposal& p) {
    yard.step(QObject::tr("Take what was proposed"), [&](store::YardStore& records) {
        store::RideId at = id;
        if (p.rider) at = say_rider(yard, at, p.rider);
        if (p.horse) {
            const auto ride = records.rides.ride(at);
            if (ride) at = set_pair(yard, at, ride->rider, p.horse, "horse");
        }
        if (p.with && *p.with != at && records.rides.ride(*p.with) && records.rides.ride(at))
            records.merge(at, *p.with);
    });
}

}  // namespace aspen::app
