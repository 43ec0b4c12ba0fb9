#pragma once

#include <deque>
#include <iosfwd>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/fault_rules.hpp"

namespace aspen::core {

/// The order of attention: safety, then the base, then up the body (common practice, no source).
enum class AttentionGroup { safety, base, trunk, head, arms, fine };
std::string_view word(AttentionGroup g);
std::string_view spoken(AttentionGroup g);

/// A named fault as data: a rule over measures and eye checks, with where it is asked. States of the rider
/// that are no faults (gripping, breath held) and the horse's answers are named in the same way; they link
/// causes and weigh nothing.
struct Fault {
    enum class Kind { fault, state, answer, good_answer };

    std::string id, name, says;
    std::string rider;       ///< what it is, in the rider's words
    std::string horse;       ///< what it does to the horse
    std::string look_alike;  ///< what tells it from what looks the same
    std::string letters;     ///< two letters that name it on the bench
    Kind kind = Kind::fault;
    BodyPart part = BodyPart::trunk;
    AttentionGroup group = AttentionGroup::base;
    std::vector<Condition> when;      ///< all must hold; empty for faults only an eye can see
    std::vector<std::string> covers;  ///< faults that are part of this one and not named beside it
    WhereAsked where;
    bool by_eye = false;
    bool needs_stride = false;  ///< a still cannot show it: an eye on the moving picture, or the stride
    /// Safety once the whole 90 % interval of its measure lies further than this off zero; 0: never.
    double safety_past = 0;
};

struct Cause {
    std::string from, to, because;
    std::optional<Gait> gait{};  ///< what it was found in; empty in the book
    std::optional<Seat> seat{};
    /// It joins findings of two gaits too: what was seen in the first drives what is seen in the second.
    std::optional<std::pair<Gait, Gait>> across{};
};

/// A limit of a band that no fault reads, and why.
struct Unread {
    std::string measure;
    Condition::Side side = Condition::Side::either;
    std::string why;
};

/// What one moment says of a fault that it can judge.
struct Observation {
    const Fault* fault = nullptr;
    Verdict verdict = Verdict::inside;    ///< outside (certain), borderline (doubtful) or inside
    double severity = 0;                  ///< certain ones only
    bool past_limit = false;              ///< the value itself lies past the limit, certain or not
    std::vector<std::string> evidence{};  ///< measure and check ids
    Beyond toward = Beyond::neither;
    bool safety = false;  ///< so far past that it is a matter of safety
    bool stride = false;  ///< seen over a whole stride instead of in a moment
};
/// A check that would settle a rule whose measures are certain.
struct CheckWanted {
    std::string check;
    const Fault* fault = nullptr;
    friend auto operator<=>(const CheckWanted&, const CheckWanted&) = default;
};
struct ObservedMoment {
    std::vector<Observation> observations;
    std::string phase;
    std::vector<CheckWanted> wanted{};
};

/// A fault found in one or several moments of one gait, seat and side.
struct FoundFault {
    const Fault* fault = nullptr;
    Verdict verdict = Verdict::outside;  ///< outside or borderline
    double severity = 0;                 ///< mean over the moments where it is certain
    double share = 1;                    ///< certain moments of those that could judge it
    std::vector<std::string> evidence{};
    int certain = 0, judgeable = 0;
    int strides = 0;         ///< how many of those that could judge it were whole strides
    bool seen_once = false;  ///< certain in fewer than a third of at least three: listed, never the focus
    std::string phase{};     ///< the one that all certain moments share, else ""
    Beyond toward = Beyond::neither;  ///< where the certain moments tend, when they agree
    bool safety = false;              ///< in one certain moment at least a matter of safety

    double weight() const { return severity * share; }
    AttentionGroup group() const { return safety ? AttentionGroup::safety : fault->group; }
};
/// What several moments of one gait, seat and side say together.
struct MergedFaults {
    struct Tally {
        int inside = 0, past_limit = 0, judged = 0;
    };
    std::vector<FoundFault> found;   ///< faults alone
    std::vector<FoundFault> states;  ///< states of the rider and answers of the horse that were seen
    /// Found only as a part of others: not faults of their own, yet ends of causes.
    std::vector<const Fault*> covered;
    std::map<const Fault*, Tally> tallies;
    std::vector<CheckWanted> wanted;
};

/// Faults and causes, checked against each other and the measures.
class FaultBook {
  public:
    FaultBook() = default;
    /// Throws Refused naming file, entry and field.
    FaultBook(std::istream& faults, const std::string& faults_file, std::istream& causes,
              const std::string& causes_file);

    const std::vector<Fault>& faults() const { return faults_; }
    /// What is no fault and yet can be named: states of the rider, answers of the horse.
    const std::vector<Fault>& states() const { return states_; }
    const std::vector<Cause>& causes() const { return causes_; }
    const std::vector<Unread>& unread() const { return unread_; }
    /// A fault, a state or an answer; nullptr when none has this id.
    const Fault* find(std::string_view id) const;
    /// Why a rider of this level is not bothered with a fault yet; "" when it may be worked on.
    std::string held_back(std::string_view level, const Fault& fault) const;

    /// What a moment says of every fault that it can judge. A rule of several conditions is judgeable as soon
    /// as one certainly fails or all are judged. The eye's own word for a fault stands above its rule.
    ObservedMoment observe(const std::vector<Judged>& judged, const Setting& setting, View view,
                           const EyeAnswers& eye = {}) const;
    /// Several moments of one gait, seat and side, over all phases. Where a certain fault covers another, the
    /// moment is struck from the covered one's. Certain on both sides of one band, on each in at least a
    /// third of the moments, gives one fault `unsteady_<measure>` in place of the two.
    MergedFaults merge(std::vector<ObservedMoment> moments) const;

  private:
    struct HeldBack {
        std::vector<AttentionGroup> groups;
        std::vector<std::string> faults;
        std::string why;
    };
    void read_faults(std::istream& in, const std::string& file);
    void read_causes(std::istream& in, const std::string& file);
    void make_unsteady();
    void refuse_rings(const std::string& file) const;
    void find_unsteady(MergedFaults& merged) const;
    std::vector<Fault> faults_, states_;
    std::vector<Cause> causes_;
    std::vector<Unread> unread_;
    std::map<std::string, HeldBack, std::less<>> levels_;
    std::deque<Fault>
        unsteady_;  ///< one for each measure that has a fault on both sides; found ones point here
};

/// The measure a fault is followed by: the first of its conditions; empty for faults by eye.
std::string_view leading_measure(const Fault& fault);

}  // namespace aspen::core
