#pragma once

#include <QDateTime>
#include <filesystem>
#include <functional>
#include <string>

#include "app/yard/changes.hpp"
#include "core/body/figure.hpp"
#include "core/knowledge/knowledge.hpp"
#include "simulate/clip_maker.hpp"

namespace aspen::test {

/// The records of an open yard, to be written past its steps: what was there before a test begins.
inline store::YardStore& to_write(const app::Yard& yard) {
    return const_cast<store::YardStore&>(yard.records());
}

/// A folder of its own that is gone when the test is.
class TempFolder {
  public:
    TempFolder();
    ~TempFolder();
    std::filesystem::path path() const { return path_; }
    std::filesystem::path operator/(const std::string& name) const { return path_ / name; }

  private:
    std::filesystem::path path_;
};

struct Ran {
    int code = -1;
    std::string out;
};
/// Runs a command line and gives its standard output.
Ran run(const std::string& command);

/// A side-view clip of the simulator, kept for the whole test program by name.
std::filesystem::path simulated_clip(const simulate::ClipPlan& plan, const std::string& name);
/// A rider who shows lower leg back and tipped forward in rising trot, two seconds long, travelling right.
simulate::ClipPlan faulty_plan();
/// The truth beside a clip, as landmarks of one frame.
core::Figure true_figure(const std::filesystem::path& clip, int frame);

/// A wall clock that stands at noon of a day.
std::function<QDateTime()> noon_of(QDate day);

/// A rider with what decides bands and leave.
store::Rider rider(const char* name, int born, const char* school, const char* level = "");

/// Everything that is asked of a ride and its first stretch.
struct Said {
    store::RiderId rider;
    store::HorseId horse;
    std::string school = "hunter";
    std::optional<core::Gait> gait = core::Gait::trot;
    std::optional<core::Seat> seat = core::Seat::rising;
    core::Travel travel = core::Travel::right;
};
/// Says it of a clip's first slot and of all its stretches, without a step.
void say(app::Yard& yard, store::ClipId clip, const Said& said);
store::RideId ride_of(app::Yard& yard, store::ClipId clip);

}  // namespace aspen::test
