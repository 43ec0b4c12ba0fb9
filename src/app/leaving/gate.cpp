#include "app/leaving/gate.hpp"

#include <signal.h>
#include <unistd.h>

#include <QCryptographicHash>
#include <QDataStream>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <algorithm>
#include <cerrno>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "app/files/whole_file.hpp"
#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

QDate day_of(const std::string& iso) { return QDate::fromString(QString::fromStdString(iso), Qt::ISODate); }

bool may_be_seen(const std::vector<store::Consent>& consents, Use use, QDate today) {
    const auto c = store::newest_word(consents, word(use));
    return c && c->face && holds(*c, today);
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
    const auto last = store::newest_word(consents, word(use));
    if (last && holds(*last, today)) return std::nullopt;
    const QString name = QString::fromStdString(rider.name);
    if (last)
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

namespace {

/// Everybody it is asked for, each once; no id for somebody who is not named.
std::vector<store::RiderId> everybody(Yard& yard, const Going& going) {
    std::vector<store::RiderId> out = going.riders;
    const auto rides = [&](store::RideId id) {
        const auto ride = yard.records().rides.ride(id);
        out.push_back(ride ? ride->rider : store::RiderId{});
    };
    for (const store::RideId id : going.rides) rides(id);
    for (const store::ClipId clip : going.clips) {
        for (const store::Slot& s : yard.records().rides.places(clip)) rides(s.ride);
    }
    std::ranges::sort(out, {}, &store::RiderId::value);
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

/// All that is known of where faces are in a clip.
void take_faces(QDataStream& into, Yard& yard, store::ClipId clip) {
    for (const store::Slot& s : yard.records().rides.places(clip))
        into << qint64{s.slot} << static_cast<qint64>(s.ride.value);
    for (const store::FaceMark& m : yard.records().leaving.face_marks(clip))
        into << qint64{m.person} << qint64{m.frame} << m.x << m.y << m.half_wide << m.half_high << m.gone;
    for (const store::Moment& m : yard.records().reviews.moments(clip)) {
        into << qint64{m.slot} << qint64{m.frame};
        for (const core::Landmark l : {core::Landmark::ear, core::Landmark::eye, core::Landmark::chin}) {
            const core::Mark& mark = m.figure[l];
            into << static_cast<int>(mark.visibility) << mark.at.x << mark.at.y << mark.confirmed;
        }
    }
}

std::string fingerprint_of(Yard& yard, const Permit& permit) {
    QByteArray all;
    QDataStream into(&all, QIODevice::WriteOnly);
    into << static_cast<int>(permit.use()) << permit.minor() << permit.covers_faces();
    for (const store::RiderId id : permit.riders()) into << static_cast<qint64>(id.value);
    for (const store::ClipId clip : permit.going().clips) take_faces(into, yard, clip);
    return QCryptographicHash::hash(all, QCryptographicHash::Sha256).toHex().toStdString();
}

}  // namespace

PermitOrLine ask(Yard& yard, const Going& going) {
    Permit out;
    const QDate today = yard.now().date();
    bool all_seen = true;
    for (const store::RiderId id : everybody(yard, going)) {
        const auto rider = yard.records().people.rider(id);
        if (!rider)
            return tl::unexpected(
                QObject::tr("Somebody in it is not named yet, so nothing leaves; say first who rides."));
        const auto consents = yard.records().leaving.consents_of(id);
        if (const auto refusal = refuses_to_leave(*rider, consents, going.use, today))
            return tl::unexpected(*refusal);
        out.minor_ = out.minor_ || is_minor(*rider, today);
        all_seen = all_seen && may_be_seen(consents, going.use, today);
        out.riders_.push_back(id);
    }
    if (out.riders_.empty())
        return tl::unexpected(
            QObject::tr("Nobody is named in it yet, so nothing leaves; say first who rides."));
    out.going_ = going;
    out.covers_ = !all_seen;
    out.fingerprint_ = fingerprint_of(yard, out);
    return out;
}

Use use_of(Yard& yard, const std::vector<store::RideId>& rides) {
    const auto riders = everybody(yard, {Use::clip, {}, rides, {}});
    return riders.size() > 1 ? Use::teaching : Use::clip;
}

PermitOrLine ask_for_riders(Yard& yard, const std::vector<store::RiderId>& riders, Use use) {
    return ask(yard, {use, riders, {}, {}});
}
PermitOrLine ask_to_leave(Yard& yard, const std::vector<store::RideId>& rides, Use use) {
    return ask(yard, {use, {}, rides, {}});
}
PermitOrLine ask_to_leave(Yard& yard, const store::Clip& clip, Use use) {
    return ask(yard, {use, {}, {}, {clip.id}});
}
PermitOrLine ask_for_rider(Yard& yard, store::RiderId id, Use use) {
    if (!id) return tl::unexpected(QObject::tr("Nobody is chosen, so nothing leaves; choose a rider first."));
    return ask_for_riders(yard, {id}, use);
}
PermitOrLine ask_to_leave(Yard& yard, store::RideId ride, Use use) {
    return ask_to_leave(yard, std::vector{ride}, use);
}

std::string as_text(const Going& going) {
    const auto ids = [](const auto& list) {
        nlohmann::json out = nlohmann::json::array();
        for (const auto id : list) out.push_back(id.value);
        return out;
    };
    return nlohmann::json{{"use", word(going.use)},
                          {"riders", ids(going.riders)},
                          {"rides", ids(going.rides)},
                          {"clips", ids(going.clips)}}
        .dump();
}

Going going_from(const std::string& text) {
    Going out;
    const auto ids = [](const nlohmann::json& list, auto& into) {
        for (const nlohmann::json& id : list) into.push_back({id.get<std::int64_t>()});
    };
    try {
        const auto j = core::reading::parse_text(text, "outbox");
        const std::string use = j.at("use");
        out.use = use == "page" ? Use::page : use == "clip" ? Use::clip : Use::teaching;
        ids(j.at("riders"), out.riders);
        ids(j.at("rides"), out.rides);
        ids(j.at("clips"), out.clips);
    } catch (const nlohmann::json::exception&) {
        throw core::Refused("outbox: what waits in it cannot be read; put it there anew");
    }
    return out;
}

QString why_no_longer(Yard& yard, const Permit& permit) {
    const PermitOrLine now = ask(yard, permit.going());
    if (!now) return now.error();
    if (now->fingerprint() == permit.fingerprint()) return {};
    return QObject::tr(
        "Who is in it, or how their faces are shown, has changed since it was made, so it does not leave; "
        "make it anew.");
}

std::string sum_of(const QString& name) {
    QFile file(name);
    QCryptographicHash sum(QCryptographicHash::Sha256);
    if (!file.open(QIODevice::ReadOnly) || !sum.addData(&file)) return {};
    return sum.result().toHex().toStdString();
}

namespace {

void note_left(Yard& yard, const Permit& permit, const Left& left, const QString& written) {
    store::Departure d;
    d.at = now_iso(yard);
    d.use = word(permit.use());
    d.what = left.what;
    d.about = left.about;
    d.file = QFileInfo(left.file).fileName().toStdString();
    d.sha256 = left.sha256.empty() && !written.isEmpty() ? sum_of(written) : left.sha256;
    d.faces = !left.faces ? "none" : permit.covers_faces() ? "covered" : "bare";
    yard.quietly([&](store::YardStore& records) {
        for (const store::RiderId rider : permit.riders()) {
            d.rider = rider;
            records.add(d);
        }
    });
}

QString cannot_write(const QString& file) {
    return QObject::tr("%1: cannot be written; choose another folder.").arg(file);
}

/// Name of a new antechamber in a folder. Those of programs that were killed go away: what was about to leave
/// may not lie about where nobody looks.
QString room_in(const QString& folder) {
    for (const QString& name : QDir(folder).entryList({".leaving-*-*"}, QDir::Dirs | QDir::Hidden)) {
        bool number = false;
        const pid_t whose = name.section('-', 1, 1).toInt(&number);
        if (number && whose > 0 && ::kill(whose, 0) != 0 && errno == ESRCH)
            QDir(folder + "/" + name).removeRecursively();
    }
    return QString("%1/.leaving-%2-XXXXXX").arg(folder).arg(::getpid());
}

bool renamed(const QString& from, const QString& to) {
    std::error_code trouble;
    std::filesystem::rename(from.toStdString(), to.toStdString(), trouble);
    return !trouble;
}

/// What lies there kept aside as well, so that a program killed in the middle leaves it where it was; where a
/// disk knows no second names it is moved.
bool kept_aside(const QString& there, const QString& aside) {
    std::error_code trouble;
    std::filesystem::create_hard_link(there.toStdString(), aside.toStdString(), trouble);
    return !trouble || renamed(there, aside);
}

/// All files of a folder into another, in the stead of what has their names there: every one of them or none.
QString moved_together(const QDir& from, const QDir& to) {
    const QStringList names = from.entryList(QDir::Files);
    const QString aside = from.filePath("before");
    if (names.size() > 1) from.mkdir("before");
    for (qsizetype i = 0; i < names.size(); ++i) {
        const QString here = from.filePath(names[i]), there = to.filePath(names[i]);
        const bool was = names.size() > 1 && QFileInfo(there).isFile();
        if ((!was || kept_aside(there, aside + "/" + names[i])) && renamed(here, there)) continue;
        if (was) renamed(aside + "/" + names[i], there);
        for (qsizetype k = i - 1; k >= 0; --k) {
            const QString back = aside + "/" + names[k];
            if (!QFile::exists(back) || !renamed(back, to.filePath(names[k])))
                QFile::remove(to.filePath(names[k]));
        }
        return cannot_write(there);
    }
    return {};
}

/// Into a device or a pipe.
QString poured(const QString& from, const QString& to) {
    QFile in(from);
    return in.open(QIODevice::ReadOnly) ? write_whole(to, in.readAll()) : cannot_write(to);
}

}  // namespace

Antechamber::Antechamber(const QString& file)
    : goes_to_(file),
      folder_(std::make_shared<QTemporaryDir>(
          room_in(is_stream(file) ? QDir::tempPath() : QFileInfo(file).absolutePath()))) {}

QString Antechamber::trouble() const {
    return folder_->isValid() && !QFileInfo(goes_to_).isDir() ? QString() : cannot_write(goes_to_);
}

QString leave(Yard& yard, const Permit& permit, const Left& left, const Antechamber& from) {
    if (const QString line = why_no_longer(yard, permit); !line.isEmpty()) return line;
    const QDir waiting(from.folder_->path()), place = QFileInfo(from.goes_to_).absoluteDir();
    // What lies in the yard's own folder for the outbox has not left yet.
    const bool stays = place == QDir(yard.folder().filePath("leaving"));
    try {
        if (!stays) note_left(yard, permit, left, from.inside());
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
    if (is_stream(from.goes_to_)) return poured(from.inside(), from.goes_to_);
    return moved_together(waiting, place);
}

QString leave(Yard& yard, const Permit& permit, const Left& left,
              const std::function<QString(const QString& file)>& write) {
    if (const QString line = why_no_longer(yard, permit); !line.isEmpty()) return line;
    const Antechamber from(left.file);
    if (const QString line = from.trouble(); !line.isEmpty()) return line;
    try {
        if (const QString line = write(from.inside()); !line.isEmpty()) return from.said(line);
    } catch (const core::Refused& e) {
        return from.said(QString::fromUtf8(e.what()));
    }
    return leave(yard, permit, left, from);
}

QString hand_over(Yard& yard, const Permit& permit, const Left& left, const std::function<void()>& give) {
    if (const QString line = why_no_longer(yard, permit); !line.isEmpty()) return line;
    try {
        note_left(yard, permit, left, {});
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
    give();
    return {};
}

}  // namespace aspen::app
