#include "app/telling/film_writer.hpp"

#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <cmath>

#include "app/files/cache_folder.hpp"
#include "app/files/whole_file.hpp"
#include "app/review/pictures.hpp"
#include "app/telling/voice_file.hpp"
#include "core/reading/refused.hpp"
#include "core/telling/voice.hpp"
#include "media/writing/loudness.hpp"
#include "media/writing/video_writer.hpp"
#include "sound/microphone.hpp"

namespace aspen::app {
namespace {

constexpr double kFacesShare = 0.25, kChapterShown_s = 3;
constexpr double kFewestFps = 15, kMostFps = 60, kVoiceBits = 100e3, kRoomForHead = 0.94;
constexpr double kFewestBitsPerPixel = 0.035;  // of H.264 before a smaller picture looks better (from memory)
constexpr int kMostRounds = 3, kLongestSide = 1920, kQuality = 22;
constexpr double kMb = 1e6;

/// The clips as they are read, one reader each.
class Readers {
  public:
    Readers(const FilmPlan& plan, Job& job) : plan_(plan), job_(job) {}
    media::VideoReader& of(std::int64_t clip) {
        auto& reader = readers_[clip];
        if (!reader) {
            media::ReaderOptions options;
            options.quality = media::Quality::quick;
            options.order_cache = {cache_folder().toStdString(), plan_.clips.at(clip).hash.toStdString()};
            reader = std::make_unique<media::VideoReader>(plan_.clips.at(clip).file.toStdString(),
                                                          media::ReadWatch{&job_.stopped(), {}}, options);
        }
        return *reader;
    }
    /// The frame, or the last where the clip is shorter than it was.
    int within(const core::ShownFrame& at) { return std::clamp(at.frame, 0, of(at.clip).facts().frames - 1); }
    QImage picture(const core::ShownFrame& at) { return to_image(of(at.clip).picture(within(at))); }

  private:
    const FilmPlan& plan_;
    Job& job_;
    std::map<std::int64_t, std::unique_ptr<media::VideoReader>> readers_;
};

/// What the film shows, picture by picture.
struct Script {
    double fps = 25, length_s = 0;
    std::vector<core::Scene> scenes;
    std::vector<core::Caption> captions;
    std::vector<core::Chapter> chapters;
    bool burns = false;
};

Script script_of(const FilmPlan& plan, const FilmWish& wish, double fps, bool voiced) {
    Script out;
    out.fps = std::clamp(fps, kFewestFps, kMostFps);
    out.length_s = plan.telling.length_s();
    out.captions = plan.telling.captions(plan.notes);
    out.chapters = plan.telling.chapters();
    out.burns = wish.burn || !voiced;
    const auto count = static_cast<int>(std::ceil(out.length_s * out.fps - 1e-6));
    for (int i = 0; i < count; ++i) {
        const double told = i / out.fps;
        core::Scene s = plan.telling.scene(plan.telling.raw_at(told));
        s.caption.clear();
        s.chapter.clear();
        for (const core::Caption& c : out.captions) {
            if (out.burns && told >= c.from_s && told < c.to_s) s.caption = c.words;
        }
        for (const core::Chapter& c : out.chapters) {
            if (told >= c.at_s && told < c.at_s + kChapterShown_s) s.chapter = c.title;
        }
        out.scenes.push_back(std::move(s));
    }
    return out;
}

QSize size_for(const media::ClipFacts& facts, double fps, std::int64_t bits_per_s) {
    QSizeF size(facts.width, facts.height);
    if (std::max(size.width(), size.height()) > kLongestSide)
        size.scale(kLongestSide, kLongestSide, Qt::KeepAspectRatio);
    if (bits_per_s > 0) {
        const double pixels = static_cast<double>(bits_per_s) / (fps * kFewestBitsPerPixel);
        if (size.width() * size.height() > pixels) size *= std::sqrt(pixels / (size.width() * size.height()));
    }
    const auto even = [](double v) { return std::max(2, static_cast<int>(std::lround(v / 2)) * 2); };
    return {even(size.width()), even(size.height())};
}

class Filming {
  public:
    Filming(const FilmPlan& plan, const Script& script, Readers& readers,
            const std::map<std::int64_t, FaceCovers>& covers, Job& job)
        : plan_(plan), script_(script), readers_(readers), covers_(covers), job_(job) {}

    void write(const QString& file, QSize size, media::FilmExtras extras) {
        media::WriterOptions o;
        o.width = size.width();
        o.height = size.height();
        o.fps = script_.fps;
        o.swift = true;
        o.quality_crf = kQuality;
        media::VideoWriter writer(file.toStdString(), o, std::move(extras));
        QImage picture;
        const core::Scene* last = nullptr;
        for (std::size_t i = 0; i < script_.scenes.size(); ++i) {
            if (job_.stopped()) throw media::ReadCancelled{};
            const core::Scene& s = script_.scenes[i];
            const double at = static_cast<double>(i) / script_.fps;
            if (last && *last == s) {  // what stands still is made once
                writer.add_same(at);
            } else {
                picture = composed(s, size);
                writer.add(picture.constBits(), static_cast<int>(picture.bytesPerLine()), at);
            }
            last = &s;
            job_.progress(kFacesShare + (1 - kFacesShare) * static_cast<double>(i + 1) /
                                            static_cast<double>(script_.scenes.size()));
        }
        writer.finish();
    }

