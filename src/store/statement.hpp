#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <optional>
#include <string>
#include <type_traits>
#include <utility>
#include <vector>

#include "store/database.hpp"
#include "store/words.hpp"

/// Statements with bound values and rows read into records. Internal to store.
namespace aspen::store {

/// Binds one value after the other; a zero id becomes NULL, an enum its word, what was not said "".
class Binder {
  public:
    explicit Binder(SQLite::Statement& s) : s_(s) {}
    Binder& operator<<(const std::string& v);
    Binder& operator<<(std::string_view v);
    Binder& operator<<(const char* v);
    Binder& operator<<(std::int64_t v);
    Binder& operator<<(int v);
    Binder& operator<<(bool v);
    Binder& operator<<(double v);
    Binder& operator<<(const std::optional<double>& v);
    Binder& operator<<(const std::optional<int>& v);
    Binder& operator<<(const std::optional<core::Point>& p);
    Binder& operator<<(core::Visibility v);
    template <typename Tag>
    Binder& operator<<(Id<Tag> id) {
        return id ? *this << id.value : nothing();
    }
    template <typename Enum>
    requires std::is_enum_v<Enum> Binder& operator<<(Enum v) { return *this << word(v); }
    template <typename Enum>
    requires std::is_enum_v<Enum> Binder& operator<<(const std::optional<Enum>& v) {
        return *this << (v ? word(*v) : std::string_view());
    }

  private:
    Binder& nothing();
    SQLite::Statement& s_;
    int next_ = 1;
};

/// Reads one column after the other into fields.
class Reader {
  public:
    explicit Reader(SQLite::Statement& s, int from = 0) : s_(s), next_(from) {}
    int at() const { return next_; }
    Reader& operator>>(std::string& v);
    Reader& operator>>(std::int64_t& v);
    Reader& operator>>(int& v);
    Reader& operator>>(bool& v);
    Reader& operator>>(double& v);
    Reader& operator>>(std::optional<double>& v);
    Reader& operator>>(std::optional<int>& v);
    Reader& operator>>(std::optional<core::Point>& p);
    Reader& operator>>(core::Visibility& v);
    template <typename Tag>
    Reader& operator>>(Id<Tag>& id) {
        return *this >> id.value;  // NULL reads as zero
    }
    template <typename Enum>
    requires std::is_enum_v<Enum> Reader& operator>>(Enum& v) {
        take(text(), v);
        return *this;
    }
    template <typename Enum>
    requires std::is_enum_v<Enum> Reader& operator>>(std::optional<Enum>& v) {
        v = core::from_word<Enum>(text());
        return *this;
    }

  private:
    std::string text();
    SQLite::Column column();
    SQLite::Statement& s_;
    int next_;
};

/// What is called while the call lasts, without a copy: std::function's managing, made anew for every one of
/// some hundred lambdas, cost half of compiling this floor.
template <typename Argument>
class Called {
  public:
    template <typename F>
    requires(!std::is_same_v<std::remove_cvref_t<F>, Called>) Called(F&& f)
        : what_(const_cast<void*>(static_cast<const void*>(&f))),
          call_([](void* what, Argument& a) { (*static_cast<std::remove_reference_t<F>*>(what))(a); }) {}
    void operator()(Argument& a) const { call_(what_, a); }

  private:
    void* what_;
    void (*call_)(void*, Argument&);
};

/// Throws core::Refused: what was to be written was not.
[[noreturn]] void refuse(const std::exception& why);

/// Binds the values of a statement.
using Bind = Called<Binder>;
inline constexpr auto kNothing = [](Binder&) {};

/// Executes a statement; the number of the row it added last. Throws core::Refused, with nothing changed.
std::int64_t run(Database& database, const std::string& sql, const Bind& bind);

/// Calls `row` for every row a query gives. Throws core::Refused.
void each_row(Database& database, const std::string& sql, const Bind& bind,
              const Called<SQLite::Statement>& row);

template <typename Row>
auto query(Database& database, const std::string& sql, const Bind& bind, Row row) {
    std::vector<decltype(row(std::declval<SQLite::Statement&>()))> out;
    each_row(database, sql, bind, [&](SQLite::Statement& s) { out.push_back(row(s)); });
    return out;
}

template <typename T>
std::optional<T> first(std::vector<T> rows) {
    if (rows.empty()) return std::nullopt;
    return std::move(rows.front());
}

/// A record's table, its columns in the order of fields.hpp. Compiled once for every record, in tables.cpp.
template <typename Record>
struct Table {
    static const char* name();
    /// A point stands in two columns, NAME_x and NAME_y.
    static std::vector<std::string> column_names();
    /// "table.a, table.b, …"
    static const std::string& columns();
    static void read(Reader& reader, Record& record);
    static void write(Binder& binder, const Record& record);
    /// Rows of a table with a number of its own. `rest`: WHERE, ORDER BY.
    static std::vector<Record> select(Database& database, const std::string& rest, const Bind& bind);
    /// Adds a row, under its own number when it has one already.
    static std::int64_t insert(Database& database, const Record& record);
    static void change(Database& database, const Record& record);
};

template <typename Record>
const std::string& columns() {
    return Table<Record>::columns();
}
template <typename Record>
void read(Reader& reader, Record& record) {
    Table<Record>::read(reader, record);
}
template <typename Record>
std::vector<Record> select(Database& database, const std::string& rest, const Bind& bind) {
    return Table<Record>::select(database, rest, bind);
}
template <typename Record, typename IdType>
std::optional<Record> select_one(Database& database, IdType id) {
    return first(select<Record>(database, "WHERE id = ?", [&](Binder& b) { b << id; }));
}
template <typename Record>
std::int64_t insert(Database& database, const Record& record) {
    return Table<Record>::insert(database, record);
}
template <typename Record>
void change(Database& database, const Record& record) {
    Table<Record>::change(database, record);
}

template <typename IdType>
void erase(Database& database, const std::string& table, IdType id) {
    run(database, "DELETE FROM \"" + table + "\" WHERE id = ?", [&](Binder& b) { b << id; });
}

}  // namespace aspen::store
