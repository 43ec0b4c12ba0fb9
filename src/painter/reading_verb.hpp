#pragma once

#include <functional>
#include <iosfwd>

namespace CLI {
class App;
}

namespace aspen::painter {

/// `read VIDEO`: what the program finds of a rider by itself, nobody having marked anything.
void add_reading(CLI::App& app, std::function<int(std::ostream&)>& work);

}  // namespace aspen::painter
