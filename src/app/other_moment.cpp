#include "app/other_moment.hpp"

#include <QCoreApplication>
#include <QLocale>
#include <QPointer>
#include <QThreadPool>
#include <algorithm>
#include <cmath>

#include "app/cache_folder.hpp"
#include "app/review_setting.hpp"
#include "media/video_reader.hpp"

namespace aspen::app {
namespace {

QString said(std::string_view w) { return QString::fromUtf8(w.data(), static_cast<qsizetype>(w.size())); }

QString words_of(const store::Clip& clip, const store::Moment& m, const core::Setting& s, bool same_clip) {
    QStringList out;
    if (!same_clip) {
        const QDate day = QDate::fromString(QString::fromStdString(clip.filmed_on), Qt::ISODate);
        out << (day.isValid() ? QLocale(QLocale::English).toString(day, "d MMM yyyy")
                              : QStringLiteral("no date"));
    }
    out << said(core::spoken(s.gait)) + " " + said(core::spoken(s.seat));
    if (!m.phase.empty()) out << said(core::spoken_phase(m.phase));
    out << QString("frame %1").arg(m.frame);
    return out.join(" · ");
}

}  // namespace

std::vector<OtherMoment> moments_to_compare(Bench& bench) {
    std::vector<OtherMoment> out;
    if (!bench.is_open()) return out;
    const core::Setting here = bench.setting();
    store::YardStore& records = bench.yard().records();
    std::vector<store::Clip> clips{bench.clip()};
    if (bench.rider()) {
        auto earlier = records.clips_of(bench.rider());
        std::ranges::reverse(earlier);
        for (store::Clip& c : earlier) {
            if (c.id != bench.clip().id && c.filmed_on <= bench.clip().filmed_on)
                clips.push_back(std::move(c));
        }
    }
    struct Ranked {
        int rank;
        OtherMoment other;
    };
    std::vector<Ranked> ranked;
    for (const store::Clip& c : clips) {
        const bool same = c.id == bench.clip().id;
        if (c.context.view != bench.clip().context.view) continue;
        const auto stretches = records.stretches(c.id);
        for (store::Moment& m : records.moments(c.id)) {
            if (m.slot != (same ? bench.slot() : 0) || (same && m.frame == bench.frame()) ||
                m.figure.marked() < 3)
                continue;
            const core::Setting s = setting_at(c.context, stretches, m.frame, m.phase);
            const int rank = (s.gait == here.gait ? 0 : 4) + (s.seat == here.seat ? 0 : 2) +
                             (s.phase == here.phase ? 0 : 1);
            const QString words = words_of(c, m, s, same);
            ranked.push_back({rank, {c.id, std::move(m), words}});
        }
    }
    std::ranges::stable_sort(ranked, {}, &Ranked::rank);
    for (Ranked& r : ranked) out.push_back(std::move(r.other));
    return out;
}

std::vector<MeasureDifference> differences(Bench& bench, const OtherMoment& other) {
    std::vector<MeasureDifference> out;
    const auto clip = bench.yard().records().clip(other.clip);
    if (!clip) return out;
    const core::Setting s = setting_at(clip->context, bench.yard().records().stretches(other.clip),
                                       other.moment.frame, other.moment.phase);
    const auto there =
        core::judge(other.moment.figure, s, bench.yard().knowledge().body, bench.yard().knowledge().schools);
    for (const core::Judged& here : bench.judged()) {
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
    const int asked = ++asked_;
    const QString file = yard_.file_of(*clip);
    const media::OrderCache cache{cache_folder().toStdString(), clip->hash};
    QThreadPool::globalInstance()->start(
        [self = QPointer(this), asked, file, cache, frame = other.moment.frame, field = other.moment.field] {
            QImage picture;
            QString trouble;
            try {
                media::ReaderOptions options;
                options.order_cache = cache;
                media::VideoReader reader(file.toStdString(), {}, options);
                const media::Picture p =
                    reader.picture(frame, 0, 0, field == 1 ? media::Field::second : media::Field::first);
                picture = QImage(p.bgra.data(), p.width, p.height, p.width * 4, QImage::Format_RGB32).copy();
            } catch (const std::exception& e) {
                trouble = QString::fromUtf8(e.what());
            }
            QMetaObject::invokeMethod(QCoreApplication::instance(), [self, asked, picture, trouble] {
                if (!self || self->asked_ != asked) return;
                if (trouble.isEmpty())
                    emit self->loaded(picture);
                else
                    emit self->failed(trouble);
            });
        });
}

}  // namespace aspen::app
