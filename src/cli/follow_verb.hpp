#pragma once

#include <iosfwd>
#include <optional>
#include <string>

namespace CLI {
class App;
}

namespace aspen::cli {

/// `follow`: which clip, from which marks, over which frames, into which file.
struct FollowSaid {
    std::string clip, marks, out;
    std::optional<int> from, to;
};
void add_follow_options(CLI::App& verb, FollowSaid& said);
/// Follows the joints of one rider's marked moments to the ends of the clip or of the range and writes them
/// as tracks. Throws core::Refused.
int follow_joints(const FollowSaid& said, std::ostream& out);

}  // namespace aspen::cli
