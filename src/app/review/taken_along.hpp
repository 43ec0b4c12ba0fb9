#pragma once

#include <QString>
#include <vector>

#include "app/yard/yard.hpp"
#include "core/proposal/reader_offset.hpp"

/// Corrections of the reader's joints that go from one yard to another: means by joint, nobody's name and no
/// picture in it. Interface thread only.
namespace aspen::app {

/// Writes what this yard corrected, rider by rider; gives one line of trouble, or nothing.
QString save_corrections(Yard& yard, const QString& file);
/// Takes another yard's in; what was taken in from the same yard before is replaced. Gives one line of
/// trouble, or nothing.
QString take_corrections(Yard& yard, const QString& file);
/// What was taken in, one entry a rider.
std::vector<core::RiderCorrections> taken_along(const Yard& yard);

}  // namespace aspen::app
