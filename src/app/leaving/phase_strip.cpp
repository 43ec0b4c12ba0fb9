#include "app/leaving/phase_strip.hpp"

#include "app/files/cache_folder.hpp"
#include "app/leaving/face_plan.hpp"
#include "app/leaving/film_plan.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "app/review/pictures.hpp"
#include "core/body/vocabulary.hpp"
#include "core/reading/refused.hpp"
#include "exchange/film_frame.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr int kStripHigh = 720;
constexpr std::size_t kMost = 8;

struct Phase {
    int frame = 0;
    QString words;
    MomentOnFilm drawn;
};

QImage strip(const std::vector<Phase>& phases, const std::vector<FaceToCover>& faces, const QString& clip,
             const std::string& hash, const Job& job) {
    media::ReaderOptions options;
    options.order_cache = {cache_folder().toStdString(), hash};
    media::VideoReader reader(clip.toStdString(), {&job.stopped(), {}}, options);
    std::vector<QImage> pictures;
    QStringList words;
    for (const Phase& p : phases) {
        const FaceCovers covers = faces_known_at(faces, p.frame);
        if (!covers.trouble.isEmpty()) throw core::Refused(covers.trouble.toStdString());
        exchange::FilmScene scene;
        scene.main = {to_image(reader.picture(p.frame)), covers.at(p.frame), p.drawn.figure,
                      p.drawn.annotated};
        pictures.push_back(exchange::compose(scene, scene.main.picture.size()));
        words << p.words;
    }
    return exchange::strip_of(pictures, words, kStripHigh);
}

}  // namespace

QString write_phases(Bench& bench, const QString& file, const std::function<void(const QString&)>& said) {
    const Review& review = bench.review();
    const PermitOrLine asked = ask_to_leave(bench.yard(), review.clip(), Use::clip);
    if (!asked) return asked.error();
    const Permit permit = *asked;
    std::vector<Phase> phases;
    const auto drawn = moments_on_film(bench.yard(), review.clip(), review.slot());
    for (const store::Moment& m : review.moments()) {
        const auto at = drawn.find(m.frame);
        if (m.slot != review.slot() || at == drawn.end() || phases.size() == kMost) continue;
        const QString phase = m.phase.empty()
                                  ? QObject::tr("frame %1").arg(m.frame)
                                  : QString::fromStdString(std::string(core::spoken_phase(m.phase)));
        phases.push_back({m.frame, phase, at->second});
    }
    if (phases.empty()) return QObject::tr("Mark the moments first that are to stand beside each other.");
    bench.yard().jobs().run(
        JobLane::write, QObject::tr("Saving the phases"), &bench,
        [phases, faces = faces_to_cover(bench.yard(), review.clip(), permit),
         clip = bench.yard().file_of(review.clip()),
         hash = review.clip().hash](Job& job) { return strip(phases, faces, clip, hash, job); },
        [&bench, permit, file, said, about = about_clip(bench)](const Outcome<QImage>& made) {
            if (!made.value) return said(made.trouble);
            const QString line = leave(bench.yard(), permit, {"picture", about, file},
                                       [&](const QString& to) { return write_picture(*made.value, to); });
            said(line.isEmpty() ? QObject::tr("Saved: %1").arg(file) : line);
        });
    return {};
}

}  // namespace aspen::app
