#pragma once

#include <sstream>
#include <string>
#include <vector>

#include "cli/verbs.hpp"

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

}  // namespace aspen::cli
