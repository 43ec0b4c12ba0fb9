#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <type_traits>
#include <vector>

#include "store/following.hpp"
#include "store/grounds.hpp"
#include "store/leaving.hpp"
#include "store/people.hpp"
#include "store/reviews.hpp"
#include "store/rides.hpp"
#include "store/search.hpp"
#include "store/settings.hpp"
#include "store/training.hpp"
#include "store/work.hpp"

namespace aspen::store {

/// All reading and writing of the yard's records, by its parts: whoever holds it const reads. Every writing
/// call is one transaction unless within() groups several. A row that breaks the schema throws core::Refused
/// and changes nothing. One thread.
class YardStore {
  public:
    explicit YardStore(const std::filesystem::path& file) : transactions_(file) {}

    /// Runs the work in one transaction; an exception rolls all of it back. Inside another one it joins that.
    void within(const std::function<void()>& calls) { transactions_.within(calls); }
    Transactions& transactions() { return transactions_; }
    bool in_transaction() const { return transactions_.in_transaction(); }
    Database& database() { return transactions_.database(); }

  private:
    Transactions transactions_;  ///< under the parts

  public:
    People people{transactions_};
    Rides rides{transactions_};
    Reviews reviews{transactions_, rides};
    Grounds grounds{transactions_};
    Work work{transactions_};
    Training training{transactions_};
    Following following{transactions_};
    Leaving leaving{transactions_};
    Settings settings{transactions_};
    Search search{transactions_, rides};

    /// Adds a record to the part it belongs to and gives its number. One that has a number already takes that
    /// again.
    template <typename Record>
    auto add(const Record& record) {
        return in_its_part([&](auto& part) -> decltype(part.add(record)) { return part.add(record); });
    }
    template <typename Record>
    void update(const Record& record) {
        in_its_part([&](auto& part) -> decltype(part.update(record)) { return part.update(record); });
    }
    /// For what has a place of its own: a later one takes that of the earlier, where its part says so.
    template <typename... What>
    auto put(const What&... what) {
        return in_its_part([&](auto& part) -> decltype(part.put(what...)) { return part.put(what...); });
    }
    template <typename Tag>
    void remove(Id<Tag> id) {
        in_its_part([&](auto& part) -> decltype(part.remove(id)) { return part.remove(id); });
    }

    /// Everything of the one becomes the other's, and the one is gone. Corrections of the same thing become
    /// one.
    void merge(RiderId from, RiderId into);
    void merge(HorseId from, HorseId into);
    /// All that belongs to the one ride goes into the other; of two decisions on the same fault the later one
    /// stays.
    void merge(RideId from, RideId into);
    /// For good, with rides, corrections and limitations. Gives the clips in which nobody else rides, which
    /// go too.
    std::vector<Clip> remove(RiderId id);
    void remove(RideId id);
    /// For good, with all that hangs on it; rides that have no clip and nothing said any more go too.
    void remove(ClipId id);
    /// Writes a whole, consistent copy, readable by the owner only. Throws core::Refused.
    void back_up(const std::filesystem::path& to) const { transactions_.database().back_up(to); }
    /// Clears the file of what was deleted. Not within a transaction. Throws core::Refused.
    void leave_no_trace() { database().leave_no_trace(); }

  private:
    template <typename Call>
    decltype(auto) in_its_part(const Call& call) {
        return first_that_can(call, people, rides, reviews, grounds, work, training, following, leaving);
    }
    template <typename Call, typename Part, typename... Rest>
    static decltype(auto) first_that_can(const Call& call, Part& part, Rest&... rest) {
        if constexpr (std::is_invocable_v<Call, Part&>)
            return call(part);
        else
            return first_that_can(call, rest...);
    }
    void erase_if_bare(RideId ride);
    void keep_face(ClipId clip, int slot);
    void withdraw_alike(RiderId one, RiderId other);
};

}  // namespace aspen::store
