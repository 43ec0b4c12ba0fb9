#include "app/frames_out.hpp"

#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <map>

#include "app/gate.hpp"
#include "app/marks_exchange.hpp"
#include "app/pictures.hpp"
#include "core/face.hpp"
#include "core/refused.hpp"
#include "exchange/report.hpp"
#include "media/video_reader.hpp"
#include "media/video_writer.hpp"

namespace aspen::app {
namespace {

constexpr double kRoomBetweenMoments =
    1.7;                         // a head moves between two marked moments: cover more than at one
constexpr int kStretchCrf = 16;  // close to what the eye can tell from the original

bool covers_faces(const Bench& bench) {
    return bench.yard().records().setting("cover_faces", "yes") == "yes";
}

std::optional<QString> may_not_leave(const Bench& bench) {
    return refuses_to_leave(bench.yard(), bench.clip());
}

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

struct Job {
    std::filesystem::path clip, file;
    int from = 0, to = 0;
    double fps = 30;
    std::map<int, std::vector<FaceAt>> faces;  ///< by rider
};

void write_stretch(const Job& job, const std::atomic<bool>& cancel,
                   const std::function<void(double)>& progress) {
    media::VideoReader reader(job.clip, {&cancel, {}});
    media::WriterOptions o;
    o.width = (reader.facts().width + 1) / 2 * 2;
    o.height = (reader.facts().height + 1) / 2 * 2;
    o.fps = job.fps;
    o.quality_crf = kStretchCrf;
    media::VideoWriter writer(job.file, o);
    const double start = reader.facts().pts_s[static_cast<std::size_t>(job.from)];
    for (int n = job.from; n <= job.to; ++n) {
        if (cancel) throw media::ReadCancelled{};
        QImage picture = to_image(reader.picture(n));
        if (picture.width() != o.width || picture.height() != o.height)
            picture = picture.copy(0, 0, o.width, o.height);
        for (const auto& [slot, marked] : job.faces) {
            if (const auto face = face_between(marked, n)) exchange::cover(picture, *face);
        }
        writer.add(picture.constBits(), static_cast<int>(picture.bytesPerLine()),
                   reader.facts().pts_s[static_cast<std::size_t>(n)] - start);
        progress(static_cast<double>(n - job.from + 1) / (job.to - job.from + 1));
    }
    writer.finish();
}

}  // namespace

FrameOut frame_out(const Bench& bench, bool with_figure) {
    if (!bench.is_open() || !bench.picture_is_full())
        return {{}, "The picture is still coming; try again in a moment."};
    if (const auto refusal = may_not_leave(bench)) return {{}, *refusal};
    const store::Moment* moment = bench.moment();
    const core::Figure figure = moment ? bench.figure() : core::Figure{};
    QImage picture = bench.picture().copy();
    for (const store::Moment& m : bench.moments()) {  // the others in it, whose figures are not drawn
        if (m.frame != bench.frame() || m.slot == bench.slot() || !covers_faces(bench)) continue;
        if (const auto face = core::face_ellipse(m.figure)) exchange::cover(picture, *face);
    }
    if (!moment) return {picture, {}};
    if (with_figure) return {exchange::picture_with_figure(picture, figure, covers_faces(bench)), {}};
    if (const auto face = covers_faces(bench) ? core::face_ellipse(figure) : std::nullopt)
        exchange::cover(picture, *face);
    return {picture, {}};
}

StretchWriter::StretchWriter(Bench& bench, QObject* parent) : QObject(parent), bench_(bench) {}

StretchWriter::~StretchWriter() {
    cancel_ = true;
    if (thread_.joinable()) thread_.join();
}

QString StretchWriter::start(int from, int to, const QString& file) {
    if (busy_) return "A stretch is being written; wait for it or cancel it.";
    if (!bench_.ready() || from < 0 || to >= bench_.facts().frames || from >= to)
        return "Mark a stretch first: [ at its first frame, ] at its last.";
    if (const auto refusal = may_not_leave(bench_)) return *refusal;
    Job job{bench_.yard().file_of(bench_.clip()).toStdString(),
            file.toStdString(),
            from,
            to,
            bench_.facts().average_fps,
            {}};
    if (covers_faces(bench_)) {
        for (const store::Moment& m : bench_.moments()) {
            if (const auto face = core::face_ellipse(m.figure)) job.faces[m.slot].push_back({m.frame, *face});
        }
    }
    const QFileInfo info(file);
    const QString marks = info.path() + "/" + info.completeBaseName() + ".marks.json";
    const bool has_marks = std::ranges::any_of(
        bench_.moments(), [&](const store::Moment& m) { return m.frame >= from && m.frame <= to; });
    const QString marks_trouble =
        has_marks ? export_marks(bench_, marks, MarksPart{from, to, info.fileName()}) : QString();
    if (!marks_trouble.isEmpty()) return marks_trouble;
    const QString told =
        (has_marks ? "Saved with its marks: " : "Saved: ") + file +
        (!covers_faces(bench_) ? QString()
         : job.faces.empty()
             ? QString(" · no face could be covered, none is marked")
             : QString(" · the face is covered between marked moments; look at it before it leaves"));
    if (thread_.joinable()) thread_.join();
    cancel_ = false;
    busy_ = true;
    thread_ = std::thread([this, job, told, marks, has_marks] {
        QString line = told;
        try {
            write_stretch(job, cancel_, [this, last = 0.0](double share) mutable {
                if (share - last < 0.02) return;
                last = share;
                QMetaObject::invokeMethod(this, [this, share] { emit progress(share); });
            });
        } catch (const media::ReadCancelled&) {
            line = "Stopped; nothing was written.";
        } catch (const std::exception& e) {
            line = QString::fromUtf8(e.what());
        }
        if (line != told && has_marks) QFile::remove(marks);
        QMetaObject::invokeMethod(this, [this, line] {
            busy_ = false;
            emit finished(line);
        });
    });
    return {};
}

}  // namespace aspen::app
