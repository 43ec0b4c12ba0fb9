#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// A clip as part of a rider's ride.
struct RiddenClip {
    Ride ride;
    Clip clip;
    int slot = 0;
};

/// One line of the yard's lists: a ride with what is shown of it at once.
struct RideLine {
    Ride ride;
    std::string rider, horse;  ///< names
    int clips = 0;
    double duration_s = 0;
    Clip first;         ///< the earliest clip that is not in the trash
    std::string focus;  ///< the fault in work for rider and horse, "" for none
};

/// Rides, their clips and the riders' places in them, and what the yard's lists show at once.
class Rides : Part {
  public:
    explicit Rides(Transactions& transactions) : Part(transactions) {}

    RideId add(const Ride& ride);
    void update(const Ride& ride);
    std::optional<Ride> ride(RideId id) const;
    /// Newest first.
    std::vector<Ride> rides_of(RiderId rider) const;
    /// Under all its riders.
    std::vector<Ride> rides_on(HorseId horse, const std::string& day) const;
    /// Rides that wait for the coach: not done, with at least one clip.
    std::vector<RideLine> waiting() const;
    /// Rides that are done, newest first, so many after the first `skip`.
    std::vector<RideLine> done(int skip, int most) const;
    int count_done() const;
    /// All rides, newest first; focus is the fault an exercise was given for in this ride.
    std::vector<RideLine> all_rides() const;
    /// The newest day each rider rode.
    std::map<RiderId, std::string> last_days() const;

    ClipId add(const Clip& clip);
    void update(const Clip& clip);
    /// By day, newest first; the trash is left out.
    std::vector<Clip> clips() const;
    std::vector<Clip> clips_of(RideId ride) const;
    /// All that this rider rode, newest day first; the trash is left out.
    std::vector<RiddenClip> ridden_by(RiderId rider) const;
    /// The same of a horse.
    std::vector<RiddenClip> ridden_on(HorseId horse) const;
    std::vector<Clip> trashed_clips() const;
    std::optional<Clip> clip(ClipId id) const;
    std::optional<Clip> clip_with_hash(const std::string& hash) const;

    void put(const Slot& slot);
    void remove_slot(ClipId clip, int slot);
    std::vector<Slot> places(ClipId clip) const;
    void put_stretches(ClipId clip, const core::Stretches& stretches);
    core::Stretches stretches(ClipId clip) const;
};

}  // namespace aspen::store
