#pragma once

#include "app/review/review.hpp"

/// What is changed in the review of a clip, each one step: who rides, the moments, how it is seen. Nothing
/// happens while no clip is open.
namespace aspen::app {

/// Another rider in this clip; shows them.
void add_companion(Review& review, store::RiderId rider, store::HorseId horse);
void set_pair(Review& review, store::RiderId rider, store::HorseId horse, const QString& what);
void set_ride(Review& review, const store::Ride& ride, const QString& what);
void set_clip(Review& review, const store::Clip& clip, const QString& what);

/// The moment here, made where there is none.
store::Moment ensure_moment(Review& review);
void mark_moment(Review& review);
void set_phase(Review& review, const std::string& phase);
void remove_moment(Review& review);

/// How this stretch is seen, with its neighbours that are seen alike.
void set_view(Review& review, core::View view);
void set_travel(Review& review, core::Travel travel);
void turn_travel(Review& review);
void set_camera(Review& review, const core::CameraPose& camera, const QString& what);

}  // namespace aspen::app
