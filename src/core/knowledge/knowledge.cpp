#include "core/knowledge/knowledge.hpp"

#include <istream>

namespace aspen::core {

std::unique_ptr<const Knowledge> load_knowledge(const DataOpener& open,
                                                const std::vector<std::string>& schools) {
    auto out = std::make_unique<Knowledge>();
    out->body = load_body(*open("body.json"), "body.json");
    std::vector<School> loaded;
    for (const std::string& path : schools) loaded.push_back(load_school(*open(path), path));
    out->schools = Schools(std::move(loaded), Situations(*open("situations.json"), "situations.json"));
    const auto faults = open("faults.json");
    const auto causes = open("causes.json");
    out->faults = FaultBook(*faults, "faults.json", *causes, "causes.json");
    out->checks = CheckBook(*open("checks.json"), "checks.json", out->faults);
    out->strengths = StrengthBook(*open("strengths.json"), "strengths.json");
    out->measure_words = MeasureWords(*open("measure_words.json"), "measure_words.json",
                                      Amounts(*open("amounts.json"), "amounts.json"));
    out->exercises = ExerciseBook(*open("exercises.json"), "exercises.json", out->faults);
    out->figure_errors = load_figure_errors(*open("figure_errors.json"), "figure_errors.json");
    return out;
}

}  // namespace aspen::core
