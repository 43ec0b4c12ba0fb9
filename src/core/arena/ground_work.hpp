#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Poles, fences and pace: starting points for the person on the ground, who looks at the horse and moves
/// them.
namespace aspen::core {

/// 3.5 ft: where trot poles start for every horse (common practice, no source).
inline constexpr double kFirstTrotPoleM = 1.07;
/// The bounds of a bounce for trotting in or a very collected canter: 10 and 11 ft (common practice, no
/// source).
inline constexpr double kBounceM[2] = {3.0, 3.4};

enum class PoleGait { walk, trot, canter };
/// Throws Refused unless walk, trot or canter.
PoleGait pole_gait_from(std::string_view word);

struct PoleWish {
    PoleGait gait = PoleGait::trot;
    int poles = 4;                            ///< 1 … 8
    std::optional<double> step_m{};           ///< this horse's step (walk, trot) or stride (canter), measured
    double raised_cm = 0;                     ///< 0 … 30
    std::optional<double> circle_radius_m{};  ///< of the middle of the poles
    double pole_m = 3;                        ///< a pole's length
};

/// A row of poles, in the order they are ridden over.
struct PoleRow {
    double first_m = 0;            ///< the distance to start with
    double working_m = 0;          ///< the one to open to, this horse's own
    std::vector<double> openings;  ///< from the first distance to the working one, in steps of 5 cm or less
    std::vector<double> tape_m;    ///< of each pole from the first one, at the working distance
    std::vector<int> laid;         ///< how many lie, one visit after the other: 2, 3, 4 …
    // On a circle: along the tape between neighbours, at the inner end, the middle and the outer end.
    std::optional<double> inner_m{}, middle_m{}, outer_m{};
    std::optional<double> angle_deg{};  ///< between neighbours, seen from the centre
    std::vector<std::string> assumptions;
};
/// Throws Refused naming the field that is out of range.
PoleRow pole_row(const PoleWish& wish);

enum class GridKind { crosses, uprights, rising, middle_highest };
GridKind grid_kind_from(std::string_view word);

struct GridWish {
    GridKind kind = GridKind::crosses;
    int fences = 3;                        ///< 2 … 4, each a bounce from the one before
    bool canter_in = false;                ///< else in trot, over a placing pole
    std::optional<double> withers_cm{};    ///< the horse's height, 100 … 190
    std::optional<double> last_height_cm;  ///< of the highest; 20 … 80
};
struct GridFence {
    double at_m = 0;  ///< from the placing pole, or from the first fence where there is none
    double height_cm = 0;
    std::string what;
};
struct Grid {
    std::optional<double> placing_pole_m{};  ///< from the pole to the first fence
    double bounce_m = 0;
    std::vector<GridFence> fences;
    std::vector<std::string> assumptions;
};
Grid grid(const GridWish& wish);

/// What a tempo and a step give.
struct Pace {
    double metres_per_min = 0, km_per_h = 0, miles_per_h = 0;
    double stride_m = 0, tempo_per_min = 0;
};
/// Strides a minute (10 … 200) and metres a stride (0.3 … 8). Throws Refused.
Pace pace(double tempo_per_min, double stride_m);
/// Strides in so many metres, and seconds.
double strides_over(const Pace& pace, double metres);
double seconds_over(const Pace& pace, double metres);
/// How far a horse leans into a circle, degrees: atan(v²/(g·r)).
double lean_deg(const Pace& pace, double radius_m);

}  // namespace aspen::core
