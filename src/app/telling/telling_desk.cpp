#include "app/telling/telling_desk.hpp"

#include <QFileInfo>
#include <QScopedValueRollback>
#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/telling/voice_file.hpp"
#include "core/reading/refused.hpp"
#include "sound/microphone.hpp"

namespace aspen::app {
namespace {

constexpr int kTick_ms = 20;
constexpr double kPause_s = 0.4;  // what a pause is shortened to
constexpr double kLeast_s = 0.05;

}  // namespace

TellingDesk::TellingDesk(Yard& yard, QObject* parent) : QObject(parent), yard_(yard) {
    timer_.setInterval(kTick_ms);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &TellingDesk::tick);
    connect(&yard_, &Yard::leaving_changed, this, [this] {
        if (spoken_.id && !writing_) read();
    });
}
TellingDesk::~TellingDesk() = default;

QString TellingDesk::open(store::SpokenId id) {
    pause();
    spoken_ = {};
    spoken_.id = id;
    at_s_ = 0;
    chosen_.reset();
    covers_.reset();
    if (covering_) covering_->stop();
    decks_.clear();
    plan_.reset();
    if (!id) {
        emit changed();
        return {};
    }
    try {
        read();
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
    return plan_ ? QString() : tr("This review is not there any more.");
}

/// As it stands in the records: also after a step was taken back.
void TellingDesk::read() {
    const auto now = yard_.records().leaving.spoken(spoken_.id);
    plan_.reset();
    if (now) {
        spoken_ = *now;
        plan_ = film_plan(yard_, spoken_, nullptr);
        const qint64 bytes = QFileInfo(plan_->voice).size();
        if (recorded_from_ != plan_->voice || recorded_bytes_ != bytes) {
            recorded_ = read_voice(plan_->voice).value_or(core::Voice{});
            recorded_from_ = plan_->voice;
            recorded_bytes_ = bytes;
        }
        told_ = core::told_voice(recorded_, sound::Microphone::kRate, plan_->telling.cuts());
        has_voice_ = std::ranges::any_of(told_, [](std::int16_t s) { return s != 0; });
        captions_ = plan_->telling.captions(plan_->notes);
        at_s_ = std::clamp(at_s_, 0.0, plan_->telling.length_s());
    }
    emit changed();
    show();
    if (!covers_ || (plan_ && plan_->telling.deeds().size() != covered_deeds_)) cover();
}

/// Follows the faces in the background: then what is shown here is what will leave.
void TellingDesk::cover() {
    if (covering_) covering_->stop();
    covering_.reset();
    if (!plan_) return;
    covered_deeds_ = plan_->telling.deeds().size();  // a cut shows nothing new; a new take may
    const auto permit = ask_to_leave(yard_, plan_->telling);
    if (!permit) return;
    covering_ = yard_.jobs().run_quietly(
        JobLane::look, tr("Following faces"), this,
        [plan = film_plan(yard_, spoken_, &*permit)](Job& job) { return follow_faces(plan, job); },
        [this, id = spoken_.id](const Outcome<std::map<std::int64_t, FaceCovers>>& followed) {
            if (id != spoken_.id || !followed.value) return;
            covers_ = *followed.value;
            for (const auto& [clip, c] : *covers_) {
                if (!c.trouble.isEmpty()) emit say(c.trouble);
            }
            emit moved();
        });
}

ClipDeck& TellingDesk::deck(const Place& place) {
    Shown& s = decks_[place];
    if (!s.deck) {
        s.deck = std::make_unique<ClipDeck>();
        connect(s.deck.get(), &ClipDeck::picture_changed, this, &TellingDesk::moved);
        connect(s.deck.get(), &ClipDeck::opened, this, [this, place] {
            Shown& there = decks_.at(place);
            there.deck->go_to(there.wanted);
        });
        ClipDeck::Options options;
        const ClipOnFilm& on = plan_->clips.at(place.first);
        options.frames.cache_folder = cache_folder();
        options.frames.content_hash = on.hash;
        s.deck->open(on.file, options);
    }
    return *s.deck;
}

void TellingDesk::show() {
    if (!plan_) return emit moved();
    const core::Scene scene = plan_->telling.scene(plan_->telling.raw_at(at_s_));
    const auto go = [&](const core::ShownFrame& at, bool beside) {
        if (!plan_->clips.contains(at.clip)) return;
        ClipDeck& d = deck({at.clip, beside});
        decks_.at({at.clip, beside}).wanted = at.frame;
        if (d.ready() && d.frame() != at.frame)
            d.go_to(at.frame, playing() ? media::Motion::forward : media::Motion::rest);
    };
    go(scene.shown, false);
    if (scene.beside) go(*scene.beside, true);
    emit moved();
}

QImage TellingDesk::picture_of(const core::ShownFrame& at, bool beside) const {
    const auto it = decks_.find({at.clip, beside});
    if (it == decks_.end() || it->second.deck->picture().isNull()) return {};
    const QImage& there = it->second.deck->picture();
    const QSize size = it->second.deck->display_size();
    return there.size() == size ? there : there.scaled(size, Qt::IgnoreAspectRatio, Qt::FastTransformation);
}

QImage TellingDesk::picture(QSize size) const {
    if (!plan_ || size.isEmpty()) return {};
    core::Scene scene = plan_->telling.scene(plan_->telling.raw_at(at_s_));
    const QImage main = picture_of(scene.shown, false);
    if (main.isNull()) return {};
    const QImage beside = scene.beside ? picture_of(*scene.beside, true) : QImage();
    if (beside.isNull()) scene.beside.reset();
    exchange::FilmScene shown = film_scene(*plan_, scene, main, beside);
    const auto covered_as = [&](exchange::FilmPicture& picture, const core::ShownFrame& at) {
        if (!covers_) return;
        const auto c = covers_->find(at.clip);
        if (c != covers_->end() && c->second.knows(at.frame)) picture.covers = c->second.at(at.frame);
    };
    covered_as(shown.main, scene.shown);
    if (shown.beside && scene.beside) covered_as(*shown.beside, *scene.beside);
    for (const core::Caption& c : captions_) {
        if (at_s_ >= c.from_s && at_s_ < c.to_s) shown.caption = QString::fromStdString(c.words);
    }
    return exchange::compose(shown, main.size().scaled(size, Qt::KeepAspectRatio));
}

void TellingDesk::go_to(double told_s) {
    if (!plan_) return;
    const bool plays = playing();
    pause();
    at_s_ = std::clamp(told_s, 0.0, plan_->telling.length_s());
    show();
    if (plays) play();
}

void TellingDesk::play() {
    if (!plan_ || playing()) return;
    if (at_s_ >= plan_->telling.length_s() - kLeast_s) at_s_ = 0;
    played_from_s_ = at_s_;
    if (has_voice_) {
        auto both = std::make_shared<std::vector<std::int16_t>>();
        both->reserve(told_.size() * 2);
        for (const std::int16_t s : told_) {
            both->push_back(s);
            both->push_back(s);
        }
        speaker_.play(both, sound::Microphone::kRate,
                      static_cast<std::int64_t>(at_s_ * sound::Microphone::kRate));
    }
    clock_.start();
    timer_.start();
    emit changed();
}

void TellingDesk::pause() {
    if (!playing()) return;
    timer_.stop();
    speaker_.stop();
    emit changed();
}

void TellingDesk::tick() {
    at_s_ = played_from_s_ + static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
    if (at_s_ >= plan_->telling.length_s()) {
        at_s_ = plan_->telling.length_s();
        pause();
    }
    show();
}

void TellingDesk::choose(std::optional<core::Cut> part) {
    if (part && part->to_s < part->from_s) std::swap(part->from_s, part->to_s);
    if (part && part->length_s() < kLeast_s) part.reset();
    chosen_ = part;
    emit moved();
}

void TellingDesk::keep(const QString& what, const core::Telling& telling) {
    pause();
    spoken_.timeline = core::write_telling(telling);
    {
        const QScopedValueRollback quiet(writing_, true);
        yard_.step(what, [&](store::YardStore& records) { records.update(spoken_); });
    }
    chosen_.reset();
    read();
}

QString TellingDesk::leave_out() {
    if (!plan_) return tr("There is no review here yet.");
    if (!chosen_) return tr("Choose a part first: drag over the wave.");
    core::Telling t = plan_->telling;
    const core::Cut part = *chosen_;
    t.leave_out(part.from_s, part.to_s);
    if (t.empty()) return tr("That would leave nothing; take the whole review away instead.");
    at_s_ = part.from_s;
    keep(tr("Leave a part out"), t);
    return tr("Left out: %1 s. [undo] brings it back.").arg(part.length_s(), 0, 'f', 1);
}

QString TellingDesk::begin_here() {
    if (!plan_ || at_s_ < kLeast_s) return tr("It begins here already.");
    choose(core::Cut{0, at_s_});
    return leave_out();
}
QString TellingDesk::end_here() {
    if (!plan_ || at_s_ > plan_->telling.length_s() - kLeast_s) return tr("It ends here already.");
    choose(core::Cut{at_s_, plan_->telling.length_s()});
    return leave_out();
}

QString TellingDesk::shorten_pause() {
    if (!plan_) return tr("There is no review here yet.");
    for (const core::Cut& p : core::pauses(told_, sound::Microphone::kRate)) {
        if (p.to_s < at_s_) continue;
        core::Telling t = plan_->telling;
        t.shorten(p.from_s, p.to_s, kPause_s);
        at_s_ = p.from_s;
        keep(tr("Shorten a pause"), t);
        return tr("A pause of %1 s is short now.").arg(p.length_s(), 0, 'f', 1);
    }
    return tr("No pause comes after this.");
}

QString TellingDesk::shorten_all_pauses() {
    if (!plan_) return tr("There is no review here yet.");
    core::Telling t = plan_->telling;
    const auto all = core::pauses(told_, sound::Microphone::kRate);
    for (auto p = all.rbegin(); p != all.rend(); ++p) t.shorten(p->from_s, p->to_s, kPause_s);
    if (all.empty()) return tr("There is no pause worth shortening.");
    const double saved = plan_->telling.length_s() - t.length_s();
    keep(tr("Shorten all pauses"), t);
    return tr("%1 pauses are short now: %2 s less.").arg(all.size()).arg(saved, 0, 'f', 1);
}

std::optional<TellingDesk::Room> TellingDesk::make_room(bool chapter_only) {
    if (!plan_) return std::nullopt;
    core::Telling t = plan_->telling;
    double from = at_s_, to = t.length_s();
    if (chapter_only) {
        const auto all = t.chapters();
        for (std::size_t i = 0; i < all.size(); ++i) {
            const double end = i + 1 < all.size() ? all[i + 1].at_s : t.length_s();
            if (at_s_ < all[i].at_s || at_s_ >= end) continue;
            from = all[i].at_s;
            to = end;
        }
    }
    Room out{spoken_, t.leave_out(from, to)};
    out.spoken.timeline = core::write_telling(t);
    return out;
}

void TellingDesk::remove() {
    if (!spoken_.id) return;
    const store::SpokenId gone = spoken_.id;
    open({});
    // The voice stays where it is: taking the step back brings the review back whole.
    yard_.step(tr("Take a spoken review away"), [&](store::YardStore& records) { records.remove(gone); });
}

}  // namespace aspen::app

#include "moc_telling_desk.cpp"
