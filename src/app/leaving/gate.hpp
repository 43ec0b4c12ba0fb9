#pragma once

#include <QDate>
#include <QString>
#include <optional>
#include <variant>
#include <vector>

#include "app/yard/yard.hpp"

/// The one gate through which anything of a rider leaves the machine. It stands shut until somebody is named
/// and allowed.
namespace aspen::app {

/// What it leaves for: to be read by the rider (pages, tables, messages), to be seen by the rider (pictures,
/// films), or to be shown to others.
enum class Use { page, clip, teaching };
std::string word(Use use);
QString spoken(Use use);

/// Leave to take something of certain riders out. Only the gate makes one, and whatever writes outside the
/// yard needs it: a writer that forgets to ask does not compile.
class Permit {
  public:
    /// True when somebody in it is a minor, whose face never leaves bare.
    bool minor() const { return minor_; }
    /// Whether faces are covered: always for a minor, and where anybody in it did not agree to be seen.
    bool covers_faces() const { return minor_ || covers_; }
    Use use() const { return use_; }
    const std::vector<store::RiderId>& riders() const { return riders_; }

  private:
    Permit(Use use, std::vector<store::RiderId> riders, bool minor, bool covers)
        : use_(use), riders_(std::move(riders)), minor_(minor), covers_(covers) {}
    friend std::variant<Permit, QString> ask_for_riders(Yard& yard, const std::vector<store::RiderId>& riders,
                                                        Use use);
    Use use_;
    std::vector<store::RiderId> riders_;
    bool minor_, covers_;
};

/// A permit, or one line that refuses.
using PermitOrLine = std::variant<Permit, QString>;

/// Whether this one holds on that day.
bool holds(const store::Consent& consent, QDate today);

/// A line that refuses, or nothing. A minor needs a consent for that use that names who gave it and holds
/// today; a rider whose birth year is not recorded counts as one until it is. Only the year is known, so a
/// rider is taken for a minor up to and including the year of the eighteenth birthday. A grown rider's own
/// page and clip leave without one, but no longer once one was given and withdrawn or ran out; to teach
/// others with it needs one from everybody.
std::optional<QString> refuses_to_leave(const store::Rider& rider,
                                        const std::vector<store::Consent>& consents, Use use, QDate today);
bool is_minor(const store::Rider& rider, QDate today);

/// Asks for everyone who rides in these rides; shut when one of them, or all, name nobody.
PermitOrLine ask_to_leave(Yard& yard, const std::vector<store::RideId>& rides, Use use);
/// The same for everyone who rides in a clip: one who may not leave keeps all of it here.
PermitOrLine ask_to_leave(Yard& yard, const store::Clip& clip, Use use);
PermitOrLine ask_to_leave(Yard& yard, store::RideId ride, Use use);
/// Asks for one rider: for what is of nobody else.
PermitOrLine ask_for_rider(Yard& yard, store::RiderId rider, Use use);
PermitOrLine ask_for_riders(Yard& yard, const std::vector<store::RiderId>& riders, Use use);

/// What left: one row for each rider in it, in the log that nobody can change.
struct Left {
    std::string what;      ///< page, review, picture, stretch, marks, events, tracks, table, bundle, message
    std::string about;     ///< what it was made of
    QString file;          ///< where it was written; its sum is kept with its name
    bool faces = true;     ///< whether anybody can be seen in it
    std::string sha256{};  ///< of a large file, from the job that wrote it; else it is taken here
};
/// What lies in the yard's own folder for the outbox has not left yet and is not noted.
void note_left(Yard& yard, const Permit& permit, const Left& left);
/// SHA-256 of a file in hex; "" where it cannot be read. Any thread.
std::string sum_of(const QString& file);

}  // namespace aspen::app
