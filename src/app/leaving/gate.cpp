#include "app/leaving/gate.hpp"

#include <QCryptographicHash>
#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <algorithm>

namespace aspen::app {
namespace {

QDate day_of(const std::string& iso) { return QDate::fromString(QString::fromStdString(iso), Qt::ISODate); }

const store::Consent* last_for(const std::vector<store::Consent>& consents, Use use) {
    const auto it = std::find_if(consents.rbegin(), consents.rend(),
                                 [&](const store::Consent& c) { return c.use == word(use); });
    return it == consents.rend() ? nullptr : &*it;
}

bool may_be_seen(const std::vector<store::Consent>& consents, Use use, QDate today) {
    return std::ranges::any_of(
        consents, [&](const store::Consent& c) { return c.use == word(use) && c.face && holds(c, today); });
}

/// Why the last consent for a use does not hold.
QString why_not(const store::Consent& c, QDate today) {
    if (!c.withdrawn_on.empty()) return QObject::tr("was withdrawn");
    const QDate on = day_of(c.given_on);
    if (!on.isValid() || on > today) return QObject::tr("is not valid yet");
    return QObject::tr("ran out");
}

}  // namespace

std::string word(Use use) { return use == Use::page ? "page" : use == Use::clip ? "clip" : "teaching"; }
QString spoken(Use use) {
    return use == Use::page   ? QObject::tr("page and table")
           : use == Use::clip ? QObject::tr("picture and film")
                              : QObject::tr("to teach others");
}

bool is_minor(const store::Rider& rider, QDate today) {
    return !rider.birth_year || today.year() - *rider.birth_year <= 18;
}

bool holds(const store::Consent& c, QDate today) {
    const QDate on = day_of(c.given_on), until = day_of(c.until);
    if (c.given_by.empty() || !c.withdrawn_on.empty() || !on.isValid() || on > today) return false;
    return c.until.empty() || (until.isValid() && today <= until);
}

std::optional<QString> refuses_to_leave(const store::Rider& rider,
                                        const std::vector<store::Consent>& consents, Use use, QDate today) {
    if (std::ranges::any_of(consents,
                            [&](const store::Consent& c) { return c.use == word(use) && holds(c, today); }))
        return std::nullopt;
    const QString name = QString::fromStdString(rider.name);
    if (const store::Consent* last = last_for(consents, use))
        return QObject::tr("%1: the consent (%2) %3, so nothing leaves; see the rider's consents.")
            .arg(name, spoken(use), why_not(*last, today));
    if (use == Use::teaching)
        return QObject::tr(
                   "%1 did not agree to be shown to others, so nothing leaves; see the rider's consents.")
            .arg(name);
    if (!is_minor(rider, today)) return std::nullopt;
    if (!rider.birth_year)
        return QObject::tr(
                   "%1: the birth year is not recorded, so nothing leaves; add it on the rider's card.")
            .arg(name);
    return QObject::
        tr("%1 is a minor without a recorded consent (%2), so nothing leaves; record it among the rider's "
           "consents.")
            .arg(name, spoken(use));
}

PermitOrLine ask_for_riders(Yard& yard, const std::vector<store::RiderId>& riders, Use use) {
    bool minor = false, all_seen = true;
    std::vector<store::RiderId> asked;
    for (const store::RiderId id : riders) {
        if (std::ranges::find(asked, id) != asked.end()) continue;
        const auto rider = yard.records().rider(id);
        if (!rider)
            return QObject::tr("Somebody in it is not named yet, so nothing leaves; say first who rides.");
        const auto consents = yard.records().consents_of(id);
        if (const auto refusal = refuses_to_leave(*rider, consents, use, yard.today())) return *refusal;
        minor = minor || is_minor(*rider, yard.today());
        all_seen = all_seen && may_be_seen(consents, use, yard.today());
        asked.push_back(id);
    }
    if (asked.empty())
        return QObject::tr("Nobody is named in it yet, so nothing leaves; say first who rides.");
    return Permit(use, std::move(asked), minor, !all_seen);
}

PermitOrLine ask_to_leave(Yard& yard, const std::vector<store::RideId>& rides, Use use) {
    std::vector<store::RiderId> riders;
    for (const store::RideId id : rides) {
        const auto ride = yard.records().ride(id);
        riders.push_back(ride ? ride->rider : store::RiderId{});
    }
    return ask_for_riders(yard, riders, use);
}
PermitOrLine ask_to_leave(Yard& yard, const store::Clip& clip, Use use) {
    std::vector<store::RideId> rides;
    for (const store::Slot& s : yard.records().places(clip.id)) rides.push_back(s.ride);
    return ask_to_leave(yard, rides, use);
}
PermitOrLine ask_for_rider(Yard& yard, store::RiderId id, Use use) {
    if (!id) return QObject::tr("Nobody is chosen, so nothing leaves; choose a rider first.");
    return ask_for_riders(yard, {id}, use);
}
PermitOrLine ask_to_leave(Yard& yard, store::RideId ride, Use use) {
    return ask_to_leave(yard, std::vector{ride}, use);
}

std::string sum_of(const QString& name) {
    QFile file(name);
    QCryptographicHash sum(QCryptographicHash::Sha256);
    if (!file.open(QIODevice::ReadOnly) || !sum.addData(&file)) return {};
    return sum.result().toHex().toStdString();
}

void note_left(Yard& yard, const Permit& permit, const Left& left) {
    const QString waits = QFileInfo(yard.folder().filePath("leaving")).absoluteFilePath();
    if (QFileInfo(left.file).absolutePath() == waits) return;
    store::Departure d;
    d.at = yard.today_iso() + QTime::currentTime().toString("Thh:mm:ss").toStdString();
    d.use = word(permit.use());
    d.what = left.what;
    d.about = left.about;
    d.file = QFileInfo(left.file).fileName().toStdString();
    d.sha256 = left.sha256.empty() ? sum_of(left.file) : left.sha256;
    d.faces = !left.faces ? "none" : permit.covers_faces() ? "covered" : "bare";
    yard.quietly([&] {
        for (const store::RiderId rider : permit.riders()) {
            d.rider = rider;
            yard.records().add(d);
        }
    });
}

}  // namespace aspen::app
