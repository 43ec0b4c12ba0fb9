#include "app/following/comparison.hpp"

#include <QLocale>
#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/files/text.hpp"
#include "app/review/stretch_report.hpp"
#include "core/body/vocabulary.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

constexpr std::size_t kCacheOfOne = std::size_t{96} << 20;  // bytes of frames; four of them at once

/// A side's clip, with its frames counted though it was never opened on the bench.
store::RiddenClip ridden_of(const Comparison::Side& side) {
    store::RiddenClip out = side.subject.ridden;
    if (out.clip.frames == 0) out.clip.frames = side.deck->facts().frames;
    return out;
}

bool same_moment(const Subject& a, const Subject& b) {
    return a.ridden.clip.id == b.ridden.clip.id && a.moment.frame == b.moment.frame &&
           a.ridden.slot == b.ridden.slot;
}
/// How far two moments are from being of the same kind: gait before seat, before phase, side and rein.
int unlike(const Subject& a, const Subject& b) {
    const core::Setting &s = a.setting, &t = b.setting;
    return (a.moment.figure.view == b.moment.figure.view ? 0 : 64) + (s.gait == t.gait ? 0 : 32) +
           (s.seat == t.seat ? 0 : 16) + (a.moment.figure.travel == b.moment.figure.travel ? 0 : 4) +
           (s.phase == t.phase ? 0 : 2) + (a.ridden.ride.horse == b.ridden.ride.horse ? 0 : 1);
}

}  // namespace

core::Shown Subject::shown() const {
    core::Shown out;
    const core::Figure& f = moment.figure;
    out.view = f.view;
    out.travel = f.travel;
    out.yaw_said = f.camera.yaw_marked;
    out.yaw_deg = out.yaw_said ? f.camera.yaw_deg : 0;
    out.setting = setting;
    out.horse = horse.toStdString();
    out.saddle = ridden.ride.saddle;
    out.slowed = ridden.clip.capture.filmed_fps > 0;
    return out;
}

QString Subject::words() const {
    QStringList out;
    const QDate day = QDate::fromString(QString::fromStdString(ridden.ride.day), Qt::ISODate);
    out << (day.isValid() ? QLocale(QLocale::English).toString(day, "d MMM yyyy") : QObject::tr("no date"));
    if (!horse.isEmpty()) out << horse;
    if (stretch.gait)
        out << text(core::spoken(*stretch.gait)) +
                   (stretch.seat ? " " + text(core::spoken(*stretch.seat)) : QString());
    if (stretch.rein) out << text(core::spoken(*stretch.rein));
    if (!setting.phase.empty()) out << text(core::spoken_phase(setting.phase));
    return out.join(", ");
}

namespace {

/// The marked moments of clips, in the order of the clips.
std::vector<Subject> subjects_in(Yard& yard, std::vector<store::RiddenClip> clips) {
    std::vector<Subject> out;
    const store::YardStore& records = yard.records();
    RiddenIn here;
    store::RideId read;
    for (store::RiddenClip& r : clips) {
        if (r.ride.id != read) here = RiddenIn(records, yard.knowledge(), r.ride);
        read = r.ride.id;
        const auto stretches = records.rides.stretches(r.clip.id);
        const auto horse = records.people.horse(r.ride.horse);
        const auto who = records.people.rider(r.ride.rider);
        for (store::Moment& m : records.reviews.moments(r.clip.id)) {
            if (m.slot != r.slot || m.figure.marked() < core::kFewestJoints) continue;
            Subject s;
            s.ridden = r;
            s.place = core::stretch_at(stretches, m.frame);
            s.stretch = stretches[s.place];
            s.setting = here.setting(stretches, m);
            s.judged = core::judge(m.figure, s.setting, yard.knowledge().body, yard.knowledge().schools);
            s.rider = who ? QString::fromStdString(who->name) : QString();
            s.horse = horse ? QString::fromStdString(horse->name) : QString();
            s.moment = std::move(m);
            out.push_back(std::move(s));
        }
    }
    return out;
}

}  // namespace

std::vector<Subject> subjects_of(Yard& yard, store::RiderId rider) {
    return subjects_in(yard, yard.records().rides.ridden_by(rider));
}

Comparison::Comparison(Yard& yard, QObject* parent) : QObject(parent), yard_(yard) {}
Comparison::~Comparison() = default;

void Comparison::read() { all_ = subjects_of(yard_, rider_); }

