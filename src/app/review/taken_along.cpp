#include "app/review/taken_along.hpp"

#include <QFileInfo>
#include <QObject>
#include <QUuid>
#include <algorithm>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "app/files/whole_file.hpp"
#include "core/reading/refused.hpp"
#include "exchange/reader_corrections.hpp"

namespace aspen::app {
namespace {

constexpr auto kOwnName = "corrections_of_yard", kTakenAlong = "corrections_taken_along";
constexpr int kMostRiders = 1000, kMostFigures = 200;

/// By yard, each as its file's text.
std::vector<exchange::YardsCorrections> kept_corrections(const Yard& yard) {
    std::vector<exchange::YardsCorrections> out;
    const auto kept =
        nlohmann::json::parse(yard.records().settings.setting(kTakenAlong, "[]"), nullptr, false);
    for (const auto& text : kept.is_array() ? kept : nlohmann::json::array()) {
        if (!text.is_string()) continue;
        std::istringstream in(text.get<std::string>());
        try {
            out.push_back(exchange::read_corrections(in, kTakenAlong));
        } catch (const core::Refused&) {
            continue;  // of a program that came later; nothing rests on it
        }
    }
    return out;
}

std::string text_of(const exchange::YardsCorrections& corrections) {
    std::ostringstream text;
    exchange::write_corrections(text, corrections);
    return text.str();
}

std::string own_name(Yard& yard) {
    std::string name = yard.records().settings.setting(kOwnName, "");
    if (name.empty()) {
        name = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
        yard.set(kOwnName, name);
    }
    return name;
}

}  // namespace

QString save_corrections(Yard& yard, const QString& file) {
    exchange::YardsCorrections own{own_name(yard), {}};
    for (const auto& figures :
         yard.records().reviews.placed_figures_of_others({}, kMostRiders, kMostFigures)) {
        core::RiderCorrections rider = core::corrections_in(figures);
        if (!rider.empty()) own.riders.push_back(std::move(rider));
    }
    if (own.riders.empty())
        return QObject::tr(
            "No joint that the program read was moved by hand yet: there is nothing to take along.");
    return write_whole(file, QByteArray::fromStdString(text_of(own)));
}

QString take_corrections(Yard& yard, const QString& file) {
    try {
        std::ifstream in(file.toStdString());
        if (!in) return file + QObject::tr(": cannot be opened; check the path.");
        const auto taken = exchange::read_corrections(in, QFileInfo(file).fileName().toStdString());
        if (taken.yard == yard.records().settings.setting(kOwnName, ""))
            return QObject::tr("%1: holds this yard's own corrections; they count already.")
                .arg(QFileInfo(file).fileName());
        auto kept = kept_corrections(yard);
        std::erase_if(kept, [&](const exchange::YardsCorrections& k) { return k.yard == taken.yard; });
        kept.push_back(taken);
        nlohmann::json texts = nlohmann::json::array();
        for (const exchange::YardsCorrections& k : kept) texts.push_back(text_of(k));
        yard.set(kTakenAlong, texts.dump());
        return {};
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

std::vector<core::RiderCorrections> taken_along(const Yard& yard) {
    std::vector<core::RiderCorrections> out;
    for (exchange::YardsCorrections& k : kept_corrections(yard))
        std::ranges::move(k.riders, std::back_inserter(out));
    return out;
}

}  // namespace aspen::app
