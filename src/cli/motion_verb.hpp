#pragma once

#include <iosfwd>
#include <optional>
#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace aspen::cli {

/// What was said to the `motion` verb.
struct MotionSaid {
    std::string file, gait, travel, view = "side", seat, school, size, roll, yaw, events;
    double time_scale = 1;
    std::optional<double> change_at;
    std::vector<std::string> hold;
    bool json = false;
};
void add_motion_options(CLI::App& verb, MotionSaid& said);
/// Measures of strides from tracks; throws WrongUsage, core::Refused.
int motion(const MotionSaid& said, std::ostream& out);

}  // namespace aspen::cli
