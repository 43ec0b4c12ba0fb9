#include "app/leaving/frames_out.hpp"

#include <QFileInfo>
#include <algorithm>
#include <cmath>

#include "app/files/whole_file.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "app/review/annotated.hpp"
#include "app/review/pictures.hpp"
#include "core/measures/measures.hpp"
#include "core/reading/refused.hpp"
#include "exchange/film_frame.hpp"
#include "media/reading/video_reader.hpp"
#include "media/writing/video_writer.hpp"

namespace aspen::app {
namespace {

constexpr int kStretchCrf = 16;  // close to what the eye can tell from the original
constexpr double kFollowShare = 0.5;

/// A film's part with what is drawn on it.
struct Part {
    std::filesystem::path clip, file;
    int from = 0, to = 0;
    double fps = 30, slow = 1;
    std::vector<FaceToCover> faces;
    std::vector<std::optional<core::Figure>> figures;  ///< of the frames from..to, where they are drawn
    std::optional<exchange::CurveUnder> curve;
};

QImage part_picture(const Part& part, media::VideoReader& reader, const FaceCovers& covers, int frame) {
    const auto i = static_cast<std::size_t>(frame - part.from);
    exchange::FilmScene scene;
    scene.main.picture = to_image(reader.picture(frame));
    scene.main.covers = covers.at(frame);
    if (i < part.figures.size()) scene.main.figure = part.figures[i];
    QImage out = exchange::compose(scene, scene.main.picture.size());
    if (part.curve) exchange::draw_curve(out, *part.curve, i);
    return out;
}

CoveredFilm write_part(const Part& part, const Permit&, app::Job& job,
                       const std::function<void(double)>& each) {
    media::VideoReader reader(part.clip, {&job.stopped(), {}});
    const FaceCovers covers = follow_faces(
        reader, part.faces, part.from, part.to, [&](double share) { each(share * kFollowShare); },
        &job.stopped());
    if (!covers.trouble.isEmpty()) return {covers.trouble, covers.help_at};
    const double before = part.faces.empty() ? 0 : kFollowShare;
    media::WriterOptions o;
    o.width = (reader.facts().width + 1) / 2 * 2;
    o.height = (reader.facts().height + 1) / 2 * 2;
    o.fps = part.fps / part.slow;
    o.quality_crf = kStretchCrf;
    media::VideoWriter writer(part.file, o);
    const double start = reader.facts().pts_s[static_cast<std::size_t>(part.from)];
    for (int n = part.from; n <= part.to; ++n) {
        if (job.stopped()) throw media::ReadCancelled{};
        QImage picture = part_picture(part, reader, covers, n);
        if (picture.width() != o.width || picture.height() != o.height)
            picture = picture.copy(0, 0, o.width, o.height);
        writer.add(picture.constBits(), static_cast<int>(picture.bytesPerLine()),
                   (reader.facts().pts_s[static_cast<std::size_t>(n)] - start) * part.slow);
        each(before + (1 - before) * (n - part.from + 1) / (part.to - part.from + 1));
    }
    writer.finish();
    return {{}, -1, sum_of(QString::fromStdString(part.file.string()))};
}

/// The measure's values as the joints were followed, by frame.
exchange::CurveUnder curve_of(Bench& bench, const std::string& measure,
                              const std::vector<std::optional<core::Figure>>& figures, int from) {
    exchange::CurveUnder out;
    const core::MeasureInfo* info = core::find_measure(measure);
    if (!info) throw core::Refused("curve: \"" + measure + "\" is no measure");
    out.name = QString::fromUtf8(info->spoken.data(), static_cast<qsizetype>(info->spoken.size()));
    out.says = [&known = bench.yard().knowledge(), info, to = bench.state().to_whom()](double value) {
        return QString::fromStdString(known.measure_words.amounts().of(*info, value, known.body, to));
    };
    for (std::size_t i = 0; i < figures.size(); ++i) {
        double value = NAN;
        if (figures[i]) {
            const auto setting = bench.review().setting_of(from + static_cast<int>(i), "");
            const auto judged = core::judge(*figures[i], setting, bench.yard().knowledge().body,
                                            bench.yard().knowledge().schools);
            const core::Judged* j = core::find(judged, measure);
            if (j && j->measured.value) value = *j->measured.value;
            if (j && j->band && !out.lo && !out.hi) {
                out.lo = j->band->lo;
                out.hi = j->band->hi;
            }
        }
        out.values.push_back(value);
    }
    return out;
}

}  // namespace

FrameOut frame_out(Bench& bench, bool with_figure) {
    const Review& review = bench.review();
    ClipDeck& deck = bench.deck();
    if (!review.is_open() || !deck.picture_is_full())
        return {{}, QObject::tr("The picture is still coming; try again in a moment.")};
    const PermitOrLine asked = ask_to_leave(bench.yard(), review.clip(), Use::clip);
    if (!asked) return {{}, asked.error()};
    const Permit& permit = *asked;
    const FaceCovers covers =
        faces_known_at(faces_to_cover(bench.yard(), review.clip(), permit), deck.frame());
    if (!covers.trouble.isEmpty()) return {{}, covers.trouble, true};
    exchange::FilmPicture out{deck.picture().copy(), covers.at(deck.frame()), std::nullopt, {}};
    if (review.moment() && with_figure) {
        out.figure = bench.marking().figure();
        out.annotated = annotated_here(bench);
    }
    return {exchange::compose({std::move(out), std::nullopt, {}, {}, {}}, deck.picture().size()),
            {},
            false,
            permit};
}

CoveredFilm write_covered(const std::filesystem::path& clip, const std::filesystem::path& file,
                          const std::vector<FaceToCover>& faces, const Permit& permit, Job& job,
                          const std::function<void(double)>& each) {
    const media::ClipFacts facts = media::VideoReader(clip, {&job.stopped(), {}}).facts();
    Part part{clip, file, 0, facts.frames - 1, facts.average_fps, 1, faces, {}, std::nullopt};
    return write_part(part, permit, job, each);
}

StretchWriter::StretchWriter(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {}

void StretchWriter::cancel() {
    if (!busy()) return;
    job_->stop();
    emit finished(tr("Stopped; nothing was written."));
}

/// Frame by frame what is marked, else what was followed to there.
static std::vector<std::optional<core::Figure>> figures_between(const Review& review,
                                                                const StrideWork* strides, int from, int to) {
    std::vector<std::optional<core::Figure>> out;
    for (int n = from; n <= to; ++n) {
        const store::Moment* m = review.moment_at(n);
        out.push_back(m         ? std::optional(review.figure_of(m))
                      : strides ? strides->followed_at(n)
                                : std::nullopt);
    }
    return out;
}

QString StretchWriter::start(int from, int to, const QString& file, const StretchLook& look,
                             const StrideWork* strides) {
    const Review& review = bench_.review();
    ClipDeck& deck = bench_.deck();
    if (busy()) return tr("A stretch is being written; wait for it or cancel it.");
    if (!review.is_open() || !deck.ready() || from < 0 || to >= deck.facts().frames || from >= to)
        return tr("Mark a stretch first: [loop_from] at its first frame, [loop_to] at its last.");
    const PermitOrLine asked = ask_to_leave(bench_.yard(), review.clip(), Use::clip);
    if (!asked) return asked.error();
    const Permit permit = *asked;
    const Antechamber room(file);
    if (const QString line = room.trouble(); !line.isEmpty()) return line;
    Part part{bench_.yard().file_of(review.clip()).toStdString(),
              room.inside().toStdString(),
              from,
              to,
              deck.facts().average_fps,
              look.slow,
              faces_to_cover(bench_.yard(), review.clip(), permit),
              {},
              std::nullopt};
    if (look.figure || !look.curve.empty()) part.figures = figures_between(review, strides, from, to);
    if (std::ranges::none_of(part.figures, [](const auto& f) { return f.has_value(); }) &&
        (look.figure || !look.curve.empty()))
        return tr("The joints of this stretch were not followed yet; [strides] follows them.");
    if (!look.curve.empty()) part.curve = curve_of(bench_, look.curve, part.figures, from);
    if (!look.figure) part.figures.clear();
    const QFileInfo info(room.inside());
    const QString marks = info.path() + "/" + info.completeBaseName() + ".marks.json";
    const bool as_it_was = look.slow == 1 && !look.figure && look.curve.empty();
    const bool has_marks = as_it_was && std::ranges::any_of(review.moments(), [&](const store::Moment& m) {
                               return m.frame >= from && m.frame <= to;
                           });
    const QByteArray marks_text =
        has_marks ? marks_json(bench_, permit, MarksPart{from, to, info.fileName()}) : QByteArray();
    const QString told =
        (has_marks ? tr("Saved with its marks: ") : tr("Saved: ")) + file +
        (part.faces.empty() ? QString() : tr(" · faces are covered; look at it before it leaves"));
    job_ = bench_.yard().jobs().run(
        JobLane::write, tr("Saving ") + info.fileName(), this,
        [part, permit, marks, marks_text](app::Job& job) {
            CoveredFilm out = write_part(part, permit, job, [&](double share) { job.progress(share); });
            if (out.trouble.isEmpty() && !marks_text.isEmpty()) out.trouble = write_whole(marks, marks_text);
            return out;
        },
        [this, told, permit, room,
         about = about_clip(bench_, from, to)](const Outcome<CoveredFilm>& written) {
            QString trouble = room.said(written.value ? written.value->trouble : written.trouble);
            if (trouble.isEmpty())
                trouble = leave(bench_.yard(), permit,
                                {"stretch", about, room.file(), true, written.value->sha256}, room);
            if (written.value && written.value->help_at >= 0)
                emit wants_face(written.value->help_at, trouble);
            emit finished(trouble.isEmpty() ? told : trouble);
        });
    return {};
}

}  // namespace aspen::app

#include "moc_frames_out.cpp"
