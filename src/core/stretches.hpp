#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/vocabulary.hpp"

/// A clip cut into stretches: what was ridden from which frame on. A stretch runs until the next one starts.
namespace aspen::core {

struct Stretch {
    int first = 0;
    std::optional<Gait> gait;
    std::optional<Rein> rein;
    std::optional<Seat> seat;
    std::string asked, shown;  ///< movements: what was asked, what was shown; "" when not said
    std::string name;          ///< the coach's own word for it
    bool judged = true;        ///< false where the view cannot judge it

    bool says_nothing() const;
    friend bool operator==(const Stretch&, const Stretch&) = default;
};
/// Rising by first frame; when there is any the first starts at frame 0.
using Stretches = std::vector<Stretch>;

/// Place in the list of the stretch that holds a frame; nothing while there are none.
std::optional<std::size_t> stretch_at(const Stretches& stretches, int frame);

/// Says something of what is ridden from this instant on: cuts the stretch here and changes the part after
/// it, or changes the stretch itself when it starts exactly here. What came before is left as it is.
template <typename Change>
Stretches cut_at(Stretches stretches, int frame, Change change);

/// Cuts without changing anything.
Stretches split_at(Stretches stretches, int frame);
/// Joins the stretch at this place to the one before it, whose words win where both say something. The first
/// one is joined with the second.
Stretches join(Stretches stretches, std::size_t place);
/// Moves the border at the start of a stretch; it stays at least one frame from its neighbours' borders.
Stretches move_border(Stretches stretches, std::size_t place, int to, int frames);
/// Frames [first, last] of a stretch in a clip of so many frames.
std::pair<int, int> extent(const Stretches& stretches, std::size_t place, int frames);
/// Two neighbours that say the same become one; stretches that say nothing at all at the clip's end or start
/// stay.
Stretches merged_alike(Stretches stretches);

template <typename Change>
Stretches cut_at(Stretches stretches, int frame, Change change) {
    stretches = split_at(std::move(stretches), frame);
    change(stretches[*stretch_at(stretches, frame)]);
    return merged_alike(std::move(stretches));
}

}  // namespace aspen::core
