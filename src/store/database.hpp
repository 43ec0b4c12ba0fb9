#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace SQLite {
class Database;
}

namespace aspen::store {

struct Migration {
    int number;
    const char* description;
    const char* sql;
};
/// All steps, oldest first, numbered from 1 without a gap. A shipped step is never edited.
const std::vector<Migration>& migrations();

/// The yard's database file: opened with write-ahead log, foreign keys and full synchronisation, brought to
/// the newest version step by step (one transaction each) after a backup by SQLite's own backup beside the
/// file
/// ("yard.db.before-3"). Throws core::Refused in one line for a newer version, a foreign file, a read-only
/// folder or a yard that another window has open. One thread.
class Database {
  public:
    explicit Database(const std::filesystem::path& file, int up_to_version = 0);
    ~Database();

    SQLite::Database& raw() { return *db_; }
    int version() const;
    /// Writes a whole, consistent copy. Throws core::Refused.
    void back_up(const std::filesystem::path& to);

  private:
    void migrate(int newest);
    std::filesystem::path file_;
    std::unique_ptr<SQLite::Database> db_;
};

}  // namespace aspen::store
