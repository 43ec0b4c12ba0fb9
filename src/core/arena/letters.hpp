#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// The lettered arena, its lines and circles. Metres; the origin where the centre line meets A's short side,
/// x runs along the centre line from A (0) to C (the length), y to the left of one who looks from A to C: K,
/// E, H stand at half the width, F, B, M at minus as much.
namespace aspen::core {

struct GroundPoint {
    double x = 0, y = 0;
    friend bool operator==(const GroundPoint&, const GroundPoint&) = default;
};
/// Metres.
double distance(GroundPoint a, GroundPoint b);

struct ArenaLetter {
    char letter = 'A';
    GroundPoint at;
};

/// An arena of 20 m by 40 m or by 60 m. Letters as the FEI's and the national federations' rule books place
/// them (from memory): on the long sides 6 m from the corners, then every 14 m (40) or 12 m (60).
class Arena {
  public:
    /// Throws Refused unless the length is 40 or 60.
    explicit Arena(int length_m);
    int length_m() const { return length_; }
    static constexpr int kWidthM = 20;

    const std::vector<ArenaLetter>& letters() const { return letters_; }
    /// In upper or lower case. Throws Refused naming the letters there are.
    GroundPoint at(char letter) const;
    /// Straight on, metres.
    double between(char from, char to) const;
    /// The letters on the track in the order of a rein ("left" or "right"), from A.
    std::string track(std::string_view rein) const;

  private:
    int length_;
    std::vector<ArenaLetter> letters_;
};

/// A circle that touches the track at a letter.
struct RiddenCircle {
    GroundPoint centre;
    double radius_m = 0;
    double length_m = 0;  ///< once round
    std::vector<GroundPoint>
        touches;  ///< at the quarters, from the letter on, as they are ridden on the left rein
};
/// At A, C, B, E or X (there to the side of B). Throws Refused where it does not fit into the arena.
RiddenCircle circle_at(const Arena& arena, char letter, double diameter_m);

/// A serpentine of so many equal loops from A to C, each a half circle that touches both long sides, joined
/// by straight lines across (and along the long side, where a loop is wider than the arena): metres in all.
/// Throws Refused outside 2 … 6 loops.
double serpentine_m(const Arena& arena, int loops);

/// Where a point is measured from with a tape: the two nearest letters of the track and the metres from each.
struct TapeMark {
    char first = 'A', second = 'A';
    double from_first_m = 0, from_second_m = 0;
};
TapeMark tape_mark(const Arena& arena, GroundPoint at);

}  // namespace aspen::core
