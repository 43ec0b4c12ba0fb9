#include "app/leaving/frames_out.hpp"

#include "app/review/annotated.hpp"

#include <QFileInfo>
#include <algorithm>
#include <map>

#include "app/leaving/marks_exchange.hpp"
#include "app/models/pictures.hpp"
#include "core/body/face.hpp"
#include "core/reading/refused.hpp"
#include "exchange/report.hpp"
#include "media/reading/video_reader.hpp"
#include "media/writing/video_writer.hpp"

namespace aspen::app {
namespace {

constexpr double kRoomBetweenMoments =
    1.7;                         // a head moves between two marked moments: cover more than at one
constexpr int kStretchCrf = 16;  // close to what the eye can tell from the original

struct FaceAt {
    int frame;
    core::Ellipse face;
};

/// Where the face is at a frame, between the marked moments on the straight line; nothing where none is
/// marked.
std::optional<core::Ellipse> face_between(const std::vector<FaceAt>& marked, int frame) {
    if (marked.empty()) return std::nullopt;
    const auto after = std::ranges::lower_bound(marked, frame, {}, &FaceAt::frame);
    const FaceAt& b = after == marked.end() ? marked.back() : *after;
    const FaceAt& a = after == marked.begin() ? marked.front() : *std::prev(after);
    core::Ellipse out = b.face;
    if (a.frame < b.frame) {
        const double share = std::clamp(static_cast<double>(frame - a.frame) / (b.frame - a.frame), 0.0, 1.0);
        out.centre = {a.face.centre.x + share * (b.face.centre.x - a.face.centre.x),
                      a.face.centre.y + share * (b.face.centre.y - a.face.centre.y)};
    }
    out.long_half = std::max(a.face.long_half, b.face.long_half) * kRoomBetweenMoments;
    out.short_half = out.long_half;
    return out;
}

/// A film's part with what covers the faces in it.
struct Part {
    std::filesystem::path clip, file;
    int from = 0, to = 0;
    double fps = 30;
    std::map<int, std::vector<FaceAt>> faces;  ///< by slot
    std::optional<core::Ellipse> drawn;
};

void write_part(const Part& part, const Permit&, app::Job& job) {
    media::VideoReader reader(part.clip, {&job.stopped(), {}});
    media::WriterOptions o;
    o.width = (reader.facts().width + 1) / 2 * 2;
    o.height = (reader.facts().height + 1) / 2 * 2;
    o.fps = part.fps;
    o.quality_crf = kStretchCrf;
    media::VideoWriter writer(part.file, o);
    const double start = reader.facts().pts_s[static_cast<std::size_t>(part.from)];
    for (int n = part.from; n <= part.to; ++n) {
        if (job.stopped()) throw media::ReadCancelled{};
        QImage picture = to_image(reader.picture(n));
        if (picture.width() != o.width || picture.height() != o.height)
            picture = picture.copy(0, 0, o.width, o.height);
        for (const auto& [slot, marked] : part.faces) {
            if (const auto face = face_between(marked, n)) exchange::cover(picture, *face);
        }
        if (part.drawn) exchange::cover(picture, *part.drawn);
        writer.add(picture.constBits(), static_cast<int>(picture.bytesPerLine()),
                   reader.facts().pts_s[static_cast<std::size_t>(n)] - start);
        job.progress(static_cast<double>(n - part.from + 1) / (part.to - part.from + 1));
    }
    writer.finish();
}

const char* const kMinorBare = QT_TRANSLATE_NOOP(
    "QObject", "A minor's face is not marked here, so nothing leaves; mark ear, eye or chin in it first.");

}  // namespace

FrameOut frame_out(Bench& bench, bool with_figure, const Cover& cover) {
    const Review& review = bench.review();
    ClipDeck& deck = bench.deck();
    if (!review.is_open() || !deck.picture_is_full())
        return {{}, QObject::tr("The picture is still coming; try again in a moment.")};
    const PermitOrLine asked = ask_to_leave(bench.yard(), review.clip());
    if (const QString* refusal = std::get_if<QString>(&asked)) return {{}, *refusal};
    const Permit& permit = std::get<Permit>(asked);
    QImage picture = deck.picture().copy();
    if (permit.covers_faces()) {
        for (const store::Slot& s : review.places()) {
            const auto m = std::ranges::find_if(review.moments(), [&](const store::Moment& one) {
                return one.slot == s.slot && one.frame == deck.frame();
            });
            const auto face = m == review.moments().end() ? std::nullopt : core::face_ellipse(m->figure);
            if (face)
                exchange::cover(picture, *face);
            else if (permit.minor())
                return {{}, QObject::tr(kMinorBare)};
            else if (!cover.drawn)
                return {{},
                        QObject::tr(
                            "No joint marks the face here: mark ear, eye or chin, or draw a cover over it."),
                        true};
        }
        if (cover.drawn) exchange::cover(picture, *cover.drawn);
    }
    if (!review.moment() || !with_figure) return {picture, {}};
    return {exchange::picture_with_figure(picture, bench.marking().figure(), permit.covers_faces(),
                                          annotated_here(bench)),
            {}};
}

StretchWriter::StretchWriter(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {}

void StretchWriter::cancel() {
    if (!busy()) return;
    job_->stop();
    emit finished(tr("Stopped; nothing was written."));
}

QString StretchWriter::start(int from, int to, const QString& file, const Cover& cover) {
    wants_cover_ = false;
    const Review& review = bench_.review();
    ClipDeck& deck = bench_.deck();
    if (busy()) return tr("A stretch is being written; wait for it or cancel it.");
    if (!review.is_open() || !deck.ready() || from < 0 || to >= deck.facts().frames || from >= to)
        return tr("Mark a stretch first: [loop_from] at its first frame, [loop_to] at its last.");
    const PermitOrLine asked = ask_to_leave(bench_.yard(), review.clip());
    if (const QString* refusal = std::get_if<QString>(&asked)) return *refusal;
    const Permit permit = std::get<Permit>(asked);
    Part part{bench_.yard().file_of(review.clip()).toStdString(),
              file.toStdString(),
              from,
              to,
              deck.facts().average_fps,
              {},
              {}};
    if (permit.covers_faces()) {
        bool all_marked = true;
        for (const store::Slot& s : review.places()) {
            for (const store::Moment& m : review.moments()) {
                const auto face = m.slot == s.slot ? core::face_ellipse(m.figure) : std::nullopt;
                if (face) part.faces[s.slot].push_back({m.frame, *face});
            }
            all_marked = all_marked && part.faces.contains(s.slot);
        }
        if (!all_marked && permit.minor()) return QObject::tr(kMinorBare);
        if (!all_marked && (!cover.drawn || !cover.holds_throughout)) {
            wants_cover_ = true;
            return tr(
                "No joint marks the face: draw a cover, and say that it holds the head in every frame of "
                "the stretch.");
        }
        if (!all_marked) part.drawn = cover.drawn;
    }
    const QFileInfo info(file);
    const QString marks = info.path() + "/" + info.completeBaseName() + ".marks.json";
    const bool has_marks = std::ranges::any_of(
        review.moments(), [&](const store::Moment& m) { return m.frame >= from && m.frame <= to; });
    const QByteArray marks_text =
        has_marks ? marks_json(bench_, permit, MarksPart{from, to, info.fileName()}) : QByteArray();
    const QString told =
        (has_marks ? tr("Saved with its marks: ") : tr("Saved: ")) + file +
        (!permit.covers_faces() ? QString()
         : part.drawn           ? tr(" · the face is under the cover you drew; look at it before it leaves")
                      : tr(" · the face is covered between marked moments; look at it before it leaves"));
    job_ = bench_.yard().jobs().run(
        JobLane::write, tr("Saving ") + info.fileName(), this,
        [part, permit, marks, marks_text](app::Job& job) {
            write_part(part, permit, job);
            return marks_text.isEmpty() ? QString() : write_whole(marks, marks_text);
        },
        [this, told](const Outcome<QString>& written) {
            const QString trouble = written.value ? *written.value : written.trouble;
            emit finished(trouble.isEmpty() ? told : trouble);
        });
    return {};
}

}  // namespace aspen::app
