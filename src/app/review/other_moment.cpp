#include "app/review/other_moment.hpp"

#include <QLocale>
#include <algorithm>
#include <cmath>

#include "app/files/cache_folder.hpp"
#include "core/judging/ride.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

QString said(std::string_view w) { return QString::fromUtf8(w.data(), static_cast<qsizetype>(w.size())); }

QString words_of(const store::RiddenClip& ridden, const store::Moment& m, const core::Setting& s,
                 bool same_clip) {
    QStringList out;
    if (!same_clip) {
        const QDate day = QDate::fromString(QString::fromStdString(ridden.ride.day), Qt::ISODate);
        out << (day.isValid() ? QLocale().toString(day, QLocale::ShortFormat) : QObject::tr("no date"));
    }
    out << said(core::spoken(s.gait)) + " " + said(core::spoken(s.seat));
    if (!m.phase.empty()) out << said(core::spoken_phase(m.phase));
    out << QObject::tr("frame %1").arg(m.frame);
    return out.join(" · ");
}

}  // namespace

std::vector<OtherMoment> moments_to_compare(Bench& bench) {
    std::vector<OtherMoment> out;
    const Review& review = bench.review();
    if (!review.is_open()) return out;
    const core::Setting here = review.setting();
    store::YardStore& records = bench.yard().records();
    std::vector<store::RiddenClip> clips{{review.ride(), review.clip(), review.slot()}};
    if (review.rider()) {
        for (store::RiddenClip& r : records.ridden_by(review.rider())) {
            const bool same = r.clip.id == review.clip().id && r.slot == review.slot();
            if (!same && r.ride.day <= review.ride().day) clips.push_back(std::move(r));
        }
    }
    struct Ranked {
        int rank;
        OtherMoment other;
    };
    std::vector<Ranked> ranked;
    for (const store::RiddenClip& r : clips) {
        const bool same = r.clip.id == review.clip().id;
        const auto stretches = records.stretches(r.clip.id);
        const RiddenIn ridden(bench.yard().records(), bench.yard().knowledge(), r.ride);
        for (store::Moment& m : records.moments(r.clip.id)) {
            if (m.slot != r.slot || (same && m.frame == bench.deck().frame()) ||
                m.figure.marked() < core::kFewestJoints || m.figure.view != review.stretch().view)
                continue;
            const core::Setting s = ridden.setting(stretches, m);
            const int rank = (s.gait == here.gait ? 0 : 4) + (s.seat == here.seat ? 0 : 2) +
                             (s.phase == here.phase ? 0 : 1);
            const QString words = words_of(r, m, s, same);
            ranked.push_back({rank, {r.clip.id, std::move(m), words, s}});
        }
    }
    std::ranges::stable_sort(ranked, {}, &Ranked::rank);
    for (Ranked& r : ranked) out.push_back(std::move(r.other));
    return out;
}

std::vector<MeasureDifference> differences(Bench& bench, const OtherMoment& other) {
    std::vector<MeasureDifference> out;
    const core::Knowledge& known = bench.yard().knowledge();
    const auto there = core::judge(other.moment.figure, other.setting, known.body, known.schools);
    for (const core::Judged& here : bench.marking().judged()) {
        const core::Judged* t = core::find(there, here.info().id);
        if (!t || !here.measured.value || !t->measured.value) continue;
        MeasureDifference d{&here.info(), here, *t};
        d.by = *here.measured.value - *t->measured.value;
        if (here.info().unit == "deg") d.by = std::remainder(d.by, 360.0);
        d.sd = std::hypot(here.measured.sd, t->measured.sd);
        d.changed = std::abs(d.by) > 1.96 * d.sd;
        out.push_back(std::move(d));
    }
    return out;
}

void OtherPicture::load(const OtherMoment& other) {
    const auto clip = yard_.records().clip(other.clip);
    if (!clip) return;
    if (loading_) loading_->stop();
    const QString file = yard_.file_of(*clip);
    const media::OrderCache cache{cache_folder().toStdString(), clip->hash};
    loading_ = yard_.jobs().run_quietly(
        JobLane::look, tr("The other picture"), this,
        [file, cache, frame = other.moment.frame, field = other.moment.field](Job& job) {
            media::ReaderOptions options;
            options.order_cache = cache;
            media::VideoReader reader(file.toStdString(), {&job.stopped(), {}}, options);
            const media::Picture p =
                reader.picture(frame, 0, 0, field == 1 ? media::Field::second : media::Field::first);
            return QImage(p.bgra.data(), p.width, p.height, p.width * 4, QImage::Format_RGB32).copy();
        },
        [this](const Outcome<QImage>& read) {
            if (read.value)
                emit loaded(*read.value);
            else
                emit failed(read.trouble);
        });
}

}  // namespace aspen::app
