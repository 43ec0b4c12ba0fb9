#pragma once

#include <set>
#include <string>

#include "store/records.hpp"

/// What one transaction did to the records, as SQLite's session extension recorded it: every row before and
/// after. The same bytes lead back and forth again.
namespace aspen::store {

/// Bytes of an SQLite changeset; empty when nothing changed.
class ChangeSet {
  public:
    ChangeSet() = default;
    explicit ChangeSet(std::string bytes) : bytes_(std::move(bytes)) {}
    bool empty() const { return bytes_.empty(); }
    std::size_t size() const { return bytes_.size(); }
    const std::string& bytes() const { return bytes_; }
    /// The same the other way round.
    ChangeSet inverted() const;
    /// Both as one, `next` after this one.
    ChangeSet followed_by(const ChangeSet& next) const;

  private:
    std::string bytes_;
};

/// Whose records a change concerns, for whoever shows them.
struct Touched {
    bool riders = false, horses = false, own_data = false;
    std::set<RideId> rides;     ///< the ride's own words and state
    std::set<RideId> findings;  ///< decisions and remarks of these rides
    std::set<ClipId> clips;     ///< the clip's own record, or who rides in it
    std::set<ClipId> marks, stretches, notes, events;
    std::set<RiderId> corrections;
    bool training = false;  ///< practice or a plan
    bool lessons = false;
    bool followed = false;  ///< milestones, promises or the outbox
    bool drills = false;
    bool leaving = false;  ///< consents, what left, reviews that were spoken, faces the coach set
    bool anything() const {
        return riders || horses || own_data || !rides.empty() || !findings.empty() || !clips.empty() ||
               !marks.empty() || !stretches.empty() || !notes.empty() || !events.empty() ||
               !corrections.empty() || training || lessons || followed || drills || leaving;
    }
};

}  // namespace aspen::store
