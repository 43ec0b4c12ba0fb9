#pragma once

#include <string>
#include <vector>

namespace aspen::test {

/// Runs the writer (step_writer.cpp) until it told so many lines and so many microseconds more, then kills
/// it. Gives the lines it told.
std::vector<std::string> run_and_kill(const std::vector<std::string>& args, int lines_at_least, int more_us);

/// How often each is killed: a few times here, a hundred with ASPEN_KILLS=100.
int kills(int few);

}  // namespace aspen::test
