#include "core/json_reading.hpp"

#include <fmt/format.h>

#include <utility>

namespace aspen::core::reading {

Json parse(std::istream& in, const std::string& file) {
    try {
        return Json::parse(in);
    } catch (const Json::parse_error& e) {
        throw Refused(fmt::format("{}: not valid JSON near byte {}; mend the file or take the shipped one",
                                  file, e.byte));
    }
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
    if (!value.is_number()) complain(field, "must be a number");
    return value.get<double>();
}

int Entry::whole_or(const char* field, int otherwise) const {
    const auto it = object_.find(field);
    if (it == object_.end()) return otherwise;
    if (!it->is_number_integer()) complain(field, "must be a whole number");
    return it->get<int>();
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
