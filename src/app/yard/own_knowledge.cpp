#include "app/yard/own_knowledge.hpp"

#include <nlohmann/json.hpp>
#include <sstream>

#include "app/files/data_files.hpp"
#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

constexpr const char* kSchool = "school";
constexpr const char* kFault = "fault";
constexpr const char* kExercise = "exercise";

}  // namespace

std::shared_ptr<const core::Knowledge> knowledge_of(const Yard& yard) {
    std::vector<OwnFile> own;
    for (const auto& [id, body] : yard.records().settings.own_data(kSchool))
        own.push_back({"own/" + id + ".json", body});
    std::vector<OwnFile> faults;
    for (const auto& [id, body] : yard.records().settings.own_data(kFault))
        faults.push_back({"own/fault/" + id + ".json", body});
    std::vector<OwnFile> exercises;
    for (const auto& [id, body] : yard.records().settings.own_data(kExercise))
        exercises.push_back({"own/exercise/" + id + ".json", body});
    return knowledge_with(own, faults, exercises);
}

std::string own_exercise(const Yard& yard, const std::string& id) {
    for (const auto& [known, body] : yard.records().settings.own_data(kExercise)) {
        if (known == id) return body;
    }
    return {};
}

void put_own_exercise(Yard& yard, const std::string& id, const std::string& json) {
    yard.step(QObject::tr("Change an exercise"), [&](store::YardStore& records) {
        records.settings.put_own_data(kExercise, id, json);
        knowledge_of(yard);  // refused here, nothing is kept
    });
}

void hide_exercise(Yard& yard, const std::string& id, bool hidden) {
    const std::string before = own_exercise(yard, id);
    auto patch = before.empty() ? nlohmann::ordered_json{{"id", id}}
                                : core::reading::parse_in_order(before, "exercise " + id);
    patch["hidden"] = hidden;
    put_own_exercise(yard, id, patch.dump());
}

void remove_own_exercise(Yard& yard, const std::string& id) {
    if (own_exercise(yard, id).empty()) return;
    yard.step(QObject::tr("An exercise as it ships"), [&](store::YardStore& records) {
        records.settings.remove_own_data(kExercise, id);
        knowledge_of(yard);
    });
}

std::string own_fault(const Yard& yard, const std::string& id) {
    for (const auto& [known, body] : yard.records().settings.own_data(kFault)) {
        if (known == id) return body;
    }
    return {};
}

void change_own_fault(Yard& yard, const std::string& id, const std::string& field, const std::string& value) {
    const std::string before = own_fault(yard, id);
    auto patch = before.empty() ? nlohmann::ordered_json{{"id", id}}
                                : core::reading::parse_in_order(before, "fault " + id);
    const auto said = core::reading::parse_in_order(value, "fault " + id);
    if (said.is_null())
        patch.erase(field);
    else
        patch[field] = said;
    if (patch.size() == 1) return remove_own_fault(yard, id);
    yard.step(QObject::tr("Change a rule"), [&](store::YardStore& records) {
        records.settings.put_own_data(kFault, id, patch.dump());
        knowledge_of(yard);  // refused here, nothing is kept
    });
}

void remove_own_fault(Yard& yard, const std::string& id) {
    if (own_fault(yard, id).empty()) return;
    yard.step(QObject::tr("A rule as it ships"),
              [&](store::YardStore& records) { records.settings.remove_own_data(kFault, id); });
}

void put_own_school(Yard& yard, const std::string& id, const std::string& json) {
    yard.step(QObject::tr("Change a school"), [&](store::YardStore& records) {
        records.settings.put_own_data(kSchool, id, json);
        knowledge_of(yard);  // refused here, nothing is kept
    });
}

void remove_own_school(Yard& yard, const std::string& id) {
    yard.step(QObject::tr("Take a school away"), [&](store::YardStore& records) {
        records.settings.remove_own_data(kSchool, id);
        knowledge_of(yard);
    });
}

std::string school_copied(const Yard& yard, const std::string& from, const std::string& id,
                          const std::string& name) {
    // Everything is inherited until it is changed: the copy says only what is its own.
    const core::School* school = yard.knowledge().schools.find(from);
    if (!school) throw core::Refused("school \"" + from + "\": is not known; choose one of the list");
    nlohmann::ordered_json out{{"id", id},
                               {"name", name},
                               {"about", "after " + school->name},
                               {"source", "the coach's own"},
                               {"inherits", from},
                               {"sections", nlohmann::ordered_json::object()}};
    return out.dump(1);
}

}  // namespace aspen::app
