#include "core/body/body.hpp"

#include "core/reading/json_reading.hpp"

namespace aspen::core {

Body load_body(std::istream& in, const std::string& file) {
    const auto json = reading::parse(in, file);
    const reading::Entry top(json, file, "body");
    Body body;
    const reading::Entry depths(top.object("depth_trunk_lengths"), file, "depth_trunk_lengths");
    for (const Landmark l : landmarks_of(View::side)) {
        body.depth[index(l)] = depths.number(std::string(id(l)).c_str());
    }
    body.depth_sd = top.number("depth_sd_trunk_lengths");
    if (!(body.depth_sd >= 0)) top.complain("depth_sd_trunk_lengths", "must not be negative");
    const reading::Entry lengths(top.object("lengths_m"), file, "lengths_m");
    const std::pair<const char*, double*> fields[] = {
        {"trunk", &body.trunk_m}, {"thigh", &body.thigh_m},         {"shank", &body.shank_m},
        {"foot", &body.foot_m},   {"upper_arm", &body.upper_arm_m}, {"forearm", &body.forearm_m}};
    for (const auto& [name, target] : fields) {
        *target = lengths.number(name);
        if (!(*target > 0)) lengths.complain(name, "must be larger than 0");
    }
    return body;
}

}  // namespace aspen::core
