#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/schools.hpp"
#include "core/measures/measures.hpp"

namespace aspen::core {

enum class Verdict { inside, borderline, outside, no_band, not_judged };
enum class Beyond { neither, below, above };

std::string_view word(Verdict v);

/// Half-width of the two-sided 90 % interval of a normal error, in standard deviations.
inline constexpr double kNinetyPercent = 1.645;

/// A measured value held against its band.
struct Judged {
    Measured measured;
    std::optional<Band> band;
    Verdict verdict = Verdict::not_judged;
    Beyond beyond = Beyond::neither;  ///< for outside and borderline: past which limit the value itself lies
    double severity = 0;  ///< outside only: (distance past the limit - 1.645 sd) in half band-widths
    /// For no_band and not_judged why; for the others why the situation moved the band, "" where it did not.
    std::string reason;

    const MeasureInfo& info() const { return *measured.info; }
};

/// Inside or outside when the whole 90 % interval is; borderline when it crosses a limit.
Verdict verdict_of(double value, double sd, const Band& band);

/// The angle that means the same direction and lies nearest to a band: an arm overhead is held against it
/// from the nearer side.
double beside(double angle_deg, const Band& band);

/// Holds a value against the setting's band.
Judged judge_value(Measured measured, const Setting& setting, const Schools& schools);
/// Measures the figure and holds every value against the setting's bands.
std::vector<Judged> judge(const Figure& figure, const Setting& setting, const Body& body,
                          const Schools& schools);

const Judged* find(const std::vector<Judged>& judged, std::string_view measure);

}  // namespace aspen::core