std::unique_ptr<Comparison::Side> Comparison::side_of(Subject subject) {
    auto side = std::make_unique<Side>();
    side->subject = std::move(subject);
    side->deck = std::make_unique<ClipDeck>();
    const store::Clip& clip = side->subject.ridden.clip;
    connect(side->deck.get(), &ClipDeck::picture_changed, this, &Comparison::picture_changed);
    connect(side->deck.get(), &ClipDeck::opened, this, &Comparison::picture_changed);
    ClipDeck::Options options;
    options.frames.cache_folder = cache_folder();
    options.frames.content_hash = QString::fromStdString(clip.hash);
    options.frames.cache_bytes = kCacheOfOne;
    options.start_frame = side->subject.moment.frame;
    options.capture = clip.capture;
    side->deck->open(yard_.file_of(clip), options);
    return side;
}

/// Sides that stay keep their open clips.
void Comparison::take(std::vector<Subject> subjects) {
    std::vector<std::unique_ptr<Side>> kept;
    for (Subject& s : subjects) {
        const auto there = std::ranges::find_if(sides_, [&](const auto& side) {
            return side && side->subject.ridden.clip.id == s.ridden.clip.id &&
                   side->subject.ridden.slot == s.ridden.slot;
        });
        if (there == sides_.end()) {
            kept.push_back(side_of(std::move(s)));
            continue;
        }
        auto side = std::move(*there);
        if (side->subject.place != s.place) side->asked_strides = false;
        side->subject = std::move(s);
        side->deck->go_to(side->subject.moment.frame);
        kept.push_back(std::move(side));
    }
    sides_ = std::move(kept);
    emit changed();
}

QString Comparison::show_rider(store::RiderId rider) {
    rider_ = rider;
    with_target_ = reins_apart_ = false;
    read();
    if (all_.empty()) {
        take({});
        return tr("Mark a moment of this rider first; then it can be held against another.");
    }
    take({all_.front()});
    return then_and_now();
}

/// Who rides in a clip, as far as it is said.
void Comparison::take_rider_of(store::ClipId clip) {
    rider_ = {};
    for (const store::Slot& s : yard_.records().rides.places(clip)) {
        const auto ride = yard_.records().rides.ride(s.ride);
        if (ride && ride->rider) rider_ = ride->rider;
    }
    with_target_ = reins_apart_ = false;
    read();
    const auto there = yard_.records().rides.clip(clip);
    if (rider_ || !there) return;
    // Nobody is named in it yet: its own moments can be held against each other all the same.
    std::vector<store::RiddenClip> own;
    for (const store::Slot& s : yard_.records().rides.places(clip))
        own.push_back({yard_.records().rides.ride(s.ride).value_or(store::Ride{}), *there, s.slot});
    all_ = subjects_in(yard_, std::move(own));
}

QString Comparison::show(store::ClipId clip, int frame) {
    take_rider_of(clip);
    const auto at = std::ranges::find_if(
        all_, [&](const Subject& s) { return s.ridden.clip.id == clip && s.moment.frame == frame; });
    if (at == all_.end()) return tr("Mark this moment first; then it can be held against another.");
    take({*at});
    if (then_and_now().isEmpty()) return {};
    return pair_with([](const Subject&, const Subject&) { return true; },
                     tr("There is no other marked moment of this rider yet."), false);
}

QString Comparison::show(store::ClipId then, int then_frame, store::ClipId now, int now_frame) {
    take_rider_of(now);
    std::vector<Subject> two;
    for (const auto& [id, frame] : {std::pair{then, then_frame}, std::pair{now, now_frame}}) {
        const auto at = std::ranges::find_if(all_, [&, id = id, frame = frame](const Subject& s) {
            return s.ridden.clip.id == id && s.moment.frame == frame;
        });
        if (at != all_.end()) two.push_back(*at);
    }
    if (two.size() < 2) return tr("Both rides need a marked moment.");
    take(std::move(two));
    return {};
}

/// The last side stays what it is about; what fits it best comes before it.
QString Comparison::pair_with(const std::function<bool(const Subject&, const Subject&)>& fits,
                              const QString& none, bool oldest) {
    if (sides_.empty()) return tr("Mark a moment of this rider first.");
    const Subject about = sides_.back()->subject;
    const Subject* best = nullptr;
    for (const Subject& s : all_) {
        if (same_moment(s, about) || !fits(s, about)) continue;
        // Newest first: a later one that is as like is an older one.
        const bool better = !best || unlike(s, about) < unlike(*best, about) ||
                            (oldest && unlike(s, about) == unlike(*best, about));
        if (better) best = &s;
    }
    if (!best) return none;
    with_target_ = false;
    take({*best, about});
    return {};
}

