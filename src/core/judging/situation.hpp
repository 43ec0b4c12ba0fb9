#pragma once

#include <iosfwd>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/figure.hpp"

namespace aspen::core {

struct Band;

/// What the situation makes of a measure: riding state, movement, the moment of an aid, level and horse.
struct Situated {
    std::string suspended;  ///< why the measure is not judged; "" when it is
    std::string note;       ///< why the band was moved; "" when it was not
};

/// What of a picture's situation moves bands or suspends them, as data (`data/situations.json`).
class Situations {
  public:
    Situations() = default;
    /// Throws Refused naming file, rule and field.
    Situations(std::istream& in, const std::string& file);

    /// Whether the measure is judged in this setting; moves `band`, when there is one, as the setting asks.
    Situated apply(std::string_view measure, const Setting& setting, Band* band) const;
    /// The seat whose bands hold (a horse noted to go better under a half seat), and why it is another.
    struct SeatHere {
        Seat seat;
        std::string note;
    };
    SeatHere seat(const Setting& setting) const;

  private:
    struct Change {
        enum class How { add, at_least } how;
        std::optional<double> lo, hi;
    };
    struct Rule {
        std::map<std::string, std::vector<std::string>, std::less<>> when;
        std::vector<std::string> not_judged;
        std::map<std::string, Change, std::less<>> moves;
        std::optional<Seat> seat;
        std::string why;
    };
    static bool holds(const Rule& rule, const Setting& setting);
    std::vector<Rule> rules_;
};

}  // namespace aspen::core
