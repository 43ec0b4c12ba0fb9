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
#include "core/judging/situation.hpp"

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
    std::string note{};    ///< why the situation moved it; "" where it did not
    std::string school{};  ///< id of the school that states it: a parent's where it is inherited
    friend bool operator==(const Band&, const Band&) = default;
};

/// Why there is no band, in words for the person: not held in this school, or the phase is needed first.
using BandOrReason = std::variant<Band, std::string>;

/// A band as the situation leaves it, or why the measure is not judged at all.
struct BandHere {
    BandOrReason band;
    std::string suspended{};  ///< "" when it is judged
};

/// One school of riding as its data file states it (bands per seat, gait and phase, inheritance, reasons).
/// Use Schools to look up.
struct School {
    struct Relative {
        std::string section;
        double lo_add = 0, hi_add = 0;
        friend bool operator==(const Relative&, const Relative&) = default;
    };
    struct Range {
        std::optional<double> lo, hi;
        friend bool operator==(const Range&, const Range&) = default;
    };
    using Cell = std::variant<std::monostate, Range, Relative>;  ///< monostate: deliberately not held
    struct Section {
        std::string inherits;
        /// Key "measure", "measure/gait", "measure@phase" or "measure/gait@phase"; the most particular wins.
        std::map<std::string, Cell, std::less<>> bands;
    };
    struct Difference {
        std::string on, why;
    };

    std::string id, name, about, source, inherits, file;
    std::map<std::string, Section, std::less<>> sections;
    std::map<std::string, std::string, std::less<>> why;
    std::map<std::string, double, std::less<>> scales;
    std::vector<std::string> base_measures;
    std::vector<Difference> differs;
    std::vector<Difference> disputed{};  ///< bands that coaches disagree about, and what to look at instead
};

School load_school(std::istream& in, const std::string& file);
/// As load_school reads it back. `source` says who stated the bands.
void save_school(const School& school, std::ostream& out);

/// All schools that are known, and the look-up through seat, gait, phase and inheritance.
class Schools {
  public:
    Schools();
    /// Throws Refused when a parent, a section or a cell that is referred to is missing, something inherits
    /// in a ring, or an id stands twice.
    explicit Schools(std::vector<School> schools, Situations situations = {});

    const School* find(std::string_view id) const;
    const std::vector<School>& all() const { return schools_; }
    const Situations& situations() const { return situations_; }
    /// Of the shipped schools the one that a coach's own was made from; itself for a shipped one and for what
    /// is not known.
    std::string family(const std::string& id) const;

    /// The band a school states for a measure in a setting. Take-off, top and landing of a jump are judged by
    /// the section "jump", everything else by the seat. A cell that a school does not state comes from its
    /// parent's section, and where none of them states it, from the section that the section inherits. The
    /// band of `hip_angle` follows from the others (hip_band).
    BandOrReason band(std::string_view measure, const Setting& setting) const;
    /// The same as the riding state, the movement, the level and the horse move it.
    BandHere here(std::string_view measure, const Setting& setting) const;

  private:
    struct Hit {
        const School::Cell* cell = nullptr;
        const School* school = nullptr;
        bool needs_phase = false;
    };
    struct Memory;
    using BandOf = std::function<BandOrReason(std::string_view)>;

    Hit look_up(const School& school, const std::string& section, std::string_view measure,
                const Setting& setting, int depth = 0) const;
    std::optional<School::Range> resolve(const School& school, const School::Cell& cell,
                                         std::string_view measure, const Setting& setting, int depth) const;
    const School* school_of(const Setting& setting) const;
    BandOrReason stated(std::string_view measure, const Setting& setting) const;
    BandOrReason hip(const BandOf& of) const;
    BandHere look_up_here(std::string_view measure, const Setting& setting) const;
    std::string inherited_section(const School& school, const std::string& section) const;
    void check(const School& school) const;

    std::vector<School> schools_;
    Situations situations_;
    std::shared_ptr<Memory> memory_;  ///< bands already looked up or drawn; a Schools does not change
};

}  // namespace aspen::core
