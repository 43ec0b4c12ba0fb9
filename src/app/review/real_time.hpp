#pragma once

#include "core/motion/capture_map.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {

/// How a clip's stream time becomes real time: what the coach said, else what the clip's tags say.
core::CaptureMap real_time_of(const core::Capture& said, const media::ClipFacts& facts);

}  // namespace aspen::app
