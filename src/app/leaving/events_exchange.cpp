#include "app/leaving/events_exchange.hpp"

#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <sstream>

#include "app/files/whole_file.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "exchange/events.hpp"

namespace aspen::app {
namespace {

constexpr double kSameInstantS = 5e-4;  // half of what the file writes

std::vector<exchange::EventRow> rows_of(Bench& bench) {
    const Review& review = bench.review();
    std::vector<exchange::EventRow> out;
    for (const store::Event& e : bench.yard().records().reviews.events(review.ride().id)) {
        if (e.clip == review.clip().id && e.slot == review.slot())
            out.push_back({e.time_s, e.event, e.detail});
    }
    return out;
}

}  // namespace

QString export_events(Bench& bench, const QString& file) {
    if (!bench.is_open()) return QObject::tr("There is no open clip whose events could be saved.");
    const auto rows = rows_of(bench);
    if (rows.empty()) return QObject::tr("Nothing was logged in this clip yet.");
    const PermitOrLine asked = ask_to_leave(bench.yard(), bench.review().clip(), Use::page);
    if (!asked) return asked.error();
    std::ostringstream text;
    exchange::write_events(text, rows);
    return leave(bench.yard(), *asked, {"events", about_clip(bench), file, false},
                 [&](const QString& to) { return write_whole(to, QByteArray::fromStdString(text.str())); });
}

QString import_events(Bench& bench, const QString& file) {
    if (!bench.is_open() || !bench.deck().ready())
        return QObject::tr("Open the clip first that the events belong to.");
    try {
        std::ifstream in(file.toStdString());
        if (!in) return file + QObject::tr(": cannot be opened; check the path.");
        const std::string name = QFileInfo(file).fileName().toStdString();
        const auto rows = exchange::read_events(in, name);
        const media::ClipFacts& facts = bench.deck().facts();
        const double end = facts.pts_s.front() + facts.duration_s;
        if (!rows.empty() &&
            (rows.front().time_s < facts.pts_s.front() - kSameInstantS || rows.back().time_s > end))
            return QObject::tr("%1: has events outside this clip's %2 s; choose the events of this clip.")
                .arg(QString::fromStdString(name))
                .arg(facts.duration_s, 0, 'f', 1);
        const auto there = rows_of(bench);
        bench.yard().step(QObject::tr("Take in events"), [&](store::YardStore& records) {
            for (const exchange::EventRow& row : rows) {
                const bool known = std::ranges::any_of(there, [&](const exchange::EventRow& t) {
                    return t.event == row.event && t.detail == row.detail &&
                           std::abs(t.time_s - row.time_s) < kSameInstantS;
                });
                if (known) continue;
                store::Event e;
                e.ride = bench.review().ride().id;
                e.clip = bench.review().clip().id;
                e.slot = bench.review().slot();
                e.time_s = row.time_s;
                e.event = row.event;
                e.detail = row.detail;
                records.add(e);
            }
        });
        return {};
    } catch (const std::exception& e) {
        return QString::fromUtf8(e.what());
    }
}

}  // namespace aspen::app
