#pragma once

#include <QPainter>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "simulate/painting.hpp"

namespace aspen::simulate {

/// What an arrow asks of a part of the body: from the landmark that far, metres, forward and up.
struct PlateMark {
    std::string on;
    double forward = 0, up = 0;
};

/// A piece of the way through an arena of 20 × 40 m, metres from its lower left corner: a line, or an arc
/// from one angle by another, degrees counted against the clock from the right; the radius may change along
/// it.
struct PlateWay {
    double x = 0, y = 0, to_x = 0, to_y = 0;
    bool arc = false;
    double radius = 0, to_radius = 0, from_deg = 0, by_deg = 0;
};

struct PlatePole {
    double at = 0;      ///< metres ahead of the saddle
    double raised = 0;  ///< metres above the ground
};

/// One picture of the book of exercises, as data: a pair in one instant of a ride, or a person on foot, what
/// lies on the ground, and what is asked of which part of the body.
struct Plate {
    Ride ride;
    From from = From::side;
    double phase = 0.3;       ///< of the stride
    bool over_fence = false;  ///< at the top of the flight over the ride's fence, whatever the phase
    bool irons = true, reins = true, lunge = false, horse = true;
    /// rein; mane, neck, up_the_neck, out, thigh: where the hands are instead, of which the far one keeps the
    /// rein at "thigh" and "one".
    std::string hands = "rein";
    std::map<std::string, Vec2> person{};  ///< on foot: joints, metres, from the middle of the ground
    std::vector<PlatePole> poles{};
    std::vector<PlateMark> marks{};
    std::vector<std::pair<std::string, std::string>> lines{};  ///< landmarks joined by a line of thread
    std::vector<PlateWay> way{};
    std::vector<Vec2> cones{}, bars{};  ///< on the arena; bars: poles across the way
    std::string board{};                ///< under a person: "board" or "step"
};

/// Ink and paper of a plate; the pair is painted in tints of them.
struct PlateTones {
    QColor ink{0x22, 0x30, 0x2b}, quiet{0x55, 0x62, 0x5b}, paper{0xff, 0xfd, 0xf8};
};

/// The plates by the ids of their exercises.
class PlateBook {
  public:
    PlateBook() = default;
    /// Throws core::Refused naming file, plate and field.
    PlateBook(std::string_view json, const std::string& file);
    /// The plate of an exercise, or of the one it was copied from ("two_point_walk_trot_1"); null where
    /// there is none.
    const Plate* find(std::string_view exercise) const;
    const std::map<std::string, Plate, std::less<>>& all() const { return plates_; }

  private:
    std::map<std::string, Plate, std::less<>> plates_;
};

/// Where the landmarks of a plate are: the ids of the truth, and the horse's.
Instant plate_instant(const Plate& plate);
/// Paints it into `area`, the ground at its foot; the arena beside it where the plate has a way.
void paint_plate(QPainter& p, const QRectF& area, const Plate& plate, const PlateTones& tones);

}  // namespace aspen::simulate
