#pragma once

#include <filesystem>
#include <string>

#include "core/figure.hpp"
#include "core/knowledge.hpp"
#include "simulate/clip_maker.hpp"

namespace aspen::test {

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

}  // namespace aspen::test
