// The session extension is compiled into Debian's SQLite; its header hides it without these.
#define SQLITE_ENABLE_SESSION 1
#define SQLITE_ENABLE_PREUPDATE_HOOK 1
#include "store/changes.hpp"

#include <fmt/format.h>
#include <sqlite3.h>

#include <map>
#include <memory>
#include <string_view>

#include "core/reading/refused.hpp"
#include "store/statement.hpp"
#include "store/transactions.hpp"

namespace aspen::store {
namespace {

struct FreeSqlite {
    void operator()(void* p) const { sqlite3_free(p); }
};
using Buffer = std::unique_ptr<void, FreeSqlite>;

void check(int code, const char* what) {
    if (code == SQLITE_OK) return;
    throw core::Refused(
        fmt::format("record: could not be {} ({}); nothing was changed", what, sqlite3_errstr(code)));
}

/// Settings are nobody's step, and the search follows by triggers.
int is_record(void*, const char* table) {
    const std::string_view t(table);
    return t != "setting" && !t.starts_with("search") && !t.starts_with("sqlite_");
}

class Session {
  public:
    explicit Session(sqlite3* db) {
        check(sqlite3session_create(db, "main", &session_), "recorded");
        sqlite3session_table_filter(session_, is_record, nullptr);
        check(sqlite3session_attach(session_, nullptr), "recorded");
    }
    ~Session() { sqlite3session_delete(session_); }
    Session(const Session&) = delete;
    Session& operator=(const Session&) = delete;
    ChangeSet take() {
        int size = 0;
        void* bytes = nullptr;
        check(sqlite3session_changeset(session_, &size, &bytes), "recorded");
        const Buffer kept(bytes);
        return ChangeSet(std::string(static_cast<const char*>(bytes), static_cast<std::size_t>(size)));
    }

  private:
    sqlite3_session* session_ = nullptr;
};

void* unconst(const std::string& bytes) { return const_cast<char*>(bytes.data()); }

int on_conflict(void*, int kind, sqlite3_changeset_iter* it) {
    const char* table = nullptr;
    int columns = 0, op = 0, indirect = 0;
    if (kind == SQLITE_CHANGESET_FOREIGN_KEY) return SQLITE_CHANGESET_ABORT;
    sqlite3changeset_op(it, &table, &columns, &op, &indirect);
    // Where the program itself noted something in the row meanwhile (where a clip was left), the row still
    // goes.
    if (kind == SQLITE_CHANGESET_DATA && op == SQLITE_DELETE) return SQLITE_CHANGESET_REPLACE;
    return SQLITE_CHANGESET_ABORT;
}

/// One changed row; values by column name, before and after.
struct Row {
    std::string table;
    std::map<std::string, std::int64_t> whole;  ///< whole numbers that are known: the old ones, else the new
};

class Rows {
  public:
    explicit Rows(Database& database) : database_(database) {}

    template <typename F>
    void each(const ChangeSet& change, F f) {
        if (change.empty()) return;
        sqlite3_changeset_iter* it = nullptr;
        check(sqlite3changeset_start(&it, static_cast<int>(change.size()), unconst(change.bytes())), "read");
        while (sqlite3changeset_next(it) == SQLITE_ROW) f(row(it));
        sqlite3changeset_finalize(it);
    }

