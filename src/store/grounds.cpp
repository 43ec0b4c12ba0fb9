#include "store/grounds.hpp"

#include <fmt/format.h>

#include "store/statement.hpp"

namespace aspen::store {

void Grounds::put(const LaidArena& arena) {
    within([&] {
        run(database_, "DELETE FROM laid_arena WHERE clip = ?", [&](Binder& b) { b << arena.clip; });
        insert(database_, arena);
    });
}

std::optional<LaidArena> Grounds::laid(ClipId clip) const {
    const auto all = select<LaidArena>(database_, "WHERE clip = ?", [&](Binder& b) { b << clip; });
    return all.empty() ? std::nullopt : std::optional(all.front());
}

void Grounds::remove(LaidArenaId id) {
    within([&] {
        for (const char* table : {"asked_line", "arena_mark"})
            run(database_,
                fmt::format("DELETE FROM {} WHERE clip = (SELECT clip FROM laid_arena WHERE id = ?)", table),
                [&](Binder& b) { b << id; });
        erase(database_, "laid_arena", id);
    });
}

std::vector<ClipId> Grounds::laid_on(const std::string& day) const {
    return query(
        database_,
        "SELECT c.id FROM clip c JOIN laid_arena a ON a.clip = c.id WHERE NOT c.trashed AND "
        "substr(CASE WHEN c.recorded_at = '' THEN c.added_on ELSE c.recorded_at END, 1, 10) = ? ORDER BY "
        "c.id "
        "DESC",
        [&](Binder& b) { b << day; }, [](SQLite::Statement& s) { return ClipId{s.getColumn(0).getInt64()}; });
}

ArenaMarkId Grounds::add(const ArenaMark& mark) { return {insert(database_, mark)}; }

void Grounds::remove(ArenaMarkId id) { erase(database_, "arena_mark", id); }

std::vector<ArenaMark> Grounds::arena_marks(ClipId clip) const {
    return select<ArenaMark>(database_, "WHERE clip = ? ORDER BY id", [&](Binder& b) { b << clip; });
}

AskedLineId Grounds::add(const AskedLine& asked) { return {insert(database_, asked)}; }

void Grounds::remove(AskedLineId id) { erase(database_, "asked_line", id); }

std::vector<AskedLine> Grounds::asked_lines(ClipId clip) const {
    return select<AskedLine>(database_, "WHERE clip = ? ORDER BY from_frame, id",
                             [&](Binder& b) { b << clip; });
}

}  // namespace aspen::store
