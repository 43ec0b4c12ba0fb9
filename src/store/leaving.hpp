#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// What was agreed to and what left, reviews that were spoken, faces the coach set, rides of other yards.
class Leaving : Part {
  public:
    explicit Leaving(Transactions& transactions) : Part(transactions) {}

    ConsentId add(const Consent& consent);
    void update(const Consent& consent);
    /// All of a rider, also those that ended, in the order in which they were given.
    std::vector<Consent> consents_of(RiderId rider) const;

    DepartureId add(const Departure& departure);
    /// Newest first, so many at most; all riders' where none is named.
    std::vector<Departure> departures(RiderId rider = {}, int most = 500) const;

    SpokenId add(const Spoken& spoken);
    void update(const Spoken& spoken);
    void remove(SpokenId id);
    std::optional<Spoken> spoken(SpokenId id) const;
    /// Newest first.
    std::vector<Spoken> spoken_over(ClipId clip) const;

    /// Takes the place of what was said of that person on that frame.
    FaceMarkId put(const FaceMark& mark);
    void remove(FaceMarkId id);
    /// By person, then by frame.
    std::vector<FaceMark> face_marks(ClipId clip) const;

    ParcelId add(const Parcel& parcel);
    std::vector<Parcel> parcels_of(RideId ride) const;
    bool parcel_known(const std::string& sha256) const;
};

}  // namespace aspen::store
