#pragma once

#include <map>
#include <span>
#include <vector>

#include "core/body/figure.hpp"
#include "core/proposal/pose.hpp"

/// How far the reader's own place of a joint lies from the landmark: another spot of the clothes, in every
/// frame alike, learned from what coaches moved.
namespace aspen::core {

/// Trunk lengths forward and up, and one standard deviation along each axis of what is left of it.
struct ReaderOffset {
    PlanePoint by;
    double sd = 0;
};

/// One standard deviation of a joint's offset, trunk lengths, before anybody corrected anything: more where
/// the sole's edges are inferred from the foot in the boot (on riders that were not drawn here,
/// tools/measure/riders.py, whose bones' ends are not quite the landmarks either).
double usual_reader_offset_sd(Landmark landmark);

/// What was corrected of one rider's joint: moved minus read, trunk lengths forward and up, the mean of n
/// figures.
struct Corrected {
    PlanePoint mean;
    int n = 0;
    friend bool operator==(const Corrected& a, const Corrected& b) {
        return a.mean.f == b.mean.f && a.mean.u == b.mean.u && a.n == b.n;
    }
};
using RiderCorrections = std::map<Landmark, Corrected>;
/// From the joints' first places (Mark::put_at) in figures seen from the side with the travel known. Joints
/// laid or carried, and such as nobody moved, are not in it.
RiderCorrections corrections_in(std::span<const Figure> figures);

/// What the corrections of this rider and of others teach of each joint that somebody moved: the most likely
/// offset when riders differ by 3 % of the trunk (from memory) from what is common to all, and one correction
/// scatters by 3 % (from memory), each normally. Joints without a correction are left out.
std::map<Landmark, ReaderOffset> reader_offsets(const RiderCorrections& own,
                                                std::span<const RiderCorrections> others);

/// Where the landmark is most likely, display pixels, from the reader's place of it on this figure.
Point offset_taken(Point read, const ReaderOffset& offset, const Figure& figure, double trunk_px);

/// Whether a joint that the reader saw at `read` was put so far beside it (display pixels) that it is asked
/// for once more: a joint that lies a tenth of the trunk beside its place is found in 95 of 100 cases with
/// the reader's own scatter of 2 %.
bool lies_beside(Point read, Point put, double trunk_px);

/// Joints at the far end of a limb that is shorter than 0.7 or longer than 1.4 of what is usual for a trunk
/// of this length, and what hangs on them: a horse's leg, a hand taken for another's, a toe on the boot's
/// shaft. Such an error is the same in every frame, so no scatter tells it. Side view, shoulder and hip seen;
/// riders differ, and a limb that points at the camera looks shorter.
std::vector<Landmark> ends_of_unlike_limbs(const Figure& figure, const Limbs& usual);

}  // namespace aspen::core
