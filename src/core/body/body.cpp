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
    const auto& places = top.object("along_trunk_lengths");
    const reading::Entry along(places, file, "along_trunk_lengths");
    const reading::Entry rear(along.object("rear"), file, "along_trunk_lengths, rear"),
        front(along.object("front"), file, "along_trunk_lengths, front");
    for (const Landmark l : landmarks_of(View::rear)) {
        std::string name(id(l));
        if (const auto cut = name.find('_'); name.starts_with("left_") || name.starts_with("right_"))
            name = name.substr(cut + 1);
        const bool by_view =
            l == Landmark::saddle_mid || l == Landmark::horse_mid || l == Landmark::ground_mid;
        body.along_rear[index(l)] = (by_view ? rear : along).number(name.c_str());
        body.along_front[index(l)] = (by_view ? front : along).number(name.c_str());
    }
    for (const auto& [name, target] : {std::pair{"along_sd_trunk_lengths", &body.along_sd},
                                       {"trunk_guess_sd", &body.trunk_guess_sd},
                                       {"typical_spread_deg", &body.typical_spread_deg},
                                       {"typical_spread_pct", &body.typical_spread_pct},
                                       {"form_deg", &body.form_deg},
                                       {"form_pct", &body.form_pct},
                                       {"form_ms", &body.form_ms},
                                       {"form_stride", &body.form_stride},
                                       {"form_per_min", &body.form_per_min}}) {
        *target = top.number(name);
        if (!(*target >= 0)) top.complain(name, "must not be negative");
    }
    const reading::Entry lengths(top.object("lengths_m"), file, "lengths_m");
    const std::pair<const char*, double*> fields[] = {{"trunk", &body.trunk_m},
                                                      {"thigh", &body.thigh_m},
                                                      {"shank", &body.shank_m},
                                                      {"foot", &body.foot_m},
                                                      {"upper_arm", &body.upper_arm_m},
                                                      {"forearm", &body.forearm_m},
                                                      {"shoulder_width", &body.shoulder_width_m},
                                                      {"hip_width", &body.hip_width_m},
                                                      {"withers_croup", &body.withers_croup_m},
                                                      {"cantle_withers", &body.cantle_withers_m},
                                                      {"poll_bit", &body.poll_bit_m}};
    for (const auto& [name, target] : fields) {
        *target = lengths.number(name);
        if (!(*target > 0)) lengths.complain(name, "must be larger than 0");
    }
    return body;
}

}  // namespace aspen::core
