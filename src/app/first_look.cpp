#include "app/first_look.hpp"

#include <algorithm>

namespace aspen::app {
namespace {

template <typename Change>
void cut(Bench& bench, const QString& what, Change change,
         const std::function<void(store::ClipContext&)>& first = {}) {
    if (!bench.is_open() || !bench.ready()) return;
    Yard& yard = bench.yard();
    const auto after = core::cut_at(bench.stretches(), bench.frame(), change);
    store::ClipContext context = bench.clip().context;
    if (first) first(context);
    const bool says_first = !(context == bench.clip().context);
    std::optional<OneStep> step;
    if (says_first) step.emplace(yard, what);
    yard.set_stretches(bench.clip().id, after, what);
    if (says_first) bench.set_context(context, what);
}

QString spoken(std::string_view w) { return QString::fromUtf8(w.data(), static_cast<qsizetype>(w.size())); }

}  // namespace

void add_note(Bench& bench, store::NoteKind kind, const QString& words) {
    if (!bench.is_open() || !bench.ready()) return;
    if (kind == store::NoteKind::words && words.trimmed().isEmpty()) return;
    bench.yard().add_note(
        {{}, bench.clip().id, bench.frame(), kind, words.trimmed().toStdString(), bench.slot()});
}

bool add_phrase(Bench& bench, int number) {
    const auto phrases = bench.yard().records().phrases();
    if (number < 1 || static_cast<std::size_t>(number) > phrases.size()) return false;
    add_note(bench, store::NoteKind::words,
             QString::fromStdString(phrases[static_cast<std::size_t>(number) - 1]));
    return true;
}

bool go_to_note(Bench& bench, int direction) {
    const store::Note* best = nullptr;
    for (const store::Note& n : bench.notes()) {
        if ((n.frame - bench.frame()) * direction <= 0) continue;
        if (!best || (n.frame - best->frame) * direction < 0) best = &n;
    }
    if (!best) return false;
    if (best->slot != bench.slot()) bench.show_slot(best->slot);
    bench.go_to(best->frame);
    return true;
}

bool remove_note_here(Bench& bench) {
    const auto it = std::ranges::find(bench.notes(), bench.frame(), &store::Note::frame);
    if (it == bench.notes().end()) return false;
    bench.yard().remove_note(store::Note(*it));
    return true;
}

void ride_from_here(Bench& bench, core::Gait gait) {
    cut(
        bench, "From here: " + spoken(core::spoken(gait)),
        [gait](core::Stretch& s) { s.gait = gait, s.judged = true; },
        [gait](store::ClipContext& c) {
            if (!c.gait) c.gait = gait;
        });
}
void ride_from_here(Bench& bench, core::Seat seat) {
    cut(
        bench, "From here: " + spoken(core::spoken(seat)),
        [seat](core::Stretch& s) { s.seat = seat, s.judged = true; },
        [seat](store::ClipContext& c) {
            if (!c.seat) c.seat = seat;
        });
}
void ride_from_here(Bench& bench, core::Rein rein) {
    cut(bench, "From here: " + spoken(core::spoken(rein)),
        [rein](core::Stretch& s) { s.rein = rein, s.judged = true; });
}
void movement_from_here(Bench& bench, const std::string& movement, bool asked) {
    cut(bench,
        (asked ? "From here, asked: " : "From here: ") + QString::fromStdString(movement).replace('_', ' '),
        [&](core::Stretch& s) { (asked ? s.asked : s.shown) = movement; });
}

void toggle_judged_here(Bench& bench) {
    if (!bench.is_open() || !bench.ready()) return;
    core::Stretches all = bench.stretches();
    if (all.empty()) all.push_back({});
    core::Stretch& here = all[*core::stretch_at(all, bench.frame())];
    here.judged = !here.judged;
    bench.yard().set_stretches(bench.clip().id, all,
                               here.judged ? "Judge this stretch" : "Leave this stretch unjudged");
}

void split_here(Bench& bench) {
    if (bench.is_open() && bench.ready())
        bench.yard().set_stretches(bench.clip().id, core::split_at(bench.stretches(), bench.frame()),
                                   "Cut here");
}

bool join_here(Bench& bench) {
    const auto at = core::stretch_at(bench.stretches(), bench.frame());
    if (!at) return false;
    bench.yard().set_stretches(bench.clip().id, core::join(bench.stretches(), *at), "Join stretches");
    return true;
}

void name_stretch(Bench& bench, std::size_t place, const QString& name) {
    core::Stretches all = bench.stretches();
    if (place >= all.size()) return;
    all[place].name = name.trimmed().toStdString();
    bench.yard().set_stretches(bench.clip().id, all, "Name stretch");
}

}  // namespace aspen::app
