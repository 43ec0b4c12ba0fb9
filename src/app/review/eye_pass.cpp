#include "app/review/eye_pass.hpp"

#include <algorithm>

#include "app/files/text.hpp"
#include "app/review/finding_row.hpp"
#include "app/yard/changes.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

/// What was answered to a check in the stretch of the deck's frame, or anywhere where once is enough.
std::optional<Said> said_before(const BenchState& bench, const core::Check& check) {
    const Review& review = bench.review();
    const auto stretch_of = [&](int frame) { return core::stretch_at(review.stretches(), frame); };
    const int here = bench.deck().frame();
    std::optional<Said> out;
    int nearest = 0;
    for (const store::Answer& a : review.answers()) {
        const bool counts = check.whole_ride || stretch_of(a.frame) == stretch_of(here);
        if (a.slot != review.slot() || a.check != check.id || !counts) continue;
        const int away = std::abs(a.frame - here);
        if (!out || away <= nearest) {
            out = a.said;
            nearest = away;
        }
    }
    return out;
}

/// Whether an answer could change what is found or goes first here: a finding waits for it, it drives
/// something that was found, or it is a matter of safety. Where nothing is marked, the eye alone says.
bool decides(const BenchState& bench, const core::Check& check) {
    const auto rows = bench.findings().rows();
    if (bench.review().moments().empty()) return true;
    const core::FaultBook& book = bench.yard().knowledge().faults;
    const std::string& about = check.about.empty() ? check.id : check.about;
    const core::Fault* fault = book.find(about);
    if (fault && fault->kind == core::Fault::Kind::fault && fault->group == core::AttentionGroup::safety)
        return true;
    const auto found = [&](const std::string& id) {
        return std::ranges::any_of(rows, [&](const FindingRow& r) { return r.found.fault->id == id; });
    };
    return std::ranges::any_of(book.causes(),
                               [&](const core::Cause& c) { return c.from == about && found(c.to); });
}

void write_answer(Bench& bench, const std::string& id, Said said, const QString& words) {
    if (!bench.is_open() || !bench.deck().ready()) return;
    store::Answer a;
    a.clip = bench.review().clip().id;
    a.slot = bench.review().slot();
    a.frame = bench.deck().frame();
    a.check = id;
    a.said = said;
    answer(bench.yard(), a, words);
}

}  // namespace

std::vector<Question> questions_here(const BenchState& bench) {
    std::vector<Question> out;
    if (!bench.is_open() || !bench.deck().ready()) return out;
    const core::Knowledge& known = bench.yard().knowledge();
    const bool moving = bench.deck().facts().frames > 1;
    for (const core::Check* c :
         known.checks.asked(bench.review().stretch().view, bench.review().setting(), moving)) {
        Question q{c, said_before(bench, *c), false, decides(bench, *c)};
        q.wanted = std::ranges::find(bench.findings().wanted(), c->id, &core::CheckWanted::check) !=
                   bench.findings().wanted().end();
        q.decides |= q.wanted;
        out.push_back(q);
    }
    std::ranges::stable_sort(out, {}, [](const Question& q) { return q.wanted ? 0 : q.decides ? 1 : 2; });
    return out;
}

void answer_here(Bench& bench, const std::string& check, Said said) {
    const core::Check* c = bench.yard().knowledge().checks.find(check);
    if (c) write_answer(bench, check, said, QObject::tr("Answer: ") + text(c->asks));
}

std::vector<Named> named_by(const core::Knowledge& knowledge, const QString& letters) {
    std::vector<Named> all;
    const auto add = [&](const std::string& id, const std::string& name, const std::string& by, Said said) {
        all.push_back({id, text(name), text(by), said});
    };
    for (const core::Fault& f : knowledge.faults.faults()) add(f.id, f.name, f.letters, Said::fault);
    for (const core::Fault& f : knowledge.faults.states())
        add(f.id, f.name, f.letters, f.kind == core::Fault::Kind::good_answer ? Said::good : Said::fault);
    for (const core::StrengthRule& s : knowledge.strengths.all()) add(s.id, s.name, s.letters, Said::good);
    // Its two letters, then what begins so, then what has a word that begins so; each once.
    const auto rank = [&](const Named& n) {
        if (n.letters.compare(letters, Qt::CaseInsensitive) == 0) return 0;
        if (n.name.startsWith(letters, Qt::CaseInsensitive)) return 1;
        if (n.letters.startsWith(letters, Qt::CaseInsensitive)) return 2;
        return n.name.contains(" " + letters, Qt::CaseInsensitive) ? 3 : 4;
    };
    std::erase_if(all, [&](const Named& n) { return rank(n) == 4; });
    std::ranges::stable_sort(all, {}, rank);
    return all;
}

void name_here(Bench& bench, const Named& named) {
    write_answer(bench, named.id, named.said, QObject::tr("Name: ") + named.name);
}

QStringList states_of(const core::RideAssessment& assessment, bool horse) {
    QStringList out;
    for (const core::NamedState& s : assessment.states) {
        if ((s.state->kind != core::Fault::Kind::state) == horse) out << text(s.state->name);
    }
    out.removeDuplicates();
    return out;
}

}  // namespace aspen::app
