#include "core/judging/measure_words.hpp"

#include <fmt/format.h>

#include <array>
#include <cmath>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

constexpr double kUsualHeightCm = 170;  // of the rider whose limbs data/body.json gives

/// What a percentage is a part of, metres of a rider of the usual height; 0 where it is no length.
double whole_m(std::string_view of, const Body& body) {
    if (of == "trunk") return body.trunk_m;
    if (of == "thigh") return body.thigh_m;
    if (of == "leg") return body.thigh_m + body.shank_m;
    return of == "hips" ? body.hip_width_m : 0;
}

}  // namespace

MeasureWords::MeasureWords(std::istream& in, const std::string& file) {
    const auto json = reading::parse(in, file);
    for (const auto& one : reading::Entry(json, file, "file").array("measures")) {
        const reading::Entry entry(one, file, "measure");
        const std::string id = entry.text("id");
        if (!find_measure(id)) entry.complain("id", fmt::format("\"{}\" is not a measure", id));
        words_[id] = {entry.text_or("of", ""), entry.text("below"), entry.text("inside"),
                      entry.text("above"),     entry.text("more"),  entry.text("less")};
    }
}

std::string length_words(double metres, bool height_known) {
    const double m = std::abs(metres);
    if (height_known) return fmt::format("{:.0f} cm", 100 * m);
    // A hand's breadth is about ten centimetres, a finger two.
    struct Step {
        double below_m;
        const char* words;
    };
    static constexpr std::array<Step, 6> steps{{{0.015, "a finger"},
                                                {0.035, "two fingers"},
                                                {0.07, "half a hand"},
                                                {0.13, "about a hand"},
                                                {0.18, "a hand and a half"},
                                                {0.25, "two hands"}}};
    for (const Step& s : steps) {
        if (m < s.below_m) return s.words;
    }
    return "more than two hands";
}

std::string MeasureWords::of(const Judged& j, const Body& body, std::optional<int> height_cm) const {
    const auto it = words_.find(j.info().id);
    // Without a band no word of judgement.
    if (it == words_.end() || !j.measured.value || !j.band) return std::string(j.info().spoken);
    const Words& w = it->second;
    return with_length(j.beyond == Beyond::below   ? w.below
                       : j.beyond == Beyond::above ? w.above
                                                   : w.inside,
                       w, *j.measured.value, body, height_cm);
}

std::string MeasureWords::of_change(const MeasureInfo& measure, double by, const Body& body,
                                    std::optional<int> height_cm) const {
    const auto it = words_.find(measure.id);
    if (it == words_.end()) return fmt::format("{} {}", measure.spoken, by > 0 ? "more" : "less");
    const Words& w = it->second;
    return with_length(by > 0 ? w.more : w.less, w, by, body, height_cm);
}

std::string MeasureWords::with_length(std::string words, const Words& w, double pct, const Body& body,
                                      std::optional<int> height_cm) {
    if (const auto at = words.find("{length}"); at != std::string::npos) {
        const double whole = whole_m(w.of, body) * height_cm.value_or(kUsualHeightCm) / kUsualHeightCm;
        words.replace(at, 8, length_words(pct / 100 * whole, height_cm.has_value()));
    }
    return words;
}

}  // namespace aspen::core
