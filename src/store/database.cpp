#include "store/database.hpp"

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/Database.h>
#include <SQLiteCpp/Exception.h>
#include <SQLiteCpp/Statement.h>
#include <SQLiteCpp/Transaction.h>
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cctype>
#include <chrono>
#include <fstream>
#include <iterator>
#include <mutex>
#include <set>
#include <thread>

#include "core/reading/refused.hpp"

namespace aspen::store {
namespace {

constexpr int kApplicationId = 0x41435944;  // "ACYD": this file is an Aspen Crest yard

int pragma(SQLite::Database& db, const char* name) {
    return db.execAndGet(fmt::format("PRAGMA {}", name)).getInt();
}

/// The yard is the coach's alone.
void keep_private(const std::filesystem::path& file) {
    for (const char* end : {"", "-wal", "-shm"}) ::chmod((file.string() + end).c_str(), S_IRUSR | S_IWUSR);
}

void sync(const std::filesystem::path& path) {
    if (const int f = ::open(path.c_str(), O_RDONLY); f >= 0) {
        ::fsync(f);
        ::close(f);
    }
}

void require_yard(SQLite::Database& db, const std::string& file, int newest) {
    const int tables = db.execAndGet("SELECT count(*) FROM sqlite_schema").getInt();
    if (pragma(db, "application_id") != kApplicationId && tables > 0) {
        throw core::Refused(
            fmt::format("{}: is a database of another program; choose the yard's folder", file));
    }
    const int version = pragma(db, "user_version");
    if (version > newest) {
        throw core::Refused(fmt::format(
            "{}: was written by a newer version ({} > {}); update the program, nothing was changed", file,
            version, newest));
    }
}

std::set<std::string> triggers_and_views(SQLite::Database& db) {
    std::set<std::string> out;
    SQLite::Statement all(db, "SELECT sql FROM sqlite_schema WHERE type IN ('trigger', 'view')");
    while (all.executeStep()) out.insert(all.getColumn(0).getString());
    return out;
}

bool same_bytes(const std::filesystem::path& a, const std::filesystem::path& b) {
    std::error_code error;
    if (std::filesystem::file_size(a, error) != std::filesystem::file_size(b, error) || error) return false;
    std::ifstream one(a, std::ios::binary), other(b, std::ios::binary);
    const std::istreambuf_iterator<char> end;
    return std::equal(std::istreambuf_iterator<char>(one), end, std::istreambuf_iterator<char>(other), end);
}

/// A path in a URI of SQLite's, whatever signs are in it.
std::string in_uri(const std::filesystem::path& file) {
    std::string out = "file:";
    for (const unsigned char c : file.string()) {
        const bool plain = std::isalnum(c) != 0 || c == '/' || c == '.' || c == '-' || c == '_';
        out += plain ? std::string(1, static_cast<char>(c)) : fmt::format("%{:02X}", c);
    }
    return out;
}

void step_to(SQLite::Database& db, const Migration& step) {
    db.exec(step.sql);
    db.exec(fmt::format("PRAGMA application_id = {}", kApplicationId));
    db.exec(fmt::format("PRAGMA user_version = {}", step.number));
}

/// A new yard in memory, made by all steps once a program: new files are copies of it, and it knows what a
/// file may hold.
class NewYard {
  public:
    struct Held {
        std::unique_lock<std::mutex> lock;
        SQLite::Database* database;
    };
    static NewYard& get() {
        static NewYard only;
        return only;
    }
    Held lock() { return {std::unique_lock(mutex_), &made_}; }

