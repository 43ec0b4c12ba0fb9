#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/geometry.hpp"
#include "core/body/landmarks.hpp"
#include "core/body/vocabulary.hpp"

namespace aspen::core {

/// As in COCO: 2 seen and measured, 1 hidden and guessed (drawn, never measured), 0 absent.
enum class Visibility : unsigned char { absent = 0, hidden = 1, seen = 2 };
/// How a landmark came to its place.
enum class Origin : unsigned char { clicked, carried, proposed, laid };

std::string_view word(Origin o);
std::optional<Origin> origin_from(std::string_view w);

/// Click error in display pixels where the picture's shorter side is 1080 (from memory, until re-marking
/// tells).
inline constexpr double kClickSdAt1080Px = 2.0;

/// Standard deviation of a click in a picture of this size seen at this zoom (screen pixels per picture
/// pixel, relative to fitting the bench). Scales with the shorter side; a click at twice the zoom is half as
/// uncertain, but never better than a quarter of a pixel.
double click_sd_px(int width_px, int height_px, double zoom = 1.0);

struct Mark {
    Point at;  ///< display pixels
    Visibility visibility = Visibility::absent;
    double sd_px = kClickSdAt1080Px;  ///< isotropic, one standard deviation
    Origin origin = Origin::clicked;
    bool confirmed = true;
    std::optional<Point> put_at =
        std::nullopt;  ///< where the program laid, carried or proposed it, before anyone moved it

    bool measurable() const { return visibility == Visibility::seen && confirmed; }
    friend bool operator==(const Mark&, const Mark&) = default;
};

/// One rider on one exact frame: the marked landmarks and how the camera stood.
struct Figure {
    View view = View::side;
    Travel travel = Travel::unknown;
    CameraPose camera;
    std::array<Mark, kLandmarkCount> marks{};

    Mark& operator[](Landmark l) { return marks[index(l)]; }
    const Mark& operator[](Landmark l) const { return marks[index(l)]; }
    bool measurable(Landmark l) const { return marks[index(l)].measurable(); }
    int marked() const;
    friend bool operator==(const Figure&, const Figure&) = default;
};

/// The trunk in pixels as it is marked, from front and rear between the middles of shoulders and hips; 0
/// where it is not.
double marked_trunk_px(const Figure& figure);

/// True when bit and hip are marked and the bit lies behind the hip for the stated travel: the horse most
/// likely goes the other way. Side view only.
bool bit_behind_hip(const Figure& figure);

/// What decides which bands apply. An empty school means that school, gait or seat was not said: there are no
/// bands then, whatever gait and seat stand here.
struct Setting {
    std::string school;
    Gait gait = Gait::walk;
    Seat seat = Seat::sitting;
    std::string phase;     ///< "" when not known
    std::string movement;  ///< "" when not known
    // The riding state; empty when not said.
    std::optional<Stirrups> stirrups{};
    std::optional<ReinsHeld> reins{};
    std::optional<Hands> hands{};
    std::optional<Line> line{};
    std::optional<Mount> mount{};
    std::optional<CircleLeg> circle_leg{};  ///< which leg is seen from the side
    std::optional<Rein> rein{};
    std::string level{};               ///< beginner, novice, established; "" when not said
    std::vector<std::string> horse{};  ///< its notes: green, half_seat_better, cold_backed
    /// Parts of the rider's body that a limitation names and this picture shows: hip, knee, ankle, back,
    /// neck, shoulder, elbow, wrist, head.
    std::vector<std::string> body{};
    /// Whether the leg in view gives an aid at this instant; empty: only the movement tells.
    std::optional<bool> leg_aids{};
    std::optional<bool> upward{};  ///< of a transition: whether it goes up a gait; empty when not known
    friend bool operator==(const Setting&, const Setting&) = default;
};

}  // namespace aspen::core
