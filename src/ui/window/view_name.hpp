#pragma once

#include <QString>

namespace aspen::ui {

/// The views, in the order of Views::all(): the yard, one rider's pages in the order of work, and what else
/// belongs to the whole yard.
enum class ViewName {
    yard,
    review,
    compare,
    prescribe,
    progress,
    hand_over,
    lesson,
    arena,
    eye,
    schools,
    exercises
};

/// Whether it is a page of one rider.
constexpr bool of_one_rider(ViewName v) { return v >= ViewName::review && v <= ViewName::hand_over; }
/// Whether it stands on the shelf.
constexpr bool on_shelf(ViewName v) { return v >= ViewName::schools; }

/// The key that shows it.
QString key_of(ViewName view);

}  // namespace aspen::ui
