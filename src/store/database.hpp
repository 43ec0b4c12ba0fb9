#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <unordered_map>
#include <vector>

namespace SQLite {
class Database;
class Statement;
}  // namespace SQLite

namespace aspen::store {

struct Migration {
    int number;
    const char* description;
    const char* sql;
};
/// All steps, oldest first, numbered from 1 without a gap. A shipped step is never edited.
const std::vector<Migration>& migrations();

/// The yard's database file: opened with write-ahead log, foreign keys and full synchronisation, brought to
/// the newest version step by step (one transaction each, whoever else opens it) after a backup by SQLite's
/// own backup beside the file ("yard.db.before-3"; an earlier one is never written over). Throws
/// core::Refused in one line for a newer version, a foreign file, a read-only folder or a yard that another
/// window has open. One thread.
class Database {
  public:
    explicit Database(const std::filesystem::path& file, int up_to_version = 0);
    ~Database();

    SQLite::Database& raw() { return *db_; }
    int version() const;
    /// Writes a whole, consistent copy into a file that is not there yet or is overwritten, readable by the
    /// owner only. Throws core::Refused.
    void back_up(const std::filesystem::path& to) const;
    /// Clears the file of what was deleted: the search's older parts, the log, the free pages. Throws
    /// core::Refused.
    void leave_no_trace();
    /// A statement, prepared before where it was run before; whoever takes it has it alone until it is given
    /// back.
    std::unique_ptr<SQLite::Statement> take(const std::string& sql);
    void give_back(const std::string& sql, std::unique_ptr<SQLite::Statement> statement) noexcept;
    /// Told the text of every statement that is run, for whoever looks for slow ones.
    /// All of it into the one file, and the log taken away; nothing may be asked of it afterwards. Throws
    /// core::Refused where another program has it open, or it cannot be written.
    void fold_in_log();
    void listen(std::function<void(const std::string& sql)> listener) { listener_ = std::move(listener); }
    void note(const std::string& sql) const {
        if (listener_) listener_(sql);
    }

  private:
    void open(int newest);
    void make_new();
    void migrate(int newest);
    void keep_before(int newest);
    std::filesystem::path file_;
    std::unique_ptr<SQLite::Database> db_;
    std::function<void(const std::string&)> listener_;
    std::unordered_map<std::string, std::unique_ptr<SQLite::Statement>>
        prepared_;  ///< gone before the database
};

/// Looks a file over before it may become the yard: that it is one, of no newer version, and whole. Changes
/// nothing. Throws core::Refused in one line.
void check_is_yard(const std::filesystem::path& file);

}  // namespace aspen::store
