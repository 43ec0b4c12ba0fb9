#pragma once

#include <QDate>
#include <QFileInfo>
#include <QString>
#include <QTemporaryDir>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <tl/expected.hpp>
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

/// What is to leave, as the gate asks for it: what for, and of whom.
struct Going {
    Use use = Use::page;
    std::vector<store::RiderId> riders;  ///< by name
    std::vector<store::RideId> rides;    ///< whoever rides in them when it leaves
    std::vector<store::ClipId> clips;    ///< everyone to be seen in them, ringed faces too
};

/// Leave to take something of certain riders out. Only the gate makes one, and whatever writes outside the
/// yard needs it: a writer that forgets to ask does not compile. It holds for what was asked for as it was
/// then; whoever writes asks again at that moment (leave() below), and a permit whose ground has changed is
/// worth nothing.
class Permit {
  public:
    /// True when somebody in it is a minor, whose face never leaves bare.
    bool minor() const { return minor_; }
    /// Whether faces are covered: always for a minor, and where anybody in it did not agree to be seen.
    bool covers_faces() const { return minor_ || covers_; }
    Use use() const { return going_.use; }
    const std::vector<store::RiderId>& riders() const { return riders_; }
    const Going& going() const { return going_; }
    /// SHA-256 in hex over all that the answer rested on: use, riders, how their faces are shown, who rides
    /// where in the clips, and every face that is marked or ringed in them.
    const std::string& fingerprint() const { return fingerprint_; }

  private:
    Permit() = default;
    friend tl::expected<Permit, QString> ask(Yard& yard, const Going& going);
    Going going_;
    std::vector<store::RiderId> riders_;
    bool minor_ = false, covers_ = false;
    std::string fingerprint_;
};

/// What a picture or film of these rides is for: one that shows two riders together is seen by somebody other
/// than each of them, so that both have to agree to that.
Use use_of(Yard& yard, const std::vector<store::RideId>& rides);

/// The same as text, for what waits to leave; read again it throws core::Refused where it is no such text.
std::string as_text(const Going& going);
Going going_from(const std::string& text);

/// A permit, or one line that refuses.
using PermitOrLine = tl::expected<Permit, QString>;

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

/// Asks for everyone in it, by the wall clock; shut when one of them, or all, name nobody.
PermitOrLine ask(Yard& yard, const Going& going);
/// Asks for everyone who rides in these rides.
PermitOrLine ask_to_leave(Yard& yard, const std::vector<store::RideId>& rides, Use use);
/// The same for everyone who rides in a clip: one who may not leave keeps all of it here.
PermitOrLine ask_to_leave(Yard& yard, const store::Clip& clip, Use use);
PermitOrLine ask_to_leave(Yard& yard, store::RideId ride, Use use);
/// Asks for one rider: for what is of nobody else.
PermitOrLine ask_for_rider(Yard& yard, store::RiderId rider, Use use);
PermitOrLine ask_for_riders(Yard& yard, const std::vector<store::RiderId>& riders, Use use);

/// What leaves: one row for each rider in it, in the log that nobody can change.
struct Left {
    std::string what;      ///< page, review, picture, stretch, marks, events, tracks, table, bundle, message
    std::string about;     ///< what it was made of
    QString file;          ///< where it goes
    bool faces = true;     ///< whether anybody can be seen in it
    std::string sha256{};  ///< of a large file, from the job that wrote it; else it is taken here
};

/// "" while everything that a permit was given for is as it was and would be allowed now; else one line.
QString why_no_longer(Yard& yard, const Permit& permit);

/// Where something is written before it leaves: beside where it goes, under its own name, in a folder that
/// goes away with this.
class Antechamber {
  public:
    explicit Antechamber(const QString& file);
    /// One line where nothing can be written there, or "".
    QString trouble() const;
    QString file() const { return goes_to_; }
    /// Where to write it; what belongs to it (captions, marks) is written beside it.
    /// A line about what is written here, as one about where it goes.
    QString said(QString line) const {
        return line.replace(folder_->path(), QFileInfo(goes_to_).absolutePath());
    }
    QString inside() const { return folder_->filePath(QFileInfo(goes_to_).fileName()); }

  private:
    friend QString leave(Yard& yard, const Permit& permit, const Left& left, const Antechamber& from);
    QString goes_to_;
    std::shared_ptr<QTemporaryDir> folder_;  ///< shared, so that a job may carry it
};

/// The way out of all that was written into an antechamber: asks again for what the permit was given for,
/// notes it in the log, and only then gives everything there its name and place, in the stead of what was
/// there. One line where it does not leave, and then nothing did.
QString leave(Yard& yard, const Permit& permit, const Left& left, const Antechamber& from);
/// The same for what is written at once; `write` gets the file to write and gives one line of trouble.
QString leave(Yard& yard, const Permit& permit, const Left& left,
              const std::function<QString(const QString& file)>& write);
/// The way out of what is no file: the clipboard, standard output.
QString hand_over(Yard& yard, const Permit& permit, const Left& left, const std::function<void()>& give);

/// SHA-256 of a file in hex; "" where it cannot be read. Any thread.
std::string sum_of(const QString& file);

}  // namespace aspen::app
