#pragma once

#include <iosfwd>
#include <map>
#include <optional>
#include <string>
#include <string_view>

#include "core/body/body.hpp"
#include "core/judging/amounts.hpp"
#include "core/judging/judgement.hpp"

namespace aspen::core {

/// What a value means in riding words, before any number: "heel a hand behind the hip".
class MeasureWords {
  public:
    MeasureWords() = default;
    /// Throws Refused naming file, entry and field.
    MeasureWords(std::istream& in, const std::string& file, Amounts amounts);
    /// Lengths as amounts() says them. Past a
    /// limit the words of that side; else the inside ones. The measure's own name where there are none
    /// and where no band says what is inside.
    std::string of(const Judged& judged, const Body& body, const ToWhom& to = {}) const;
    /// The same of a value on that side of its band, however it came about.
    std::string of_value(const MeasureInfo& measure, Beyond side, double value, const Body& body,
                         const ToWhom& to = {}) const;
    /// What a change of a value means: "heel half a hand further forward". `by` in the measure's unit,
    /// signed.
    std::string of_change(const MeasureInfo& measure, double by, const Body& body,
                          const ToWhom& to = {}) const;
    const Amounts& amounts() const { return amounts_; }

  private:
    struct Words {
        std::string below, inside, above, more, less;
    };
    std::string with_length(std::string words, const MeasureInfo& measure, double pct, const Body& body,
                            const ToWhom& to) const;
    Amounts amounts_;
    std::map<std::string, Words, std::less<>> words_;
};

}  // namespace aspen::core
