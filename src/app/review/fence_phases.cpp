#include "app/review/fence_phases.hpp"

#include <algorithm>
#include <cmath>

#include "app/files/cache_folder.hpp"
#include "app/review/real_time.hpp"
#include "app/yard/changes.hpp"
#include "core/motion/motion_words.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

constexpr double kApproachS = 0.45, kDepartureS = 0.45;  // before and after: about the canter's last hoof
constexpr int kHigh = 240;                               // pixels, twice what the panel shows
constexpr double kWideTrunks = 6.0, kHighTrunks = 5.4;   // horse and rider and the ground they fly over

struct Jump {
    double take_off_s, landing_s;  ///< the stream's own
    QString logged;
};

std::vector<Jump> logged_jumps(const Review& review) {
    std::vector<store::Event> events;
    for (const store::Event& e : review.events()) {
        if (e.slot == review.slot()) events.push_back(e);
    }
    std::ranges::stable_sort(events, {}, &store::Event::time_s);
    std::vector<Jump> out;
    const store::Event* off = nullptr;
    for (const store::Event& e : events) {
        if (e.event == "take_off") off = &e;
        if (e.event != "landing" || !off) continue;
        QStringList words;
        for (const store::Event* of : std::initializer_list<const store::Event*>{off, &e}) {
            for (const char* key : {"seat", "drift", "leg"}) {
                const std::string value = core::detail_of(of->detail, key);
                if (!value.empty()) words << QObject::tr("%1 %2").arg(key, QString::fromStdString(value));
            }
        }
        out.push_back({off->time_s, e.time_s, words.join(", ")});
        off = nullptr;
    }
    return out;
}

std::vector<Jump> seen_jumps(const BenchState& bench, const StrideWork& strides) {
    std::vector<Jump> out;
    const core::MotionReport* r = strides.report();
    if (!r) return out;
    const core::CaptureMap real = bench.deck().capture_map();
    for (const core::FlightSeen& f : r->flights)
        out.push_back({real.stream_s(f.take_off_s), real.stream_s(f.landing_s), {}});
    return out;
}

/// What the strides say of the fence whose take-off lies at this real time.
QString said_of(const StrideWork& strides, const core::SpokenAmounts& amounts, double take_off_real_s) {
    const core::MotionReport* r = strides.report();
    if (!r) return {};
    for (const core::FenceSeen& f : r->fences) {
        if (std::abs(f.take_off_s - take_off_real_s) > 0.05) continue;
        const QString words = QString::fromStdString(core::said_of(f, amounts));
        return words;
    }
    return {};
}

}  // namespace

std::vector<FencePhases> fences_here(const BenchState& bench, const StrideWork& strides) {
    std::vector<FencePhases> out;
    if (!bench.is_open() || !bench.deck().ready()) return out;
    const auto& pts = bench.deck().facts().pts_s;
    auto jumps = logged_jumps(bench.review());
    const bool proposed = jumps.empty();
    if (proposed) jumps = seen_jumps(bench, strides);
    const core::CaptureMap real = bench.deck().capture_map();
    for (const Jump& j : jumps) {
        const double top = (j.take_off_s + j.landing_s) / 2;
        FencePhases f;
        f.proposed = proposed;
        for (const auto& [words, t] : {std::pair{QObject::tr("approach"), j.take_off_s - kApproachS},
                                       {QObject::tr("take-off"), j.take_off_s},
                                       {QObject::tr("top"), top},
                                       {QObject::tr("landing"), j.landing_s},
                                       {QObject::tr("departure"), j.landing_s + kDepartureS}})
            f.phases.push_back({words, nearest_frame(pts, t)});
        f.said = said_of(strides, bench.amounts(), real.real_s(j.take_off_s));
        if (f.said.isEmpty()) f.said = j.logged;
        out.push_back(std::move(f));
    }
    return out;
}

bool log_proposed_fences(Bench& bench, const StrideWork& strides) {
    if (!bench.is_open() || !logged_jumps(bench.review()).empty()) return false;
    const auto jumps = seen_jumps(bench, strides);
    if (jumps.empty()) return false;
    Yard& yard = bench.yard();
    yard.step(QObject::tr("Log the fences that were seen"), [&] {
        for (const Jump& j : jumps) {
            store::Event e;
            e.ride = bench.review().ride().id;
            e.clip = bench.review().clip().id;
            e.slot = bench.review().slot();
            for (const auto& [event, at] : {std::pair{"take_off", j.take_off_s}, {"landing", j.landing_s}}) {
                e.event = event;
                e.time_s = at;
                add_event(yard, e, QObject::tr("Log the fences that were seen"));
            }
        }
    });
    return true;
}

FencePictures::FencePictures(Bench& bench, const StrideWork& strides, QObject* parent)
    : QObject(parent), bench_(bench), strides_(strides) {
    connect(&bench_, &Bench::closing, this, [this] {
        if (job_) job_->stop();
        ready_.clear();
    });
}
FencePictures::~FencePictures() {
    if (job_) job_->stop();
}

QImage FencePictures::of(int frame) const {
    const auto at = ready_.find(frame);
    return at == ready_.end() ? QImage() : at->second;
}

QRectF FencePictures::around(int frame) const {
    const auto figure = strides_.followed_at(frame);
    const auto seen = [&](L l) { return figure && (*figure)[l].visibility == core::Visibility::seen; };
    const double trunk = bench_.review().moments().empty()
                             ? 0
                             : core::marked_trunk_px(bench_.review().moments().front().figure);
    if (!seen(L::hip) || !(trunk > 8)) return {};
    const core::Point hip = (*figure)[L::hip].at;
    const double wide = kWideTrunks * trunk, high = kHighTrunks * trunk;
    return {hip.x - wide / 2, hip.y - 0.38 * high, wide, high};
}

void FencePictures::want(const std::vector<int>& frames) {
    std::vector<std::pair<int, QRectF>> missing;
    for (const int n : frames) {
        if (!ready_.contains(n)) missing.emplace_back(n, around(n));
    }
    if (missing.empty() || (job_ && !job_->ended())) return;
    const QString file = bench_.deck().file();
    job_ = bench_.yard().jobs().run_quietly(
        JobLane::look, tr("Pictures of the fence"), this,
        [file, missing,
         cache = media::OrderCache{cache_folder().toStdString(), bench_.review().clip().hash}](Job& job) {
            media::ReaderOptions options;
            options.order_cache = cache;
            media::VideoReader reader(file.toStdString(), {&job.stopped(), {}}, options);
            std::map<int, QImage> out;
            for (const auto& [n, part] : missing) {
                if (job.stopped()) throw media::ReadCancelled{};
                const media::Picture p = reader.picture(n);
                QImage image = QImage(p.bgra.data(), p.width, p.height, p.width * 4, QImage::Format_RGB32);
                const QRect cut = part.isEmpty() ? image.rect() : part.toRect().intersected(image.rect());
                out[n] = image.copy(cut).scaledToHeight(kHigh, Qt::SmoothTransformation);
            }
            return out;
        },
        [this, frames](const Outcome<std::map<int, QImage>>& read) {
            job_.reset();
            if (read.value) ready_.insert(read.value->begin(), read.value->end());
            emit changed();
        });
}

}  // namespace aspen::app

#include "moc_fence_phases.cpp"