  private:
    NewYard() {
        SQLite::Transaction together(made_);
        for (const Migration& step : migrations()) step_to(made_, step);
        together.commit();
    }
    std::mutex mutex_;
    SQLite::Database made_{":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE};
};

/// A file may bring no code of its own: its triggers and views are those that this program's steps make.
void require_own_triggers(SQLite::Database& db, const std::string& file) {
    const auto there = triggers_and_views(db);
    if (there.empty()) return;
    static const std::set<std::string> known = triggers_and_views(*NewYard::get().lock().database);
    for (const std::string& one : there) {
        if (!known.contains(one))
            throw core::Refused(
                fmt::format("{}: holds instructions that are not this program's; restore a backup", file));
    }
}

}  // namespace

/// A whole new yard under its name at once; where another program was first, that one's is taken.
void Database::make_new() {
    const std::filesystem::path fresh = fmt::format("{}.{}.new", file_.string(), ::getpid());
    std::error_code ignored;
    std::filesystem::remove(fresh, ignored);
    {
        SQLite::Database file(fresh.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        keep_private(fresh);
        const auto held = NewYard::get().lock();
        SQLite::Backup(file, *held.database).executeStep(-1);
    }
    sync(fresh);
    std::filesystem::create_hard_link(fresh, file_, ignored);
    if (ignored && !std::filesystem::exists(file_)) std::filesystem::rename(fresh, file_, ignored);
    std::filesystem::remove(fresh, ignored);
}

void Database::open(int newest) {
    if (newest == static_cast<int>(migrations().size()) && !std::filesystem::exists(file_)) make_new();
    db_ = std::make_unique<SQLite::Database>(file_.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE,
                                             2000);
    // What the file itself holds may call nothing but plain SQL.
    db_->exec("PRAGMA trusted_schema = OFF");
    const int version = pragma(*db_, "user_version");
    require_yard(*db_, file_.string(), newest);
    require_own_triggers(*db_, file_.string());
    // SQLite 3.40 lets a trigger write the search only in a trusted file; this one's triggers are known
    // by now.
    db_->exec("PRAGMA trusted_schema = ON");
    db_->exec("PRAGMA journal_mode = WAL");
    db_->exec("PRAGMA synchronous = FULL");
    db_->exec("PRAGMA secure_delete = ON");  // what is deleted is written over
    // A step may build a table anew, and dropping the old one must not take along what refers to it.
    db_->exec("PRAGMA foreign_keys = OFF");
    if (version < newest) migrate(newest);
    db_->exec("PRAGMA foreign_keys = ON");
    keep_private(file_);
}

Database::Database(const std::filesystem::path& file, int up_to_version) : file_(file) {
    const int newest = up_to_version > 0 ? up_to_version : static_cast<int>(migrations().size());
    constexpr int kBusy = 5;
    const auto until = std::chrono::steady_clock::now() + std::chrono::seconds(5);
    for (;;) {
        try {
            open(newest);
            return;
        } catch (const SQLite::Exception& e) {
            // Another program that brings the file up: SQLite waits for a row's writer, not for that.
            if (e.getErrorCode() == kBusy && std::chrono::steady_clock::now() < until) {
                std::this_thread::sleep_for(std::chrono::milliseconds(100));
                continue;
            }
            const std::string hint =
                e.getErrorCode() == 26 ? "is damaged or no yard; restore a backup"
                : e.getErrorCode() == 8 || e.getErrorCode() == 14
                    ? "cannot be written; make the folder writable or choose another yard"
                    : fmt::format("cannot be opened ({}); check the disk", e.what());
            throw core::Refused(fmt::format("{}: {}", file.string(), hint));
        }
    }
}

Database::~Database() = default;

std::unique_ptr<SQLite::Statement> Database::take(const std::string& sql) {
    const auto kept = prepared_.find(sql);
    if (kept == prepared_.end()) return std::make_unique<SQLite::Statement>(*db_, sql);
    auto out = std::move(kept->second);
    prepared_.erase(kept);
    return out;
}

void Database::give_back(const std::string& sql, std::unique_ptr<SQLite::Statement> statement) noexcept {
    constexpr std::size_t kMost = 300;  // the store's own; a search may write more texts than that
    try {
        statement->reset();
        statement->clearBindings();
        if (prepared_.size() < kMost) prepared_[sql] = std::move(statement);
    } catch (const std::exception&) {
        // What failed is not used again; the next one is prepared anew.
    }
}

void Database::leave_no_trace() {
    try {
        // The search keeps deleted words in its older parts until they are put together.
        db_->exec("INSERT INTO search(search) VALUES('optimize')");
        db_->exec("PRAGMA wal_checkpoint(TRUNCATE)");
        db_->exec("VACUUM");
        db_->exec("PRAGMA wal_checkpoint(TRUNCATE)");
    } catch (const SQLite::Exception& e) {
        throw core::Refused(fmt::format(
            "record: deleted, but the file could not be cleared of it ({}); make room and delete again",
            e.what()));
    }
}

int Database::version() const { return pragma(*db_, "user_version"); }

void Database::fold_in_log() {
    prepared_.clear();
    try {
        db_->exec("PRAGMA wal_checkpoint(TRUNCATE)");
        // Only whoever is alone may leave the log; it goes with that.
        if (db_->execAndGet("PRAGMA journal_mode = DELETE").getString() == "delete") return;
    } catch (const SQLite::Exception&) {  // somebody else holds it
    }
    throw core::Refused(file_.string() + ": another program has these records open; close it first");
}

/// The records as they were before a step, under a name that is not taken; the same bytes are kept once.
void Database::keep_before(int newest) {
    const std::string base = file_.string() + fmt::format(".before-{}", newest);
    const std::filesystem::path fresh = fmt::format("{}.{}", base, ::getpid());
    back_up(fresh);
    std::string name = base;
    for (int n = 2; std::filesystem::exists(name); ++n) {
        if (same_bytes(name, fresh)) {
            std::filesystem::remove(fresh);
            return;
        }
        name = fmt::format("{}-{}", base, n);
    }
    std::filesystem::rename(fresh, name);  // of the same state, where two programs take the name together
}

void Database::migrate(int newest) {
    const int from = pragma(*db_, "user_version");
    if (from > 0) keep_before(newest);
    for (const Migration& step : migrations()) {
        if (step.number <= from || step.number > newest) continue;
        // At once, not at the first write: of two programs that open the file together one waits, and then
        // finds that it is done.
        SQLite::Transaction transaction(*db_, SQLite::TransactionBehavior::IMMEDIATE);
        if (pragma(*db_, "user_version") >= step.number) continue;
        step_to(*db_, step);
        if (SQLite::Statement(*db_, "PRAGMA foreign_key_check").executeStep()) {
            throw core::Refused(fmt::format(
                "{}: some records refer to others that are not there; restore a backup", file_.string()));
        }
        transaction.commit();
    }
}

void Database::back_up(const std::filesystem::path& to) const {
    // Whole before it bears its name: an earlier backup stays until this one can take its place.
    const std::filesystem::path part = fmt::format("{}.{}.part", to.string(), ::getpid());
    std::error_code ignored;
    std::filesystem::remove(part, ignored);
    try {
        {
            SQLite::Database copy(part.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
            keep_private(part);
            SQLite::Backup backup(copy, *db_);
            backup.executeStep(-1);
            copy.exec("PRAGMA journal_mode = DELETE");
        }
        sync(part);
        std::filesystem::rename(part, to);
        sync(to.parent_path().empty() ? "." : to.parent_path());
    } catch (const std::exception& e) {
        std::filesystem::remove(part, ignored);
        throw core::Refused(
            fmt::format("{}: the backup cannot be written ({}); check the folder and the free space",
                        to.string(), e.what()));
    }
}

void check_is_yard(const std::filesystem::path& file) {
    try {
        // Immutable: the file is looked at as it lies there, nothing is made beside it.
        SQLite::Database db(in_uri(file) + "?immutable=1", SQLite::OPEN_READONLY | SQLite::OPEN_URI);
        db.exec("PRAGMA trusted_schema = OFF");
        require_yard(db, file.string(), static_cast<int>(migrations().size()));
        require_own_triggers(db, file.string());
        if (pragma(db, "user_version") == 0)
            throw core::Refused(fmt::format("{}: is no yard; choose a backup", file.string()));
        if (db.execAndGet("PRAGMA quick_check(1)").getString() != "ok" ||
            SQLite::Statement(db, "PRAGMA foreign_key_check").executeStep())
            throw core::Refused(fmt::format("{}: is damaged; choose another backup", file.string()));
    } catch (const SQLite::Exception& e) {
        throw core::Refused(
            fmt::format("{}: is damaged or no yard ({}); choose another backup", file.string(), e.what()));
    }
}

}  // namespace aspen::store
