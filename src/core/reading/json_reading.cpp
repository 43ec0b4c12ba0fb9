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

/// Goes over a text without building anything, and refuses what would be too deep or too large.
class Weighing : public nlohmann::json_sax<Json> {
  public:
    explicit Weighing(const std::string& file) : file_(file) {}
    bool null() override { return one(kValue); }
    bool boolean(bool) override { return one(kValue); }
    bool number_integer(number_integer_t) override { return one(kValue); }
    bool number_unsigned(number_unsigned_t) override { return one(kValue); }
    bool number_float(number_float_t, const string_t&) override { return one(kValue); }
    bool string(string_t& text) override { return one(kValue + kText + text.size()); }
    bool binary(binary_t&) override { return one(kValue); }
    bool key(string_t& text) override { return one(kNode + text.size()); }
    bool start_object(std::size_t) override { return deeper(); }
    bool start_array(std::size_t) override { return deeper(); }
    bool end_object() override { return --depth_, true; }
    bool end_array() override { return --depth_, true; }
    bool parse_error(std::size_t byte, const std::string&, const nlohmann::detail::exception& e) override {
        constexpr int kFirstThatIsNoSyntax = 200;  // a number that no double holds
        if (e.id >= kFirstThatIsNoSyntax)
            throw Refused(
                fmt::format("{}: holds something that cannot be read ({}); mend the file", file_, e.what()));
        throw Refused(fmt::format("{}: not valid JSON near byte {}; mend the file or take the shipped one",
                                  file_, byte));
    }

  private:
    // Of nlohmann's values on 64 bits, with what a growing list or a tree's node takes (measured).
    static constexpr std::size_t kValue = 32, kText = 48, kNode = 96, kContainer = 64;
    bool one(std::size_t bytes) {
        bytes_ += bytes;
        if (bytes_ > kMostInMemory)
            throw Refused(fmt::format("{}: holds more than can be read at once; split it", file_));
        return true;
    }
    bool deeper() {
        if (++depth_ > kDeepest)
            throw Refused(fmt::format("{}: is nested more than {} deep; mend the file", file_, kDeepest));
        return one(kValue + kContainer);
    }
    const std::string& file_;
    std::size_t bytes_ = 0;
    int depth_ = 0;
};

template <typename Any>
Any parse_any(const std::string& text, const std::string& file) {
    if (text.size() > kMostBytes)
        throw Refused(fmt::format("{}: is larger than {} MB; split it", file, kMostBytes >> 20));
    try {
        Weighing weighing(file);
        Json::sax_parse(text, &weighing);
        return Any::parse(text);
    } catch (const Json::exception& e) {  // a number that no double holds, a text that is no UTF-8
        throw Refused(
            fmt::format("{}: holds something that cannot be read ({}); mend the file", file, e.what()));
    }
}

}  // namespace

Json parse_text(const std::string& text, const std::string& file) { return parse_any<Json>(text, file); }
nlohmann::ordered_json parse_in_order(const std::string& text, const std::string& file) {
    return parse_any<nlohmann::ordered_json>(text, file);
}
Json parse(std::istream& in, const std::string& file) { return parse_text(take_all(in, file), file); }

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
