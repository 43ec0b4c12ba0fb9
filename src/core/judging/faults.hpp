#pragma once

#include <deque>
#include <iosfwd>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/judgement.hpp"

namespace aspen::core {

/// The order of attention: safety, then the base, then up the body (TRADE: common practice).
enum class AttentionGroup { safety, base, trunk, head, arms, fine };
std::string_view word(AttentionGroup g);
std::string_view spoken(AttentionGroup g);

/// A named fault as data: which measures must lie beyond which side of their band.
struct Fault {
    enum class Side { below, above, either };
    struct Condition {
        std::string measure;
        Side side;
    };

    std::string id, name, says, good;
    BodyPart part = BodyPart::trunk;
    AttentionGroup group = AttentionGroup::base;
    std::vector<Condition> when;      ///< all must hold; empty for faults only an eye can see
    std::vector<std::string> covers;  ///< faults that are part of this one and not named beside it
    std::vector<Seat> seats;          ///< empty: every seat
    std::vector<View> views;          ///< empty: side
    bool by_eye = false;
    bool needs_stirrups = false;  ///< cannot be seen while they are crossed over or off
};

struct Cause {
    std::string from, to, because;
    std::optional<Gait> gait{};  ///< what it was found in; empty in the book
    std::optional<Seat> seat{};
};

/// What one moment says of a fault that it can judge.
struct Observation {
    const Fault* fault = nullptr;
    Verdict verdict = Verdict::inside;    ///< outside (certain), borderline (doubtful) or inside
    double severity = 0;                  ///< certain ones only
    bool past_limit = false;              ///< the value itself lies past the limit, certain or not
    std::vector<std::string> evidence{};  ///< measure and check ids
};
struct ObservedMoment {
    std::vector<Observation> observations;
    std::string phase;
};

/// A fault found in one or several moments of one gait, seat and side.
struct FoundFault {
    const Fault* fault = nullptr;
    Verdict verdict = Verdict::outside;  ///< outside or borderline
    double severity = 0;                 ///< mean over the moments where it is certain
    double share = 1;                    ///< certain moments of those that could judge it
    std::vector<std::string> evidence{};
    int certain = 0, judgeable = 0;
    bool seen_once = false;  ///< certain in fewer than a third of at least three: listed, never the focus
    std::string phase{};     ///< the one that all certain moments share, else ""

    double weight() const { return severity * share; }
};
/// What several moments of one gait, seat and side say together.
struct MergedFaults {
    struct Tally {
        int inside = 0, past_limit = 0;
    };
    std::vector<FoundFault> found;
    /// Found only as a part of others: not faults of their own, yet ends of causes.
    std::vector<const Fault*> covered;
    std::map<const Fault*, Tally> tallies;
};

/// Faults and causes, checked against each other and the measures.
class FaultBook {
  public:
    FaultBook() = default;
    /// Throws Refused naming file, entry and field.
    FaultBook(std::istream& faults, const std::string& faults_file, std::istream& causes,
              const std::string& causes_file);

    const std::vector<Fault>& faults() const { return faults_; }
    const std::vector<Cause>& causes() const { return causes_; }
    const Fault* find(std::string_view id) const;

    /// What a moment says of every fault that it can judge. A rule of several conditions is judgeable as soon
    /// as one certainly fails or all are judged.
    std::vector<Observation> observe(const std::vector<Judged>& judged, const Setting& setting,
                                     View view) const;
    /// Several moments of one gait, seat and side, over all phases. Where a certain fault covers another, the
    /// moment is struck from the covered one's. Certain on both sides of one band, on each in at least a
    /// third of the moments, gives one fault `unsteady_<measure>` in place of the two.
    MergedFaults merge(std::vector<ObservedMoment> moments) const;

  private:
    void make_unsteady();
    void refuse_rings(const std::string& file) const;
    void find_unsteady(MergedFaults& merged) const;
    std::vector<Fault> faults_;
    std::vector<Cause> causes_;
    std::deque<Fault>
        unsteady_;  ///< one for each measure that has a fault on both sides; found ones point here
};

/// The measure a fault is followed by: the first of its conditions; empty for faults by eye.
std::string_view leading_measure(const Fault& fault);

}  // namespace aspen::core
