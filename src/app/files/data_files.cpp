#include "app/files/data_files.hpp"

#include <QDir>
#include <QFile>
#include <sstream>

#include "core/reading/refused.hpp"

static void take_in_resources() { Q_INIT_RESOURCE(aspen_data); }

namespace aspen::app {

std::shared_ptr<const core::Knowledge> shipped_knowledge() {
    take_in_resources();
    const core::DataOpener open = [](const std::string& path) -> std::unique_ptr<std::istream> {
        QFile file(":/aspen/data/" + QString::fromStdString(path));
        if (!file.open(QIODevice::ReadOnly))
            throw core::Refused(path + ": is missing from the program; install it again");
        return std::make_unique<std::istringstream>(file.readAll().toStdString());
    };
    std::vector<std::string> schools;
    for (const QString& name : QDir(":/aspen/data/schools").entryList({"*.json"}, QDir::Files, QDir::Name)) {
        schools.push_back("schools/" + name.toStdString());
    }
    return core::load_knowledge(open, schools);
}

}  // namespace aspen::app
