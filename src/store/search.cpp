#include "store/search.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

#include "store/statement.hpp"

namespace aspen::store {
namespace {

/// Every word as a phrase, the last one as a beginning: whatever is typed is looked for, nothing is syntax.
std::string match_of(const std::string& words) {
    std::string out, word;
    const auto flush = [&](bool last) {
        if (word.empty()) return;
        out += fmt::format("{}\"{}\"{}", out.empty() ? "" : " ", word, last ? "*" : "");
        word.clear();
    };
    for (const char c : words) {
        if (std::isspace(static_cast<unsigned char>(c)))
            flush(false);
        else if (c != '"')
            word += c;
    }
    flush(true);
    return out;
}

}  // namespace

std::vector<Hit> Search::places(const std::string& words, int most) const {
    const std::string match = match_of(words);
    std::vector<Hit> out;
    if (match.empty()) return out;
    struct Kind {
        HitKind kind;
        int row;           ///< of the row number modulo eight
        const char* ride;  ///< where it leads
    };
    static constexpr Kind kinds[] = {{HitKind::rider, 1, nullptr},
                                     {HitKind::horse, 2, nullptr},
                                     {HitKind::ride, 3, "SELECT id FROM ride WHERE id = ?"},
                                     {HitKind::note, 4, "SELECT ride FROM note_ride WHERE id = ?"},
                                     {HitKind::remark, 5, "SELECT ride FROM remark WHERE id = ?"},
                                     {HitKind::finding, 6, "SELECT ride FROM finding WHERE id = ?"}};
    // The newest of each kind; weighing every place of a common word against the others would take longer
    // than looking.
    std::vector<std::int64_t> newest[8];
    query(
        database_, "SELECT rowid FROM search WHERE search MATCH ? ORDER BY rowid DESC",
        [&](Binder& b) { b << match; },
        [&](SQLite::Statement& s) {
            const std::int64_t row = s.getColumn(0).getInt64();
            auto& of_kind = newest[row % 8];
            if (of_kind.size() < static_cast<std::size_t>(std::max(1, most / 4))) of_kind.push_back(row);
            return 0;
        });
    for (const Kind& k : kinds) {
        for (const std::int64_t row : newest[k.row]) {
            Hit hit{k.kind, row / 8, {}, {}, {}};
            query(
                database_, "SELECT words, about FROM search WHERE rowid = ?", [&](Binder& b) { b << row; },
                [&](SQLite::Statement& s) {
                    hit.text = s.getColumn(0).getString();
                    if (hit.text.empty()) hit.text = s.getColumn(1).getString();
                    return 0;
                });
            while (!hit.text.empty() && hit.text.back() == ' ') hit.text.pop_back();
            if (k.ride) {
                for (const RideId id : query(
                         database_, k.ride, [&](Binder& b) { b << hit.id; },
                         [](SQLite::Statement& s) {
                             RideId read;
                             Reader(s) >> read;
                             return read;
                         }))
                    hit.ride = id;
                if (const auto r = rides_.ride(hit.ride)) hit.day = r->day;
            }
            out.push_back(std::move(hit));
        }
    }
    std::ranges::stable_sort(out, [](const Hit& a, const Hit& b) {
        const bool first_a = a.day.empty(), first_b = b.day.empty();  // riders and horses
        return first_a != first_b ? first_a : a.day > b.day;
    });
    if (out.size() > static_cast<std::size_t>(most)) out.resize(static_cast<std::size_t>(most));
    return out;
}

}  // namespace aspen::store
