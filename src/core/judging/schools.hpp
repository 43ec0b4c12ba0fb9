#pragma once

#include <functional>
#include <iosfwd>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/body/figure.hpp"

namespace aspen::core {

/// The range a measure is held against. Either limit may be open.
struct Band {
    std::optional<double> lo;
    std::optional<double> hi;
    /// Half the band's width, or for a one-sided band the scale its data file gives; severity is counted in
    /// it.
    double half_width = 1;
    std::string why;
    std::string source;
    friend bool operator==(const Band&, const Band&) = default;
};

/// Why there is no band, in words for the person: not held in this school, or the phase is needed first.
using BandOrReason = std::variant<Band, std::string>;

/// One school of riding as its data file states it (bands per seat, inheritance, reasons). Use Schools to
/// look up.
struct School {
    struct Relative {
        std::string section;
        double lo_add = 0, hi_add = 0;
    };
    struct Range {
        std::optional<double> lo, hi;
    };
    using Cell = std::variant<std::monostate, Range, Relative>;  ///< monostate: deliberately not held
    struct Section {
        std::string inherits;
        std::map<std::string, Cell, std::less<>> bands;  ///< key "measure" or "measure@phase"
    };
    struct Difference {
        std::string on, why;
    };

    std::string id, name, about, source, inherits;
    std::map<std::string, Section, std::less<>> sections;
    std::map<std::string, std::string, std::less<>> why;
    std::map<std::string, double, std::less<>> scales;
    std::vector<std::string> base_measures;
    std::vector<Difference> differs;
};

School load_school(std::istream& in, const std::string& file);

/// All schools that are known, and the look-up through seat, gait, phase and inheritance.
class Schools {
  public:
    Schools() = default;
    /// Throws Refused when a parent is missing, schools inherit in a ring, or an id stands twice.
    explicit Schools(std::vector<School> schools);

    const School* find(std::string_view id) const;
    const std::vector<School>& all() const { return schools_; }

    /// The band of a measure in a setting. A jump is judged by the section "jump", everything else by the
    /// seat.
    BandOrReason band(std::string_view measure, const Setting& setting) const;

  private:
    struct Hit {
        const School::Cell* cell = nullptr;
        bool needs_phase = false;
    };
    Hit look_up(const School& school, const std::string& section, std::string_view measure,
                const std::string& phase, int depth = 0) const;
    std::optional<School::Range> resolve(const School& school, const School::Cell& cell,
                                         std::string_view measure, int depth) const;
    std::vector<School> schools_;
};

}  // namespace aspen::core
