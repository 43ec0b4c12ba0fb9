#include "app/yard/importer.hpp"

#include <QDateTime>
#include <QDirIterator>
#include <QFileInfo>
#include <QSaveFile>

#include "app/files/cache_folder.hpp"
#include "app/files/file_name.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "media/reading/content_hash.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr int kMostFilesSearched = 20000;

bool stopped(const std::atomic<bool>* stop) { return stop && *stop; }

/// Any length at any speed: a block at a time, so that a stop is heeded; nothing stands under the name until
/// all of it does.
bool copy_file(const QString& from, const QString& to, Job& job) {
    QFile in(from);
    QSaveFile out(to);
    if (!in.open(QIODevice::ReadOnly) || !out.open(QIODevice::WriteOnly)) return false;
    qint64 done = 0;
    while (!in.atEnd()) {
        if (job.stopped()) throw media::ReadCancelled{};
        const QByteArray block = in.read(1 << 20);
        if (block.isEmpty() || out.write(block) != block.size()) return false;
        done += block.size();
        job.progress(in.size() > 0 ? static_cast<double>(done) / static_cast<double>(in.size()) : 1);
    }
    return out.commit();
}

}  // namespace

IncomingClip look_at(const QString& file, const std::atomic<bool>* stop) {
    IncomingClip out;
    const QFileInfo info(file);
    out.file = info.absoluteFilePath();
    try {
        // The tags mostly say universal time; the lesson's day is the one here.
        const auto said = QDateTime::fromString(
            QString::fromStdString(media::check_opens(out.file.toStdString(), stop)), Qt::ISODateWithMs);
        out.bytes = info.size();
        out.hash = media::content_hash(out.file.toStdString(), {stop, {}});
        out.told_by = said.isValid() ? store::ToldBy::container : store::ToldBy::file;
        out.recorded_at =
            (said.isValid() ? said.toLocalTime() : info.lastModified()).toString("yyyy-MM-ddTHH:mm:ss");
    } catch (const std::exception& e) {
        out.trouble = QString::fromUtf8(e.what());
    }
    return out;
}

QString find_moved(const std::string& hash, std::int64_t bytes, const QStringList& folders,
                   const std::atomic<bool>* stop) {
    int searched = 0;
    for (const QString& folder : folders) {
        QDirIterator it(folder, QDir::Files | QDir::Readable, QDirIterator::Subdirectories);
        while (it.hasNext() && searched < kMostFilesSearched && !stopped(stop)) {
            it.next();
            ++searched;
            if (it.fileInfo().size() != bytes) continue;
            try {
                if (media::content_hash(it.filePath().toStdString(), {stop, {}}) == hash)
                    return it.filePath();
            } catch (const core::Refused&) {
                continue;  // a file that cannot be read is not the one
            }
        }
    }
    return {};
}

QStringList films_in(const QString& file_or_folder) {
    if (!QFileInfo(file_or_folder).isDir()) return {file_or_folder};
    static const QStringList kinds{"*.mp4", "*.mov", "*.m4v", "*.mkv",  "*.avi", "*.webm",
                                   "*.ts",  "*.mts", "*.jpg", "*.jpeg", "*.png"};
    QStringList out;
    QDirIterator it(file_or_folder, kinds, QDir::Files | QDir::Readable, QDirIterator::Subdirectories);
    while (it.hasNext() && out.size() < kMostFilesSearched) out << it.next();
    out.sort(Qt::CaseInsensitive);
    return out;
}

Importer::Importer(Yard& yard) : QObject(&yard), yard_(yard) {
    // Counted when it leaves the list, also when it was stopped.
    connect(&yard_.jobs(), &Jobs::changed, this, [this] {
        if (std::erase_if(jobs_, [](const JobHandle& job) { return job->ended(); }) > 0)
            emit progress(waiting());
    });
}

store::ClipId Importer::record(const IncomingClip& incoming, bool& known_before, std::int64_t batch) {
    if (const auto known = yard_.records().rides.clip_with_hash(incoming.hash)) {
        known_before = true;
        const QString was = yard_.file_of(*known);
        const bool lost = !QFileInfo::exists(was);
        if (known->trashed || lost) move_clip(yard_, known->id, incoming.file, true);
        if (lost) find_neighbours(was, incoming.file);
        return known->id;
    }
    known_before = false;
    store::Clip clip;
    const QString inside = yard_.folder().relativeFilePath(incoming.file);
    clip.path = (inside.startsWith("..") ? incoming.file : inside).toStdString();
    clip.hash = incoming.hash;
    clip.bytes = incoming.bytes;
    clip.recorded_at = incoming.recorded_at.toStdString();
    clip.told_by = incoming.told_by;
    clip.batch = batch;
    clip.added_on = yard_.today_iso();
    return take_in_clip(yard_, clip);
}

