#include "app/planning/plan_desk.hpp"

#include <QDateTime>
#include <QLocale>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <sstream>

#include "app/files/text.hpp"
#include "app/files/whole_file.hpp"
#include "app/leaving/gate.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/ride.hpp"
#include "core/training/session_json.hpp"
#include "exchange/calendar.hpp"
#include "exchange/fridge_page.hpp"
#include "exchange/practice_log.hpp"
#include "exchange/practice_page.hpp"

namespace aspen::app {
namespace {

/// Runs a change and gives its refusal in one line.
template <typename Work>
QString line_of(Work work) {
    try {
        work();
        return {};
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

}  // namespace

PlanDesk::PlanDesk(Bench& bench, QObject* parent)
    : QObject(parent), bench_(bench), later_(*this, [this] { refresh(); }), picture_(bench.yard()) {
    const auto later = [this] { later_(); };
    Yard& yard = bench_.yard();
    connect(&picture_, &FocusPicture::changed, this, &PlanDesk::changed);
    connect(&bench_, &Bench::changed, this, [later](const BenchState&, BenchParts what) {
        if (what & BenchPart::findings) later();
    });
    connect(&yard, &Yard::corrections_changed, this, later);
    connect(&yard, &Yard::riders_changed, this, later);
    connect(&yard, &Yard::training_changed, this, later);
    connect(&yard, &Yard::lessons_changed, this, later);
    connect(&yard, &Yard::knowledge_changed, this, later);
}

void PlanDesk::show(store::RiderId rider) {
    if (rider_ != rider) {
        chosen_.clear();
        again_ = false;
    }
    rider_ = rider;
    refresh();
}

void PlanDesk::refresh() {
    Yard& yard = bench_.yard();
    knowledge_ = yard.shared_knowledge();
    from_review_ =
        bench_.is_open() && bench_.review().rider() == rider_ && bench_.findings().focus().has_value();
    const std::string fault = from_review_ ? bench_.findings().focus()->fault->id : std::string();
    plan_ = rider_ ? plan_for(yard.records(), *knowledge_, rider_, yard.today_iso(), fault) : std::nullopt;
    if (plan_ && from_review_) {
        // What the open ride says of its own day decides what may be offered.
        plan_->needs = needs_of(yard.records(), *knowledge_, rider_, bench_.review().horse(),
                                yard.today_iso(), &bench_.review().ride());
        plan_->horse = yard.records().people.horse(bench_.review().horse());
        core::ChoiceAsk ask;
        ask.fault = fault;
        ask.rider = plan_->needs;
        ask.minutes = plan_->weeks.minutes;
        ask.arena = plan_->weeks.arena;
        ask.helper = plan_->weeks.helper;
        ask.equipment = equipment_of(yard.records(), *knowledge_);
        plan_->drives.clear();
        for (const core::Cause& c : bench_.findings().causes()) {
            const core::Fault* to = c.from == fault ? knowledge_->faults.find(c.to) : nullptr;
            if (!to) continue;
            ask.drives.push_back(to->id);
            plan_->drives.emplace_back(to, c.because);
        }
        plan_->candidates = core::candidates(knowledge_->exercises, knowledge_->faults, ask);
        plan_->set_aside.clear();
        for (const core::Offer& o : knowledge_->exercises.offers(fault, ask.rider)) {
            if (!o.set_aside.empty()) plan_->set_aside.push_back(o);
        }
    }
    const core::Fault* shown = plan_ ? plan_->fault : nullptr;
    picture_.show(shown
                      ? focus_frame(yard, rider_, plan_->horse ? plan_->horse->id : store::HorseId{}, *shown)
                      : std::nullopt);
    read_session();
    emit changed();
}

const core::Exercise* PlanDesk::exercise() const {
    if (!plan_) return nullptr;
    if (is_given()) return plan_->given->exercise;
    for (const core::Candidate& c : plan_->candidates) {
        if (c.exercise->id == chosen_) return c.exercise;
    }
    return plan_->candidates.empty() ? nullptr : plan_->candidates.front().exercise;
}

bool PlanDesk::is_given() const { return plan_ && plan_->given && !again_; }

void PlanDesk::choose(const core::Exercise* exercise) {
    chosen_ = exercise ? exercise->id : std::string();
    read_session();
    emit changed();
}

void PlanDesk::choose_again() {
    again_ = !again_;
    chosen_.clear();
    emit changed();
}

QString PlanDesk::give() {
    const core::Exercise* e = exercise();
    if (!e || is_given()) return tr("There is nothing to give.");
    const QString line = line_of([&] {
        if (from_review_)
            prescribe(bench_.yard(), bench_.review().ride().id, *bench_.findings().focus_seen(),
                      bench_.findings().accepted(), *e);
        else if (plan_->correction)
            give_exercise(bench_.yard(), *plan_->correction, *e);
        else
            throw core::Refused(
                "exercise: is given for what is in work; review a ride and keep its focus first");
    });
    if (line.isEmpty()) {
        again_ = false;
        chosen_.clear();
        refresh();
    }
    return line;
}

QString PlanDesk::take_away() {
    if (!is_given()) return tr("Nothing is given.");
    return line_of([&] { withdraw(bench_.yard(), plan_->given->record); });
}

QString PlanDesk::write_down(const core::Practice& practice) {
    if (!is_given()) return tr("Give an exercise first; then its rides are written down here.");
    store::PracticeEntry entry;
    entry.rider = rider_;
    if (plan_->horse) entry.horse = plan_->horse->id;
    entry.done = practice;
    entry.done.exercise = plan_->given->exercise->id;
    if (entry.done.day.empty()) entry.done.day = bench_.yard().today_iso();
    if (entry.done.rung < 0) entry.done.rung = plan_->given->place.rung;
    const std::string beyond =
        knowledge_->exercises.rung_offer(*plan_->given->exercise, entry.done.rung, plan_->needs).set_aside;
    const core::Rung& rung = plan_->given->exercise->dose.ladder[static_cast<std::size_t>(entry.done.rung)];
    if (const QString line = line_of([&] { add_practice(bench_.yard(), entry); }); !line.isEmpty())
        return line;
    refresh();
    if (practice.pain)
        return tr("Written down. It hurt: the ladder stands still. ") + text(plan_->given->exercise->caution);
    const QString said = text(core::said_of(entry.done, rung));
    return beyond.empty() ? tr("Written down: ") + said + "."
                          : tr("Written down: %1. Beyond what stands: %2.").arg(said, text(beyond));
}

QString PlanDesk::take_back_last() {
    const auto all = bench_.yard().records().training.practice_of(rider_);
    if (all.empty()) return tr("Nothing is written down.");
    const auto newest =
        std::ranges::max_element(all, {}, [](const store::PracticeEntry& e) { return e.id.value; });
    return line_of([&] { remove_practice(bench_.yard(), newest->id); });
}

QString PlanDesk::sign_off(const std::string& gate) {
    if (!plan_ || !plan_->horse) return tr("Sign-offs are per horse; say which horse first.");
    return line_of([&] { app::sign_off(bench_.yard(), rider_, plan_->horse->id, gate); });
}

std::vector<std::string> PlanDesk::gates() const {
    std::vector<std::string> out;
    const auto add = [&](const std::string& gate) {
        if (!gate.empty() && std::ranges::find(out, gate) == out.end()) out.push_back(gate);
    };
    if (!plan_ || !plan_->horse) return out;
    if (!is_given()) {
        for (const core::Offer& o : plan_->set_aside) add(o.gate);
    }
    if (const core::Exercise* e = exercise()) {
        for (std::size_t i = 0; i < e->dose.ladder.size(); ++i)
            add(knowledge_->exercises.rung_offer(*e, static_cast<int>(i), plan_->needs).gate);
    }
    return out;
}

void PlanDesk::change_weeks(const std::function<void(store::RiderPlan&)>& change) {
    if (!rider_) return;
    store::RiderPlan plan = bench_.yard().records().training.plan_of(rider_);
    change(plan);
    put_plan(bench_.yard(), plan);
}

void PlanDesk::toggle_day(int weekday) {
    change_weeks([&](store::RiderPlan& p) {
        auto days = core::weekdays_in(p.days);
        const auto it = std::ranges::find(days, weekday);
        if (it == days.end())
            days.push_back(weekday);
        else
            days.erase(it);
        std::ranges::sort(days);
        p.days.clear();
        for (const int d : days)
            p.days += (p.days.empty() ? "" : " ") + std::string(core::kWeekdays[static_cast<std::size_t>(d)]);
    });
}
void PlanDesk::set_minutes(int minutes) {
    change_weeks([&](store::RiderPlan& p) {
        p.minutes = std::clamp(minutes, 20, 90);
        p.session.clear();
    });
}
void PlanDesk::set_arena(bool there) {
    change_weeks([&](store::RiderPlan& p) { p.arena = there; });
}
void PlanDesk::set_helper(bool there) {
    change_weeks([&](store::RiderPlan& p) { p.helper = there; });
}

void PlanDesk::next_line(bool for_horse) {
    if (!plan_) return;
    const auto& could = for_horse ? plan_->horse_lines : plan_->off_lines;
    change_weeks([&](store::RiderPlan& p) {
        std::string& line = for_horse ? p.for_horse : p.off_horse;
        const auto at = std::ranges::find(could, line, [](const core::Exercise* e) { return e->id; });
        // What stands is not among them: one that is shut now, or nothing yet.
        const auto next = line.empty() ? could.begin() : at == could.end() ? could.end() : std::next(at);
        line = next == could.end() ? std::string() : (*next)->id;
    });
}

void PlanDesk::set_equipment(const std::string& what, bool there) {
    const store::YardStore& records = bench_.yard().records();
    QStringList missing = text(records.settings.setting("no_equipment")).split(';', Qt::SkipEmptyParts);
    missing.removeAll(text(what));
    if (!there) missing << text(what);
    bench_.yard().set("no_equipment", missing.join(';').toStdString());
    refresh();
}
bool PlanDesk::has_equipment(const std::string& what) const {
    return !text(bench_.yard().records().settings.setting("no_equipment")).split(';').contains(text(what));
}

QString PlanDesk::beyond() const {
    if (!is_given()) return {};
    const std::string why =
        knowledge_->exercises.rung_offer(*plan_->given->exercise, plan_->given->place.rung, plan_->needs)
            .set_aside;
    return why.empty() ? QString()
                       : tr("%1 does not leave now: %2.").arg(text(plan_->given->exercise->name), text(why));
}

QString PlanDesk::take_in_log(const QString& file) {
    std::ifstream in(file.toStdString());
    if (!in) return tr("%1: cannot be opened; check the path.").arg(file);
    QString said;
    const QString line = line_of([&] {
        const auto read = exchange::read_practice(in, file.toStdString(), [&](const std::string& words) {
            return exercise_called(*knowledge_, words);
        });
        TakenIn taken;
        bench_.yard().step(tr("Take in a practice log"), [&](store::YardStore& records) {
            taken = take_in_practice(records, *knowledge_, rider_, read.rows);
        });
        said = tr("%1 rides taken in, %2 known already").arg(taken.added).arg(taken.known);
        if (!read.passed_over.empty())
            said += tr("; %1 passed over, the first: %2")
                        .arg(read.passed_over.size())
                        .arg(text(read.passed_over[0]));
        if (!taken.beyond.empty()) said += tr("; beyond what stands: %1").arg(text(taken.beyond[0]));
        said += ".";
    });
    return line.isEmpty() ? said : line;
}

QString PlanDesk::save_calendar(const QString& file) {
    if (const QString line = beyond(); !line.isEmpty()) return line;
    if (!plan_ || !plan_->homework)
        return tr("Say on which days the rider rides; then there are weeks to save.");
    const PermitOrLine asked = ask_for_rider(bench_.yard(), rider_, Use::page);
    if (!asked) return asked.error();
    std::ostringstream out;
    const QString line = line_of([&] {
        exchange::write_calendar(out, tr("Homework of %1").arg(text(plan_->rider.name)).toStdString(),
                                 calendar_days(*plan_, bench_.yard().knowledge(), bench_.yard().today_iso()),
                                 bench_.yard().now().toUTC().toString("yyyy-MM-ddThh:mm:ss").toStdString());
    });
    if (!line.isEmpty()) return line;
    return saved(asked, file,
                 [&](const QString& to) { return write_whole(to, QByteArray::fromStdString(out.str())); });
}

QString PlanDesk::save_log_page(const QString& file) {
    if (!is_given()) return tr("Give an exercise first; the page is for writing its rides down.");
    const PermitOrLine asked = ask_for_rider(bench_.yard(), rider_, Use::page);
    if (!asked) return asked.error();
    if (const QString line = beyond(); !line.isEmpty()) return line;
    std::ostringstream out;
    const QString failed = line_of([&] {
        exchange::PracticePage page{text(plan_->rider.name).section(' ', 0, 0).toStdString(),
                                    plan_->given->exercise->id,
                                    goes_home(*plan_, bench_.yard().knowledge(), bench_.yard().today_iso()),
                                    coach_of(bench_.yard()).toStdString()};
        for (const core::HomeworkLine& l : plan_->lines) page.lines.push_back(l.spoken());
        exchange::write_practice_page(out, page);
    });
    if (!failed.isEmpty()) return failed;
    return saved(asked, file,
                 [&](const QString& to) { return write_whole(to, QByteArray::fromStdString(out.str())); });
}

QString PlanDesk::save_fridge_page(const QString& file) {
    if (const QString line = beyond(); !line.isEmpty()) return line;
    if (!plan_ || !plan_->homework)
        return tr("Say on which days the rider rides; then there are weeks to save.");
    const PermitOrLine asked = ask_for_rider(bench_.yard(), rider_, Use::page);
    if (!asked) return asked.error();
    exchange::FridgePage page;
    page.rider = text(plan_->rider.name);
    if (plan_->horse) page.horse = text(plan_->horse->name);
    page.coach = coach_of(bench_.yard());
    const QString failed =
        line_of([&] { page.home = goes_home(*plan_, bench_.yard().knowledge(), bench_.yard().today_iso()); });
    if (!failed.isEmpty()) return failed;
    for (const core::HomeworkLine& l : plan_->lines) page.lines << text(l.spoken());
    page.weeks = plan_->homework->weeks;
    const QDate on = QDate::fromString(text(plan_->homework->clip_on), Qt::ISODate);
    page.clip_on = QLocale(QLocale::English).toString(on, "dddd d MMMM");
    for (const std::string& s : plan_->homework->shots) page.shots << text(s);
    for (int d = 1; d <= 7; ++d) page.words << QLocale(QLocale::English).dayName(d, QLocale::ShortFormat);
    return saved(asked, file, [&](const QString& to) {
        exchange::write_fridge_page(page, to);
        return QString();
    });
}

/// The line that is said: where it went, or why it did not.
QString PlanDesk::saved(const PermitOrLine& permit, const QString& file,
                        const std::function<QString(const QString&)>& write) {
    const QString line =
        leave(bench_.yard(), *permit, {"page", tr("the plan").toStdString(), file, false}, write);
    return line.isEmpty() ? tr("Saved: ") + file : line;
}

void PlanDesk::read_session() {
    session_ = {};
    broken_.clear();
    no_session_.clear();
    if (!plan_) return;
    Yard& yard = bench_.yard();
    ask_ = session_ask(yard.records(), *knowledge_, *plan_, yard.today_iso());
    if (!is_given() && exercise()) {
        std::erase_if(ask_.works, [&](const core::SessionWork& w) { return w.exercise == exercise(); });
        ask_.works.insert(ask_.works.begin(), {exercise(), 0});
    }
    no_session_ = line_of([&] {
        session_ = plan_->weeks.session.empty() ? core::plan_session(ask_, knowledge_->exercises)
                                                : core::session_from(plan_->weeks.session);
        broken_ = core::broken_rules(session_, ask_, knowledge_->exercises);
    });
}

bool PlanDesk::own_session() const { return plan_ && !plan_->weeks.session.empty(); }

void PlanDesk::keep_session(const core::Session& session) {
    change_weeks([&](store::RiderPlan& p) { p.session = core::as_json(session); });
    refresh();
}

void PlanDesk::move_block(int from_block, int to_block) {
    const int n = static_cast<int>(session_.blocks.size());
    if (from_block < 0 || from_block >= n || to_block < 0 || to_block >= n || from_block == to_block) return;
    core::Session s = session_;
    const core::Block moved = s.blocks[static_cast<std::size_t>(from_block)];
    s.blocks.erase(s.blocks.begin() + from_block);
    s.blocks.insert(s.blocks.begin() + to_block, moved);
    keep_session(s);
}

void PlanDesk::change_block(int block, int seconds) {
    if (block < 0 || block >= static_cast<int>(session_.blocks.size())) return;
    core::Session s = session_;
    int& now = s.blocks[static_cast<std::size_t>(block)].seconds;
    now = std::clamp(now + seconds, 30, 3600);
    keep_session(s);
}

void PlanDesk::drop_block(int block) {
    if (block < 0 || block >= static_cast<int>(session_.blocks.size())) return;
    core::Session s = session_;
    s.blocks.erase(s.blocks.begin() + block);
    keep_session(s);
}

void PlanDesk::plan_session_again() {
    change_weeks([](store::RiderPlan& p) { p.session.clear(); });
    refresh();
}

}  // namespace aspen::app

#include "moc_plan_desk.cpp"
