#pragma once

#include <vector>

#include "core/motion/capture_map.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {

/// How a clip's stream time becomes real time: what the coach said, else what the clip's tags say.
core::CaptureMap real_time_of(const core::Capture& said, const media::ClipFacts& facts);

/// The frame whose time lies nearest; `times` of all frames, rising and not empty.
int nearest_frame(const std::vector<double>& times, double time_s);

}  // namespace aspen::app
