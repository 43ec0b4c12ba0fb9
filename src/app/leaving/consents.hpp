#pragma once

#include <QString>
#include <QStringList>

#include "app/leaving/gate.hpp"

/// The register of what riders agreed to, and the log of what left.
namespace aspen::app {

/// One use as the register stands today.
struct ConsentLine {
    Use use = Use::page;
    std::optional<store::Consent> consent;  ///< the last that was given
    bool open = false;                      ///< whether something may leave for it
    QString words;                          ///< "Guardian of …, until 27 Jul 2027, face covered"
};
std::vector<ConsentLine> consents(Yard& yard, store::RiderId rider);
/// All uses in one line, for the rider's card.
QString consents_in_short(Yard& yard, store::RiderId rider);

/// Records a consent; one that held for the same use ends with it. Throws Refused when nobody is named as
/// the one who agreed or a day cannot be read.
void give_consent(Yard& yard, store::Consent consent);
/// From today on nothing more leaves for that use. What left before is in the log.
void withdraw_consent(Yard& yard, const store::Consent& consent);

/// What left of a rider, newest first, a line each: when, what, with which faces.
QStringList what_left(Yard& yard, store::RiderId rider, std::optional<Use> use = std::nullopt);

}  // namespace aspen::app
