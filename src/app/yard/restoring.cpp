#include "app/yard/restoring.hpp"

#include <unistd.h>

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <chrono>
#include <filesystem>
#include <memory>
#include <optional>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "store/carry_over.hpp"
#include "store/database.hpp"
#include "store/folder_lock.hpp"

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

/// What the log still holds goes into the file itself, so that the file alone is the whole yard, and no log
/// is there that could be read into the new one. Where the file cannot be opened (damaged, which is why a
/// backup is wanted; or of a newer version) the log is kept beside the kept file. Throws core::Refused where
/// another program has it open.
void fold_in_log(const QString& file, const QString& kept) {
    std::optional<store::Database> whole;
    try {
        whole.emplace(file.toStdString());
    } catch (const core::Refused&) {
        // Whole, and yet it does not open: somebody holds it, and the log is theirs.
        if (refusal_of(file).isEmpty()) throw;
        QFile::rename(file + "-wal", kept + "-wal");
        QFile::remove(file + "-shm");
        return;
    }
    whole->fold_in_log();
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

/// Another program has the records open, so that none may be put in their place.
struct StillOpen : core::Refused {
    using core::Refused::Refused;
};

constexpr std::chrono::seconds kWaitForReaders{2};

QString free_name(const QDir& dir, const QString& base) {
    QString out = dir.filePath(base);
    for (int n = 2; QFile::exists(out); ++n) out = dir.filePath(QString("%1-%2").arg(base).arg(n));
    return out;
}

/// A log beside the records that are switched is of the others, and would be read into them.
void require_no_log(const QString& now) {
    if (QFile::exists(now + "-wal") && QFileInfo(now + "-wal").size() > 0)
        throw StillOpen(
            (now + QObject::tr("-wal: another program still writes; close it first")).toStdString());
    QFile::remove(now + "-wal");
    QFile::remove(now + "-shm");
}

QString switched(const QDir& dir, const QString& waiting, const QString& now) {
    const auto alone = [&] {
        try {
            return std::make_unique<store::FolderLock>(dir.path().toStdString(),
                                                       store::FolderLock::Kind::alone, kWaitForReaders);
        } catch (const core::Refused& e) {
            throw StillOpen(e.what());
        }
    }();
    QString said = QObject::tr("The backup was restored; the records before it are kept beside it.");
    if (QFile::exists(now)) {
        const QString kept = free_name(
            dir, "yard.db.replaced-" + QDateTime::currentDateTime().toString("yyyy-MM-dd-hhmmss-zzz"));
        try {
            fold_in_log(now, kept);
        } catch (const core::Refused& e) {
            throw StillOpen(e.what());
        }
        // A second name for the old file first; then one rename makes the new one the yard.
        if (::link(now.toLocal8Bit().constData(), kept.toLocal8Bit().constData()) != 0 &&
            !QFile::copy(now, kept)) {
            throw core::Refused(
                (now + ": cannot be kept beside the backup; check the free space and start again")
                    .toStdString());
        }
        said += carried_over(now, waiting);
    } else if (QFile::exists(now + "-wal")) {  // of records that somebody took away
        QFile::rename(now + "-wal", free_name(dir, "yard.db.replaced-wal"));
    }
    require_no_log(now);
    std::error_code error;
    std::filesystem::rename(waiting.toStdString(), now.toStdString(), error);
    if (error)
        throw core::Refused((waiting + ": cannot take the place of yard.db; check the folder").toStdString());
    require_no_log(now);
    return said;
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
    try {
        return switched(dir, waiting, now);
    } catch (const StillOpen& e) {
        return QObject::tr("The backup waits: %1, and start again. The records are as they were.")
            .arg(QString::fromUtf8(e.what()));
    }
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

void back_up(Yard& yard, const QString& file) { yard.records().back_up(file.toStdString()); }

}  // namespace aspen::app