QString Comparison::then_and_now() {
    reins_apart_ = false;
    return pair_with(
        [](const Subject& s, const Subject& about) {
            return s.ridden.ride.day < about.ridden.ride.day && s.setting.gait == about.setting.gait &&
                   s.moment.figure.view == about.moment.figure.view;
        },
        tr("No earlier ride shows this rider marked in the same gait from the same side."), true);
}
QString Comparison::two_reins() {
    const QString line = pair_with(
        [](const Subject& s, const Subject& about) {
            return s.setting.gait == about.setting.gait && s.stretch.rein && about.stretch.rein &&
                   *s.stretch.rein != *about.stretch.rein && *s.stretch.rein != core::Rein::straight;
        },
        tr("The other rein is not marked in this gait yet: mark a moment on it, and say the rein."), false);
    if (line.isEmpty()) reins_apart_ = true;
    return line;
}
QString Comparison::two_horses() {
    reins_apart_ = false;
    return pair_with(
        [](const Subject& s, const Subject& about) {
            return s.ridden.ride.horse != about.ridden.ride.horse && s.setting.gait == about.setting.gait;
        },
        tr("This rider is marked on one horse only in this gait."), false);
}

QString Comparison::against_target() {
    if (sides_.empty()) return tr("Mark a moment of this rider first.");
    with_target_ = !with_target_;
    if (with_target_) take({sides_.back()->subject});
    emit changed();
    return {};
}

QString Comparison::two_riders() {
    if (sides_.empty()) return tr("Mark a moment of this rider first.");
    const Subject about = sides_.back()->subject;
    // The next rider who fits, from where the last one stood: nobody's years are read for nothing.
    const auto riders = yard_.records().people.riders();
    for (std::size_t n = 0; n < riders.size(); ++n) {
        const store::Rider& r = riders[other_rider_++ % riders.size()];
        if (r.id == rider_) continue;
        const Subject* best = nullptr;
        const auto theirs = subjects_of(yard_, r.id);
        for (const Subject& s : theirs) {
            if (s.setting.gait != about.setting.gait || s.moment.figure.view != about.moment.figure.view)
                continue;
            if (!best || unlike(s, about) < unlike(*best, about)) best = &s;
        }
        if (!best) continue;
        with_target_ = reins_apart_ = false;
        take({*best, about});
        return {};
    }
    return tr("No other rider is marked in this gait from this side.");
}

QString Comparison::other(std::size_t side, int by) {
    if (side >= sides_.size()) return {};
    const Subject about = sides_[side]->subject;
    const auto theirs =
        about.ridden.ride.rider == rider_ ? all_ : subjects_of(yard_, about.ridden.ride.rider);
    std::vector<const Subject*> like;
    for (const Subject& s : theirs) {
        if (s.moment.figure.view == about.moment.figure.view) like.push_back(&s);
    }
    const auto at = std::ranges::find_if(like, [&](const Subject* s) { return same_moment(*s, about); });
    if (at == like.end() || like.size() < 2) return tr("There is no other marked moment.");
    // Newest first: later is towards the front.
    const auto n = static_cast<std::ptrdiff_t>(like.size());
    const auto place = ((at - like.begin() - by) % n + n) % n;
    std::vector<Subject> all;
    for (std::size_t i = 0; i < sides_.size(); ++i)
        all.push_back(i == side ? *like[static_cast<std::size_t>(place)] : sides_[i]->subject);
    take(std::move(all));
    return {};
}

QString Comparison::more() {
    if (sides_.size() >= kMost) return tr("Four at once is as many as can be seen.");
    if (sides_.empty()) return tr("Mark a moment of this rider first.");
    const Subject& about = sides_.back()->subject;
    const Subject* best = nullptr;
    for (const Subject& s : all_) {
        const bool there =
            std::ranges::any_of(sides_, [&](const auto& side) { return same_moment(side->subject, s); });
        if (!there && (!best || unlike(s, about) < unlike(*best, about))) best = &s;
    }
    if (!best) return tr("There is no other marked moment of this rider.");
    std::vector<Subject> all;
    for (const auto& side : sides_) all.push_back(side->subject);
    all.insert(all.end() - 1, *best);
    take(std::move(all));
    return {};
}

QString Comparison::less(std::size_t side) {
    if (sides_.size() <= 1 || side >= sides_.size()) return {};
    std::vector<Subject> all;
    for (std::size_t i = 0; i < sides_.size(); ++i) {
        if (i != side) all.push_back(sides_[i]->subject);
    }
    take(std::move(all));
    return {};
}

