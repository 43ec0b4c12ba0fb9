#pragma once

#include <fstream>
#include <memory>
#include <random>
#include <sstream>
#include <string>

#include "core/knowledge/knowledge.hpp"
#include "core/reading/refused.hpp"

namespace aspen::test {

inline std::unique_ptr<std::istream> open_data(const std::string& path) {
    auto in = std::make_unique<std::ifstream>(std::string(ASPEN_SOURCE_DIR "/data/") + path);
    if (!*in) throw core::Refused(path + ": is missing");
    return in;
}

inline const core::Knowledge& knowledge() {
    static const auto all =
        core::load_knowledge(open_data, {"schools/classical.json", "schools/gaited.json",
                                         "schools/hunter.json", "schools/jumper.json", "schools/stock.json"});
    return *all;
}

/// A believable rider travelling right, 1280 x 720, square and upright, with every side landmark seen.
inline core::Figure sitting_rider() {
    using L = core::Landmark;
    core::Figure f;
    f.travel = core::Travel::right;
    const std::pair<L, core::Point> points[] = {
        {L::ear, {600, 130}},         {L::eye, {620, 131}},     {L::chin, {618, 156}},
        {L::shoulder, {597, 182}},    {L::elbow, {606, 248}},   {L::wrist, {660, 268}},
        {L::knuckle, {676, 274}},     {L::hip, {595, 292}},     {L::knee, {668, 350}},
        {L::ankle, {608, 425}},       {L::heel, {594, 440}},    {L::toe, {648, 434}},
        {L::leather_top, {632, 330}}, {L::iron, {631, 437}},    {L::bit, {870, 344}},
        {L::poll, {834, 240}},        {L::withers, {690, 300}}, {L::girth, {676, 428}},
        {L::cantle, {556, 290}},      {L::croup, {458, 308}}};
    for (const auto& [l, p] : points) {
        f[l].at = p;
        f[l].visibility = core::Visibility::seen;
        f[l].sd_px = 1.3;
    }
    return f;
}

/// The same with every point moved a little, by seed.
inline core::Figure random_rider(unsigned seed) {
    std::mt19937 engine(seed);
    std::uniform_real_distribution<double> away(-12, 12), angle(-5, 5), yaw(-28, 28);
    core::Figure f = sitting_rider();
    for (const core::Landmark l : core::landmarks_of(core::View::side)) {
        f[l].at.x += away(engine);
        f[l].at.y += away(engine);
    }
    f.camera.roll_deg = angle(engine);
    f.camera.yaw_deg = yaw(engine);
    if (seed % 2) {
        f.travel = core::Travel::left;
        for (core::Mark& m : f.marks) m.at.x = 1280 - m.at.x;
    }
    return f;
}

}  // namespace aspen::test
