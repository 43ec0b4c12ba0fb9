#pragma once

#include <optional>
#include <vector>

#include "core/judging/faults.hpp"

/// Where the rider's own limbs would lie, and what on the frame shows a finding.
namespace aspen::core {

/// The figure with each limb turned to the nearest place inside its band, from the hip where it sits; the
/// rider's own limb lengths, display pixels. What has no band or cannot be judged keeps its angle. Side view
/// only; empty without shoulder, hip, knee, ankle and heel.
std::optional<Figure> target_figure(const Figure& figure, const std::vector<Judged>& judged);

/// A finding where it is: the limb that is out, and where its end should go.
struct FrameMark {
    const Fault* fault = nullptr;
    std::vector<Landmark> limb;      ///< drawn as one line
    Landmark end;                    ///< the joint that should move
    std::optional<Point> should_be;  ///< display pixels; empty where no direction can be said
    bool doubtful = false;
};
/// Of the faults that this moment shows, those that are named; at most one a limb, the heaviest.
std::vector<FrameMark> frame_marks(const Figure& figure, const std::vector<Judged>& judged,
                                   const std::vector<Observation>& observed,
                                   const std::vector<const Fault*>& named);

/// The limb a measure belongs to, its end last; empty where no limb shows it.
std::vector<Landmark> limb_of(std::string_view measure);

}  // namespace aspen::core
