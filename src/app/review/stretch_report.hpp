#pragma once

#include <optional>

#include "app/rides/follow_plan.hpp"
#include "app/rides/ridden_in.hpp"
#include "app/yard/yard.hpp"
#include "core/motion/motion.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {

/// What is to be followed of a stretch of any clip; empty where too little is marked in it.
std::optional<FollowPlan> follow_plan_of(const Yard& yard, const store::Clip& clip, int slot,
                                         const core::Stretches& stretches, std::size_t place);

/// What the strides of a stretch of any clip say, from what was followed and kept; empty where nothing was.
/// `facts` where they are known already, else the list of the clip's frames is read. Throws Refused where
/// that cannot be read.
std::optional<core::MotionReport> kept_report(const Yard& yard, const RiddenIn& ridden,
                                              const store::Clip& clip, int slot,
                                              const core::Stretches& stretches, std::size_t place,
                                              const media::ClipFacts* facts = nullptr);

}  // namespace aspen::app
