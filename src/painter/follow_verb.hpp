#pragma once

#include <functional>
#include <iosfwd>

namespace CLI {
class App;
}

namespace aspen::painter {

/// `follow VIDEO MARKS.json`: the joints of one rider's marked moments to the ends of the clip or of the
/// range, as tracks; held against what the reader sees, where its networks are there.
void add_following(CLI::App& app, std::function<int(std::ostream&)>& work);

}  // namespace aspen::painter
