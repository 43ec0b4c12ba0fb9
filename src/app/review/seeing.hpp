#pragma once

#include "app/review/review.hpp"

/// What lines drawn on the picture say of the camera, and ways from moment to moment.
namespace aspen::app {

/// Two points along something truly upright set the camera's roll.
void set_upright(Review& review, core::Point a, core::Point b);
/// The same from a line that is truly level.
void set_level(Review& review, core::Point a, core::Point b);
/// A line of known length at the rider's distance gives the scale.
void set_scale(Review& review, core::Point a, core::Point b, double metres);

/// Next marked moment in a direction; stays when there is none.
void go_to_moment(Review& review, int direction);
/// Goes where this phase should come again one stride later and makes that a moment; false where there is no
/// such.
bool guess_next_stride(Review& review);

}  // namespace aspen::app
