#pragma once

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include <optional>
#include <string>
#include <vector>

#include "core/reading/refused.hpp"
#include "store/database.hpp"
#include "store/fields.hpp"

/// Statements with bound values and rows read into records. Internal to store.
namespace aspen::store {

/// Binds one value after the other; a zero id becomes NULL, an enum its word, what was not said "".
class Binder {
  public:
    explicit Binder(SQLite::Statement& s) : s_(s) {}
    Binder& operator<<(const std::string& v) { return bind(v); }
    Binder& operator<<(std::string_view v) { return bind(std::string(v)); }
    Binder& operator<<(const char* v) { return bind(std::string(v)); }
    Binder& operator<<(std::int64_t v) { return bind(v); }
    Binder& operator<<(int v) { return bind(v); }
    Binder& operator<<(bool v) { return bind(static_cast<int>(v)); }
    Binder& operator<<(double v) { return bind(v); }
    Binder& operator<<(const std::optional<double>& v) { return v ? bind(*v) : nothing(); }
    Binder& operator<<(const std::optional<int>& v) { return v ? bind(*v) : nothing(); }
    Binder& operator<<(const std::optional<core::Point>& p) {
        return p ? bind(p->x).bind(p->y) : nothing().nothing();
    }
    Binder& operator<<(core::Visibility v) { return bind(static_cast<int>(v)); }
    template <typename Tag>
    Binder& operator<<(Id<Tag> id) {
        return id ? bind(id.value) : nothing();
    }
    template <typename Enum>
    requires std::is_enum_v<Enum> Binder& operator<<(Enum v) { return bind(std::string(word(v))); }
    template <typename Enum>
    requires std::is_enum_v<Enum> Binder& operator<<(const std::optional<Enum>& v) {
        return bind(v ? std::string(word(*v)) : std::string());
    }

  private:
    template <typename T>
    Binder& bind(const T& v) {
        s_.bind(next_++, v);
        return *this;
    }
    Binder& nothing() {
        s_.bind(next_++);
        return *this;
    }
    SQLite::Statement& s_;
    int next_ = 1;
};

/// Reads one column after the other into fields.
class Reader {
  public:
    explicit Reader(SQLite::Statement& s, int from = 0) : s_(s), next_(from) {}
    int at() const { return next_; }
    Reader& operator>>(std::string& v) { return v = column().getString(), *this; }
    Reader& operator>>(std::int64_t& v) { return v = column().getInt64(), *this; }
    Reader& operator>>(int& v) { return v = column().getInt(), *this; }
    Reader& operator>>(bool& v) { return v = column().getInt() != 0, *this; }
    Reader& operator>>(double& v) { return v = column().getDouble(), *this; }
    Reader& operator>>(std::optional<double>& v) {
        const SQLite::Column c = column();
        v = c.isNull() ? std::nullopt : std::optional(c.getDouble());
        return *this;
    }
    Reader& operator>>(std::optional<int>& v) {
        const SQLite::Column c = column();
        v = c.isNull() ? std::nullopt : std::optional(c.getInt());
        return *this;
    }
    Reader& operator>>(std::optional<core::Point>& p) {
        std::optional<double> x, y;
        *this >> x >> y;
        p = x && y ? std::optional(core::Point{*x, *y}) : std::nullopt;
        return *this;
    }
    Reader& operator>>(core::Visibility& v) {
        v = static_cast<core::Visibility>(column().getInt());
        return *this;
    }
    template <typename Tag>
    Reader& operator>>(Id<Tag>& id) {
        const SQLite::Column c = column();
        id.value = c.isNull() ? 0 : c.getInt64();
        return *this;
    }
    template <typename Enum>
    requires std::is_enum_v<Enum> Reader& operator>>(Enum& v) {
        take(column().getString(), v);
        return *this;
    }
    template <typename Enum>
    requires std::is_enum_v<Enum> Reader& operator>>(std::optional<Enum>& v) {
        v = core::from_word<Enum>(column().getString());
        return *this;
    }

  private:
    SQLite::Column column() { return s_.getColumn(next_++); }
    SQLite::Statement& s_;
    int next_;
};

[[noreturn]] inline void refuse(const std::exception& e) {
    throw core::Refused(fmt::format("record: could not be written ({}); nothing was changed", e.what()));
}

/// A prepared statement for as long as it is used.
class Borrowed {
  public:
    Borrowed(Database& database, const std::string& sql)
        : database_(database), sql_(sql), statement_(database.take(sql)) {}
    ~Borrowed() { database_.give_back(sql_, std::move(statement_)); }
    Borrowed(const Borrowed&) = delete;
    Borrowed& operator=(const Borrowed&) = delete;
    SQLite::Statement& operator*() { return *statement_; }

