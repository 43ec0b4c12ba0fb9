#include <charconv>
#include <nlohmann/json.hpp>

#include "core/reading/refused.hpp"
#include "simulate/plate.hpp"

namespace aspen::simulate {
namespace {

using Json = nlohmann::json;

/// One field of a plate into the ride; false where no ride has it.
bool ride_field(Ride& r, const std::string& field, const Json& value) {
    const std::map<std::string, double*> numbers{
        {"knee", &r.knee_deg},           {"lean", &r.trunk_lean_deg},   {"leg", &r.leg_set_m},
        {"heel", &r.heel_drop_deg},      {"ear", &r.ear_ahead_pct},     {"head", &r.head_pitch_deg},
        {"arm", &r.upper_arm_deg},       {"hand_up", &r.hand_up_m},     {"shoulder", &r.shoulder_drop_deg},
        {"sideways", &r.lean_right_deg}, {"shift", &r.shift_right_m},   {"rise", &r.rise_m},
        {"fold", &r.fold_deg},           {"circle", &r.circle_lean_deg}};
    if (const auto it = numbers.find(field); it != numbers.end()) {
        *it->second = value.get<double>();
        return true;
    }
    if (field == "gait") {
        const std::map<std::string, Gait> gaits{
            {"halt", Gait::halt}, {"walk", Gait::walk}, {"trot", Gait::trot}, {"canter", Gait::canter}};
        r.gait = gaits.at(value.get<std::string>());
        return true;
    }
    if (field == "seat") {
        const std::map<std::string, Seat> seats{
            {"sitting", Seat::sitting}, {"rising", Seat::rising}, {"two_point", Seat::two_point}};
        r.seat = seats.at(value.get<std::string>());
        return true;
    }
    return false;
}

PlateWay way_from(const Json& w) {
    PlateWay out;
    const std::string kind = w.at(0).get<std::string>();
    if (kind == "line") {
        out.x = w.at(1), out.y = w.at(2), out.to_x = w.at(3), out.to_y = w.at(4);
        return out;
    }
    if (kind != "arc") throw core::Refused("a way is a line or an arc, not \"" + kind + "\"");
    out.arc = true;
    out.x = w.at(1), out.y = w.at(2), out.radius = out.to_radius = w.at(3);
    out.from_deg = w.at(4), out.by_deg = w.at(5);
    if (w.size() > 6) out.to_radius = w.at(6);
    return out;
}

bool drawn_field(Plate& plate, const std::string& field, const Json& value) {
    const auto places = [&](std::vector<Vec2>& into) {
        for (const Json& at : value) into.push_back({at.at(0), at.at(1)});
        return true;
    };
    if (field == "poles") {
        for (const Json& pole : value)
            plate.poles.push_back({pole.at(0), pole.size() > 1 ? pole.at(1).get<double>() : 0});
        return true;
    }
    if (field == "marks") {
        for (const Json& m : value) plate.marks.push_back({m.at(0), m.at(1), m.at(2)});
        return true;
    }
    if (field == "lines") {
        for (const Json& l : value) plate.lines.emplace_back(l.at(0), l.at(1));
        return true;
    }
    if (field == "way") {
        for (const Json& w : value) plate.way.push_back(way_from(w));
        return true;
    }
    if (field == "cones") return places(plate.cones);
    if (field == "bars") return places(plate.bars);
    if (field == "person") {
        for (const auto& [joint, at] : value.items()) plate.person[joint] = {at.at(0), at.at(1)};
        plate.horse = plate.irons = false;
        return true;
    }
    return false;
}

Plate plate_from(const Json& entry) {
    Plate plate;
    plate.ride.wander = 0;
    plate.ride.tempo_wander_pct = 0;
    plate.ride.gait = Gait::halt;
    for (const auto& [field, value] : entry.items()) {
        if (ride_field(plate.ride, field, value) || drawn_field(plate, field, value)) continue;
        if (field == "phase")
            plate.phase = value;
        else if (field == "irons")
            plate.irons = value;
        else if (field == "reins")
            plate.reins = value;
        else if (field == "lunge")
            plate.lunge = value;
        else if (field == "hands")
            plate.hands = value.get<std::string>();
        else if (field == "board")
            plate.board = value.get<std::string>();
        else if (field == "behind")
            plate.from = value.get<bool>() ? From::behind : From::side;
        else if (field == "fence") {
            plate.over_fence = true;
            plate.ride.fences_m = {value.get<double>()};
        } else
            throw core::Refused("\"" + field + "\" is no field of a plate");
    }
    return plate;
}

}  // namespace

PlateBook::PlateBook(std::string_view json, const std::string& file) {
    try {
        const Json all = Json::parse(json);
        for (const auto& [id, entry] : all.at("plates").items()) {
            try {
                plates_.emplace(id, plate_from(entry));
            } catch (const std::exception& e) {
                throw core::Refused(file + ": plate \"" + id + "\": " + e.what());
            }
        }
    } catch (const Json::exception& e) {
        throw core::Refused(file + ": " + e.what());
    }
}

const Plate* PlateBook::find(std::string_view exercise) const {
    if (const auto it = plates_.find(exercise); it != plates_.end()) return &it->second;
    const auto cut = exercise.rfind('_');
    if (cut == std::string_view::npos) return nullptr;
    int n = 0;
    const auto [end, error] =
        std::from_chars(exercise.data() + cut + 1, exercise.data() + exercise.size(), n);
    const bool copied = error == std::errc() && end == exercise.data() + exercise.size();
    return copied ? find(exercise.substr(0, cut)) : nullptr;
}

}  // namespace aspen::simulate
