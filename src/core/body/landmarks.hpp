#pragma once

#include <array>
#include <cstddef>
#include <optional>
#include <span>
#include <string_view>

#include "core/body/geometry.hpp"

namespace aspen::core {

/// Every point that can be marked. The order within a view is the order of the COCO category and of the scan
/// from head to heel; `chin` belongs to both views.
enum class Landmark : unsigned char {
    ear,
    eye,
    chin,
    shoulder,
    elbow,
    wrist,
    knuckle,
    hip,
    knee,
    ankle,
    heel,
    toe,
    leather_top,
    iron,
    bit,
    poll,
    withers,
    girth,
    cantle,
    croup,
    left_shoulder,
    right_shoulder,
    left_elbow,
    right_elbow,
    left_knuckle,
    right_knuckle,
    left_hip,
    right_hip,
    left_knee,
    right_knee,
    left_ankle,
    right_ankle,
    left_heel,
    right_heel,
    left_toe,
    right_toe,
    left_iron,
    right_iron,
    horse_mid,
    saddle_mid,
    ears_mid,
    ground_mid,
};
inline constexpr std::size_t kLandmarkCount = 42;

constexpr std::size_t index(Landmark l) { return static_cast<std::size_t>(l); }

/// The word used in files, e.g. "leather_top".
std::string_view id(Landmark l);
/// The word used on screen, e.g. "leather top".
std::string_view spoken(Landmark l);
/// Where exactly the point lies on the body, for the person who clicks it.
std::string_view where(Landmark l);
std::optional<Landmark> landmark_from(std::string_view id);

/// All landmarks of a view in file order (20 from the side, 23 from front and rear).
std::span<const Landmark> landmarks_of(View view);
/// The nine that make a first judgement from the side, head to heel.
std::span<const Landmark> first_nine();
/// Order in which landmarks are asked for: the nine, then the other side landmarks. For front and rear the
/// file order; the last two say how camera and horse stand.
std::span<const Landmark> asking_order(View view);
/// Segments drawn between two landmarks of a view.
std::span<const std::array<Landmark, 2>> segments_of(View view);

}  // namespace aspen::core
