#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// Riders with what their bodies allow, and horses.
class People : Part {
  public:
    explicit People(Transactions& transactions) : Part(transactions) {}

    RiderId add(const Rider& rider);
    void update(const Rider& rider);
    /// The trash is left out.
    std::vector<Rider> riders() const;
    std::vector<Rider> trashed_riders() const;
    std::optional<Rider> rider(RiderId id) const;
    std::vector<Limitation> limitations(RiderId rider) const;
    void put_limitations(RiderId rider, const std::vector<Limitation>& all);
    /// The later one takes the place of the earlier for this rider, saddle and job.
    void put(const Stirrup& stirrup);
    std::vector<Stirrup> stirrups(RiderId rider) const;
    /// The earlier one stays where there is one already.
    void put(const SignOff& sign_off);
    void remove(SignOffId id);
    /// Oldest first.
    std::vector<SignOff> sign_offs(RiderId rider) const;
    HorseId add(const Horse& horse);
    void update(const Horse& horse);
    std::vector<Horse> horses() const;
    std::optional<Horse> horse(HorseId id) const;
    /// Rides on this horse in which a lead was logged, newest first, so many at most.
    std::vector<RideId> rides_with_leads(HorseId id, int most) const;
    /// What the eye named in rides on this horse, with in how many of them, the most often first.
    std::vector<std::pair<std::string, int>> named_on(HorseId id) const;
};

}  // namespace aspen::store
