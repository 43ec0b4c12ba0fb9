#include "core/judging/measure_words.hpp"

#include <fmt/format.h>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
MeasureWords::MeasureWords(std::istream& in, const std::string& file, Amounts amounts)
    : amounts_(std::move(amounts)) {
    const auto json = reading::parse(in, file);
    for (const auto& one : reading::Entry(json, file, "file").array("measures")) {
        const reading::Entry entry(one, file, "measure");
        const std::string id = entry.text("id");
        if (!find_measure(id)) entry.complain("id", fmt::format("\"{}\" is not a measure", id));
        words_[id] = {entry.text("below"), entry.text("inside"), entry.text("above"), entry.text("more"),
                      entry.text("less")};
    }
}

std::string MeasureWords::of(const Judged& j, const Body& body, const ToWhom& to) const {
    // Without a band no word of judgement.
    if (!j.measured.value || !j.band) return std::string(j.info().spoken);
    return of_value(j.info(), j.beyond, *j.measured.value, body, to);
}

std::string MeasureWords::of_value(const MeasureInfo& measure, Beyond side, double value, const Body& body,
                                   const ToWhom& to) const {
    const auto it = words_.find(measure.id);
    if (it == words_.end()) return std::string(measure.spoken);
    const Words& w = it->second;
    return with_length(side == Beyond::below   ? w.below
                       : side == Beyond::above ? w.above
                                               : w.inside,
                       measure, value, body, to);
}

std::string MeasureWords::of_change(const MeasureInfo& measure, double by, const Body& body,
                                    const ToWhom& to) const {
    const auto it = words_.find(measure.id);
    if (it == words_.end()) return fmt::format("{} {}", measure.spoken, by > 0 ? "more" : "less");
    const Words& w = it->second;
    return with_length(by > 0 ? w.more : w.less, measure, by, body, to);
}

std::string MeasureWords::with_length(std::string words, const MeasureInfo& measure, double pct,
                                      const Body& body, const ToWhom& to) const {
    if (const auto at = words.find("{length}"); at != std::string::npos)
        words.replace(at, 8, amounts_.of(measure, pct, body, to));
    return words;
}

}  // namespace aspen::core
