#include "app/leaving/rider_page.hpp"

#include "app/review/annotated.hpp"

#include <QLocale>
#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/models/pictures.hpp"
#include "exchange/report.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

QString text(const std::string& s) { return QString::fromStdString(s); }
QString sentence(QString s) {
    if (!s.isEmpty()) s[0] = s[0].toUpper();
    return s;
}
QString number(double v) { return QLocale().toString(v, 'f', 1); }

/// The value the focus is about, with its error and band.
QString measured(const core::Judged& j) {
    const QString unit = j.info().unit == "deg" ? QString::fromUtf8("°") : QStringLiteral(" %");
    const auto end = [](const std::optional<double>& v) { return v ? number(*v) : QObject::tr("open"); };
    return QObject::tr("Measured: %1 %2%3 ± %4; the band is %5 to %6%3.")
        .arg(sentence(QString::fromUtf8(j.info().spoken.data())), number(*j.measured.value), unit,
             number(core::kNinetyPercent * j.measured.sd), end(j.band->lo), end(j.band->hi));
}

void fill_exercise(exchange::RiderPage& page, const core::Exercise& e) {
    page.exercise = text(e.name);
    page.purpose = text(e.purpose);
    page.dose = sentence(text(core::spoken(e.dose))) + ".";
    page.step = text(e.dose.ladder.front().words);
    for (const core::Rung& r : e.dose.ladder) page.ladder << text(r.words);
    page.rules = QObject::tr("Up: %1. Down: %2. A good ride: %3.")
                     .arg(text(e.dose.up), text(e.dose.down), text(core::good_ride(e.dose.ladder.front())));
    QStringList first, needs;
    for (const std::string& b : e.before) first << text(b);
    for (const std::string& w : e.people) needs << text(w);
    for (const std::string& w : e.equipment) needs << text(w);
    page.first = first.join(", ");
    page.needs = needs.join(", ");
    page.caution = text(e.caution);
    page.next_clip = sentence(text(e.next_clip));
    page.cues << text(e.cue_picture) << text(e.cue_plain);
}

}  // namespace

const store::Moment* PageWriter::moment() const {
    const Review& review = bench_.review();
    const auto worth = [&](const store::Moment& m) {
        return m.slot == review.slot() ? m.figure.marked() : -1;
    };
    const auto it = std::ranges::max_element(review.moments(), {}, worth);
    return it == review.moments().end() || worth(*it) < 0 ? nullptr : &*it;
}

std::optional<QString> PageWriter::refusal(const core::Exercise* exercise) {
    if (!bench_.is_open() || !bench_.findings().focus() || !exercise)
        return tr("There is nothing to write yet: mark a moment or name what you see first.");
    if (!bench_.review().rider()) return tr("Say who rides first.");
    const PermitOrLine asked = ask_to_leave(bench_.yard(), bench_.review().clip());
    if (const QString* line = std::get_if<QString>(&asked)) return *line;
    const bool covers = std::get<Permit>(asked).covers_faces();
    // A ride that was reviewed by eye alone has a page without a picture.
    if (moment() && covers && !core::face_ellipse(moment()->figure))
        return tr(
            "The face is not marked in the page's picture, so nothing leaves; mark ear, eye or chin in it "
            "first.");
    return std::nullopt;
}

QString PageWriter::start(const core::Exercise& exercise, const QString& file) {
    if (busy()) return tr("A page is being written; wait for it.");
    if (const auto line = refusal(&exercise)) return *line;
    Yard& yard = bench_.yard();
    const Review& review = bench_.review();
    const core::Focus& focus = *bench_.findings().focus();
    const Permit permit = std::get<Permit>(ask_to_leave(yard, review.clip()));
    const store::Moment shown = moment() ? *moment() : store::Moment{};
    const bool pictured = moment() != nullptr;
    exchange::RiderPage page;
    if (const auto rider = yard.records().rider(review.rider())) page.rider = text(rider->name);
    if (const auto horse = yard.records().horse(review.horse())) page.horse = text(horse->name);
    page.date = QLocale().toString(QDate::fromString(text(review.ride().day), Qt::ISODate), "d MMMM yyyy");
    page.coach = yard.coach();
    page.good = bench_.findings().what_is_good().mid(0, 3);
    if (page.good.isEmpty())
        page.good << tr("There is one clear thing to work on, and it can be seen next time");
    page.figure = pictured ? review.figure_of(&shown) : core::Figure{};
    page.cover_face = permit.covers_faces();
    page.focus = text(focus.fault->name);
    page.focus_says = sentence(text(focus.fault->rider.empty() ? focus.fault->says : focus.fault->rider));
    page.why = focus.fault->horse.empty() ? text(focus.why)
                                          : tr("For your horse: %1.").arg(text(focus.fault->horse));
    if (pictured) page.annotated = annotated_here(bench_);
    const auto judged = core::judge(page.figure, review.setting_of(shown.frame, shown.phase),
                                    yard.knowledge().body, yard.knowledge().schools);
    const core::Judged* j = core::find(judged, core::leading_measure(*focus.fault));
    if (j && j->measured.value && j->band) page.measured = measured(*j);
    fill_exercise(page, exercise);
    if (pictured && bench_.deck().picture_is_full() && shown.frame == bench_.deck().frame())
        page.picture = bench_.deck().picture().copy();
    job_ = yard.jobs().run(
        JobLane::write, tr("Writing the page"), this,
        [page, file, permit, pictured, clip = yard.file_of(review.clip()), frame = shown.frame,
         cache = media::OrderCache{cache_folder().toStdString(), review.clip().hash}](Job& job) mutable {
            if (pictured && page.picture.isNull()) {
                media::ReaderOptions options;
                options.order_cache = cache;
                media::VideoReader reader(clip.toStdString(), {&job.stopped(), {}}, options);
                page.picture = to_image(reader.picture(frame));
            }
            exchange::write_pdf(page, file);
            return true;
        },
        [this, file](const Outcome<bool>& written) {
            emit finished(written.value ? tr("Saved: ") + file : written.trouble, written.value.has_value());
        });
    return {};
}

}  // namespace aspen::app
