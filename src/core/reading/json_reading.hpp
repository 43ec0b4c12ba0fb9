#pragma once

#include <istream>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/reading/refused.hpp"

/// Reading JSON from outside, with errors that name the file, the entry and the field: the one reader for all
/// of it, with limits on size, depth, memory and numbers.
namespace aspen::core::reading {

using Json = nlohmann::json;

inline constexpr std::size_t kMostBytes = std::size_t{64} << 20;
inline constexpr int kDeepest = 32;
/// What its values may take in memory, above the text itself.
inline constexpr std::size_t kMostInMemory = std::size_t{160} << 20;

/// Throws Refused, and nothing else, in one line. The text is gone over once before anything is built of it,
/// so that one which would take too much never does.
Json parse(std::istream& in, const std::string& file);
Json parse_text(const std::string& text, const std::string& file);
/// The same, fields in the order of the text: for what is written out again.
nlohmann::ordered_json parse_in_order(const std::string& text, const std::string& file);
/// The value when it is a whole number that is exactly held; never cut off.
std::optional<std::int64_t> whole(const Json& value);

/// One object of a data file together with where it stands, so that every complaint can say so.
class Entry {
  public:
    Entry(const Json& object, std::string file, std::string entry);

    std::string text(const char* field) const;
    std::string text_or(const char* field, std::string otherwise) const;
    double number(const char* field) const;
    int whole_or(const char* field, int otherwise) const;
    bool flag_or(const char* field, bool otherwise) const;
    std::vector<std::string> texts_or_none(const char* field) const;
    const Json& array(const char* field) const;
    const Json& object(const char* field) const;
    bool has(const char* field) const { return object_.contains(field); }
    const Json& raw() const { return object_; }
    /// Throws Refused: "<file>: <entry>: field "<field>" <what>".
    [[noreturn]] void complain(const std::string& field, const std::string& what) const;

  private:
    const Json& need(const char* field) const;
    const Json& object_;
    std::string file_;
    std::string entry_;
};

}  // namespace aspen::core::reading
