#include "app/review/bench.hpp"

#include <QFileInfo>
#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/yard/changes.hpp"
#include "app/yard/importer.hpp"

namespace aspen::app {
namespace {

constexpr int kKeepPlaceAfterMs = 400;

}  // namespace

Bench::Bench(Yard& yard, QObject* parent)
    : QObject(parent), yard_(yard), review_(yard, deck_), marking_(review_), findings_(review_, marking_) {
    connect(&deck_, &ClipDeck::failed, this, &Bench::trouble);
    connect(&deck_, &ClipDeck::opened, this, [this] {
        if (review_.is_open() && review_.clip().frames != deck_.facts().frames)
            set_length(yard_, review_.clip().id, deck_.facts().duration_s, deck_.facts().frames);
    });
    connect(&deck_, &ClipDeck::opened, this, &Bench::clip_opened);
    connect(&yard_, &Yard::trouble, this, &Bench::trouble);
    place_timer_.setSingleShot(true);
    place_timer_.setInterval(kKeepPlaceAfterMs);
    connect(&place_timer_, &QTimer::timeout, &review_, &Review::keep_place);
    connect(&deck_, &ClipDeck::frame_changed, &place_timer_, qOverload<>(&QTimer::start));
}

void Bench::open(store::ClipId id, int slot) {
    close();
    review_.open(id, slot);
    if (review_.is_open()) find_and_open();
}

void Bench::open_frames(const QString& file) {
    const int megabytes = QString::fromStdString(yard_.records().setting("cache_mb", "512")).toInt();
    const store::Clip& clip = review_.clip();
    deck_.open(file, {{cache_folder(), QString::fromStdString(clip.hash),
                       static_cast<std::size_t>(std::clamp(megabytes, 64, 16384)) << 20},
                      clip.last_frame,
                      clip.capture});
}

void Bench::find_and_open() {
    const store::Clip clip = review_.clip();
    const QString file = yard_.file_of(clip);
    if (QFileInfo::exists(file)) {
        open_frames(file);
        return;
    }
    emit trouble(tr("Looking for the clip, it is not where it was …"));
    const QStringList folders{QFileInfo(file).absolutePath(), yard_.folder().filePath("clips"),
                              QFileInfo(QFileInfo(file).absolutePath()).absolutePath()};
    search_ = yard_.jobs().run(
        JobLane::look, tr("Looking for ") + QFileInfo(file).fileName(), this,
        [clip, folders](Job& job) { return find_moved(clip.hash, clip.bytes, folders, &job.stopped()); },
        [this, id = clip.id, file](const Outcome<QString>& found) {
            const QString now = found.value.value_or(QString());
            // Where it lies now is worth knowing also when another clip was opened meanwhile.
            if (!now.isEmpty()) {
                move_clip(yard_, id, now);
                emit moved(file, now);
            }
            if (!review_.is_open() || review_.clip().id != id || deck_.ready()) return;
            if (now.isEmpty())
                emit trouble(file + tr(": the clip has moved; drop it on the window to find it again."));
            else
                open_frames(now);
        });
}

void Bench::close() {
    emit closing();
    place_timer_.stop();
    marking_.end_drag();
    review_.keep_place();
    deck_.close();
    review_.close();
}

}  // namespace aspen::app

#include "moc_bench.cpp"
