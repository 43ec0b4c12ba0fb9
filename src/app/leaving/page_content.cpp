#include "app/leaving/page_content.hpp"

#include <QLocale>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/files/cache_folder.hpp"
#include "app/files/text.hpp"
#include "app/leaving/film_plan.hpp"
#include "app/review/pictures.hpp"
#include "app/review/ride_findings.hpp"
#include "app/rides/lanes.hpp"
#include "app/rides/rider_plan.hpp"
#include "core/following/following.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/ride.hpp"
#include "exchange/film_frame.hpp"
#include "exchange/fridge_page.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr int kChildUntil = 13;
constexpr std::size_t kMostGood = 3;
constexpr double kShapeOfOne = 2.3, kShapeOfTwo = 1.15;  // width to height
constexpr double kRoomRound = 0.2;                       // of the figure's height, on every side of it

QString sentence(QString s) {
    if (!s.isEmpty()) s[0] = s[0].toUpper();
    return s;
}
QString day_words(const std::string& iso, const char* format = "d MMMM yyyy") {
    return QLocale(QLocale::English).toString(QDate::fromString(text(iso), Qt::ISODate), format);
}

/// What is good, each by something on record: what the coach named, what was measured or seen as good on the
/// last ride, what is settled, rides that went well.
class Good {
  public:
    Good(Yard& yard, store::RiderId rider, const std::vector<Lane>& lanes, const core::Fault& focus)
        : yard_(yard) {
        const auto ridden = yard.records().rides.ridden_by(rider);
        if (!ridden.empty()) named(ridden);
        if (!ridden.empty()) measured(ridden.front().ride);
        for (const Lane& l : lanes) {
            if (l.fault->id == focus.id) continue;  // what is asked for is not praised on the same page
            if (l.stage == core::Stage::settled || l.stage == core::Stage::holding)
                add(l.stage == core::Stage::settled
                        ? QObject::tr("“%1” is settled: that work is done").arg(text(l.fault->name))
                        : QObject::tr("“%1” is holding").arg(text(l.fault->name)));
        }
        for (const store::PracticeEntry& p : yard.records().training.practice_of(rider)) practised(p.done);
        if (best_.of > 0) add(QObject::tr("%1 of %2 good when you practised").arg(best_.good).arg(best_.of));
    }
    QStringList all() const { return out_.mid(0, kMostGood); }

  private:
    void add(const QString& words) {
        const QString s = sentence(words.trimmed());
        if (!s.isEmpty() && !out_.contains(s)) out_ << s;
    }
    /// What the coach said of the last ride comes first.
    void named(const std::vector<store::RiddenClip>& ridden) {
        const store::RideId last = ridden.front().ride.id;
        for (const store::Remark& r : yard_.records().reviews.remarks(last)) {
            if (r.kind == store::RemarkKind::strength) add(text(r.words));
        }
        for (const store::RiddenClip& r : ridden) {
            if (r.ride.id != last) continue;
            for (const store::Note& n : yard_.records().reviews.notes(r.clip.id)) {
                if (n.kind == store::NoteKind::good && n.slot == r.slot) add(text(n.words));
            }
        }
    }
    void measured(const store::Ride& ride) {
        const core::RideAssessment said = core::assess_ride(ride_data(yard_, ride), yard_.knowledge());
        for (const core::Strength& s : said.good) add(text(s.words));
    }
    void practised(const core::Practice& p) {
        if (p.attempts > 0 && 2 * p.good >= p.attempts) best_ = {p.good, p.attempts};
    }
    Yard& yard_;
    QStringList out_;
    core::GoodOf best_{0, 0};
};

void fill_exercise(exchange::HandedPage& page, const core::GoingHome& e, int weeks) {
    page.exercise = text(e.name);
    page.purpose = text(e.purpose);
    page.dose =
        sentence(text(e.dose)) + (weeks == 1 ? QObject::tr("; looked at again in a week.")
                                             : QObject::tr("; looked at again in %1 weeks.").arg(weeks));
    for (const core::GoingHome::Step& s : e.steps) page.ladder << text(s.spoken());
    page.rung = e.here;
    page.up = text(e.up);
    page.down = text(e.down);
    page.good_ride = text(e.good_ride);
    for (const std::string& b : e.before) page.first << text(b);
    for (const std::string& w : e.people) page.people << text(w);
    for (const std::string& w : e.things) page.things << text(w);
    for (const std::string& w : e.ways) page.ways << text(w);
    page.caution =
        text(e.caution) + QObject::tr(" Your instructor's word and your club's rules come before this page.");
    page.cue = text(e.cue_picture);
}

