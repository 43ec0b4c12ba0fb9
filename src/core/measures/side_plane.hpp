#pragma once

#include <cmath>

#include "core/measures/measure_table.hpp"

/// The plane everything seen from the side is measured in, for one figure and for every frame of a series
/// alike.
namespace aspen::core::detail {

/// The side-view plane of one evaluation: forward f = (x_t - d sin yaw) / cos yaw, up u = -y', with
/// d = depth * trunk0 and trunk0 the trunk's length taken with d = 0.
class Side {
  public:
    Side(const Inputs& in, const Figure& figure)
        : in_(in),
          sign_(figure.travel == Travel::left ? -1.0 : 1.0),
          cos_(std::cos(in.yaw_rad)),
          sin_(std::sin(in.yaw_rad)),
          trunk0_(in.guessed_trunk_px > 0 ? in.guessed_trunk_px
                                          : distance(flat(Landmark::shoulder), flat(Landmark::hip))) {}
    PlanePoint at(Landmark l) const {
        PlanePoint p = flat(l);
        p.f += in_.shift[index(l)] - in_.out_of_plane[index(l)] * trunk0_ * sin_ / cos_;
        return p;
    }
    double trunk0() const { return trunk0_; }
    double trunk() const { return distance(at(Landmark::shoulder), at(Landmark::hip)); }
    double thigh() const { return distance(at(Landmark::hip), at(Landmark::knee)); }
    double leg() const { return thigh() + distance(at(Landmark::knee), at(Landmark::ankle)); }

  private:
    PlanePoint flat(Landmark l) const {
        const Point p = unrolled(in_.at[index(l)], in_.roll_rad);
        return {sign_ * p.x / cos_, -p.y};
    }
    const Inputs& in_;
    double sign_, cos_, sin_, trunk0_;
};

}  // namespace aspen::core::detail
