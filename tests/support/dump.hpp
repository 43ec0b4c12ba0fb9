#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <string>

#include "store/yard_store.hpp"

namespace aspen::test {

/// All records as text, table by table and row by row, but for what follows from them: the search, SQLite's
/// own tables.
inline std::string dump_of(store::YardStore& yard) {
    SQLite::Database& db = yard.database().raw();
    std::string out;
    SQLite::Statement tables(
        db,
        "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'search%' AND name NOT LIKE "
        "'sqlite_%' ORDER BY name");
    while (tables.executeStep()) {
        const std::string name = tables.getColumn(0).getString();
        out += name + "\n";
        SQLite::Statement rows(db, "SELECT * FROM \"" + name + "\" ORDER BY 1, 2");
        while (rows.executeStep()) {
            for (int i = 0; i < rows.getColumnCount(); ++i) out += rows.getColumn(i).getString() + "|";
            out += "\n";
        }
    }
    return out;
}

}  // namespace aspen::test
