#pragma once

#include <iosfwd>
#include <map>
#include <optional>
#include <string>
#include <string_view>

#include "core/body/body.hpp"
#include "core/judging/judgement.hpp"

namespace aspen::core {

/// What a value means in riding words, before any number: "heel a hand behind the hip".
class MeasureWords {
  public:
    MeasureWords() = default;
    /// Throws Refused naming file, entry and field.
    MeasureWords(std::istream& in, const std::string& file);
    /// Where the rider's height is known lengths are said in centimetres, else as "about a hand". Past a
    /// limit the words of that side; else the inside ones. The measure's own name where there are none
    /// and where no band says what is inside.
    std::string of(const Judged& judged, const Body& body, std::optional<int> height_cm) const;
    /// What a change of a value means: "heel half a hand further forward". `by` in the measure's unit,
    /// signed.
    std::string of_change(const MeasureInfo& measure, double by, const Body& body,
                          std::optional<int> height_cm) const;

  private:
    struct Words {
        std::string of, below, inside, above, more, less;
    };
    static std::string with_length(std::string words, const Words& w, double pct, const Body& body,
                                   std::optional<int> height_cm);
    std::map<std::string, Words, std::less<>> words_;
};

/// "8 cm" of a rider whose height is known; else "two fingers", "half a hand", "a hand".
std::string length_words(double metres, bool height_known);

}  // namespace aspen::core
