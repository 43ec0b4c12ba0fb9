#pragma once

#include <string>
#include <vector>

#include "store/part.hpp"
#include "store/rides.hpp"

namespace aspen::store {

enum class HitKind { rider, horse, ride, note, remark, finding };
/// One place where the words that were looked for stand.
struct Hit {
    HitKind kind = HitKind::ride;
    std::int64_t id = 0;
    std::string text, day;
    RideId ride{};  ///< where it leads; none for riders and horses
};

/// Looks for words in all that was written.
class Search : Part {
  public:
    Search(Transactions& transactions, const Rides& rides) : Part(transactions), rides_(rides) {}

    /// Places where all the words stand: riders and horses, then the newest of each kind by day. The last
    /// word may be a beginning only.
    std::vector<Hit> places(const std::string& words, int most = 50) const;

  private:
    const Rides& rides_;
};

}  // namespace aspen::store
