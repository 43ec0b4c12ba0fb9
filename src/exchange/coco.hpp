#pragma once

#include <iosfwd>
#include <optional>
#include <string>
#include <vector>

#include "core/body/figure.hpp"
#include "core/proposal/proposal.hpp"

/// Marks in the COCO key-point format, so that common readers load them; what COCO has no word for stands
/// under "aspen". Fields: docs/formats.md.
namespace aspen::exchange {

struct MarkedMoment {
    std::int64_t id = 0;        ///< the annotation's
    std::string file_name;      ///< of the clip
    int width = 0, height = 0;  ///< display size
    int frame = 0;
    std::optional<double> time_s;
    std::optional<double> real_s;
    core::Figure figure;
    std::string school;  ///< "" when not said, as the next four
    std::optional<core::Gait> gait;
    std::optional<core::Seat> seat;
    std::optional<core::Rein> rein;
    int field = 0;  ///< 1: the second field of an interlaced frame
    std::string movement, phase, rider_ref;
    std::optional<core::Stirrups> stirrups;
    std::optional<core::ReinsHeld> reins;
    std::optional<core::Hands> hands;
    std::optional<core::Line> line;
    std::optional<core::Mount> mount;
    std::optional<core::CircleLeg> circle_leg;
    std::optional<double> circle_radius_m;
    std::string level;  ///< beginner, novice, established or ""

    /// Bands can be looked up only when school, gait and seat are all said.
    core::Setting setting() const;
};

void write_coco(std::ostream& out, const std::vector<MarkedMoment>& moments);

/// Throws core::Refused in one line: broken JSON, wrong schema, unknown words, a frame and a time that
/// disagree.
/// A landmark whose error the file does not say has that of the way it was placed: a click's; 3 % of the
/// trunk laid and confirmed in place; what `errors` says proposed or carried.
std::vector<MarkedMoment> read_coco(std::istream& in, const std::string& file,
                                    const core::FigureErrors& errors = {});

/// Refuses moments whose time lies more than half a frame off the clip's own time of that frame.
void check_times(const std::vector<MarkedMoment>& moments, const std::vector<double>& pts_s,
                 const std::string& file);

}  // namespace aspen::exchange
