#include "app/lesson/lesson_desk.hpp"

#include <algorithm>

#include "app/files/text.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "core/training/session_json.hpp"

namespace aspen::app {
namespace {

int between(const QString& a, const QString& b) { return seconds_between(a.toStdString(), b.toStdString()); }

const QString kWord = QStringLiteral("word");  // among what was looked at: the coach answers for the rest

/// "key=value" words.
QString value_of(const std::string& words, const QString& key) {
    for (const QString& one : text(words).split(' ', Qt::SkipEmptyParts)) {
        if (one.startsWith(key + "=")) return one.mid(key.size() + 1);
    }
    return {};
}

/// What of the log counts for the numbers on a rider's tile.
void count(LessonRider& r, const std::vector<store::Note>& notes, const std::vector<store::Event>& events) {
    const auto spoken = [&](const std::string& at) { r.last_spoken = std::max(r.last_spoken, text(at)); };
    for (const store::Note& n : notes) {
        r.goods += n.kind == store::NoteKind::good ? 1 : 0;
        r.looks += n.kind == store::NoteKind::look ? 1 : 0;
        spoken(n.at);
    }
    int unmarked = 0;
    for (const store::Event& e : events) {
        if (e.event == "attempt") {
            ++r.attempts;
            ++unmarked;
        }
        if (e.event == "good_one") {
            ++r.good_ones;
            // A good one marks the latest unmarked attempt; without one it is an attempt itself.
            if (unmarked > 0)
                --unmarked;
            else
                ++r.attempts;
        }
        if (e.event == "set_again" && r.held_since.isEmpty()) r.held_since = text(e.at);
        if (e.event == "let_go" && !r.held_since.isEmpty()) {
            r.held_s = std::max(r.held_s, static_cast<double>(between(r.held_since, text(e.at))));
            r.held_since.clear();
        }
    }
}

}  // namespace

const std::vector<std::pair<QString, QString>>& before_mounting() {
    static const std::vector<std::pair<QString, QString>> items{
        {"girth", QObject::tr("girth")},          {"irons", QObject::tr("irons even")},
        {"reins", QObject::tr("reins straight")}, {"helmet", QObject::tr("helmet")},
        {"spurs", QObject::tr("spurs")},          {"pain", QObject::tr("no pain today")},
        {"fit", QObject::tr("horse fit")},        {"upsets", QObject::tr("nothing upsets it")}};
    return items;
}

LessonDesk::LessonDesk(Yard& yard, QObject* parent)
    : QObject(parent),
      yard_(yard),
      later_(*this, [this] { refresh(); }),
      clock_([] { return QDateTime::currentDateTime(); }) {
    const auto later = [this] { later_(); };
    connect(&yard_, &Yard::lessons_changed, this, later);
    connect(&yard_, &Yard::ride_changed, this, later);
    connect(&yard_, &Yard::riders_changed, this, later);
    connect(&yard_, &Yard::knowledge_changed, this, later);
}

LessonDesk::State LessonDesk::state() const {
    if (!lesson_) return State::none;
    if (!lesson_->ended_at.empty()) return State::ended;
    if (lesson_->started_at.empty()) return State::before;
    return lesson_->block_since.empty() ? State::standing : State::running;
}

bool LessonDesk::take_up() {
    for (const store::Lesson& l : yard_.records().training.lessons(5)) {
        if (l.day != yard_.today_iso() || !l.ended_at.empty()) continue;
        open(l.id);
        return true;
    }
    return false;
}

void LessonDesk::open(store::LessonId id) {
    lesson_ = yard_.records().training.lesson(id);
    refresh();
}

void LessonDesk::close() {
    lesson_.reset();
    refresh();
}

store::HorseId LessonDesk::usual_horse(store::RiderId rider) const {
    for (const store::Ride& r : yard_.records().rides.rides_of(rider)) {
        if (r.horse) return r.horse;
    }
    return {};
}

LessonDesk::RosterLine LessonDesk::roster_line(store::RiderId rider) const {
    RosterLine out;
    const store::YardStore& records = yard_.records();
    if (const auto horse = records.people.horse(usual_horse(rider))) out.horse = text(horse->name);
    QStringList words;
    if (const QString limits = limitations_in_words(yard_, rider); !limits.isEmpty())
        words << tr("mind the ") + limits;
    const std::string today = yard_.today_iso();
    for (const store::Work::Running& work : records.work.running()) {
        if (work.rider != rider) continue;
        const core::Exercise* exercise = yard_.knowledge().exercises.find(work.exercise);
        const core::Fault* fault = yard_.knowledge().faults.find(work.fault);
        if (exercise)
            out.task = text(exercise->name);
        else if (fault)
            out.task = text(fault->name);
        if (!work.until.empty() && work.until < today) words << tr("look again");
    }
    out.word = words.join(QString::fromUtf8(" · "));
    return out;
}

store::RideId LessonDesk::ride_for(store::YardStore& records, store::RiderId rider, store::HorseId horse) {
    for (const store::Ride& r : yard_.records().rides.rides_of(rider)) {
        if (r.day == yard_.today_iso() && r.horse == horse) return r.id;
    }
    store::Ride ride;
    ride.rider = rider;
    ride.horse = horse;
    ride.day = yard_.today_iso();
    ride.place = store::Place::lesson;
    if (const auto r = yard_.records().people.rider(rider)) {
        ride.school = r->school;
        ride.level = r->level;
    }
    return records.add(ride);
}

QString LessonDesk::begin(const std::vector<store::RiderId>& riders, int minutes) {
    if (riders.empty()) return tr("Say who rides first.");
    for (const store::RiderId r : riders) {
        if (QString line = held_today(yard_, r); !line.isEmpty()) return line;
    }
    try {
        std::vector<std::pair<store::RiderId, store::HorseId>> pairs;
        for (const store::RiderId r : riders) pairs.emplace_back(r, usual_horse(r));
        const CommonSession common = common_session(yard_, pairs, minutes);
        own_order_left_ = common.own_order_left;
        store::Lesson lesson;
        lesson.day = yard_.today_iso();
        lesson.session = common.json;
        lesson.task = common.task;
        yard_.step(tr("Begin a lesson"), [&](store::YardStore& records) {
            lesson.id = records.add(lesson);
            int turn = 0;
            for (const store::RiderId r : riders) {
                store::LessonPlace place;
                place.lesson = lesson.id;
                place.ride = ride_for(records, r, usual_horse(r));
                place.turn = turn++;
                records.add(place);
            }
        });
        open(lesson.id);
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
    return {};
}

void LessonDesk::refresh() {
    riders_.clear();
    session_ = {};
    if (lesson_) lesson_ = yard_.records().training.lesson(lesson_->id);
    if (!lesson_) return emit changed();
    try {
        if (!lesson_->session.empty()) session_ = core::session_from(lesson_->session);
    } catch (const core::Refused&) {
        session_ = {};  // a lesson without a session still counts and listens
    }
    const store::YardStore& records = yard_.records();
    for (const store::LessonPlace& p : records.training.places(lesson_->id)) {
        const auto ride = records.rides.ride(p.ride);
        if (!ride) continue;
        LessonRider r;
        r.place = p;
        r.ride = *ride;
        const auto rider = records.people.rider(ride->rider);
        const auto horse = records.people.horse(ride->horse);
        r.name = rider ? text(rider->name) : tr("Nobody named");
        r.horse = horse                                    ? text(horse->name)
                  : ride->mount == core::Mount::mechanical ? tr("mechanical horse")
                                                           : tr("which horse?");
        count(r, records.training.clock_notes(p.ride), records.training.clock_events(p.ride));
        HorseLoad load;
        if (horse) {
            load = load_of(records, ride->horse, lesson_->day, {ride->rider, lesson_->id});
            r.horse_minutes = load.minutes;
            r.fences = load.fences;
            for (const std::string& other : load.riders) r.under << text(other);
        }
        load.minutes += seconds_ridden() / 60;
        const auto plan = plan_for(records, yard_.knowledge(), ride->rider, yard_.today_iso());
        r.variant = text(p.variant);
        if (const core::Block* now = block()) r.not_this = shut_for(yard_, *ride, plan, *now, load);
        if (plan && plan->given) {
            const auto& g = *plan->given;
            r.cue = text(g.exercise->cue_picture);
            if (r.variant.isEmpty())
                r.variant = text(g.exercise->dose.ladder[static_cast<std::size_t>(g.place.rung)].words);
        } else if (plan && plan->fault && r.variant.isEmpty()) {
            r.variant = text(plan->fault->name);
        }
        riders_.push_back(std::move(r));
    }
    emit changed();
}

void LessonDesk::change_lesson(const QString& what, const std::function<void(store::Lesson&)>& change) {
    if (!lesson_) return;
    store::Lesson l = *lesson_;
    change(l);
    if (l == *lesson_) return;
    yard_.step(what, [&](store::YardStore& records) { records.update(l); });
    lesson_ = l;
    refresh();
}

void LessonDesk::change_place(int rider, const QString& what,
                              const std::function<void(store::LessonPlace&)>& change) {
    if (rider < 0 || rider >= static_cast<int>(riders_.size())) return;
    store::LessonPlace p = riders_[static_cast<std::size_t>(rider)].place;
    const store::LessonPlace before = p;
    change(p);
    if (p == before) return;
    yard_.step(what, [&](store::YardStore& records) { records.update(p); });
    refresh();
}

QString LessonDesk::add_rider(store::RiderId rider) {
    if (!lesson_) return tr("Begin a lesson first.");
    for (const LessonRider& r : riders_) {
        if (r.ride.rider == rider) return tr("%1 rides in it already.").arg(r.name);
    }
    if (QString line = held_today(yard_, rider); !line.isEmpty()) return line;
    yard_.step(tr("Another rider in the lesson"), [&](store::YardStore& records) {
        store::LessonPlace place;
        place.lesson = lesson_->id;
        place.ride = ride_for(records, rider, usual_horse(rider));
        place.turn = static_cast<int>(riders_.size());
        records.add(place);
    });
    refresh();
    return {};
}

void LessonDesk::set_horse(int rider, store::HorseId horse) {
    if (rider < 0 || rider >= static_cast<int>(riders_.size())) return;
    const LessonRider& r = riders_[static_cast<std::size_t>(rider)];
    yard_.step(tr("Another horse"), [&](store::YardStore& records) {
        // What was said so far stays with the horse it was said on.
        store::LessonPlace p = r.place;
        p.ride = ride_for(records, r.ride.rider, horse);
        records.update(p);
    });
    refresh();
}

void LessonDesk::set_absent(int rider, bool absent) {
    change_place(rider, absent ? tr("Absent") : tr("There after all"),
                 [&](store::LessonPlace& p) { p.absent = absent; });
}

void LessonDesk::move(int rider, int by) {
    const int to = rider + by;
    if (!lesson_ || rider < 0 || to < 0 || std::max(rider, to) >= static_cast<int>(riders_.size())) return;
    std::vector<LessonRider> order = riders_;
    std::swap(order[static_cast<std::size_t>(rider)], order[static_cast<std::size_t>(to)]);
    yard_.step(tr("Change the turn"), [&](store::YardStore& records) {
        int turn = 0;
        for (LessonRider& r : order) {
            r.place.turn = turn++;
            records.update(r.place);
        }
    });
    refresh();
}

bool looked_at(const LessonRider& rider, const QString& item) {
    return text(rider.place.looked).split(' ').contains(item);
}
void LessonDesk::toggle_looked(int rider, const QString& item) {
    change_place(rider, tr("Before mounting"), [&](store::LessonPlace& p) {
        QStringList all = text(p.looked).split(' ', Qt::SkipEmptyParts);
        if (!all.removeOne(item)) all << item;
        p.looked = all.join(' ').toStdString();
    });
}

QString LessonDesk::ground(int rider, const QString& key) const {
    if (rider < 0 || rider >= static_cast<int>(riders_.size())) return {};
    return value_of(riders_[static_cast<std::size_t>(rider)].place.ground, key);
}
void LessonDesk::set_ground(int rider, const QString& key, const QString& value) {
    change_place(rider, tr("Change the sheet"), [&](store::LessonPlace& p) {
        QStringList all;
        for (const QString& one : text(p.ground).split(' ', Qt::SkipEmptyParts)) {
            if (!one.startsWith(key + "=")) all << one;
        }
        if (!value.isEmpty()) all << key + "=" + QString(value).replace(' ', '_');
        p.ground = all.join(' ').toStdString();
    });
}

QString LessonDesk::open_before_mounting(int only) const {
    QStringList all;
    for (int i = 0; i < static_cast<int>(riders_.size()); ++i) {
        const LessonRider& r = riders_[static_cast<std::size_t>(i)];
        if ((only >= 0 && i != only) || r.place.absent || looked_at(r, kWord)) continue;
        QStringList open;
        for (const auto& [id, words] : before_mounting()) {
            if (!looked_at(r, id)) open << words;
        }
        if (!open.isEmpty()) all << tr("%1: %2").arg(r.name, open.join(", "));
    }
    return all.isEmpty() ? QString() : tr("Before mounting, not ticked: %1.").arg(all.join("; "));
}

void LessonDesk::give_word() {
    for (int i = 0; i < static_cast<int>(riders_.size()); ++i) {
        if (open_before_mounting(i).isEmpty()) continue;
        change_place(i, tr("The coach's word before mounting"), [&](store::LessonPlace& p) {
            p.looked = (text(p.looked) + " " + kWord).trimmed().toStdString();
        });
    }
}

QString LessonDesk::start() {
    if (QString line = open_before_mounting(); !line.isEmpty()) return line;
    change_lesson(tr("Start the clock"), [&](store::Lesson& l) {
        if (!l.ended_at.empty()) return;
        if (l.started_at.empty()) l.started_at = now().toStdString();
        if (l.block_since.empty()) l.block_since = now().toStdString();
    });
    return {};
}

void LessonDesk::stand() {
    change_lesson(tr("Stop the clock"), [&](store::Lesson& l) {
        if (l.block_since.empty()) return;
        l.block_used_s += std::max(0, seconds_between(l.block_since, now().toStdString()));
        l.block_since.clear();
    });
}

void LessonDesk::next_block(int by) {
    change_lesson(by > 0 ? tr("The next block") : tr("The block before"), [&](store::Lesson& l) {
        const int to = l.block + by;
        if (to < 0 || to >= static_cast<int>(session_.blocks.size())) return;
        l.block = to;
        l.block_used_s = 0;
        if (!l.block_since.empty()) l.block_since = now().toStdString();
    });
}

void LessonDesk::end() {
    change_lesson(tr("End the lesson"), [&](store::Lesson& l) {
        if (l.started_at.empty() || !l.ended_at.empty()) return;
        l.ended_at = now().toStdString();
        l.block_since.clear();
    });
    if (!lesson_) return;
    for (const LessonRider& r : riders_) lay_under_clips(yard_, r.ride.id);
}

const core::Block* LessonDesk::block(int after) const {
    const int n = lesson_ && lesson_->block >= 0 ? lesson_->block + after : -1;
    return n >= 0 && n < static_cast<int>(session_.blocks.size())
               ? &session_.blocks[static_cast<std::size_t>(n)]
               : nullptr;
}
QString cue_of(const core::Knowledge& knowledge, const core::Block& b) {
    const core::Exercise* e = b.exercise.empty() ? nullptr : knowledge.exercises.find(b.exercise);
    return e ? text(e->cue_picture) : QString();
}

int LessonDesk::seconds_left() const {
    const core::Block* b = block();
    if (!b) return -1;
    int used = lesson_->block_used_s;
    if (!lesson_->block_since.empty()) used += std::max(0, between(text(lesson_->block_since), now()));
    return b->seconds - used;
}

int LessonDesk::seconds_ridden() const {
    if (!lesson_ || lesson_->started_at.empty()) return 0;
    const QString end = lesson_->ended_at.empty() ? now() : text(lesson_->ended_at);
    return std::max(0, between(text(lesson_->started_at), end));
}

void LessonDesk::note(int rider, store::NoteKind kind, const QString& words) {
    if (rider < 0 || rider >= static_cast<int>(riders_.size())) return;
    store::Note n;
    n.ride = riders_[static_cast<std::size_t>(rider)].ride.id;
    n.at = now().toStdString();
    n.kind = kind;
    n.words = words.toStdString();
    add_note(yard_, n);
    if (!words.isEmpty())
        yard_.quietly([&](store::YardStore& records) { records.reviews.use_phrase(words.toStdString()); });
    refresh();
}

void LessonDesk::good(int rider) { note(rider, store::NoteKind::good, {}); }
void LessonDesk::look(int rider) { note(rider, store::NoteKind::look, {}); }
void LessonDesk::word(int rider, const QString& words) {
    if (!words.trimmed().isEmpty()) note(rider, store::NoteKind::words, words.trimmed());
}

void LessonDesk::log(int rider, const QString& event, const QString& detail) {
    if (rider < 0 || rider >= static_cast<int>(riders_.size())) return;
    store::Event e;
    e.ride = riders_[static_cast<std::size_t>(rider)].ride.id;
    e.at = now().toStdString();
    e.event = event.toStdString();
    e.detail = detail.toStdString();
    add_event(yard_, e, event);
    refresh();
}
QString LessonDesk::try_of(int rider, const QString& event) {
    if (rider < 0 || rider >= static_cast<int>(riders_.size())) return {};
    if (QString line = open_before_mounting(rider); !line.isEmpty()) return line;
    log(rider, event);
    return {};
}
QString LessonDesk::attempt(int rider) { return try_of(rider, "attempt"); }
QString LessonDesk::good_one(int rider) { return try_of(rider, "good_one"); }
QString LessonDesk::hold(int rider) {
    const bool held = rider >= 0 && rider < static_cast<int>(riders_.size()) &&
                      !riders_[static_cast<std::size_t>(rider)].held_since.isEmpty();
    return try_of(rider, held ? "let_go" : "set_again");
}

int LessonDesk::unspoken_s(int rider) const {
    if (!lesson_ || rider < 0 || rider >= static_cast<int>(riders_.size()) || lesson_->started_at.empty())
        return 0;
    const QString& last = riders_[static_cast<std::size_t>(rider)].last_spoken;
    const QString since = std::max(last, text(lesson_->started_at));
    return std::max(0, between(since, lesson_->ended_at.empty() ? now() : text(lesson_->ended_at)));
}

int LessonDesk::rein_s(int rider, const QString& rein) const {
    if (!lesson_ || rider < 0 || rider >= static_cast<int>(riders_.size())) return 0;
    int sum = 0;
    QString on, since;
    for (const store::Event& e :
         yard_.records().training.clock_events(riders_[static_cast<std::size_t>(rider)].ride.id)) {
        if (e.event != "rein_left" && e.event != "rein_right") continue;
        if (on == rein) sum += between(since, text(e.at));
        on = e.event == "rein_left" ? "left" : "right";
        since = text(e.at);
    }
    if (on == rein) sum += between(since, lesson_->ended_at.empty() ? now() : text(lesson_->ended_at));
    return std::max(0, sum);
}

void LessonDesk::set_said(int rider, const QString& line) {
    change_place(rider, tr("One line at the end"),
                 [&](store::LessonPlace& p) { p.said = line.trimmed().toStdString(); });
}

QString proposed_line(const Yard& yard, const LessonRider& r) {
    QStringList out;
    if (r.good_ones > 0 || r.attempts > 0)
        out << QObject::tr("%1 of %2 good").arg(r.good_ones).arg(r.attempts);
    if (r.held_s >= 1) out << QObject::tr("held for %1 s").arg(r.held_s, 0, 'f', 0);
    if (r.goods > 0)
        out << (r.goods == 1 ? QObject::tr("one very good moment")
                             : QObject::tr("%1 very good moments").arg(r.goods));
    const auto notes = yard.records().training.clock_notes(r.ride.id);
    for (auto n = notes.rbegin(); n != notes.rend(); ++n) {
        if (n->words.empty()) continue;
        out << text(n->words);
        break;
    }
    return out.join("; ");
}

namespace {

struct LessonFilm {
    store::Clip clip;
    int slot = 0;
    QDateTime start;  ///< by the recorder's clock as it was set right
};

std::vector<LessonFilm> films_of(const store::YardStore& records, store::RideId id) {
    std::vector<LessonFilm> out;
    for (const store::Clip& c : records.rides.clips_of(id)) {
        const QDateTime start = QDateTime::fromString(text(c.recorded_at), Qt::ISODate);
        if (c.recorded_at.size() < 16 || !start.isValid() || c.duration_s <= 0) continue;
        for (const store::Slot& s : records.rides.places(c.id)) {
            if (s.ride == id) out.push_back({c, s.slot, start.addSecs(c.clock_off_s)});
        }
    }
    return out;
}

/// The film that an instant lies whole inside, and how far.
std::optional<std::pair<const LessonFilm*, double>> film_at(const std::vector<LessonFilm>& films,
                                                            const std::string& at) {
    const QDateTime t = QDateTime::fromString(text(at), Qt::ISODate);
    for (const LessonFilm& f : films) {
        const double s = static_cast<double>(f.start.msecsTo(t)) / 1000;
        if (t.isValid() && s >= 0 && s <= f.clip.duration_s) return std::pair(&f, s);
    }
    return std::nullopt;
}

/// A note where it belongs now: in its film, or with the ride where none shows it.
store::Note laid(store::Note n, const std::vector<LessonFilm>& films, store::RideId ride) {
    const auto at = film_at(films, n.at);
    const bool shown = at && at->first->clip.frames > 0;
    n.clip = shown ? at->first->clip.id : store::ClipId{};
    n.slot = shown ? at->first->slot : 0;
    n.ride = shown ? store::RideId{} : ride;
    n.frame = !shown ? 0
                     : std::clamp(
                           static_cast<int>(at->second / at->first->clip.duration_s * at->first->clip.frames),
                           0, at->first->clip.frames - 1);
    return n;
}

store::Event laid(store::Event e, const std::vector<LessonFilm>& films) {
    const auto at = film_at(films, e.at);
    e.clip = at ? at->first->clip.id : store::ClipId{};
    e.slot = at ? at->first->slot : 0;
    e.time_s = at ? at->second : 0;
    return e;
}

}  // namespace

int lay_under_clips(Yard& yard, store::RideId id) {
    const store::YardStore& records = yard.records();
    const std::vector<LessonFilm> films = films_of(records, id);
    std::vector<store::Note> notes = records.training.clock_notes(id);
    std::vector<store::Event> events = records.training.clock_events(id);
    // What was laid before the recorder's clock was set right is laid anew.
    for (const LessonFilm& f : films) {
        for (const store::Note& n : records.reviews.notes(f.clip.id)) {
            if (!n.at.empty() && n.slot == f.slot) notes.push_back(n);
        }
        for (const store::Event& e : records.reviews.events_in(f.clip.id)) {
            if (!e.at.empty() && e.slot == f.slot) events.push_back(e);
        }
    }
    std::vector<store::Note> moved_notes;
    std::vector<store::Event> moved_events;
    for (const store::Note& n : notes) {
        const store::Note there = laid(n, films, id);
        if (there.clip != n.clip || there.frame != n.frame || there.slot != n.slot)
            moved_notes.push_back(there);
    }
    for (const store::Event& e : events) {
        if (const store::Event there = laid(e, films); !(there == e)) moved_events.push_back(there);
    }
    const int all = static_cast<int>(moved_notes.size() + moved_events.size());
    if (all == 0) return 0;
    yard.step(QObject::tr("Lay the lesson's notes under the clips"), [&](store::YardStore& to) {
        for (const store::Note& n : moved_notes) to.update(n);
        for (const store::Event& e : moved_events) to.update(e);
    });
    return all;
}

}  // namespace aspen::app

#include "moc_lesson_desk.cpp"