  private:
    Row row(sqlite3_changeset_iter* it) {
        const char* table = nullptr;
        int columns = 0, op = 0, indirect = 0;
        sqlite3changeset_op(it, &table, &columns, &op, &indirect);
        Row out{table, {}};
        const auto& names = names_of(out.table);
        for (int i = 0; i < columns && i < static_cast<int>(names.size()); ++i) {
            sqlite3_value* value = nullptr;
            if (op != SQLITE_INSERT) sqlite3changeset_old(it, i, &value);
            if (!value && op != SQLITE_DELETE) sqlite3changeset_new(it, i, &value);
            if (value && sqlite3_value_type(value) == SQLITE_INTEGER)
                out.whole[names[static_cast<std::size_t>(i)]] = sqlite3_value_int64(value);
        }
        return out;
    }
    const std::vector<std::string>& names_of(const std::string& table) {
        auto& names = names_[table];
        if (names.empty()) {
            names =
                query(database_, fmt::format("SELECT name FROM pragma_table_info('{}') ORDER BY cid", table),
                      kNothing, [](SQLite::Statement& s) { return s.getColumn(0).getString(); });
        }
        return names;
    }
    Database& database_;
    std::map<std::string, std::vector<std::string>> names_;
};

}  // namespace

ChangeSet ChangeSet::inverted() const {
    if (empty()) return {};
    int size = 0;
    void* bytes = nullptr;
    check(sqlite3changeset_invert(static_cast<int>(bytes_.size()), unconst(bytes_), &size, &bytes),
          "turned round");
    const Buffer kept(bytes);
    return ChangeSet(std::string(static_cast<const char*>(bytes), static_cast<std::size_t>(size)));
}

ChangeSet ChangeSet::followed_by(const ChangeSet& next) const {
    if (empty()) return next;
    if (next.empty()) return *this;
    int size = 0;
    void* bytes = nullptr;
    check(sqlite3changeset_concat(static_cast<int>(bytes_.size()), unconst(bytes_),
                                  static_cast<int>(next.bytes_.size()), unconst(next.bytes_), &size, &bytes),
          "joined");
    const Buffer kept(bytes);
    return ChangeSet(std::string(static_cast<const char*>(bytes), static_cast<std::size_t>(size)));
}

ChangeSet Transactions::recorded(const std::function<void()>& work) {
    if (in_transaction()) {  // part of a larger one, which records it
        work();
        return {};
    }
    ChangeSet change;
    within([&] {
        Session session(database_.raw().getHandle());
        work();
        change = session.take();
    });
    return change;
}

void Transactions::apply(const ChangeSet& change) {
    if (change.empty()) return;
    within([&] {
        const int code = sqlite3changeset_apply(database_.raw().getHandle(), static_cast<int>(change.size()),
                                                unconst(change.bytes()), nullptr, on_conflict, nullptr);
        if (code == SQLITE_ABORT)
            throw core::Refused(
                "record: the rows were changed since, so this step stays as it is; nothing was changed");
        check(code, "written");
    });
}

namespace {

/// Tables of which any row is told as a whole.
struct Told {
    std::string_view table;
    bool Touched::*of;
};
constexpr Told kTold[] = {{"rider", &Touched::riders},       {"limitation", &Touched::riders},
                          {"stirrup", &Touched::riders},     {"sign_off", &Touched::riders},
                          {"horse", &Touched::horses},       {"own_data", &Touched::own_data},
                          {"practice", &Touched::training},  {"rider_plan", &Touched::training},
                          {"lesson", &Touched::lessons},     {"lesson_place", &Touched::lessons},
                          {"milestone", &Touched::followed}, {"promise", &Touched::followed},
                          {"outgoing", &Touched::followed},  {"drill", &Touched::drills},
                          {"consent", &Touched::leaving},    {"departure", &Touched::leaving},
                          {"spoken", &Touched::leaving},     {"face_mark", &Touched::leaving}};

/// Tables whose rows belong to a clip, else (by wall clock: no clip shows it yet) to a ride.
struct Belongs {
    std::string_view table;
    std::set<ClipId> Touched::*to_clip;
    std::set<RideId> Touched::*to_ride;
};
constexpr Belongs kBelongs[] = {
    {"stretch", &Touched::stretches, nullptr},    {"sketch", &Touched::marks, nullptr},
    {"answer", &Touched::marks, nullptr},         {"ground_mark", &Touched::events, nullptr},
    {"laid_arena", &Touched::events, nullptr},    {"arena_mark", &Touched::events, nullptr},
    {"asked_line", &Touched::events, nullptr},    {"note", &Touched::notes, &Touched::rides},
    {"event", &Touched::events, &Touched::rides}, {"finding", nullptr, &Touched::findings},
    {"remark", nullptr, &Touched::findings}};

/// Goes through the rows of a change: what each belongs to stands in the row, or has to be looked up.
class Touching {
  public:
    explicit Touching(Database& database) : database_(database) {}
    void take(const Row& row) {
        for (const Told& t : kTold) {
            if (row.table == t.table) touched_.*t.of = true;
        }
        for (const Belongs& b : kBelongs) {
            if (row.table == b.table) take(row, b);
        }
        take_rides_and_clips(row);
        take_moments(row);
        take_corrections(row);
    }
    /// Once all rows were taken: what hangs on a moment or a correction is told by its clip or rider.
    Touched done() {
        for (const std::int64_t m : moments_) {
            const auto gone = clip_of_moment_.find(m);
            const std::int64_t clip = gone != clip_of_moment_.end()
                                          ? gone->second
                                          : look_up("SELECT clip FROM moment WHERE id = ?", m);
            if (clip) touched_.marks.insert({clip});
        }
        for (const std::int64_t c : corrections_) {
            const auto gone = rider_of_correction_.find(c);
            const std::int64_t rider = gone != rider_of_correction_.end()
                                           ? gone->second
                                           : look_up("SELECT rider FROM correction WHERE id = ?", c);
            if (rider) touched_.corrections.insert({rider});
        }
        return std::move(touched_);
    }

