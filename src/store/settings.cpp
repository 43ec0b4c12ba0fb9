#include "store/settings.hpp"

#include "store/statement.hpp"

namespace aspen::store {
std::vector<std::pair<std::string, std::string>> Settings::own_data(const std::string& kind) const {
    return query(
        database_, "SELECT id, body FROM own_data WHERE kind = ? ORDER BY id", [&](Binder& b) { b << kind; },
        [](SQLite::Statement& s) {
            return std::pair{s.getColumn(0).getString(), s.getColumn(1).getString()};
        });
}

void Settings::put_own_data(const std::string& kind, const std::string& id, const std::string& body) {
    run(database_,
        "INSERT INTO own_data(kind, id, body) VALUES(?,?,?) ON CONFLICT(kind, id) DO UPDATE SET body = "
        "excluded.body",
        [&](Binder& b) { b << kind << id << body; });
}

void Settings::remove_own_data(const std::string& kind, const std::string& id) {
    run(database_, "DELETE FROM own_data WHERE kind = ? AND id = ?", [&](Binder& b) { b << kind << id; });
}

std::string Settings::setting(const std::string& key, const std::string& otherwise) const {
    return first(query(
                     database_, "SELECT value FROM setting WHERE key = ?", [&](Binder& b) { b << key; },
                     [](SQLite::Statement& s) { return s.getColumn(0).getString(); }))
        .value_or(otherwise);
}

void Settings::set_setting(const std::string& key, const std::string& value) {
    run(database_, "INSERT OR REPLACE INTO setting(key, value) VALUES(?,?)",
        [&](Binder& b) { b << key << value; });
}

}  // namespace aspen::store
