#include "app/files/data_files.hpp"

#include <QDir>
#include <QFile>
#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"

static void take_in_resources() { Q_INIT_RESOURCE(aspen_data); }

namespace aspen::app {

namespace {

/// What of an entry a coach may say otherwise; everything else would not be the same fault any more.
constexpr std::array<std::string_view, 11> kOwnWords{
    "id", "name", "says", "rider", "horse", "look_alike", "group", "seats", "gaits", "eye", "when"};

nlohmann::ordered_json patch_of(const OwnFile& own) {
    auto patch = core::reading::parse_in_order(own.text, own.name);
    if (!patch.is_object() || !patch.contains("id") || !patch["id"].is_string())
        throw core::Refused(own.name + ": is no change of a fault; it needs its id");
    for (const auto& [field, value] : patch.items()) {
        if (std::ranges::find(kOwnWords, field) == kOwnWords.end())
            throw core::Refused(own.name + ": \"" + field + "\" cannot be changed; take it out");
    }
    return patch;
}

std::string patched(const std::string& shipped, const std::vector<OwnFile>& own) {
    auto all = nlohmann::ordered_json::parse(shipped);
    for (const OwnFile& one : own) {
        const auto patch = patch_of(one);
        for (auto& entry : all["faults"]) {
            if (entry["id"] == patch["id"]) entry.merge_patch(patch);
        }
    }
    return all.dump();
}

/// Exercises that ship with what the coach says otherwise of them, and the coach's own behind them.
std::string with_own_exercises(const std::string& shipped, const std::vector<OwnFile>& own) {
    auto all = nlohmann::ordered_json::parse(shipped);
    for (const OwnFile& one : own) {
        const auto said = core::reading::parse_in_order(one.text, one.name);
        if (!said.is_object() || !said.contains("id") || !said["id"].is_string())
            throw core::Refused(one.name + ": is no exercise; it needs its id");
        auto& list = all["exercises"];
        const auto it = std::ranges::find_if(list, [&](const auto& e) { return e["id"] == said["id"]; });
        if (it == list.end())
            list.push_back(said);
        else
            it->merge_patch(said);
    }
    return all.dump();
}

}  // namespace

std::string shipped_text(const std::string& path) {
    take_in_resources();
    QFile file(":/aspen/data/" + QString::fromStdString(path));
    if (!file.open(QIODevice::ReadOnly))
        throw core::Refused(path + ": is missing from the program; install it again");
    return file.readAll().toStdString();
}

std::shared_ptr<const core::Knowledge> knowledge_with(const std::vector<OwnFile>& own,
                                                      const std::vector<OwnFile>& faults,
                                                      const std::vector<OwnFile>& exercises) {
    take_in_resources();
    const core::DataOpener open = [&](const std::string& path) -> std::unique_ptr<std::istream> {
        for (const OwnFile& one : own) {
            if (one.name == path) return std::make_unique<std::istringstream>(one.text);
        }
        std::string text = shipped_text(path);
        if (path == "faults.json" && !faults.empty()) text = patched(text, faults);
        if (path == "exercises.json" && !exercises.empty()) text = with_own_exercises(text, exercises);
        return std::make_unique<std::istringstream>(std::move(text));
    };
    std::vector<std::string> schools;
    for (const QString& name : QDir(":/aspen/data/schools").entryList({"*.json"}, QDir::Files, QDir::Name)) {
        schools.push_back("schools/" + name.toStdString());
    }
    for (const OwnFile& one : own) schools.push_back(one.name);
    return core::load_knowledge(open, schools);
}

std::shared_ptr<const core::Knowledge> shipped_knowledge() { return knowledge_with({}); }

}  // namespace aspen::app
