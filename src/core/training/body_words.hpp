#pragma once

#include <array>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/reading/json_reading.hpp"

namespace aspen::core {

/// What free words say of a body.
struct BodyReading {
    std::vector<std::string> parts;  ///< of the body, as the exercises' not_for has them
    /// Why they hold all work, unmounted too: "the heart", "an operation", "not understood: ferret"; "" where
    /// they are wholly understood and only keep parts from being loaded.
    std::string holds;
    bool harmless = false;  ///< wholly understood, and it keeps nothing from being loaded
};

/// The words in which people say what is wrong with a body (data/exercises.json, "body_words"). Reading fails
/// closed: a single word that is in none of the lists holds all work, as do the head, the heart, pregnancy,
/// balance and the like, and an operation or a break that is not known to be more than twelve months ago.
/// Common practice of those who teach riding, no source; in doubt a doctor decides, never a list.
class BodyWords {
  public:
    BodyWords() = default;
    /// Throws Refused naming file and field.
    BodyWords(const reading::Json& object, const std::string& file);

    /// `since`: the day it began, ISO 8601, or ""; `day`: the day it is read for.
    BodyReading read(const std::string& words, const std::string& since, const std::string& day) const;
    /// Every part that words can name.
    std::vector<std::string> parts() const;

  private:
    enum class Kind { plain, part, holds, broken, replaced, recent, aged, harmless };
    struct Phrase {
        std::vector<std::string> words;
        Kind kind = Kind::plain;
        std::vector<std::string> says;  ///< parts, or what holds
    };
    class Reader;
    void add(const std::string& words, Kind kind, const std::string& says);
    std::map<std::string, std::vector<Phrase>, std::less<>> by_first_;  ///< the longest first
    std::vector<std::string> parts_;
};

}  // namespace aspen::core