void Importer::take(const IncomingClip& incoming, std::int64_t batch) {
    if (!incoming.trouble.isEmpty()) {
        emit failed(incoming.trouble);
        return;
    }
    try {
        bool known = false;
        const auto id = record(incoming, known, batch);
        index(id);
        emit imported(id, known);
    } catch (const core::Refused& e) {
        emit failed(QString::fromUtf8(e.what()));
    }
}

void Importer::bring_in(const QStringList& dropped) {
    const std::int64_t batch = QDateTime::currentMSecsSinceEpoch();
    QStringList files;
    for (const QString& one : dropped) files += films_in(one);
    for (const QString& file : files) {
        jobs_.push_back(yard_.jobs().run(
            JobLane::import, tr("Bringing in ") + QFileInfo(file).fileName(), this,
            [file](Job& job) { return look_at(file, &job.stopped()); },
            [this, batch](const Outcome<IncomingClip>& looked) {
                if (looked.value)
                    take(*looked.value, batch);
                else
                    emit failed(looked.trouble);
            }));
    }
    emit progress(waiting());
}

void Importer::index(store::ClipId id) {
    const auto clip = yard_.records().rides.clip(id);
    if (!clip || (clip->duration_s > 0 && clip->frames > 0)) return;
    const QString file = yard_.file_of(*clip);
    yard_.jobs().run(
        JobLane::index, tr("Counting the frames of ") + QFileInfo(file).fileName(), this,
        [file, cache = media::OrderCache{cache_folder().toStdString(), clip->hash}](Job& job) {
            media::ReaderOptions options;
            options.order_cache = cache;
            const media::VideoReader reader(file.toStdString(),
                                            {&job.stopped(), [&job](double s) { job.progress(s); }}, options);
            return std::pair(reader.facts().duration_s, reader.facts().frames);
        },
        [this, id](const Outcome<std::pair<double, int>>& length) {
            if (length.value) set_length(yard_, id, length.value->first, length.value->second);
            // Else opening it will say what is wrong; its length stays unknown.
        });
}

void Importer::keep_copy(store::ClipId id) {
    const auto clip = yard_.records().rides.clip(id);
    if (!clip) return;
    const QString from = yard_.file_of(*clip);
    const QString to = yard_.folder().filePath("clips/" + QString::fromStdString(clip->hash).left(12) + "-" +
                                               as_file_name(QFileInfo(from)));
    yard_.jobs().run(
        JobLane::write, tr("Copying ") + QFileInfo(from).fileName() + tr(" into the yard"), this,
        [from, to](Job& job) { return QFile::exists(to) || copy_file(from, to, job); },
        [this, id, to](const Outcome<bool>& copied) {
            if (!yard_.records().rides.clip(id))
                QFile::remove(to);  // deleted for good meanwhile
            else if (copied.value.value_or(false))
                move_clip(yard_, id, to);
            else
                emit failed(to + tr(": the copy could not be written; check the free space."));
        });
}

void Importer::find_neighbours(const QString& was, const QString& is) {
    struct Lost {
        store::ClipId id;
        QString candidate;
        std::string hash;
        std::int64_t bytes;
    };
    // The deepest folders that differ: what was below the one is looked for below the other.
    const QString old_folder = QFileInfo(was).path(), new_folder = QFileInfo(is).path();
    std::vector<Lost> lost;
    for (const store::Clip& c : yard_.records().rides.clips()) {
        const QString file = yard_.file_of(c);
        if (!file.startsWith(old_folder + "/") || QFileInfo::exists(file)) continue;
        const QString candidate = new_folder + file.mid(old_folder.size());
        if (QFileInfo(candidate).size() == c.bytes) lost.push_back({c.id, candidate, c.hash, c.bytes});
    }
    if (lost.empty()) return;
    yard_.jobs().run(
        JobLane::look, tr("Looking for the other clips of that folder"), this,
        [lost](Job& job) {
            std::vector<std::pair<store::ClipId, QString>> found;
            for (std::size_t i = 0; i < lost.size(); ++i) {
                const auto hash = media::content_hash(lost[i].candidate.toStdString(), {&job.stopped(), {}});
                if (hash == lost[i].hash) found.emplace_back(lost[i].id, lost[i].candidate);
                job.progress(static_cast<double>(i + 1) / static_cast<double>(lost.size()));
            }
            return found;
        },
        [this](const Outcome<std::vector<std::pair<store::ClipId, QString>>>& found) {
            if (!found.value) {
                emit failed(found.trouble);
                return;
            }
            yard_.quietly([&] {
                for (const auto& [id, file] : *found.value) move_clip(yard_, id, file);
            });
            if (!found.value->empty()) emit found_again(static_cast<int>(found.value->size()));
        });
}

}  // namespace aspen::app

#include "moc_importer.cpp"
