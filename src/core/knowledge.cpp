#include "core/knowledge.hpp"

#include <istream>

namespace aspen::core {

std::unique_ptr<const Knowledge> load_knowledge(const DataOpener& open,
                                                const std::vector<std::string>& schools) {
    auto out = std::make_unique<Knowledge>();
    out->body = load_body(*open("body.json"), "body.json");
    std::vector<School> loaded;
    for (const std::string& path : schools) loaded.push_back(load_school(*open(path), path));
    out->schools = Schools(std::move(loaded));
    const auto faults = open("faults.json");
    const auto causes = open("causes.json");
    out->faults = FaultBook(*faults, "faults.json", *causes, "causes.json");
    out->exercises = ExerciseBook(*open("exercises.json"), "exercises.json", out->faults);
    out->figure_errors = load_figure_errors(*open("figure_errors.json"), "figure_errors.json");
    return out;
}

Assessment assess(const Figure& figure, const Setting& setting, const Knowledge& knowledge) {
    Assessment out;
    out.judged = judge(figure, setting, knowledge.body, knowledge.schools);
    out.faults = knowledge.faults.look_for(out.judged, setting, figure.view);
    out.causes = knowledge.faults.causes_among(out.faults);
    out.focus = choose_focus(out.faults, out.causes);
    return out;
}

}  // namespace aspen::core
