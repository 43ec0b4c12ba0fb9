#pragma once

#include <tl/expected.hpp>
#include <vector>

#include "app/following/comparison.hpp"
#include "app/leaving/gate.hpp"
#include "core/body/face_cover.hpp"

/// Moments held against each other, on their way out.
namespace aspen::app {

/// Asks for everyone in the clips compared, companions too; of several riders, to show them to others.
PermitOrLine ask_for_compared(Yard& yard, const Comparison& comparison);

/// What is covered in each picture compared, in the order of its sides; or one line where a face is known on
/// none of its frame.
using ComparedCovers = std::vector<std::vector<core::FaceCover>>;
tl::expected<ComparedCovers, QString> covers_in(Yard& yard, const Comparison& comparison,
                                                const Permit& permit);

}  // namespace aspen::app
