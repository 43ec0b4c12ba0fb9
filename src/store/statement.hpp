#pragma once

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/refused.hpp"
#include "store/database.hpp"
#include "store/records.hpp"

/// Statements with bound values and rows read into plain values. Internal to store.
namespace aspen::store {

template <std::size_t N>
int place(const std::array<const char*, N>& words, const std::string& w) {
    for (std::size_t i = 0; i < N; ++i) {
        if (w == words[i]) return static_cast<int>(i);
    }
    return 0;
}

/// Binds one value after the other; a zero id becomes NULL.
class Binder {
  public:
    explicit Binder(SQLite::Statement& s) : s_(s) {}
    Binder& operator<<(const std::string& v) {
        s_.bind(next_++, v);
        return *this;
    }
    Binder& operator<<(std::string_view v) { return *this << std::string(v); }
    Binder& operator<<(const char* v) { return *this << std::string(v); }
    Binder& operator<<(std::int64_t v) {
        s_.bind(next_++, v);
        return *this;
    }
    Binder& operator<<(int v) {
        s_.bind(next_++, v);
        return *this;
    }
    Binder& operator<<(bool v) { return *this << static_cast<int>(v); }
    Binder& operator<<(double v) {
        s_.bind(next_++, v);
        return *this;
    }
    Binder& operator<<(const std::optional<double>& v) {
        if (v) return *this << *v;
        s_.bind(next_++);
        return *this;
    }
    Binder& operator<<(const std::optional<int>& v) {
        if (v) return *this << *v;
        s_.bind(next_++);
        return *this;
    }
    template <typename Tag>
    Binder& operator<<(Id<Tag> id) {
        if (id) return *this << id.value;
        s_.bind(next_++);
        return *this;
    }

  private:
    SQLite::Statement& s_;
    int next_ = 1;
};

template <typename IdType>
IdType id_of(const SQLite::Column& c) {
    return IdType{c.isNull() ? 0 : c.getInt64()};
}

inline std::optional<int> whole(const SQLite::Column& c) {
    return c.isNull() ? std::nullopt : std::optional<int>(c.getInt());
}

inline std::optional<double> real(const SQLite::Column& c) {
    return c.isNull() ? std::nullopt : std::optional<double>(c.getDouble());
}

[[noreturn]] inline void refuse(const SQLite::Exception& e) {
    throw core::Refused(fmt::format("record: could not be written ({}); nothing was changed", e.what()));
}

template <typename Bind>
std::int64_t run(Database& database, const char* sql, Bind bind) {
    try {
        SQLite::Statement statement(database.raw(), sql);
        Binder binder(statement);
        bind(binder);
        statement.exec();
        return database.raw().getLastInsertRowid();
    } catch (const SQLite::Exception& e) {
        refuse(e);
    }
}

template <typename Row, typename Bind>
auto query(Database& database, const std::string& sql, Bind bind, Row row) {
    std::vector<decltype(row(std::declval<SQLite::Statement&>()))> out;
    try {
        SQLite::Statement statement(database.raw(), sql);
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

}  // namespace aspen::store
