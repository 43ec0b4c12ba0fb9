#pragma once

namespace aspen::ui {

/// Makes the picture's joints known to screen readers: one child each, with its name, its place on the screen
/// and whether it is seen, hidden or not yet confirmed. Once for the program; again does nothing.
void make_joints_accessible();

}  // namespace aspen::ui