void fill_week(exchange::HandedPage& page, const core::Homework& homework, const std::string& today) {
    page.clip_on = day_words(homework.clip_on, "d MMMM");
    const core::HomeworkWeek* week = core::week_at(homework, today);
    if (!week || week->days.empty()) return;
    for (int d = 0; d < 7; ++d) {
        exchange::HandedPage::Day day{QLocale(QLocale::English).dayName(d + 1, QLocale::ShortFormat), {}};
        for (const core::HomeworkDay& h : week->days) {
            if (core::weekday_of(h.day) == d) day.minutes = exchange::dose_words(h);
        }
        page.week << day;
    }
}

/// The first picture of a lane that is surely another than the last, and the change in riding words.
void fill_then(PageDraft& draft, Yard& yard, const Lane& lane, const store::Rider& rider) {
    if (!lane.measure || !draft.now) return;
    std::vector<const LanePoint*> alike;
    for (const LanePoint& p : lane.points) {
        if (p.value.phase == lane.phase && p.clip) alike.push_back(&p);
    }
    if (alike.size() < 2) return;
    const LanePoint &a = *alike.front(), &b = *alike.back();
    const bool turn = lane.measure->full_turn;
    if (!core::changed(a.value, b.value, lane.form, turn)) return;
    const auto moments = moments_on_film(yard, a.film, slot_of(yard, a.film.id, rider.id));
    const auto m = moments.find(a.frame);
    if (m == moments.end()) return;
    draft.then = FocusFrame{a.film, a.frame, m->second.figure, {}};
    for (const core::FrameMark& mark : m->second.annotated.marks) {
        if (mark.fault == lane.fault) draft.then->annotated.marks.push_back(mark);
    }
    draft.page.then_day = day_words(a.day.toStdString());
    draft.page.now_day = day_words(b.day.toStdString());
    const double by = core::difference(a.value, b.value, turn);
    draft.page.change =
        sentence(QObject::tr("since %1: %2")
                     .arg(day_words(a.day.toStdString(), "d MMMM"),
                          text(yard.knowledge().measure_words.of_change(
                              *lane.measure, by, yard.knowledge().body,
                              core::ToWhom{rider.height_cm, is_minor(rider, yard.today())}))));
}

bool of_the_horse(core::Landmark l) {
    using core::Landmark;
    constexpr std::array kHorse{Landmark::bit,      Landmark::poll,       Landmark::withers,
                                Landmark::croup,    Landmark::girth,      Landmark::cantle,
                                Landmark::ears_mid, Landmark::ground_mid, Landmark::horse_mid};
    return std::ranges::find(kHorse, l) != kHorse.end();
}

/// The picture round rider and what is marked, not the sky above and the arena beside.
QImage cropped(const QImage& picture, const core::Figure& figure, double shape) {
    double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
    for (std::size_t i = 0; i < core::kLandmarkCount; ++i) {
        const core::Mark& m = figure.marks[i];
        if (m.visibility == core::Visibility::absent || of_the_horse(static_cast<core::Landmark>(i)))
            continue;
        left = std::min(left, m.at.x);
        right = std::max(right, m.at.x);
        top = std::min(top, m.at.y);
        bottom = std::max(bottom, m.at.y);
    }
    if (right <= left || bottom <= top) return picture;
    double high = (bottom - top) * (1 + 2 * kRoomRound),
           wide = (right - left) + (bottom - top) * 2 * kRoomRound;
    wide = std::max(wide, high * shape);
    high = std::max(high, wide / shape);
    if (high > picture.height()) wide *= picture.height() / high, high = picture.height();
    if (wide > picture.width()) high *= picture.width() / wide, wide = picture.width();
    const double x = std::clamp((left + right - wide) / 2, 0.0, picture.width() - wide);
    const double y = std::clamp((top + bottom - high) / 2, 0.0, picture.height() - high);
    return picture.copy(QRectF(x, y, wide, high).toRect());
}

}  // namespace

