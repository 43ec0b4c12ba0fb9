#include "core/judging/amounts.hpp"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <limits>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

constexpr double kLeastCm = 0.5;      // below half a centimetre no centimetre is said
constexpr double kNineOfTen = 1.645;  // standard deviations on either side that hold nine of ten

double metres_of(std::string_view whole, const Body& body) {
    struct Known {
        std::string_view word;
        double metres;
    };
    const std::array<Known, 7> known{{{"trunk", body.trunk_m},
                                      {"thigh", body.thigh_m},
                                      {"leg", body.thigh_m + body.shank_m},
                                      {"hips", body.hip_width_m},
                                      {"shoulders", body.shoulder_width_m},
                                      {"saddle", body.cantle_withers_m},
                                      {"back", body.withers_croup_m}}};
    for (const Known& k : known) {
        if (k.word == whole) return k.metres;
    }
    return 0;
}

std::string filled(std::string words, std::string_view name, const std::string& with) {
    if (const auto at = words.find(name); at != std::string::npos) words.replace(at, name.size(), with);
    return words;
}

}  // namespace

std::vector<Amounts::Step> Amounts::read(const void* entry, const char* field, const char* below) {
    const auto& whole = *static_cast<const reading::Entry*>(entry);
    std::vector<Step> out;
    double last = 0;
    for (const auto& one : whole.array(field)) {
        const reading::Entry step(one, "amounts.json", field);
        const double to = step.has(below) ? step.number(below) : std::numeric_limits<double>::infinity();
        if (to <= last) step.complain(below, "does not go on from the step before");
        last = to;
        out.push_back({to, step.text("words")});
    }
    if (out.empty() || std::isfinite(out.back().below))
        whole.complain(field, fmt::format("needs a last step without \"{}\"", below));
    return out;
}

Amounts::Amounts(std::istream& in, const std::string& file) {
    const auto json = reading::parse(in, file);
    const reading::Entry entry(json, file, "file");
    usual_height_cm_ = entry.number("usual_height_cm");
    lengths_ = read(&entry, "lengths", "below_m");
    child_angles_ = read(&entry, "angles_for_children", "below_deg");
    shares_ = read(&entry, "shares", "below");
    centimetres_ = entry.text("centimetres");
    angles_ = entry.text("angles");
    doubt_ = entry.text("doubt");
    for (const auto& [id, whole] : entry.object("wholes").items()) {
        if (!whole.is_string()) entry.complain("wholes", fmt::format("\"{}\" is not told in words", id));
        wholes_[id] = whole.get<std::string>();
        if (wholes_[id] != "share" && metres_of(wholes_[id], Body{}) == 0)
            entry.complain("wholes", fmt::format("\"{}\" is no length of a body", wholes_[id]));
    }
}

const std::string& Amounts::step(const std::vector<Step>& steps, double value) {
    static const std::string nothing;
    for (const Step& s : steps) {
        if (value < s.below) return s.words;
    }
    return steps.empty() ? nothing : steps.back().words;
}

std::string Amounts::length(double metres, const ToWhom& to) const {
    const double m = std::abs(metres);
    // A child's hand is as much smaller as the child is.
    if (to.child || !to.height_cm)
        return step(lengths_,
                    m * usual_height_cm_ / to.height_cm.value_or(static_cast<int>(usual_height_cm_)));
    if (100 * m < kLeastCm) return step(lengths_, 0);
    return filled(centimetres_, "{n}", fmt::format("{:.0f}", 100 * m));
}

std::optional<double> Amounts::metres(std::string_view measure, double pct, const Body& body,
                                      const ToWhom& to) const {
    const auto it = wholes_.find(measure);
    const std::string_view whole = it == wholes_.end() ? std::string_view("trunk") : it->second;
    if (whole == "share") return std::nullopt;
    return pct / 100 * metres_of(whole, body) * to.height_cm.value_or(static_cast<int>(usual_height_cm_)) /
           usual_height_cm_;
}

std::string Amounts::of(std::string_view measure, std::string_view unit, double value, const Body& body,
                        const ToWhom& to) const {
    const double much = std::abs(value);
    if (unit == "%") {
        const auto m = metres(measure, much, body, to);
        return m ? length(*m, to) : step(shares_, much / 100);
    }
    if (unit == "deg")
        return to.child ? step(child_angles_, much) : filled(angles_, "{n}", fmt::format("{:.0f}", much));
    return fmt::format("{:.3g}{}{}", much, unit.empty() ? "" : " ", unit);
}

std::string Amounts::doubt(std::string_view measure, std::string_view unit, double sd, const Body& body,
                           const ToWhom& to) const {
    if (to.child) return {};
    return filled(doubt_, "{amount}", of(measure, unit, kNineOfTen * sd, body, to));
}

std::string SpokenAmounts::with_doubt(std::string_view measure, std::string_view unit, double value,
                                      double sd) const {
    const std::string off = doubt(measure, unit, sd);
    return of(measure, unit, value) + (off.empty() ? "" : ", " + off);
}

}  // namespace aspen::core
