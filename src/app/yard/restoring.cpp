#include "app/yard/restoring.hpp"

#include <unistd.h>

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <filesystem>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "store/carry_over.hpp"
#include "store/database.hpp"

namespace aspen::app {
namespace {

QString refusal_of(const QString& file) {
    try {
        store::check_is_yard(file.toStdString());
        return {};
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

/// What the log still holds goes into the file itself, so that the file alone is the whole yard. Where that
/// cannot be done (damaged, which is why a backup is wanted; or of a newer version) the log is kept beside
/// the kept file: it must not be read into the new one.
void fold_in_log(const QString& file, const QString& kept) {
    try {
        store::Database whole(file.toStdString());
    } catch (const core::Refused&) {
        QFile::rename(file + "-wal", kept + "-wal");
        QFile::remove(file + "-shm");
    }
}

/// What was withdrawn since the backup stays withdrawn, and what left stays in the log. "" or a line.
QString carried_over(const QString& now, const QString& waiting) {
    QString line;
    try {
        store::carry_over_leaving(now.toStdString(), waiting.toStdString());
    } catch (const core::Refused& e) {
        line = " " + QString::fromUtf8(e.what());
    }
    const QFileInfo file(waiting);  // a backup of an earlier version was brought up to date on the way
    for (const QFileInfo& copy : file.dir().entryInfoList({file.fileName() + ".before-*"}, QDir::Files))
        QFile::remove(copy.filePath());
    return line;
}

}  // namespace

QString put_restored(const QDir& dir) {
    const QString waiting = dir.filePath("yard.db.to-restore"), now = dir.filePath("yard.db");
    if (!QFile::exists(waiting)) return {};
    if (const QString bad = refusal_of(waiting); !bad.isEmpty()) {
        QFile::remove(waiting + ".bad");
        QFile::rename(waiting, waiting + ".bad");
        return QObject::tr("The backup was not restored: ") + bad +
               QObject::tr(" The records are as they were.");
    }
    QString said = QObject::tr("The backup was restored; the records before it are kept beside it.");
    if (QFile::exists(now)) {
        const QString kept = dir.filePath("yard.db.replaced-" +
                                          QDateTime::currentDateTime().toString("yyyy-MM-dd-hhmmss-zzz"));
        fold_in_log(now, kept);
        // A second name for the old file first; then one rename makes the new one the yard.
        if (::link(now.toLocal8Bit().constData(), kept.toLocal8Bit().constData()) != 0 &&
            !QFile::copy(now, kept)) {
            throw core::Refused(
                (now + ": cannot be kept beside the backup; check the free space and start again")
                    .toStdString());
        }
        said += carried_over(now, waiting);
    }
    std::error_code error;
    std::filesystem::rename(waiting.toStdString(), now.toStdString(), error);
    if (error)
        throw core::Refused((waiting + ": cannot take the place of yard.db; check the folder").toStdString());
    return said;
}

QString restore_at_start(const QString& folder, const QString& backup) {
    if (const QString bad = refusal_of(backup); !bad.isEmpty()) return bad;
    QFile in(backup);
    QSaveFile out(QDir(folder).filePath("yard.db.to-restore"));
    const QString trouble =
        backup + QObject::tr(": cannot be read or copied; check the file and the free space.");
    if (!in.open(QIODevice::ReadOnly) || !out.open(QIODevice::WriteOnly)) return trouble;
    while (!in.atEnd()) {
        const QByteArray block = in.read(1 << 20);
        if (block.isEmpty() || out.write(block) != block.size()) return trouble;
    }
    out.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
    return out.commit() ? QString() : trouble;
}

void back_up(Yard& yard, const QString& file) { yard.records().database().back_up(file.toStdString()); }

}  // namespace aspen::app