  private:
    Database& database_;
    const std::string& sql_;
    std::unique_ptr<SQLite::Statement> statement_;
};

template <typename Bind>
std::int64_t run(Database& database, const std::string& sql, Bind bind) {
    try {
        Borrowed borrowed(database, sql);
        SQLite::Statement& statement = *borrowed;
        database.note(sql);
        Binder binder(statement);
        bind(binder);
        statement.exec();
        return database.raw().getLastInsertRowid();
    } catch (const SQLite::Exception& e) {
        refuse(e);
    }
}

template <typename Bind, typename Row>
auto query(Database& database, const std::string& sql, Bind bind, Row row) {
    std::vector<decltype(row(std::declval<SQLite::Statement&>()))> out;
    try {
        Borrowed borrowed(database, sql);
        SQLite::Statement& statement = *borrowed;
        database.note(sql);
        Binder binder(statement);
        bind(binder);
        while (statement.executeStep()) out.push_back(row(statement));
    } catch (const SQLite::Exception& e) {
        throw core::Refused(fmt::format("record: could not be read ({}); restore a backup", e.what()));
    }
    return out;
}

inline const auto kNothing = [](Binder&) {};

template <typename T>
std::optional<T> first(std::vector<T> rows) {
    if (rows.empty()) return std::nullopt;
    return std::move(rows.front());
}

/// A point stands in two columns, NAME_x and NAME_y.
template <typename Record, typename F>
void each_column(F f) {
    Record record{};
    fields(record, [&](const char* name, auto& field) {
        if constexpr (std::is_same_v<std::decay_t<decltype(field)>, std::optional<core::Point>>) {
            f(std::string(name) + "_x");
            f(std::string(name) + "_y");
        } else {
            f(std::string(name));
        }
    });
}

/// "table.a, table.b, …"
template <typename Record>
const std::string& columns() {
    static const std::string text = [] {
        std::string out;
        each_column<Record>([&](const std::string& name) {
            out += fmt::format("{}\"{}\".\"{}\"", out.empty() ? "" : ", ", kTable<Record>, name);
        });
        return out;
    }();
    return text;
}

template <typename Record>
void read(Reader& reader, Record& record) {
    fields(record, [&](const char*, auto& field) { reader >> field; });
}

/// Rows of a table with a number of its own. `rest`: WHERE, ORDER BY.
template <typename Record, typename Bind>
std::vector<Record> select(Database& database, const std::string& rest, Bind bind) {
    const std::string sql =
        fmt::format("SELECT \"{0}\".id, {1} FROM \"{0}\" {2}", kTable<Record>, columns<Record>(), rest);
    return query(database, sql, bind, [](SQLite::Statement& s) {
        Record record{};
        Reader reader(s);
        reader >> record.id;
        read(reader, record);
        return record;
    });
}
template <typename Record, typename IdType>
std::optional<Record> select_one(Database& database, IdType id) {
    return first(select<Record>(database, "WHERE id = ?", [&](Binder& b) { b << id; }));
}

/// Adds a row, under its own number when it has one already.
template <typename Record>
std::int64_t insert(Database& database, const Record& record) {
    static const std::string sql = [] {
        std::string names = "id", marks = "?";
        each_column<Record>([&](const std::string& name) {
            names += ", \"" + name + "\"";
            marks += ",?";
        });
        return fmt::format("INSERT INTO \"{}\"({}) VALUES({})", kTable<Record>, names, marks);
    }();
    return run(database, sql, [&](Binder& b) {
        b << record.id;
        fields(const_cast<Record&>(record), [&](const char*, auto& field) { b << field; });
    });
}

template <typename Record>
void change(Database& database, const Record& record) {
    static const std::string sql = [] {
        std::string sets;
        each_column<Record>([&](const std::string& name) {
            sets += fmt::format("{}\"{}\"=?", sets.empty() ? "" : ", ", name);
        });
        return fmt::format("UPDATE \"{}\" SET {} WHERE id=?", kTable<Record>, sets);
    }();
    run(database, sql, [&](Binder& b) {
        fields(const_cast<Record&>(record), [&](const char*, auto& field) { b << field; });
        b << record.id;
    });
}

template <typename IdType>
void erase(Database& database, const char* table, IdType id) {
    run(database, fmt::format("DELETE FROM \"{}\" WHERE id = ?", table), [&](Binder& b) { b << id; });
}

}  // namespace aspen::store
