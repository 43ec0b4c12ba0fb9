#pragma once

#include <sstream>
#include <string>
#include <vector>

#include "cli/verbs.hpp"
#include "support/support.hpp"

namespace aspen::cli {

struct Said {
    int code;
    std::string out, err;
};
/// What the command line says to these arguments.
inline Said say(const std::vector<std::string>& arguments) {
    std::ostringstream out, err;
    const int code = run(arguments, out, err);
    return {code, out.str(), err.str()};
}

/// A rider who shows two faults, for one second.
inline std::filesystem::path short_clip() {
    auto plan = test::faulty_plan();
    plan.duration_s = 1;
    return test::simulated_clip(plan, "short");
}

}  // namespace aspen::cli
