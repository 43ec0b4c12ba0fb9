#include "app/leaving/gate.hpp"

namespace aspen::app {

bool is_minor(const store::Rider& rider, QDate today) {
    return !rider.birth_year || today.year() - *rider.birth_year <= 18;
}

std::optional<QString> refuses_to_leave(const store::Rider& rider, QDate today) {
    const QString name = QString::fromStdString(rider.name);
    if (!is_minor(rider, today)) return std::nullopt;
    const QDate on = QDate::fromString(QString::fromStdString(rider.consent_on), Qt::ISODate);
    const QDate until = QDate::fromString(QString::fromStdString(rider.consent_until), Qt::ISODate);
    if (!rider.consent_by.empty() && on.isValid() && until.isValid() && on <= today && today <= until)
        return std::nullopt;
    if (!rider.birth_year && rider.consent_by.empty()) {
        return name + QObject::tr(
                          ": the birth year is not recorded, so nothing leaves; add it on the rider's card.");
    }
    if (rider.consent_by.empty())
        return name + QObject::tr(
                          " is a minor without a recorded consent, so nothing leaves; record it on the "
                          "rider's card.");
    if (!on.isValid() || on > today)
        return name + QObject::tr(
                          ": the consent is not valid yet, so nothing leaves; correct its date on the "
                          "rider's card.");
    return name + QObject::tr(": the consent ran out, so nothing leaves; renew it on the rider's card.");
}

PermitOrLine ask_to_leave(Yard& yard, const std::vector<store::RideId>& rides) {
    bool minor = false;
    if (rides.empty())
        return QObject::tr("Nobody is named in it yet, so nothing leaves; say first who rides.");
    for (const store::RideId id : rides) {
        const auto ride = yard.records().ride(id);
        const auto rider = ride && ride->rider ? yard.records().rider(ride->rider) : std::nullopt;
        if (!rider)
            return QObject::tr("Somebody in it is not named yet, so nothing leaves; say first who rides.");
        if (const auto refusal = refuses_to_leave(*rider, yard.today())) return *refusal;
        minor = minor || is_minor(*rider, yard.today());
    }
    return Permit(minor, yard.records().setting("cover_faces", "yes") == "yes");
}

PermitOrLine ask_to_leave(Yard& yard, const store::Clip& clip) {
    std::vector<store::RideId> rides;
    for (const store::Slot& s : yard.records().places(clip.id)) rides.push_back(s.ride);
    return ask_to_leave(yard, rides);
}
PermitOrLine ask_for_rider(Yard& yard, store::RiderId id) {
    const auto rider = yard.records().rider(id);
    if (!rider) return QObject::tr("Nobody is chosen, so nothing leaves; choose a rider first.");
    if (const auto refusal = refuses_to_leave(*rider, yard.today())) return *refusal;
    return Permit(is_minor(*rider, yard.today()), yard.records().setting("cover_faces", "yes") == "yes");
}
PermitOrLine ask_to_leave(Yard& yard, store::RideId ride) { return ask_to_leave(yard, std::vector{ride}); }

}  // namespace aspen::app
