#pragma once

#include <iosfwd>
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
};

struct Cause {
    std::string from, to, because;
};

/// A fault found in one or several moments.
struct FoundFault {
    const Fault* fault = nullptr;
    Verdict verdict = Verdict::outside;  ///< outside or borderline
    double severity = 0;
    double share = 1;                   ///< of the moments that could judge it
    std::vector<std::string> evidence;  ///< measure ids
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

    /// Faults that the judged measures show, most severe first; borderline ones after the certain ones.
    std::vector<FoundFault> look_for(const std::vector<Judged>& judged, const Setting& setting,
                                     View view) const;
    /// Faults over several moments: severity is the mean over the moments where the fault is certain, share
    /// counts moments. A fault that is certain nowhere stays borderline.
    std::vector<FoundFault> merge(const std::vector<std::vector<FoundFault>>& moments) const;
    /// Edges both of whose ends are among the found faults.
    std::vector<Cause> causes_among(const std::vector<FoundFault>& found) const;

  private:
    std::vector<Fault> faults_;
    std::vector<Cause> causes_;
};

/// The measure a fault is followed by: the first of its conditions; empty for faults by eye.
std::string_view leading_measure(const Fault& fault);

}  // namespace aspen::core
