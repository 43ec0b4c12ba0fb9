#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/body/vocabulary.hpp"

/// A clip cut into stretches: what was ridden from which frame on, and how it was seen. A stretch runs until
/// the next one starts; every frame lies in exactly one.
namespace aspen::core {

struct Stretch {
    int first = 0;
    std::optional<Gait> gait;
    std::optional<Rein> rein;
    std::optional<Seat> seat;
    std::string asked, shown;  ///< movements: what was asked, what was shown; "" when not said
    std::string name;          ///< the coach's own word for it
    bool judged = true;        ///< false where the view cannot judge it
    View view = View::side;
    Travel travel = Travel::unknown;  ///< from the side only
    CameraPose camera{};
    std::optional<Stirrups> stirrups{};
    std::optional<ReinsHeld> reins{};
    std::optional<Hands> hands{};
    std::optional<Line> line{};
    std::optional<CircleLeg> circle_leg{};

    /// False when nothing of what is ridden was said; the camera does not count.
    bool says_nothing() const;
    /// What is still to be said for bands: gait, seat, from the side also travel.
    std::vector<std::string> missing() const;
    friend bool operator==(const Stretch&, const Stretch&) = default;
};
/// Rising by first frame, never empty, the first one from frame 0.
using Stretches = std::vector<Stretch>;
/// What holds for a clip of which nothing was said.
Stretches whole_clip();

/// Place in the list of the stretch that holds a frame.
std::size_t stretch_at(const Stretches& stretches, int frame);
/// The stretch itself.
const Stretch& ridden_at(const Stretches& stretches, int frame);

/// Says something of what is ridden from this instant on: cuts the stretch here and changes the part after
/// it, or changes the stretch itself when it starts exactly here. What came before is left as it is.
template <typename Change>
Stretches cut_at(Stretches stretches, int frame, Change change);

/// Changes how the picture is to be read (view, travel, upright), which mostly holds for more than one
/// stretch: this stretch and its neighbours on both sides, as far as they are read the same way.
/// `later_only`: not those before it, as when the horse turned round.
template <typename Change>
Stretches seen_at(Stretches stretches, int frame, bool later_only, Change change);

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
    change(stretches[stretch_at(stretches, frame)]);
    return merged_alike(std::move(stretches));
}

template <typename Change>
Stretches seen_at(Stretches stretches, int frame, bool later_only, Change change) {
    const std::size_t here = stretch_at(stretches, frame);
    const Stretch was = stretches[here];
    const auto alike = [&](const Stretch& s) {
        return s.view == was.view && s.travel == was.travel && s.camera == was.camera;
    };
    std::size_t first = here, last = here;
    while (!later_only && first > 0 && alike(stretches[first - 1])) --first;
    while (last + 1 < stretches.size() && alike(stretches[last + 1])) ++last;
    for (std::size_t i = first; i <= last; ++i) change(stretches[i]);
    return stretches;
}

}  // namespace aspen::core
