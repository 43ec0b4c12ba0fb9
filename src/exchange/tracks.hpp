#pragma once

#include <iosfwd>
#include <string>

#include "core/motion/motion.hpp"

/// Landmarks followed through a clip, as CSV with the header `frame,time_s,landmark,x,y,confidence` and
/// optional `sd_px,hidden,cam_x,cam_y,cam_scale`. Fields: docs/formats.md.
namespace aspen::exchange {

/// All columns; a landmark that was lost is `hidden` 1. Times with four decimals, places with two.
void write_tracks(std::ostream& out, const core::Tracks& tracks);
/// Throws core::Refused naming the line and what is wrong with it. Hooves are `left_hind_hoof` and so on.
core::Tracks read_tracks(std::istream& in, const std::string& name);

}  // namespace aspen::exchange
