#pragma once

#include <array>
#include <optional>
#include <vector>

#include "core/measures/side_plane.hpp"
#include "core/motion/motion.hpp"

/// Tracks on an even grid in real time, and series of what moments measure too. Internal to motion.
namespace aspen::core::detail {

class EvenTracks {
  public:
    EvenTracks(const Tracks& tracks, const MotionSetting& setting, const Body& body);
    std::size_t size() const { return grid_.size(); }
    const std::vector<double>& grid() const { return grid_; }
    double step_s() const { return grid_.size() < 2 ? 0 : grid_[1] - grid_[0]; }
    double cutoff_hz() const { return cutoff_hz_; }
    bool has(Landmark l) const { return has_[index(l)]; }

    /// How the camera stood, moved by so much (to see what its error does).
    struct Stand {
        double roll_deg = 0, yaw_deg = 0;
    };
    using Series = std::vector<double>;
    struct Plane {
        Series f, u;
    };
    /// A landmark in the plane of the side view, pixels.
    Plane plane(Landmark l, const Stand& stand) const;
    /// The same in the horse's frame: from the withers, turned back by the croup's line less its mean;
    /// upright axes without a croup.
    Plane in_horse(Landmark l, const Stand& stand) const;
    /// A measure of moments, frame by frame; direction angles run on past a full turn.
    Series measured(const Formula& formula, const Stand& stand) const;
    /// Median of the trunk and of the leg, pixels; NaN where they were not followed.
    double trunk_px() const;
    double leg_px() const;
    /// A landmark as it was smoothed, the camera's motion taken out; empty where it was not followed.
    std::optional<Point> smoothed(Landmark l, double real_s) const;
    /// What smoothing took away of a landmark's height: its standard deviation, pixels, and the correlation
    /// of neighbouring samples.
    struct Residual {
        double sd_px = 0, r = 0;
    };
    const Residual& residual(Landmark l) const { return residual_[index(l)]; }
    Stand nominal() const { return {camera_.roll_deg, camera_.yaw_deg}; }

  private:
    template <typename F>
    Series each(const Stand& stand, std::initializer_list<Landmark> needs, F f) const;
    bool there(std::size_t i, Landmark l) const;
    bool followed_with(Landmark one, Landmark other) const;
    void smooth_all(std::optional<double> cutoff_hz);
    std::vector<double> grid_;
    double cutoff_hz_ = 0;
    std::array<Series, kLandmarkCount> x_, y_;
    std::array<bool, kLandmarkCount> has_{};
    std::array<Residual, kLandmarkCount> residual_{};
    std::vector<std::size_t> followed_;  ///< landmarks that have a series
    CameraPose camera_;
    Figure figure_;
    const Body& body_;
};

}  // namespace aspen::core::detail