PageDraft page_of(Yard& yard, store::RiderId id, const core::Exercise* exercise, const std::string& fault,
                  std::optional<bool> child) {
    const auto plan = plan_for(yard.records(), yard.knowledge(), id, yard.today_iso(), fault);
    if (!plan || !plan->fault)
        throw core::Refused(
            "page: nothing is in work for this rider yet; accept a finding on the bench first");
    PageDraft out;
    exchange::HandedPage& page = out.page;
    page.rider = text(plan->rider.name);
    if (plan->horse) page.horse = text(plan->horse->name);
    page.coach = coach_of(yard);
    page.date = day_words(yard.today_iso());
    const int age = plan->rider.birth_year ? yard.today().year() - *plan->rider.birth_year : 99;
    page.child = child.value_or(age <= kChildUntil);
    const auto lanes = lanes_of(yard.records(), yard.knowledge(), id, yard.today_iso());
    page.good = Good(yard, id, lanes, *plan->fault).all();
    if (page.good.isEmpty())
        throw core::Refused(
            "page: nothing good is on record for this rider yet; name a strength on the bench first");
    const core::Fault& f = *plan->fault;
    page.focus = text(f.name);
    page.says = sentence(text(f.rider.empty() ? f.says : f.rider)) + ".";
    if (!f.horse.empty()) page.why = QObject::tr("For your horse: %1.").arg(text(f.horse));
    const core::MeasureInfo* measure = core::find_measure(core::leading_measure(f));
    page.stand = measure && measure->view != core::View::side ? core::View::rear : core::View::side;
    page.picture_words = QObject::tr("%1 on %2; marked: %3").arg(page.rider, page.horse, page.says);
    page.stop = page.child
                    ? QObject::tr(
                          "Stop and tell a grown-up when something hurts, when you feel dizzy or tired, "
                          "or when your horse is tired, frightened or not going level.")
                    : text(core::kStopRule);
    const core::Exercise* ridden = exercise ? exercise : plan->given ? plan->given->exercise : nullptr;
    const bool given = plan->given && ridden == plan->given->exercise;
    if (ridden) {
        fill_exercise(page, goes_home(*plan, yard.knowledge(), yard.today_iso(), ridden), ridden->dose.weeks);
        for (const std::string& s : core::shot_list(*ridden)) page.shots << sentence(text(s));
    }
    for (const core::HomeworkLine& line : plan->lines) page.lines << text(line.spoken());
    if (given && plan->homework) fill_week(page, *plan->homework, yard.today_iso());
    if (plan->horse) out.now = focus_frame(yard, id, plan->horse->id, f);
    if (plan->correction) {
        for (const Lane& l : lanes) {
            if (l.correction.id == plan->correction->id) fill_then(out, yard, l, plan->rider);
        }
    }
    return out;
}

PermitOrLine ask_for_page(Yard& yard, store::RiderId rider, const PageDraft& draft) {
    Going going{Use::page, {rider}, {}, {}};
    for (const auto& f : {draft.now, draft.then}) {
        if (f) going.clips.push_back(f->clip.id);
    }
    return ask(yard, going);
}

PagePictures::PagePictures(Yard& yard, const PageDraft& draft, const Permit& permit) : page_(draft.page) {
    for (const auto& f : {draft.now, draft.then}) {
        if (f) wanted_.push_back({*f, yard.file_of(f->clip), faces_to_cover(yard, f->clip, permit)});
    }
    two_ = draft.now && draft.then;
}

PagePictures::Read PagePictures::read(const Job& job) const {
    std::vector<QImage> pictures;
    for (const Wanted& w : wanted_) {
        const FaceCovers covers = faces_known_at(w.faces, w.frame.frame);
        if (!covers.trouble.isEmpty()) return {std::nullopt, covers.trouble, w.frame.clip.id, w.frame.frame};
        media::ReaderOptions options;
        options.order_cache = {cache_folder().toStdString(), w.frame.clip.hash};
        media::VideoReader reader(w.file.toStdString(), {&job.stopped(), {}}, options);
        exchange::FilmScene scene;
        scene.main = {to_image(reader.picture(w.frame.frame)), covers.at(w.frame.frame), w.frame.figure,
                      w.frame.annotated};
        const QImage whole = exchange::compose(scene, scene.main.picture.size());
        pictures.push_back(cropped(whole, w.frame.figure, two_ ? kShapeOfTwo : kShapeOfOne));
    }
    Read out{page_, {}};
    if (!pictures.empty()) out.page->picture = pictures.front();
    if (two_) out.page->then = pictures.back();
    return out;
}

QString PageMaker::start(store::RiderId rider, PageDraft draft, const Permit& permit) {
    if (busy()) return tr("A page is being made; wait for it.");
    rider_ = rider;
    job_ = yard_.jobs().run(
        JobLane::write, tr("Making the page"), this,
        [pictures = PagePictures(yard_, draft, permit)](Job& job) { return pictures.read(job); },
        [this, rider, permit](const Outcome<PagePictures::Read>& read) {
            if (!read.value) return emit failed(read.trouble);
            if (read.value->page) return emit made({rider, *read.value->page, permit});
            emit wants_face(read.value->help_clip, read.value->help_at, read.value->trouble);
            emit failed(read.value->trouble);
        });
    return {};
}

QString write_page(Yard& yard, const MadePage& made, const QString& file) {
    const exchange::HandedPage& page = made.page;
    return leave(
        yard, made.permit,
        {"page", QObject::tr("the page of %1").arg(page.date).toStdString(), file, !page.picture.isNull()},
        [&](const QString& to) {
            if (file.endsWith(".html", Qt::CaseInsensitive))
                exchange::write_page_html(page, to);
            else
                exchange::write_page_pdf(page, to);
            return QString();
        });
}

}  // namespace aspen::app

#include "moc_page_content.cpp"
