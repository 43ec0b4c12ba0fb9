#include "support/support.hpp"

#include <array>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <nlohmann/json.hpp>
#include <stdexcept>

namespace aspen::test {

TempFolder::TempFolder() {
    std::string pattern = (std::filesystem::temp_directory_path() / "aspen-test-XXXXXX").string();
    if (!mkdtemp(pattern.data())) throw std::runtime_error("no temporary folder");
    path_ = pattern;
}
TempFolder::~TempFolder() {
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
}

Ran run(const std::string& command) {
    Ran out;
    FILE* pipe = popen((command + " 2>/dev/null").c_str(), "r");
    if (!pipe) return out;
    std::array<char, 4096> block{};
    while (const std::size_t n = fread(block.data(), 1, block.size(), pipe)) out.out.append(block.data(), n);
    const int status = pclose(pipe);
    out.code = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    return out;
}

std::filesystem::path simulated_clip(const simulate::ClipPlan& plan, const std::string& name) {
    static const TempFolder folder;
    const auto file = folder / (name + ".mp4");
    if (!std::filesystem::exists(file)) simulate::make_clip(plan, file);
    return file;
}

simulate::ClipPlan faulty_plan() {
    simulate::ClipPlan plan;
    plan.ride.gait = simulate::Gait::trot;
    plan.ride.seat = simulate::Seat::rising;
    plan.ride.knee_deg = 108;
    plan.ride.rise_m = 0.08;
    plan.ride.rise_forward_m = 0.05;
    plan.ride.trunk_lean_deg = 30;
    plan.ride.leg_set_m = -0.12;
    plan.ride.heel_drop_deg = 12;
    plan.ride.seed = 11;
    plan.duration_s = 2;
    return plan;
}

core::Figure true_figure(const std::filesystem::path& clip, int frame) {
    // Asked for frame by frame: the last one read is kept.
    static std::filesystem::path last;
    static std::filesystem::file_time_type written;
    static nlohmann::json truth;
    auto file = clip;
    file.replace_extension(".truth.json");
    if (const auto now = std::filesystem::last_write_time(file); file != last || now != written) {
        truth = nlohmann::json::parse(std::ifstream(file));
        last = file;
        written = now;
    }
    core::Figure figure;
    figure.view = core::view_from(truth["view"].get<std::string>()).value();
    figure.travel = core::travel_from(truth["travel"].get<std::string>()).value();
    for (const auto& [name, p] : truth["frames"][static_cast<std::size_t>(frame)]["landmarks"].items()) {
        const auto l = core::landmark_from(name);
        if (!l) throw std::runtime_error("truth names " + name);
        figure[*l].at = {p[0], p[1]};
        figure[*l].visibility = static_cast<core::Visibility>(p[2].get<int>());
    }
    return figure;
}

std::function<QDateTime()> noon_of(QDate day) {
    return [at = QDateTime(day, QTime(12, 0))] { return at; };
}

store::Rider rider(const char* name, int born, const char* school, const char* level) {
    store::Rider r;
    r.name = name;
    r.birth_year = born;
    r.school = school;
    r.level = level;
    return r;
}

store::RideId ride_of(app::Yard& yard, store::ClipId clip) {
    return yard.records().rides.places(clip).at(0).ride;
}

void say(app::Yard& yard, store::ClipId clip, const Said& said) {
    yard.quietly([&] {
        auto ride = yard.records().rides.ride(ride_of(yard, clip)).value();
        ride.rider = said.rider;
        ride.horse = said.horse;
        ride.school = said.school;
        test::to_write(yard).update(ride);
        auto stretches = yard.records().rides.stretches(clip);
        for (core::Stretch& s : stretches) {
            s.gait = said.gait;
            s.seat = said.seat;
            s.travel = said.travel;
        }
        test::to_write(yard).rides.put_stretches(clip, stretches);
    });
}

}  // namespace aspen::test
