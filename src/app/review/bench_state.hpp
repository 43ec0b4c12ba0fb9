#pragma once

#include "app/review/marking.hpp"
#include "app/review/review.hpp"
#include "app/review/ride_findings.hpp"
#include "core/knowledge/knowledge.hpp"

namespace aspen::app {

/// What stands on the bench, to be looked at: whole after every step, and every look is at what stands now.
/// Whoever shows it changes nothing through it; what the coach wants is said as an Intent. Stands as long as
/// the bench.
class BenchState {
  public:
    BenchState(const Yard& yard, const ClipDeck& deck, const Review& review, const Marking& marking,
               const RideFindings& findings)
        : yard_(&yard), deck_(&deck), review_(&review), marking_(&marking), findings_(&findings) {}

    bool is_open() const { return review_->is_open(); }
    const ClipDeck& deck() const { return *deck_; }
    const Review& review() const { return *review_; }
    const Marking& marking() const { return *marking_; }
    const RideFindings& findings() const { return *findings_; }
    const core::Knowledge& knowledge() const { return yard_->knowledge(); }
    /// Who is looked at, as amounts are said of them.
    core::ToWhom to_whom() const {
        const auto& rider = review_->rider_card();
        return {rider ? rider->height_cm : std::nullopt, false};
    }
    core::SpokenAmounts amounts() const { return knowledge().spoken(to_whom()); }
    /// For lists of names and what was written before; nothing that is painted asks it.
    const store::YardStore& records() const { return yard_->records(); }
    const Yard& yard() const { return *yard_; }

  private:
    const Yard* yard_;
    const ClipDeck* deck_;
    const Review* review_;
    const Marking* marking_;
    const RideFindings* findings_;
};

}  // namespace aspen::app
