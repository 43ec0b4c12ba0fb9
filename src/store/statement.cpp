#include "store/statement.hpp"

#include <fmt/format.h>

#include "core/reading/refused.hpp"

namespace aspen::store {
namespace {

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

/// Has a statement used with its values bound.
void bound(Database& database, const std::string& sql, const Bind& bind,
           const Called<SQLite::Statement>& use) {
    Borrowed borrowed(database, sql);
    database.note(sql);
    Binder binder(*borrowed);
    bind(binder);
    use(*borrowed);
}

}  // namespace

Binder& Binder::operator<<(const std::string& v) { return s_.bind(next_++, v), *this; }
Binder& Binder::operator<<(std::string_view v) { return *this << std::string(v); }
Binder& Binder::operator<<(const char* v) { return *this << std::string(v); }
Binder& Binder::operator<<(std::int64_t v) { return s_.bind(next_++, v), *this; }
Binder& Binder::operator<<(int v) { return s_.bind(next_++, v), *this; }
Binder& Binder::operator<<(bool v) { return *this << static_cast<int>(v); }
Binder& Binder::operator<<(double v) { return s_.bind(next_++, v), *this; }
Binder& Binder::operator<<(const std::optional<double>& v) { return v ? *this << *v : nothing(); }
Binder& Binder::operator<<(const std::optional<int>& v) { return v ? *this << *v : nothing(); }
Binder& Binder::operator<<(const std::optional<core::Point>& p) {
    return p ? *this << p->x << p->y : nothing().nothing();
}
Binder& Binder::operator<<(core::Visibility v) { return *this << static_cast<int>(v); }
Binder& Binder::nothing() { return s_.bind(next_++), *this; }

SQLite::Column Reader::column() { return s_.getColumn(next_++); }
std::string Reader::text() { return column().getString(); }
Reader& Reader::operator>>(std::string& v) { return v = text(), *this; }
Reader& Reader::operator>>(std::int64_t& v) { return v = column().getInt64(), *this; }
Reader& Reader::operator>>(int& v) { return v = column().getInt(), *this; }
Reader& Reader::operator>>(bool& v) { return v = column().getInt() != 0, *this; }
Reader& Reader::operator>>(double& v) { return v = column().getDouble(), *this; }
Reader& Reader::operator>>(std::optional<double>& v) {
    const SQLite::Column c = column();
    v = c.isNull() ? std::nullopt : std::optional(c.getDouble());
    return *this;
}
Reader& Reader::operator>>(std::optional<int>& v) {
    const SQLite::Column c = column();
    v = c.isNull() ? std::nullopt : std::optional(c.getInt());
    return *this;
}
Reader& Reader::operator>>(std::optional<core::Point>& p) {
    std::optional<double> x, y;
    *this >> x >> y;
    p = x && y ? std::optional(core::Point{*x, *y}) : std::nullopt;
    return *this;
}
Reader& Reader::operator>>(core::Visibility& v) {
    v = static_cast<core::Visibility>(column().getInt());
    return *this;
}

void refuse(const std::exception& why) {
    throw core::Refused(fmt::format("record: could not be written ({}); nothing was changed", why.what()));
}

std::int64_t run(Database& database, const std::string& sql, const Bind& bind) {
    try {
        bound(database, sql, bind, [](SQLite::Statement& statement) { statement.exec(); });
        return database.raw().getLastInsertRowid();
    } catch (const SQLite::Exception& e) {
        refuse(e);
    }
}

void each_row(Database& database, const std::string& sql, const Bind& bind,
              const Called<SQLite::Statement>& row) {
    try {
        bound(database, sql, bind, [&](SQLite::Statement& statement) {
            while (statement.executeStep()) row(statement);
        });
    } catch (const SQLite::Exception& e) {
        throw core::Refused(fmt::format("record: could not be read ({}); restore a backup", e.what()));
    }
}

}  // namespace aspen::store
