#pragma once

#include <QDate>
#include <QString>
#include <optional>
#include <variant>

#include "app/yard/yard.hpp"

/// The one gate through which anything of a rider leaves the machine. It stands shut until somebody is named
/// and allowed.
namespace aspen::app {

/// Leave to take something of certain riders out. Only the gate makes one, and whatever writes outside the
/// yard needs it: a writer that forgets to ask does not compile.
class Permit {
  public:
    /// True when somebody in it is a minor, whose face never leaves bare.
    bool minor() const { return minor_; }
    /// Whether faces are covered: always for a minor, else as the yard says.
    bool covers_faces() const { return minor_ || covers_; }

  private:
    Permit(bool minor, bool covers) : minor_(minor), covers_(covers) {}
    friend std::variant<Permit, QString> ask_to_leave(Yard& yard, const std::vector<store::RideId>& rides);
    friend std::variant<Permit, QString> ask_for_rider(Yard& yard, store::RiderId rider);
    bool minor_, covers_;
};

/// A permit, or one line that refuses.
using PermitOrLine = std::variant<Permit, QString>;

/// A line that refuses, or nothing. A minor needs a consent that names who gave it and is valid today; a
/// rider whose birth year is not recorded counts as one until it is. Only the year is known, so a rider is
/// taken for a minor up to and including the year of the eighteenth birthday.
std::optional<QString> refuses_to_leave(const store::Rider& rider, QDate today);
bool is_minor(const store::Rider& rider, QDate today);

/// Asks for everyone who rides in these rides; shut when one of them, or all, name nobody.
PermitOrLine ask_to_leave(Yard& yard, const std::vector<store::RideId>& rides);
/// The same for everyone who rides in a clip: one who may not leave keeps all of it here.
PermitOrLine ask_to_leave(Yard& yard, const store::Clip& clip);
PermitOrLine ask_to_leave(Yard& yard, store::RideId ride);
/// Asks for one rider: for what is of nobody else.
PermitOrLine ask_for_rider(Yard& yard, store::RiderId rider);

}  // namespace aspen::app
