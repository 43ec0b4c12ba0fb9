#pragma once

#include <QDate>
#include <QString>
#include <optional>

#include "app/yard.hpp"

/// The one gate through which anything of a rider leaves the machine.
namespace aspen::app {

/// A line that refuses, or nothing. A minor needs a consent that names who gave it and is valid today; a
/// rider whose birth year is not recorded counts as one until it is. Only the year is known, so a rider is
/// taken for a minor up to and including the year of the eighteenth birthday.
std::optional<QString> refuses_to_leave(const store::Rider& rider, QDate today);

/// The same for everyone who rides in a clip: one who may not leave keeps all of it here.
std::optional<QString> refuses_to_leave(Yard& yard, const store::Clip& clip);

}  // namespace aspen::app
