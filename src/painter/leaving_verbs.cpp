#include "painter/leaving_verbs.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <QGuiApplication>
#include <QTemporaryDir>
#include <algorithm>
#include <filesystem>
#include <functional>
#include <iostream>
#include <memory>
#include <nlohmann/json.hpp>
#include <ostream>
#include <sstream>
#include <stdexcept>

#include "app/files/data_files.hpp"
#include "app/files/whole_file.hpp"
#include "app/leaving/bundle_in.hpp"
#include "app/leaving/bundle_out.hpp"
#include "app/leaving/page_content.hpp"
#include "app/leaving/ride_json.hpp"
#include "app/leaving/tables.hpp"
#include "app/rides/rider_plan.hpp"
#include "core/reading/refused.hpp"
#include "exchange/calendar.hpp"
#include "painter/follow_verb.hpp"
#include "painter/reading_verb.hpp"

namespace aspen::painter {
namespace {

enum Exit { kDone = 0, kWrongUsage = 2, kRefused = 3, kFailed = 4 };  // as of the command line

struct WrongUsage : std::runtime_error {
    using std::runtime_error::runtime_error;
};

using Json = nlohmann::json;
using core::Refused;

struct LeavingSaid {
    std::string yard, rider, what, file, today;
    std::vector<std::string> who;
    bool json = false, child = false, grown_up = false, message = false;
};

/// Writing needs fonts and pictures, and no display.
class Painting {
  public:
    Painting() {
        if (QGuiApplication::instance()) return;
        qputenv("QT_QPA_PLATFORM", "offscreen");
        application_ = std::make_unique<QGuiApplication>(count_, arguments_);
    }

