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
#include "store/yard_store.hpp"

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

Touched Transactions::touched_by(const ChangeSet& change) {
    Touched out;
    std::set<MomentId> moments;
    std::map<std::int64_t, std::int64_t> clip_of_moment;  // of those that are gone
    std::set<CorrectionId> corrections;
    std::map<std::int64_t, std::int64_t> rider_of_correction;
    std::set<std::int64_t> notes_by_id, findings_by_id, remarks_by_id, answers_by_id, sketches_by_id,
        events_by_id, grounds_by_id;
    Rows(database_).each(change, [&](const Row& row) {
        const auto value = [&](const char* name) {
            const auto it = row.whole.find(name);
            return it == row.whole.end() ? std::int64_t{0} : it->second;
        };
        const std::string& t = row.table;
        if (t == "rider" || t == "limitation" || t == "stirrup" || t == "sign_off") out.riders = true;
        if (t == "horse") out.horses = true;
        if (t == "own_data") out.own_data = true;
        if (t == "practice" || t == "rider_plan") out.training = true;
        if (t == "lesson" || t == "lesson_place") out.lessons = true;
        if (t == "milestone" || t == "promise" || t == "outgoing") out.followed = true;
        if (t == "drill") out.drills = true;
        if (t == "consent" || t == "departure" || t == "spoken" || t == "face_mark") out.leaving = true;
        if (t == "parcel" && value("ride")) out.rides.insert({value("ride")});
        if (t == "ride") out.rides.insert({value("id")});
        if (t == "clip") out.clips.insert({value("id")});
        if (t == "slot") {
            out.clips.insert({value("clip")});
            if (value("ride")) out.rides.insert({value("ride")});
        }
        if (t == "stretch") out.stretches.insert({value("clip")});
        if (t == "moment") {
            moments.insert({value("id")});
            if (value("clip")) clip_of_moment[value("id")] = value("clip");
        }
        if (t == "sketch") {
            value("clip") ? (void)out.marks.insert({value("clip")})
                          : (void)sketches_by_id.insert(value("id"));
        }
        if (t == "answer") {
            value("clip") ? (void)out.marks.insert({value("clip")}) : (void)answers_by_id.insert(value("id"));
        }
        if (t == "mark") moments.insert({value("moment")});
        if (t == "note") {
            if (value("clip"))
                out.notes.insert({value("clip")});
            else if (value("ride"))
                out.rides.insert({value("ride")});
            else
                notes_by_id.insert(value("id"));
        }
        if (t == "finding") {
            value("ride") ? (void)out.findings.insert({value("ride")})
                          : (void)findings_by_id.insert(value("id"));
        }
        if (t == "remark") {
            value("ride") ? (void)out.findings.insert({value("ride")})
                          : (void)remarks_by_id.insert(value("id"));
        }
        if (t == "event") {
            if (value("clip"))
                out.events.insert({value("clip")});
            else if (value("ride"))
                out.rides.insert({value("ride")});  // by wall clock: no clip shows it yet
            else
                events_by_id.insert(value("id"));
        }
        if (t == "ground_mark") {
            value("clip") ? (void)out.events.insert({value("clip")})
                          : (void)grounds_by_id.insert(value("id"));
        }
        if (t == "correction") {
            corrections.insert({value("id")});
            if (value("rider")) rider_of_correction[value("id")] = value("rider");
        }
        const bool hangs_on_one = t == "prescription" || t == "correction_word";
        if (hangs_on_one) corrections.insert({value("correction")});
        if (hangs_on_one && !value("correction")) {
            for (const auto c : query(
                     database_, ("SELECT correction FROM " + t + " WHERE id = ?").c_str(),
                     [&](Binder& b) { b << value("id"); },
                     [](SQLite::Statement& s) { return s.getColumn(0).getInt64(); }))
                corrections.insert({c});
        }
    });
    const auto look_up = [&](const char* sql, std::int64_t id) {
        return first(query(
                         database_, sql, [&](Binder& b) { b << id; },
                         [](SQLite::Statement& s) { return s.getColumn(0).getInt64(); }))
            .value_or(0);
    };
    for (const MomentId m : moments) {
        const auto gone = clip_of_moment.find(m.value);
        const std::int64_t clip = gone != clip_of_moment.end()
                                      ? gone->second
                                      : look_up("SELECT clip FROM moment WHERE id = ?", m.value);
        if (clip) out.marks.insert({clip});
    }
    for (const CorrectionId c : corrections) {
        const auto gone = rider_of_correction.find(c.value);
        const std::int64_t rider = gone != rider_of_correction.end()
                                       ? gone->second
                                       : look_up("SELECT rider FROM correction WHERE id = ?", c.value);
        if (rider) out.corrections.insert({rider});
    }
    for (const auto id : notes_by_id) {
        if (const auto clip = look_up("SELECT coalesce(clip, 0) FROM note WHERE id = ?", id))
            out.notes.insert({clip});
    }
    for (const auto id : sketches_by_id) {
        if (const auto clip = look_up("SELECT clip FROM sketch WHERE id = ?", id)) out.marks.insert({clip});
    }
    for (const auto id : answers_by_id) {
        if (const auto clip = look_up("SELECT clip FROM answer WHERE id = ?", id)) out.marks.insert({clip});
    }
    for (const auto id : events_by_id) {
        if (const auto clip = look_up("SELECT coalesce(clip, 0) FROM event WHERE id = ?", id))
            out.events.insert({clip});
        else if (const auto ride = look_up("SELECT ride FROM event WHERE id = ?", id))
            out.rides.insert({ride});
    }
    for (const auto id : grounds_by_id) {
        if (const auto clip = look_up("SELECT clip FROM ground_mark WHERE id = ?", id))
            out.events.insert({clip});
    }
    for (const auto id : findings_by_id) {
        if (const auto ride = look_up("SELECT ride FROM finding WHERE id = ?", id))
            out.findings.insert({ride});
    }
    for (const auto id : remarks_by_id) {
        if (const auto ride = look_up("SELECT ride FROM remark WHERE id = ?", id))
            out.findings.insert({ride});
    }
    return out;
}

}  // namespace aspen::store
