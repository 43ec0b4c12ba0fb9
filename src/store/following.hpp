#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// How corrections go on: the coach's word on them, what may explain a change, promised clips, what leaves,
/// and how good the coach's eye is.
class Following : Part {
  public:
    explicit Following(Transactions& transactions) : Part(transactions) {}

    CorrectionWordId add(const CorrectionWord& word);
    void remove(CorrectionWordId id);
    /// In the order in which they were said.
    std::vector<CorrectionWord> words_on(CorrectionId correction) const;

    MilestoneId add(const Milestone& milestone);
    void update(const Milestone& milestone);
    void remove(MilestoneId id);
    /// Of the rider, and of the horses the rider rode; in order of days.
    std::vector<Milestone> milestones_of(RiderId rider) const;
    std::vector<Milestone> milestones_of(HorseId horse) const;

    PromiseId add(const Promise& promise);
    void update(const Promise& promise);
    void remove(PromiseId id);
    /// Those that nobody closed, of riders who are not in the trash, the earliest due first.
    std::vector<Promise> open_promises() const;
    std::vector<Promise> promises_of(RiderId rider) const;

    OutgoingId add(const Outgoing& outgoing);
    void update(const Outgoing& outgoing);
    void remove(OutgoingId id);
    /// Newest first, so many at most; all riders' where none is named.
    std::vector<Outgoing> outbox(RiderId rider = {}, int most = 200) const;

    DrillId add(const DrillAnswer& answer);
    void remove(DrillId id);
    /// Oldest first; of one kind, or of all with "".
    std::vector<DrillAnswer> drills(const std::string& kind = {}) const;

    /// The earliest ride from that day on of which a clip is here, and its clip; on one horse, or on any.
    std::optional<std::pair<ClipId, std::string>> first_clip_since(RiderId rider, HorseId horse,
                                                                   const std::string& day) const;
};

}  // namespace aspen::store
