// What a record's table is asked and told, from its fields: the one place where those are gone through.

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "store/fields.hpp"
#include "store/statement.hpp"

namespace aspen::store {

template <typename Record>
const char* Table<Record>::name() {
    return kTable<Record>;
}

namespace {

void add_column(std::vector<std::string>& to, const char* name, bool point) {
    to.emplace_back(name);
    if (!point) return;
    to.back() += "_x";
    to.push_back(std::string(name) + "_y");
}

/// Every column written by `form`, with a comma between them.
std::string listed(const std::vector<std::string>& columns,
                   const std::function<std::string(const std::string&)>& form) {
    std::vector<std::string> out;
    for (const std::string& column : columns) out.push_back(form(column));
    return fmt::format("{}", fmt::join(out, ", "));
}
std::string select_list(const std::string& table, const std::vector<std::string>& columns) {
    return listed(columns, [&](const auto& c) { return fmt::format("\"{}\".\"{}\"", table, c); });
}
std::string select_sql(const std::string& table, const std::string& columns, const std::string& rest) {
    return fmt::format("SELECT \"{0}\".id, {1} FROM \"{0}\" {2}", table, columns, rest);
}
std::string insert_sql(const std::string& table, const std::vector<std::string>& columns) {
    return fmt::format("INSERT INTO \"{}\"(id, {}) VALUES(?, {})", table,
                       listed(columns, [](const auto& c) { return '"' + c + '"'; }),
                       listed(columns, [](const auto&) { return "?"; }));
}
std::string change_sql(const std::string& table, const std::vector<std::string>& columns) {
    return fmt::format("UPDATE \"{}\" SET {} WHERE id=?", table,
                       listed(columns, [](const auto& c) { return '"' + c + "\"=?"; }));
}

template <typename Record>
concept Numbered = requires(Record r) {
    r.id.value;
};

}  // namespace

template <typename Record>
std::vector<std::string> Table<Record>::column_names() {
    std::vector<std::string> out;
    Record record{};
    fields(record, [&]<typename Field>(const char* name, Field&) {
        add_column(out, name, std::is_same_v<Field, std::optional<core::Point>>);
    });
    return out;
}

template <typename Record>
const std::string& Table<Record>::columns() {
    static const std::string text = select_list(name(), column_names());
    return text;
}

template <typename Record>
void Table<Record>::read(Reader& reader, Record& record) {
    fields(record, [&](const char*, auto& field) { reader >> field; });
}

template <typename Record>
void Table<Record>::write(Binder& binder, const Record& record) {
    fields(const_cast<Record&>(record), [&](const char*, auto& field) { binder << field; });
}

template <typename Record>
std::vector<Record> Table<Record>::select(Database& database, const std::string& rest, const Bind& bind) {
    std::vector<Record> out;
    each_row(database, select_sql(name(), columns(), rest), bind, [&](SQLite::Statement& s) {
        Record& record = out.emplace_back();
        Reader reader(s);
        if constexpr (Numbered<Record>) reader >> record.id;
        read(reader, record);
    });
    return out;
}

template <typename Record>
std::int64_t Table<Record>::insert(Database& database, const Record& record) {
    static const std::string sql = insert_sql(name(), column_names());
    return run(database, sql, [&](Binder& b) {
        if constexpr (Numbered<Record>) b << record.id;
        write(b, record);
    });
}

template <typename Record>
void Table<Record>::change(Database& database, const Record& record) {
    static const std::string sql = change_sql(name(), column_names());
    run(database, sql, [&](Binder& b) {
        write(b, record);
        if constexpr (Numbered<Record>) b << record.id;
    });
}

template struct Table<Rider>;
template struct Table<Limitation>;
template struct Table<Horse>;
template struct Table<Ride>;
template struct Table<Clip>;
template struct Table<Slot>;
template struct Table<core::Stretch>;
template struct Table<Moment>;
template struct Table<core::Mark>;
template struct Table<Note>;
template struct Table<Remark>;
template struct Table<Finding>;
template struct Table<Correction>;
template struct Table<Prescription>;
template struct Table<Event>;
template struct Table<Answer>;
template struct Table<Stirrup>;
template struct Table<SignOff>;
template struct Table<GroundMark>;
template struct Table<LaidArena>;
template struct Table<ArenaMark>;
template struct Table<AskedLine>;
template struct Table<PracticeEntry>;
template struct Table<RiderPlan>;
template struct Table<Lesson>;
template struct Table<LessonPlace>;
template struct Table<CorrectionWord>;
template struct Table<Milestone>;
template struct Table<Promise>;
template struct Table<Outgoing>;
template struct Table<DrillAnswer>;
template struct Table<Consent>;
template struct Table<Departure>;
template struct Table<Spoken>;
template struct Table<FaceMark>;
template struct Table<Parcel>;
template struct Table<Sketch>;
template struct Table<Repeat>;

}  // namespace aspen::store
