#pragma once

#include <iosfwd>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/body.hpp"
#include "core/measures/measures.hpp"

namespace aspen::core {

/// Who an amount is said of, and to whom.
struct ToWhom {
    std::optional<int> height_cm;  ///< of the rider whose body it is, where the card knows it
    bool child = false;  ///< a child reads it: no centimetres, no degrees, and hands as small as its own
};

/// How riders say how much: fingers and hands, centimetres where a height is known, degrees of an angle, a
/// part of a stride (data/amounts.json). Phrases are data, each amount with its own, so that another language
/// can say them its own way. The one place where a value, a change or a doubt becomes words.
class Amounts {
  public:
    Amounts() = default;
    /// Throws Refused naming file, entry and field.
    Amounts(std::istream& in, const std::string& file);

    /// "two fingers", "8 cm": the amount of a length, without its sign. Metres.
    std::string length(double metres, const ToWhom& to) const;
    /// The same of a value of a measure or a curve in its own unit ("%" of what the measure is held against,
    /// "deg", or a unit of its own, which stays a number).
    std::string of(std::string_view measure, std::string_view unit, double value, const Body& body,
                   const ToWhom& to = {}) const;
    std::string of(const MeasureInfo& m, double value, const Body& body, const ToWhom& to = {}) const {
        return of(m.id, m.unit, value, body, to);
    }
    /// "give or take a finger": nine times of ten it lies within that. From the standard deviation. "" for a
    /// child.
    std::string doubt(std::string_view measure, std::string_view unit, double sd, const Body& body,
                      const ToWhom& to = {}) const;
    std::string doubt(const MeasureInfo& m, double sd, const Body& body, const ToWhom& to = {}) const {
        return doubt(m.id, m.unit, sd, body, to);
    }
    /// Metres of a rider of that height that a value in per cent stands for; nothing where it is no length.
    std::optional<double> metres(std::string_view measure, double pct, const Body& body,
                                 const ToWhom& to) const;

  private:
    struct Step {
        double below;
        std::string words;
    };
    static const std::string& step(const std::vector<Step>& steps, double value);
    static std::vector<Step> read(const void* entry, const char* field, const char* below);
    std::vector<Step> lengths_, child_angles_, shares_;
    std::string centimetres_, angles_, doubt_;
    double usual_height_cm_ = 170;
    std::map<std::string, std::string, std::less<>> wholes_;
};

/// The same for one rider. Refers to what it was made of.
class SpokenAmounts {
  public:
    SpokenAmounts(const Amounts& amounts, const Body& body, const ToWhom& to = {})
        : amounts_(amounts), body_(body), to_(to) {}
    std::string of(std::string_view measure, std::string_view unit, double value) const {
        return amounts_.of(measure, unit, value, body_, to_);
    }
    std::string doubt(std::string_view measure, std::string_view unit, double sd) const {
        return amounts_.doubt(measure, unit, sd, body_, to_);
    }
    /// "two fingers, give or take one".
    std::string with_doubt(std::string_view measure, std::string_view unit, double value, double sd) const;
    const ToWhom& to() const { return to_; }

  private:
    const Amounts& amounts_;
    const Body& body_;
    ToWhom to_;
};

}  // namespace aspen::core
