#pragma once

#include <iosfwd>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/faults.hpp"

namespace aspen::core {

/// A question to the coach's eye, answered by key: good, fault or can't see.
struct Check {
    std::string id;     ///< of the fault, state or rule's part that it answers
    std::string asks;   ///< the question
    std::string good;   ///< what is seen when it is good
    std::string fault;  ///< what is seen when it is not
    BodyPart part = BodyPart::trunk;
    WhereAsked where;
    std::vector<Stirrups> stirrups;
    std::vector<ReinsHeld> reins;
    bool moving = false;      ///< only a moving picture can show it
    bool whole_ride = false;  ///< answered once it holds in every moment of the ride
    std::string about;        ///< the fault it helps to tell, where it is not itself one
    std::string strength;     ///< the strength that a good answer is
};

/// The eye checks, head to heel.
class CheckBook {
  public:
    CheckBook() = default;
    /// Throws Refused naming file, entry and field; also when a fault's rule asks a check that is not here.
    CheckBook(std::istream& in, const std::string& file, const FaultBook& faults);

    const std::vector<Check>& all() const { return checks_; }
    const Check* find(std::string_view id) const;
    /// What this view, seat, state and gait can show, head to heel. `moving`: the picture is not a still.
    std::vector<const Check*> asked(View view, const Setting& setting, bool moving) const;

  private:
    std::vector<Check> checks_;
};

/// Something good as data, named as exactly as a fault: a rule over measures inside their bands, or by eye.
struct StrengthRule {
    std::string id, name, letters;
    BodyPart part = BodyPart::trunk;
    std::vector<Condition> when;
    WhereAsked where;
    bool by_eye = false;
};

/// A strength that was found: inside wherever it could be judged, or seen by eye.
struct Strength {
    std::string id;
    std::string measure;  ///< the one it rests on; "" by eye
    std::string words;
};

/// One moment as strengths look at it.
struct LookedAt {
    const std::vector<Judged>* judged = nullptr;
    Setting setting;
    View view = View::side;
};

class StrengthBook {
  public:
    StrengthBook() = default;
    /// Throws Refused naming file, entry and field.
    StrengthBook(std::istream& in, const std::string& file);

    const std::vector<StrengthRule>& all() const { return rules_; }
    const StrengthRule* find(std::string_view id) const;
    /// What is good in these moments: `seen` by eye first, then what holds in every moment that can judge it,
    /// the one nearest the middle of its band first.
    std::vector<Strength> of(const std::vector<LookedAt>& moments,
                             const std::vector<std::string>& seen) const;

  private:
    std::vector<StrengthRule> rules_;
};

}  // namespace aspen::core
