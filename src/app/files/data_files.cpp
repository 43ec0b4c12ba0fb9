#include "app/files/data_files.hpp"

#include <QDir>
#include <QFile>
#include <sstream>

#include "core/reading/refused.hpp"

static void take_in_resources() { Q_INIT_RESOURCE(aspen_data); }

namespace aspen::app {

std::shared_ptr<const core::Knowledge> knowledge_with(const std::vector<OwnFile>& own) {
    take_in_resources();
    const core::DataOpener open = [&own](const std::string& path) -> std::unique_ptr<std::istream> {
        for (const OwnFile& one : own) {
            if (one.name == path) return std::make_unique<std::istringstream>(one.text);
        }
        QFile file(":/aspen/data/" + QString::fromStdString(path));
        if (!file.open(QIODevice::ReadOnly))
            throw core::Refused(path + ": is missing from the program; install it again");
        return std::make_unique<std::istringstream>(file.readAll().toStdString());
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
