#include "app/leaving/focus_frame.hpp"

#include "app/files/cache_folder.hpp"
#include "app/review/annotated.hpp"
#include "app/review/pictures.hpp"
#include "app/rides/ridden_in.hpp"
#include "core/judging/target.hpp"
#include "core/ride/ride.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr int kRides = 10;
constexpr double kOut = 10;

/// How much a moment shows the fault: its severity there, a little for any joints at all.
double worth(const std::vector<core::Judged>& judged, const core::Fault& fault) {
    const core::Judged* j = core::find(judged, core::leading_measure(fault));
    double out = 0.001 * static_cast<double>(judged.size());
    if (j && j->measured.value && j->verdict == core::Verdict::outside)
        out += kOut + j->severity;
    else if (j && j->measured.value)
        out += 1;
    return out;
}

}  // namespace

std::optional<FocusFrame> focus_frame(Yard& yard, store::RiderId rider, store::HorseId horse,
                                      const core::Fault& fault) {
    std::optional<FocusFrame> newest;  // where none shows it any more
    const store::YardStore& records = yard.records();
    int looked = 0;
    for (const store::Ride& ride : records.rides.rides_of(rider)) {
        if (horse && ride.horse != horse) continue;
        if (++looked > kRides) break;
        const RiddenIn here(yard.records(), yard.knowledge(), ride);
        std::optional<FocusFrame> best;
        double most = 0;
        for (const store::Clip& clip : records.rides.clips_of(ride.id)) {
            const core::Stretches stretches = records.rides.stretches(clip.id);
            const auto places = records.rides.places(clip.id);
            for (const store::Moment& m : records.reviews.moments(clip.id)) {
                const bool ours = std::ranges::any_of(
                    places, [&](const store::Slot& s) { return s.slot == m.slot && s.ride == ride.id; });
                if (!ours || m.figure.marked() == 0) continue;
                const core::RideMoment moment = here.moment(stretches, m);
                const auto judged = core::judge_moment(moment, yard.knowledge());
                if (const double w = worth(judged, fault); !best || w > most) {
                    most = w;
                    best = FocusFrame{clip, m.frame, moment.figure, {}};
                    best->annotated =
                        annotated(yard.knowledge().faults, moment.figure, moment.setting, judged, {&fault});
                }
            }
        }
        if (best && most >= kOut) return best;
        if (best && !newest) newest = best;
    }
    return newest;
}

void FocusPicture::show(const std::optional<FocusFrame>& frame) {
    const bool same = frame && frame_ && frame->clip.id == frame_->clip.id && frame->frame == frame_->frame;
    frame_ = frame;
    if (same) return emit changed();
    if (job_) job_->stop();
    picture_ = {};
    emit changed();
    if (!frame_) return;
    job_ = yard_.jobs().run_quietly(
        JobLane::look, tr("Reading the picture"), this,
        [file = yard_.file_of(frame_->clip), n = frame_->frame,
         cache = media::OrderCache{cache_folder().toStdString(), frame_->clip.hash}](Job& job) {
            media::ReaderOptions options;
            options.order_cache = cache;
            media::VideoReader reader(file.toStdString(), {&job.stopped(), {}}, options);
            return to_image(reader.picture(n));
        },
        [this](const Outcome<QImage>& read) {
            if (read.value) picture_ = *read.value;
            emit changed();
        });
}

}  // namespace aspen::app

#include "moc_focus_frame.cpp"
