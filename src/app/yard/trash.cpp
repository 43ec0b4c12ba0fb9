#include <QFile>
#include <QFileInfo>
#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"

/// What lies in the trash can be put back; what is deleted for good goes with everything made from it.
namespace aspen::app {
namespace {

void remove_by_prefix(const QDir& folder, const QString& prefix) {
    for (const QFileInfo& file : folder.entryInfoList({prefix + "*"}, QDir::Files))
        QFile::remove(file.filePath());
}

/// The copy in the yard's folder, small pictures, previews, lists of frames. A film that lies elsewhere is
/// the coach's own file and stays.
void remove_files_of(Yard& yard, const store::Clip& clip) {
    const QString hash = QString::fromStdString(clip.hash);
    const QString file = yard.file_of(clip);
    if (!QDir::isAbsolutePath(QString::fromStdString(clip.path))) {
        QFile::remove(file);
        QFile::remove(QFileInfo(file).path() + "/" + QFileInfo(file).completeBaseName() + ".truth.json");
    }
    if (hash.size() < 16) return;
    remove_by_prefix(QDir(yard.folder().filePath("cache")), hash.left(16));
    remove_by_prefix(QDir(cache_folder()), hash.left(16));
}

/// The voices of reviews that are gone.
void remove_voices(Yard& yard, const std::vector<store::Spoken>& spoken) {
    for (const store::Spoken& s : spoken) {
        if (!s.sound.empty() && !yard.records().leaving.spoken(s.id))
            QFile::remove(yard.folder().filePath(QString::fromStdString(s.sound)));
    }
}

/// Messages, pages and films with somebody in them that wait in the outbox, lay there to go along, or were
/// written there.
std::vector<std::string> outbox_with(Yard& yard, store::RiderId id) {
    const std::string named = " " + std::to_string(id.value) + " ";
    std::vector<std::string> out;
    for (const store::Outgoing& o : yard.records().following.outbox({}, 1'000'000)) {
        const bool in_it = o.rider == id || o.others.find(named) != std::string::npos;
        if (in_it && !o.attached.empty()) {
            out.push_back(o.attached);
            out.push_back("outbox/" + QFileInfo(QString::fromStdString(o.attached)).fileName().toStdString());
        }
        if (in_it && !o.file.empty()) out.push_back("outbox/" + o.file);
    }
    return out;
}

QString counted(int n, const QString& one, const QString& many) {
    return QString("%1 %2").arg(n).arg(n == 1 ? one : many);
}

}  // namespace

void trash_rider(Yard& yard, store::RiderId id) {
    yard.step(QObject::tr("Put rider in the trash"), [&](store::YardStore& records) {
        auto rider = records.people.rider(id);
        if (!rider) return;
        rider->trashed = true;
        records.update(*rider);
    });
}
void put_back(Yard& yard, store::RiderId id) {
    yard.step(QObject::tr("Put rider back"), [&](store::YardStore& records) {
        auto rider = records.people.rider(id);
        if (!rider) return;
        rider->trashed = false;
        records.update(*rider);
    });
}
void put_back(Yard& yard, store::ClipId id) {
    yard.step(QObject::tr("Put clip back"), [&](store::YardStore& records) {
        auto clip = records.rides.clip(id);
        if (!clip) return;
        clip->trashed = false;
        records.update(*clip);
    });
}
bool put_back(Yard& yard, const store::Moment& moment) {
    const auto there = yard.records().reviews.moments(moment.clip);
    if (std::ranges::any_of(
            there, [&](const store::Moment& m) { return m.frame == moment.frame && m.slot == moment.slot; }))
        return false;
    yard.step(QObject::tr("Put moment back"),
              [&](store::YardStore& records) { records.reviews.trash(moment.id, false); });
    return true;
}

QString what_goes_with(Yard& yard, store::ClipId id) {
    const auto clip = yard.records().rides.clip(id);
    if (!clip) return {};
    const int moments = static_cast<int>(yard.records().reviews.moments(id).size());
    const int notes = static_cast<int>(yard.records().reviews.notes(id).size());
    const bool copy = !QDir::isAbsolutePath(QString::fromStdString(clip->path));
    return QObject::tr("%1, %2, the small pictures%3")
        .arg(counted(moments, QObject::tr("marked moment"), QObject::tr("marked moments")),
             counted(notes, "note", "notes"),
             copy ? QObject::tr(" and the copy in the yard's folder")
                  : QObject::tr("; your own file stays where it is"));
}
QString what_goes_with(Yard& yard, store::RiderId id) {
    const int rides = static_cast<int>(yard.records().rides.rides_of(id).size());
    const int corrections = static_cast<int>(yard.records().work.corrections(id).size());
    return QObject::tr(
               "%1 with their clips, %2, exercises, consent, limitations, and the safety copies of the yard; "
               "clips in which others ride too stay, without this rider's figure and with the face covered; "
               "backups that you made yourself keep them")
        .arg(counted(rides, "ride", "rides"), counted(corrections, "correction", "corrections"));
}

void delete_for_good(Yard& yard, store::ClipId id) {
    const auto clip = yard.records().rides.clip(id);
    if (!clip) return;
    const auto spoken = yard.records().leaving.spoken_over(id);
    yard.steps().forget();  // a step back could refer to what is gone
    yard.quietly([&](store::YardStore& records) { records.remove(id); });
    remove_files_of(yard, *clip);
    remove_voices(yard, spoken);
}
void delete_for_good(Yard& yard, store::RiderId id) {
    yard.steps().forget();
    std::vector<store::Spoken> spoken;
    for (const store::RiddenClip& r : yard.records().rides.ridden_by(id)) {
        for (const store::Spoken& s : yard.records().leaving.spoken_over(r.clip.id)) spoken.push_back(s);
    }
    const auto in_outbox = outbox_with(yard, id);
    std::vector<store::Clip> gone;
    yard.quietly([&](store::YardStore& records) { gone = records.remove(id); });
    for (const store::Clip& clip : gone) remove_files_of(yard, clip);
    for (const std::string& file : in_outbox)
        QFile::remove(yard.folder().filePath(QString::fromStdString(file)));
    remove_voices(yard, spoken);
    // Safety copies of the records hold whoever was in them; the newest state is in yard.db.
    for (const char* copies : {"yard.db.before-", "yard.db.replaced-", "yard.db.to-restore"})
        remove_by_prefix(yard.folder(), copies);
    yard.leave_no_trace();
}

}  // namespace aspen::app
