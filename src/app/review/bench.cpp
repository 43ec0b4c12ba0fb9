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
    : QObject(parent),
      yard_(yard),
      review_(yard, deck_, news_),
      marking_(review_),
      findings_(review_, marking_) {
    news_.on_settled([this](BenchParts what) { settle(what); });
    connect(&yard_, &Yard::stepped, this, [this](const store::Touched& touched) {
        news_.together([&] {
            review_.follow(touched);
            findings_.follow(touched);
            if (touched.own_data) news_.add(BenchPart::knowledge);
        });
    });
    connect(&deck_, &ClipDeck::leaving, this, [this] { marking_.end_drag(); });
    connect(&deck_, &ClipDeck::frame_changed, this, &Bench::come_to_frame);
    // Its length and times are known now; a damaged frame is drawn as one.
    connect(&deck_, &ClipDeck::opened, this, [this] {
        news_.together([this] {
            news_.add(BenchPart::records);
            if (review_.is_open() && review_.clip().frames != deck_.facts().frames)
                set_length(yard_, review_.clip().id, deck_.facts().duration_s, deck_.facts().frames);
        });
    });
    connect(&deck_, &ClipDeck::damage_found, this, [this] { news_.add(BenchPart::figure); });
    connect(&deck_, &ClipDeck::failed, this, &Bench::trouble);
    connect(&deck_, &ClipDeck::opened, this, &Bench::clip_opened);
    connect(&yard_, &Yard::trouble, this, &Bench::trouble);
    place_timer_.setSingleShot(true);
    place_timer_.setInterval(kKeepPlaceAfterMs);
    connect(&place_timer_, &QTimer::timeout, &review_, &Review::keep_place);
}

BenchState Bench::state() const { return {yard_, deck_, review_, marking_, findings_}; }

/// What rests on what changed is worked out here and nowhere else, in this order; then it is said once.
void Bench::settle(BenchParts what) {
    using P = BenchPart;
    try {
        if (what & P::rider) marking_.let_go();
        if (what & (P::clip | P::rider | P::records | P::knowledge)) marking_.refresh();
        const bool drags = what.testFlag(P::figure) && marking_.dragging();
        if (drags || what & (P::clip | P::rider | P::records | P::decided | P::knowledge)) {
            findings_.assess();
            what |= P::findings;
        }
        what |= news_.take();
        emit changed(state(), what);
    } catch (const core::Refused& e) {
        emit trouble(QString::fromUtf8(e.what()));
    }
}

void Bench::judge_anew() {
    review_.read_ground();
    news_.add(BenchPart::decided);
}

void Bench::come_to_frame(int frame) {
    news_.together([&] {
        review_.come_to_frame();
        marking_.come_to_frame();
    });
    place_timer_.start();
    emit frame_moved(frame);
}

void Bench::open(store::ClipId id, int slot) {
    close();
    news_.together([&] { review_.open(id, slot); });
    if (review_.is_open()) find_and_open();
}

void Bench::open_frames(const QString& file) {
    const int megabytes = QString::fromStdString(yard_.records().settings.setting("cache_mb", "512")).toInt();
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