  private:
    int count_ = 1;
    char name_[6] = "aspen";
    char* arguments_[2] = {name_, nullptr};
    std::unique_ptr<QGuiApplication> application_;
};

std::unique_ptr<app::Yard> yard_at(const LeavingSaid& said) {
    if (!std::filesystem::exists(std::filesystem::path(said.yard) / "yard.db"))
        throw Refused(said.yard + ": is no yard; name the folder that holds yard.db");
    auto yard = std::make_unique<app::Yard>(QString::fromStdString(said.yard), app::shipped_knowledge());
    if (!said.today.empty()) {
        const QDate day = QDate::fromString(QString::fromStdString(said.today), Qt::ISODate);
        if (!day.isValid())
            throw WrongUsage("--today: \"" + said.today + "\" is no day; write it as 2026-11-24");
        yard->reckon_with(day);
    }
    return yard;
}

store::Rider rider_in(app::Yard& yard, const std::string& words) {
    for (const store::Rider& r : yard.records().people.riders()) {
        if (r.name == words || std::to_string(r.id.value) == words) return r;
    }
    throw Refused("rider: \"" + words + "\" is not in this yard; `rides YARD` lists who is");
}

app::Permit permitted(const app::PermitOrLine& asked) {
    if (!asked) throw Refused(asked.error().toStdString());
    return *asked;
}

/// Refuses with the line of what did not leave.
void left(const QString& trouble) {
    if (!trouble.isEmpty()) throw Refused(trouble.toStdString());
}
const QString kOnOutput = QStringLiteral("standard output");

int report(const LeavingSaid& said, std::ostream& out) {
    const Painting painting;
    const auto yard = yard_at(said);
    const store::Rider rider = rider_in(*yard, said.rider);
    const app::PageDraft draft = app::page_of(*yard, rider.id, nullptr, {},
                                              said.child      ? std::optional(true)
                                              : said.grown_up ? std::optional(false)
                                                              : std::nullopt);
    const app::Permit permit = permitted(app::ask_for_page(*yard, rider.id, draft));
    const app::Job job(0, {}, true);
    const auto read = app::PagePictures(*yard, draft, permit).read(job);
    if (!read.page) throw Refused(read.trouble.toStdString());
    if (!said.file.empty())
        left(app::write_page(*yard, {rider.id, *read.page, permit}, QString::fromStdString(said.file)));
    const std::string message = exchange::message_text(*read.page).toStdString();
    if (!said.json) {
        if (said.message || said.file.empty())
            left(app::hand_over(*yard, permit, {"message", "the message", kOnOutput, false},
                                [&] { out << message << '\n'; }));
        return kDone;
    }
    Json good = Json::array();
    for (const QString& g : read.page->good) good.push_back(g.toStdString());
    const Json whole{
        {"rider", rider.name},
        {"file", said.file.empty() ? Json(nullptr) : Json(said.file)},
        {"child", read.page->child},
        {"good", good},
        {"focus", read.page->focus.toStdString()},
        {"says", read.page->says.toStdString()},
        {"change", read.page->change.isEmpty() ? Json(nullptr) : Json(read.page->change.toStdString())},
        {"exercise", read.page->exercise.isEmpty() ? Json(nullptr) : Json(read.page->exercise.toStdString())},
        {"clip_on", read.page->clip_on.isEmpty() ? Json(nullptr) : Json(read.page->clip_on.toStdString())},
        {"faces", permit.covers_faces() ? "covered" : "bare"},
        {"message", message}};
    left(app::hand_over(*yard, permit, {"message", "the message", kOnOutput, false},
                        [&] { out << whole.dump(1) << '\n'; }));
    return kDone;
}

int export_bundle(app::Yard& yard, const LeavingSaid& said, const std::vector<store::RiderId>& riders,
                  std::ostream& out) {
    const Painting painting;
    std::vector<store::RideId> rides;
    for (const store::RiderId r : riders) {
        for (const store::RideId id : app::rides_with_clips(yard, r)) rides.push_back(id);
    }
    const app::Permit permit = permitted(app::ask_for_bundle(yard, rides));
    app::Job job(0, {}, true);
    const app::BundlePlan plan = app::bundle_of(yard, rides, permit);
    const app::Antechamber room(QString::fromStdString(said.file));
    left(room.trouble());
    const app::BundleMade made = app::write_bundle(plan, permit, room.inside(), job);
    left(room.said(made.trouble));
    left(app::leave(yard, permit,
                    {"bundle", std::to_string(rides.size()) + " rides", room.file(), true, made.sha256},
                    room));
    if (said.json)
        out << Json{{"file", said.file}, {"rides", plan.rides}, {"films", plan.films.size()}}.dump(1) << '\n';
    else
        out << plan.rides << " rides, " << plan.films.size() << " films: " << said.file << '\n';
    return kDone;
}

int export_what(const LeavingSaid& said, std::ostream& out) {
    const auto yard = yard_at(said);
    std::vector<store::RiderId> riders;
    for (const std::string& who : said.who) riders.push_back(rider_in(*yard, who).id);
    if (said.who.empty()) {
        for (const store::Rider& r : yard->records().people.riders()) riders.push_back(r.id);
    }
    if (said.what == "bundle") {
        if (said.file.empty()) throw WrongUsage("export: say where to with -o FILE.zip");
        return export_bundle(*yard, said, riders, out);
    }
    for (const app::Table table : app::kAllTables) {
        if (app::word(table) != said.what) continue;
        const app::Permit permit = permitted(app::ask_for_riders(*yard, riders, app::Use::page));
        if (said.file.empty()) {
            const std::string text = app::table_csv(*yard, permit, table);
            left(app::hand_over(*yard, permit, {"table", said.what, kOnOutput, false}, [&] { out << text; }));
            return kDone;
        }
        left(app::write_table(*yard, permit, table, QString::fromStdString(said.file)));
        if (said.json) out << Json{{"file", said.file}, {"table", said.what}}.dump(1) << '\n';
        return kDone;
    }
    throw WrongUsage("export: \"" + said.what +
                     "\" is none of bundle, rides, findings, measures, strides, log");
}

/// A rider's weeks as iCalendar, for `plan --calendar`.
int calendar(const LeavingSaid& said, std::ostream&) {
    const auto yard = yard_at(said);
    const store::Rider rider = rider_in(*yard, said.rider);
    const app::Permit permit = permitted(app::ask_for_rider(*yard, rider.id, app::Use::page));
    const auto p = app::plan_for(yard->records(), yard->knowledge(), rider.id, yard->today_iso());
    if (p && p->given && !p->given->shut.empty())
        throw Refused(p->given->exercise->name + " does not leave now: " + p->given->shut);
    if (!p || !p->homework || !p->given)
        throw Refused("calendar: the rider's days are not known; say them on the rider's plan in the window");
    std::ostringstream text;
    exchange::write_calendar(text, "Homework of " + rider.name,
                             app::calendar_days(*p, yard->knowledge(), yard->today_iso()),
                             yard->now().toUTC().toString("yyyy-MM-ddThh:mm:ss").toStdString());
    left(app::leave(
        *yard, permit, {"page", "the plan", QString::fromStdString(said.file), false},
        [&](const QString& to) { return app::write_whole(to, QByteArray::fromStdString(text.str())); }));
    return kDone;
}

int import_bundle(const LeavingSaid& said, std::ostream& out) {
    const auto yard = yard_at(said);
    app::Job job(0, {}, true);
    const app::UnpackedBundle bundle(QString::fromStdString(said.file), QString::fromStdString(said.yard),
                                     yard->knowledge().figure_errors, job);
    const app::TakenBundle taken = app::take_bundle(*yard, bundle);
    if (said.json)
        out << Json{{"sender", taken.sender},
                    {"rides", taken.rides},
                    {"clips", taken.clips},
                    {"moments", taken.moments},
                    {"known", taken.known}}
                   .dump(1)
            << '\n';
    else
        out << "from " << taken.sender << ": " << taken.rides << " rides, " << taken.clips << " clips, "
            << taken.moments << " moments\n";
    return kDone;
}

}  // namespace

namespace {

void add_leaving(CLI::App& app, std::function<int(std::ostream&)>& work) {
    auto said = std::make_shared<LeavingSaid>();
    const auto verb = [&](const char* name, const char* about,
                          int (*does)(const LeavingSaid&, std::ostream&)) {
        CLI::App* v = app.add_subcommand(name, about);
        v->add_flag("--json", said->json, "JSON on standard output");
        v->add_option("YARD", said->yard, "the yard's folder")->required();
        v->add_option("--today", said->today, "as if it were this day");
        v->callback(
            [said, &work, does] { work = [said, does](std::ostream& out) { return does(*said, out); }; });
        return v;
    };
    CLI::App* r = verb("report", "a rider's page: PDF or HTML by the file's ending, or the message", report);
    r->add_option("RIDER", said->rider, "name or number")->required();
    r->add_option("-o", said->file, "page.pdf or page.html");
    r->add_flag("--child", said->child, "a page for a child, whatever the birth year says");
    r->add_flag("--grown-up", said->grown_up, "a page for a grown-up");
    r->add_flag("--message", said->message, "the message to paste, too");
    CLI::App* e = verb("export", "a bundle for another yard, or a table as CSV", export_what);
    e->add_option("WHAT", said->what, "bundle, rides, findings, measures, strides, log")->required();
    e->add_option("RIDERS", said->who, "names or numbers; all where none is named");
    e->add_option("-o", said->file, "where to; tables go to standard output without it");
    CLI::App* c = verb("calendar", "a rider's weeks as iCalendar", calendar);
    c->add_option("RIDER", said->rider, "name or number")->required();
    c->add_option("-o", said->file, "weeks.ics")->required();
    verb("import", "a bundle of another yard", import_bundle)->add_option("FILE.zip", said->file)->required();
}

}  // namespace

int run(const std::vector<std::string>& arguments, std::ostream& out, std::ostream& err) {
    CLI::App app{"What leaves a yard and what comes into it.", "aspen-crest-cli"};
    app.require_subcommand(1);
    std::function<int(std::ostream&)> work;
    add_leaving(app, work);
    add_reading(app, work);
    add_following(app, work);
    const std::string verb = arguments.empty() ? std::string("aspen-crest-cli") : arguments[0];
    try {
        app.parse(std::vector<std::string>(arguments.rbegin(), arguments.rend()));
        const int code = work(out);
        out.flush();
        return out ? code : kFailed;
    } catch (const CLI::ParseError& e) {
        if (e.get_exit_code() == 0) return app.exit(e, out, err);
        err << verb << ": " << e.what() << "; --help says how\n";
        return kWrongUsage;
    } catch (const WrongUsage& e) {
        err << e.what() << '\n';
        return kWrongUsage;
    } catch (const Refused& e) {
        err << e.what() << '\n';
        return kRefused;
    } catch (const std::exception& e) {
        err << verb << ": " << e.what() << "; nothing was left half-written\n";
        return kFailed;
    }
}

}  // namespace aspen::painter
