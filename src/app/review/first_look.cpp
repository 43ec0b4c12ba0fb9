#include "app/review/first_look.hpp"

#include <algorithm>

#include "app/yard/changes.hpp"

namespace aspen::app {
namespace {

bool at_work(Bench& bench) { return bench.is_open() && bench.deck().ready(); }

void put(Bench& bench, const core::Stretches& after, const QString& what) {
    set_stretches(bench.yard(), bench.review().clip().id, after, what);
}

template <typename Change>
void cut(Bench& bench, const QString& what, Change change) {
    if (at_work(bench))
        put(bench, core::cut_at(bench.review().stretches(), bench.deck().frame(), change), what);
}

/// What is said for the first time in a clip holds for all of it; from then on it cuts.
template <typename Field, typename Value>
void cut_unless_first(Bench& bench, const QString& what, Field field, Value value) {
    if (!at_work(bench)) return;
    core::Stretches all = bench.review().stretches();
    if (std::ranges::any_of(all, [&](const core::Stretch& s) { return (s.*field).has_value(); })) {
        return cut(bench, what, [&](core::Stretch& s) { s.*field = value, s.judged = true; });
    }
    for (core::Stretch& s : all) s.*field = value;
    put(bench, all, what);
}

QString spoken(std::string_view w) { return QString::fromUtf8(w.data(), static_cast<qsizetype>(w.size())); }

}  // namespace

void add_note(Bench& bench, store::NoteKind kind, const QString& words, std::optional<int> frame) {
    if (!at_work(bench)) return;
    if (kind == store::NoteKind::words && words.trimmed().isEmpty()) return;
    store::Note note;
    note.clip = bench.review().clip().id;
    note.frame = frame.value_or(bench.deck().frame());
    note.kind = kind;
    note.words = words.trimmed().toStdString();
    note.slot = bench.review().slot();
    add_note(bench.yard(), note);
}

bool add_phrase(Bench& bench, int number) {
    const auto phrases = bench.yard().records().reviews.phrases();
    if (number < 1 || static_cast<std::size_t>(number) > phrases.size()) return false;
    add_note(bench, store::NoteKind::words,
             QString::fromStdString(phrases[static_cast<std::size_t>(number) - 1]));
    return true;
}

bool go_to_note(Bench& bench, int direction) {
    const store::Note* best = nullptr;
    for (const store::Note& n : bench.review().notes()) {
        if ((n.frame - bench.deck().frame()) * direction <= 0) continue;
        if (!best || (n.frame - best->frame) * direction < 0) best = &n;
    }
    if (!best) return false;
    if (best->slot != bench.review().slot()) bench.review().show_slot(best->slot);
    bench.deck().go_to(best->frame);
    return true;
}

bool remove_note_here(Bench& bench) {
    const auto it = std::ranges::find(bench.review().notes(), bench.deck().frame(), &store::Note::frame);
    if (it == bench.review().notes().end()) return false;
    remove_note(bench.yard(), store::Note(*it));
    return true;
}

void ride_from_here(Bench& bench, core::Gait gait) {
    cut_unless_first(bench, QObject::tr("From here: ") + spoken(core::spoken(gait)), &core::Stretch::gait,
                     gait);
}
void ride_from_here(Bench& bench, core::Seat seat) {
    cut_unless_first(bench, QObject::tr("From here: ") + spoken(core::spoken(seat)), &core::Stretch::seat,
                     seat);
}
void ride_from_here(Bench& bench, core::Rein rein) {
    cut(bench, QObject::tr("From here: ") + spoken(core::spoken(rein)),
        [rein](core::Stretch& s) { s.rein = rein, s.judged = true; });
}
void movement_from_here(Bench& bench, const std::string& movement, bool asked) {
    cut(bench,
        (asked ? QObject::tr("From here, asked: ") : QObject::tr("From here: ")) +
            QString::fromStdString(movement).replace('_', ' '),
        [&](core::Stretch& s) { (asked ? s.asked : s.shown) = movement; });
}

namespace {

template <typename Field, typename Value>
void say_in_stretch(Bench& bench, const QString& what, Field field, Value value) {
    if (!at_work(bench)) return;
    core::Stretches all = bench.review().stretches();
    const bool first =
        std::ranges::none_of(all, [&](const core::Stretch& s) { return (s.*field).has_value(); });
    if (first) {
        for (core::Stretch& s : all) s.*field = value;
    } else {
        all[core::stretch_at(all, bench.deck().frame())].*field = value;
    }
    put(bench, all, what);
}

}  // namespace

void ridden_here(Bench& bench, core::Gait gait) {
    say_in_stretch(bench, QObject::tr("Change gait"), &core::Stretch::gait, gait);
}
void ridden_here(Bench& bench, core::Seat seat) {
    say_in_stretch(bench, QObject::tr("Change seat"), &core::Stretch::seat, seat);
}

void toggle_judged_here(Bench& bench) {
    if (!at_work(bench)) return;
    core::Stretches all = bench.review().stretches();
    core::Stretch& here = all[core::stretch_at(all, bench.deck().frame())];
    here.judged = !here.judged;
    put(bench, all,
        here.judged ? QObject::tr("Judge this stretch") : QObject::tr("Leave this stretch unjudged"));
}

void split_here(Bench& bench) {
    if (at_work(bench))
        put(bench, core::split_at(bench.review().stretches(), bench.deck().frame()), QObject::tr("Cut here"));
}

bool join_here(Bench& bench) {
    const core::Stretches& all = bench.review().stretches();
    if (!at_work(bench) || all.size() < 2) return false;
    put(bench, core::join(all, core::stretch_at(all, bench.deck().frame())), QObject::tr("Join stretches"));
    return true;
}

void name_stretch(Bench& bench, std::size_t place, const QString& name) {
    core::Stretches all = bench.review().stretches();
    if (place >= all.size()) return;
    all[place].name = name.trimmed().toStdString();
    put(bench, all, QObject::tr("Name stretch"));
}

}  // namespace aspen::app