  private:
    QImage composed(const core::Scene& s, QSize size) {
        exchange::FilmScene scene = film_scene(plan_, s, readers_.picture(s.shown),
                                               s.beside ? readers_.picture(*s.beside) : QImage());
        scene.main.covers = covers_.at(s.shown.clip).at(readers_.within(s.shown));
        if (scene.beside) scene.beside->covers = covers_.at(s.beside->clip).at(readers_.within(*s.beside));
        scene.chapter = QString::fromStdString(s.chapter);
        scene.caption = QString::fromStdString(s.caption);
        return exchange::compose(std::move(scene), size);
    }
    const FilmPlan& plan_;
    const Script& script_;
    Readers& readers_;
    const std::map<std::int64_t, FaceCovers>& covers_;
    Job& job_;
};

void write_text_tracks(const QString& file, const Script& script) {
    const QString base = QFileInfo(file).path() + "/" + QFileInfo(file).completeBaseName();
    const auto write = [](const QString& name, const std::string& text) {
        if (const QString trouble = write_whole(name, QByteArray::fromStdString(text)); !trouble.isEmpty())
            throw core::Refused(trouble.toStdString());
    };
    if (!script.captions.empty()) write(base + ".vtt", core::web_vtt(script.captions));
    if (!script.chapters.empty())
        write(base + ".chapters.vtt", core::web_vtt(script.chapters, script.length_s));
}

}  // namespace

FilmMade write_film(const FilmPlan& plan, const Permit&, const FilmWish& wish, const QString& file,
                    Job& job) {
    constexpr int kRate = sound::Microphone::kRate;
    FilmMade out;
    Readers readers(plan, job);
    const auto recorded = plan.voice.isEmpty() ? std::nullopt : read_voice(plan.voice);
    media::FilmExtras extras;
    extras.rate_hz = kRate;
    if (recorded && std::ranges::any_of(*recorded, [](std::int16_t s) { return s != 0; }))
        extras.voice = media::levelled(core::told_voice(*recorded, kRate, plan.telling.cuts()), kRate);
    const media::ClipFacts& facts = readers.of(plan.first_clip).facts();
    const double fps = facts.frames > 1 ? facts.average_fps : 25;
    const Script script = script_of(plan, wish, fps, !extras.voice.empty());
    if (script.scenes.empty()) throw core::Refused("review: nothing of it is told; record it anew");
    extras.captions = script.captions;
    extras.chapters = script.chapters;
    extras.length_s = script.length_s;
    const auto covers = follow_faces(plan, job, [&](double share) { job.progress(kFacesShare * share); });
    for (const auto& [clip, c] : covers) {
        if (c.trouble.isEmpty()) continue;
        out.trouble = c.trouble;
        out.help_clip = clip;
        out.help_at = c.help_at;
        return out;
    }
    Filming filming(plan, script, readers, covers, job);
    double share = kRoomForHead;
    for (int round = 0; round < kMostRounds; ++round) {
        if (wish.most_mb > 0) {
            const double all = wish.most_mb * kMb * 8 * share / script.length_s;
            extras.bits_per_s =
                static_cast<std::int64_t>(std::max(40e3, all - (extras.voice.empty() ? 0 : kVoiceBits)));
        }
        filming.write(file, size_for(facts, script.fps, extras.bits_per_s), extras);
        out.bytes = static_cast<double>(QFileInfo(file).size());
        if (wish.most_mb <= 0 || out.bytes <= wish.most_mb * kMb) break;
        share *= 0.97 * wish.most_mb * kMb / out.bytes;
    }
    if (wish.most_mb > 0 && out.bytes > wish.most_mb * kMb) {
        QFile::remove(file);
        throw core::Refused(
            QObject::tr("review: it does not fit into %1 MB; leave something out, or let it be larger")
                .arg(wish.most_mb)
                .toStdString());
    }
    write_text_tracks(file, script);
    out.sha256 = sum_of(file);
    out.length_s = script.length_s;
    return out;
}

void FilmWriter::cancel() {
    if (!busy()) return;
    job_->stop();
    emit finished(tr("Stopped; nothing was written."), false);
}

QString FilmWriter::start(const store::Spoken& spoken, const QString& file, const FilmWish& wish) {
    if (busy()) return tr("A review is being written; wait for it or stop it.");
    try {
        const auto asked = ask_to_leave(yard_, core::read_telling(spoken.timeline));
        if (!asked) return asked.error();
        const Permit permit = *asked;
        const Antechamber room(file);
        if (const QString line = room.trouble(); !line.isEmpty()) return line;
        job_ = yard_.jobs().run(
            JobLane::write, tr("Writing ") + QFileInfo(file).fileName(), this,
            [plan = film_plan(yard_, spoken, &permit), permit, wish, room](Job& job) {
                return write_film(plan, permit, wish, room.inside(), job);
            },
            [this, permit, room,
             about =
                 tr("the review of %1").arg(QString::fromStdString(spoken.made_at).left(10)).toStdString()](
                const Outcome<FilmMade>& made) {
                QString trouble = room.said(made.value ? made.value->trouble : made.trouble);
                if (trouble.isEmpty())
                    trouble =
                        leave(yard_, permit, {"review", about, room.file(), true, made.value->sha256}, room);
                if (!trouble.isEmpty()) {
                    if (made.value && made.value->help_at >= 0)
                        emit wants_face({made.value->help_clip}, made.value->help_at, trouble);
                    return emit finished(trouble, false);
                }
                emit finished(tr("Written: %1, %2 s, %3 MB. Look at it before it leaves.")
                                  .arg(QFileInfo(room.file()).fileName())
                                  .arg(made.value->length_s, 0, 'f', 0)
                                  .arg(made.value->bytes / kMb, 0, 'f', 1),
                              true);
            });
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
    return {};
}

}  // namespace aspen::app

#include "moc_film_writer.cpp"