const core::MotionReport* Comparison::strides(std::size_t i) {
    Side& side = *sides_[i];
    if (!side.asked_strides && side.deck->ready()) {
        side.asked_strides = true;
        side.strides.reset();
        const store::RiddenClip r = ridden_of(side);
        try {
            side.strides = kept_report(yard_, RiddenIn(yard_.records(), yard_.knowledge(), r.ride), r.clip,
                                       r.slot, yard_.records().rides.stretches(r.clip.id), side.subject.place,
                                       &side.deck->facts());
        } catch (const core::Refused&) {
            return nullptr;  // a clip that cannot be read says nothing of its strides
        }
    }
    return side.strides && !side.strides->strides.empty() ? &*side.strides : nullptr;
}

int Comparison::without_strides() {
    int out = 0;
    for (std::size_t i = 0; i < sides_.size(); ++i) out += strides(i) ? 0 : 1;
    return out;
}

QString Comparison::follow_strides() {
    if (waiting_ > 0) return tr("The joints are being followed; go on working.");
    int begun = 0;
    for (std::size_t i = 0; i < sides_.size(); ++i) {
        if (strides(i)) continue;
        const store::RiddenClip r = ridden_of(*sides_[i]);
        const auto plan = follow_plan_of(yard_, r.clip, r.slot, yard_.records().rides.stretches(r.clip.id),
                                         sides_[i]->subject.place);
        if (!plan) continue;
        ++begun;
        ++waiting_;
        yard_.jobs().run(
            JobLane::pose, tr("Following the joints"), this,
            [plan = *plan](Job& job) { return app::follow(plan, kept_of(plan), job); },
            [this](const Outcome<FollowedStretch>&) {
                --waiting_;
                for (const auto& side : sides_) side->asked_strides = false;
                emit strides_changed();
            });
    }
    if (begun == 0) return tr("Mark a moment with five joints in each stretch; then they can be followed.");
    return tr("The joints are being followed; then they play in step by the stride.");
}

std::vector<core::MeasureDifference> Comparison::differences(std::size_t with) const {
    if (with >= sides_.size() || with == 0) return {};
    return core::differences_between(sides_.front()->subject.judged, sides_[with]->subject.judged,
                                     on_two_days(with) ? &yard_.knowledge().body : nullptr);
}

bool Comparison::on_two_days(std::size_t with) const {
    return with < sides_.size() &&
           sides_.front()->subject.ridden.ride.id != sides_[with]->subject.ridden.ride.id;
}

QString Comparison::words_of(const core::MeasureDifference& d) const {
    const auto rider = yard_.records().people.rider(rider_);
    return QString::fromStdString(yard_.knowledge().measure_words.of_change(
        *d.info, d.by, yard_.knowledge().body, core::ToWhom{rider ? rider->height_cm : std::nullopt, false}));
}

const core::MeasureInfo* Comparison::in_work() const {
    for (const auto& running : yard_.records().work.running()) {
        const core::Fault* fault =
            running.rider == rider_ ? yard_.knowledge().faults.find(running.fault) : nullptr;
        if (fault) return core::find_measure(core::leading_measure(*fault));
    }
    return nullptr;
}

QString Comparison::why_not_in_work(std::size_t with) const {
    const core::MeasureInfo* work = in_work();
    if (!work || with == 0 || with >= sides_.size()) return {};
    for (const std::size_t side : {std::size_t{0}, with}) {
        const core::Judged* j = core::find(sides_[side]->subject.judged, work->id);
        if (j && j->measured.value) continue;
        const QString why =
            j && !j->reason.empty() ? QString::fromStdString(j->reason) : tr("it is not seen from this side");
        return tr("%1 is not measured in picture %2: %3. Another moment may show it.")
            .arg(QString::fromUtf8(work->spoken.data(), static_cast<qsizetype>(work->spoken.size())))
            .arg(side + 1)
            .arg(why);
    }
    return {};
}

QString Comparison::amount_of(std::string_view measure, std::string_view unit, double value) const {
    const auto rider = yard_.records().people.rider(rider_);
    return QString::fromStdString(yard_.knowledge().measure_words.amounts().of(
        measure, unit, value, yard_.knowledge().body, {rider ? rider->height_cm : std::nullopt, false}));
}

QStringList Comparison::spoilers(std::size_t with) const {
    QStringList out;
    if (with >= sides_.size() || with == 0) return out;
    const core::Shown a = sides_.front()->subject.shown(), b = sides_[with]->subject.shown();
    for (const std::string& s : core::spoilers(a, b, !reins_apart_)) out << QString::fromStdString(s);
    return out;
}

bool Comparison::of_several() const {
    return std::ranges::any_of(sides_, [&](const auto& s) { return s->subject.ridden.ride.rider != rider_; });
}
std::vector<store::RideId> Comparison::rides() const {
    std::vector<store::RideId> out;
    for (const auto& s : sides_) out.push_back(s->subject.ridden.ride.id);
    return out;
}

}  // namespace aspen::app

#include "moc_comparison.cpp"
