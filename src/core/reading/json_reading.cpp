#include "core/reading/json_reading.hpp"

#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <limits>
#include <utility>

namespace aspen::core::reading {

namespace {

/// Whole numbers that doubles hold exactly (2^53); what is beyond is no count of anything here.
constexpr double kLargestWhole = 9007199254740992.0;

std::string take_all(std::istream& in, const std::string& file) {
    std::string text;
    char block[1 << 16];
    while (in.read(block, sizeof block) || in.gcount() > 0) {
        text.append(block, static_cast<std::size_t>(in.gcount()));
        if (text.size() > kMostBytes)
            throw Refused(fmt::format("{}: is larger than {} MB; split it", file, kMostBytes >> 20));
    }
    return text;
}

}  // namespace

Json parse(std::istream& in, const std::string& file) {
    const std::string text = take_all(in, file);
    const auto shallow = [&](int depth, Json::parse_event_t, Json&) {
        if (depth > kDeepest)
            throw Refused(fmt::format("{}: is nested more than {} deep; mend the file", file, kDeepest));
        return true;
    };
    try {
        return Json::parse(text, shallow);
    } catch (const Json::parse_error& e) {
        throw Refused(fmt::format("{}: not valid JSON near byte {}; mend the file or take the shipped one",
                                  file, e.byte));
    } catch (const Json::exception& e) {  // a number that no double holds, a text that is no UTF-8
        throw Refused(
            fmt::format("{}: holds something that cannot be read ({}); mend the file", file, e.what()));
    }
}

std::optional<std::int64_t> whole(const Json& value) {
    if (value.is_number_unsigned() && value.get<std::uint64_t>() > static_cast<std::uint64_t>(kLargestWhole))
        return std::nullopt;
    if (value.is_number_integer()) {
        const auto v = value.get<std::int64_t>();
        return std::abs(static_cast<double>(v)) <= kLargestWhole ? std::optional(v) : std::nullopt;
    }
    return std::nullopt;
}

Entry::Entry(const Json& object, std::string file, std::string entry)
    : object_(object), file_(std::move(file)), entry_(std::move(entry)) {
    if (!object_.is_object()) throw Refused(fmt::format("{}: {}: must be an object", file_, entry_));
}

void Entry::complain(const std::string& field, const std::string& what) const {
    throw Refused(fmt::format("{}: {}: field \"{}\" {}", file_, entry_, field, what));
}

const Json& Entry::need(const char* field) const {
    const auto it = object_.find(field);
    if (it == object_.end()) complain(field, "is missing");
    return *it;
}

std::string Entry::text(const char* field) const {
    const Json& value = need(field);
    if (!value.is_string() || value.get_ref<const std::string&>().empty())
        complain(field, "must be a text that is not empty");
    return value.get<std::string>();
}

std::string Entry::text_or(const char* field, std::string otherwise) const {
    const auto it = object_.find(field);
    if (it == object_.end() || it->is_null()) return otherwise;
    if (!it->is_string()) complain(field, "must be a text");
    return it->get<std::string>();
}

double Entry::number(const char* field) const {
    const Json& value = need(field);
    if (!value.is_number() || !std::isfinite(value.get<double>())) complain(field, "must be a number");
    return value.get<double>();
}

int Entry::whole_or(const char* field, int otherwise) const {
    const auto it = object_.find(field);
    if (it == object_.end()) return otherwise;
    const auto v = whole(*it);
    if (!v || *v < std::numeric_limits<int>::min() || *v > std::numeric_limits<int>::max())
        complain(field, "must be a whole number");
    return static_cast<int>(*v);
}

bool Entry::flag_or(const char* field, bool otherwise) const {
    const auto it = object_.find(field);
    if (it == object_.end()) return otherwise;
    if (!it->is_boolean()) complain(field, "must be true or false");
    return it->get<bool>();
}

std::vector<std::string> Entry::texts_or_none(const char* field) const {
    const auto it = object_.find(field);
    if (it == object_.end()) return {};
    if (!it->is_array()) complain(field, "must be a list of texts");
    std::vector<std::string> out;
    for (const Json& one : *it) {
        if (!one.is_string()) complain(field, "must be a list of texts");
        out.push_back(one.get<std::string>());
    }
    return out;
}

const Json& Entry::array(const char* field) const {
    const Json& value = need(field);
    if (!value.is_array()) complain(field, "must be a list");
    return value;
}

const Json& Entry::object(const char* field) const {
    const Json& value = need(field);
    if (!value.is_object()) complain(field, "must be an object");
    return value;
}

}  // namespace aspen::core::reading
