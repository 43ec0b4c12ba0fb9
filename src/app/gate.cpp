#include "app/gate.hpp"

namespace aspen::app {

std::optional<QString> refuses_to_leave(const store::Rider& rider, QDate today) {
    const QString name = QString::fromStdString(rider.name);
    const bool adult = rider.birth_year && today.year() - *rider.birth_year > 18;
    if (adult) return std::nullopt;
    const QDate on = QDate::fromString(QString::fromStdString(rider.consent_on), Qt::ISODate);
    const QDate until = QDate::fromString(QString::fromStdString(rider.consent_until), Qt::ISODate);
    if (!rider.consent_by.empty() && on.isValid() && until.isValid() && on <= today && today <= until)
        return std::nullopt;
    if (!rider.birth_year && rider.consent_by.empty()) {
        return name + ": the birth year is not recorded, so nothing leaves; add it on the rider's card.";
    }
    if (rider.consent_by.empty())
        return name +
               " is a minor without a recorded consent, so nothing leaves; record it on the rider's card.";
    if (!on.isValid() || on > today)
        return name +
               ": the consent is not valid yet, so nothing leaves; correct its date on the rider's card.";
    return name + ": the consent ran out, so nothing leaves; renew it on the rider's card.";
}

std::optional<QString> refuses_to_leave(Yard& yard, const store::Clip& clip) {
    std::vector<store::RiderId> all{clip.context.rider};
    for (const store::Companion& c : yard.records().companions(clip.id)) all.push_back(c.rider);
    for (const store::RiderId id : all) {
        const auto rider = id ? yard.records().rider(id) : std::nullopt;
        if (!rider) continue;
        if (const auto refusal = refuses_to_leave(*rider, yard.today())) return refusal;
    }
    return std::nullopt;
}

}  // namespace aspen::app
