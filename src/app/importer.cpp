#include "app/importer.hpp"

#include <QDateTime>
#include <QDirIterator>
#include <QFileInfo>
#include <QPointer>
#include <QThread>
#include <QThreadPool>

#include "app/cache_folder.hpp"
#include "core/refused.hpp"
#include "media/content_hash.hpp"
#include "media/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr int kMostFilesSearched = 20000;

QThreadPool& pool() {
    static QThreadPool p;
    p.setMaxThreadCount(1);
    return p;
}

/// Listing frames may take longer than looking at files, which must not wait for it.
QThreadPool& index_pool() {
    static QThreadPool p;
    p.setMaxThreadCount(1);
    p.setThreadPriority(QThread::LowPriority);
    return p;
}

}  // namespace

IncomingClip look_at(const QString& file) {
    IncomingClip out;
    const QFileInfo info(file);
    out.file = info.absoluteFilePath();
    try {
        // The tags mostly say universal time; the lesson's day is the one here.
        const auto filmed = QDateTime::fromString(
            QString::fromStdString(media::check_opens(out.file.toStdString())), Qt::ISODateWithMs);
        out.bytes = info.size();
        out.hash = media::content_hash(out.file.toStdString());
        out.filmed_on =
            (filmed.isValid() ? filmed.toLocalTime() : info.lastModified()).date().toString(Qt::ISODate);
    } catch (const std::exception& e) {
        out.trouble = QString::fromUtf8(e.what());
    }
    return out;
}

QString find_moved(const std::string& hash, std::int64_t bytes, const QStringList& folders) {
    int searched = 0;
    for (const QString& folder : folders) {
        QDirIterator it(folder, QDir::Files | QDir::Readable, QDirIterator::Subdirectories);
        while (it.hasNext() && searched < kMostFilesSearched) {
            it.next();
            ++searched;
            if (it.fileInfo().size() != bytes) continue;
            try {
                if (media::content_hash(it.filePath().toStdString()) == hash) return it.filePath();
            } catch (const core::Refused&) {
                continue;  // a file that cannot be read is not the one
            }
        }
    }
    return {};
}

Importer::Importer(Yard& yard) : QObject(&yard), yard_(yard) {}
Importer::~Importer() {
    index_pool().clear();
    index_pool().waitForDone();
    pool().waitForDone();
}

store::ClipId Importer::record(const IncomingClip& incoming, bool& known_before) {
    if (const auto known = yard_.records().clip_with_hash(incoming.hash)) {
        known_before = true;
        if (known->trashed || !QFileInfo::exists(yard_.file_of(*known)))
            yard_.move_clip(known->id, incoming.file);
        return known->id;
    }
    known_before = false;
    store::Clip clip;
    const QString inside = yard_.folder().relativeFilePath(incoming.file);
    clip.path = (inside.startsWith("..") ? incoming.file : inside).toStdString();
    clip.hash = incoming.hash;
    clip.bytes = incoming.bytes;
    clip.filmed_on = incoming.filmed_on.toStdString();
    clip.added_on = yard_.today().toString(Qt::ISODate).toStdString();
    return yard_.add_clip(clip);
}

void Importer::bring_in(const QStringList& files) {
    for (const QString& file : files) {
        ++waiting_;
        pool().start([this, file] {
            const IncomingClip incoming = look_at(file);
            QMetaObject::invokeMethod(this, [this, incoming] {
                --waiting_;
                emit progress(waiting_);
                if (!incoming.trouble.isEmpty()) {
                    emit failed(incoming.trouble);
                    return;
                }
                try {
                    bool known = false;
                    const auto id = record(incoming, known);
                    index(id);
                    emit imported(id, known);
                } catch (const core::Refused& e) {
                    emit failed(QString::fromUtf8(e.what()));
                }
            });
        });
    }
    emit progress(waiting_);
}

void Importer::index(store::ClipId id) {
    const auto clip = yard_.records().clip(id);
    if (!clip || clip->duration_s > 0) return;
    const QString file = yard_.file_of(*clip);
    index_pool().start([this, id, file, cache = media::OrderCache{cache_folder().toStdString(), clip->hash}] {
        try {
            media::ReaderOptions options;
            options.order_cache = cache;
            const double seconds = media::VideoReader(file.toStdString(), {}, options).facts().duration_s;
            QMetaObject::invokeMethod(this, [this, id, seconds] { yard_.set_length(id, seconds); });
        } catch (const std::exception&) {
            // Opening it will say what is wrong; its length stays unknown.
        }
    });
}

void Importer::keep_copy(store::ClipId id) {
    const auto clip = yard_.records().clip(id);
    if (!clip) return;
    const QString from = yard_.file_of(*clip);
    const QString to = yard_.folder().filePath("clips/" + QString::fromStdString(clip->hash).left(12) + "-" +
                                               QFileInfo(from).fileName());
    pool().start([this, id, from, to] {
        const QString part = to + ".part";
        QFile::remove(part);
        const bool copied = QFile::exists(to) || (QFile::copy(from, part) && QFile::rename(part, to));
        QMetaObject::invokeMethod(this, [this, id, to, copied] {
            if (copied)
                yard_.move_clip(id, to);
            else
                emit failed(to + ": the copy could not be written; check the free space");
        });
    });
}

}  // namespace aspen::app