  private:
    static std::int64_t value(const Row& row, const char* name) {
        const auto it = row.whole.find(name);
        return it == row.whole.end() ? std::int64_t{0} : it->second;
    }
    std::int64_t look_up(const std::string& sql, std::int64_t id) {
        return first(query(
                         database_, sql.c_str(), [&](Binder& b) { b << id; },
                         [](SQLite::Statement& s) { return s.getColumn(0).getInt64(); }))
            .value_or(0);
    }
    /// As the row says it; where the change left it out, as the table says it.
    std::int64_t owner(const Row& row, const char* column) {
        if (const std::int64_t there = value(row, column)) return there;
        return row.whole.contains(column)
                   ? 0
                   : look_up(fmt::format("SELECT coalesce({}, 0) FROM {} WHERE id = ?", column, row.table),
                             value(row, "id"));
    }
    void take(const Row& row, const Belongs& b) {
        if (b.to_clip) {
            if (const std::int64_t clip = owner(row, "clip"))
                return (void)(touched_.*b.to_clip).insert({clip});
        }
        if (!b.to_ride) return;
        if (const std::int64_t ride = owner(row, "ride")) (touched_.*b.to_ride).insert({ride});
    }
    void take_rides_and_clips(const Row& row) {
        if (row.table == "ride") touched_.rides.insert({value(row, "id")});
        if (row.table == "clip") touched_.clips.insert({value(row, "id")});
        if (row.table == "slot") touched_.clips.insert({value(row, "clip")});
        if ((row.table == "slot" || row.table == "parcel") && value(row, "ride"))
            touched_.rides.insert({value(row, "ride")});
    }
    void take_moments(const Row& row) {
        if (row.table == "mark") moments_.insert(value(row, "moment"));
        if (row.table != "moment") return;
        moments_.insert(value(row, "id"));
        if (const std::int64_t clip = value(row, "clip")) clip_of_moment_[value(row, "id")] = clip;
    }
    void take_corrections(const Row& row) {
        if (row.table == "correction") {
            corrections_.insert(value(row, "id"));
            if (const std::int64_t rider = value(row, "rider"))
                rider_of_correction_[value(row, "id")] = rider;
        } else if (row.table == "prescription" || row.table == "correction_word") {
            corrections_.insert(owner(row, "correction"));
        }
    }
    Database& database_;
    Touched touched_;
    std::set<std::int64_t> moments_, corrections_;
    std::map<std::int64_t, std::int64_t> clip_of_moment_, rider_of_correction_;  ///< of those that are gone
};

}  // namespace

Touched Transactions::touched_by(const ChangeSet& change) {
    Touching touching(database_);
    Rows(database_).each(change, [&](const Row& row) { touching.take(row); });
    return touching.done();
}

}  // namespace aspen::store
