#include "app/following/progress_desk.hpp"

#include <algorithm>

#include "app/files/text.hpp"
#include "app/following/asking.hpp"
#include "app/yard/changes.hpp"
#include "core/body/vocabulary.hpp"

namespace aspen::app {
ProgressDesk::ProgressDesk(Yard& yard, QObject* parent)
    : QObject(parent), yard_(yard), later_(*this, [this] {
          stale_ = !live_;
          if (live_) refresh();
      }) {
    const auto later = [this] { later_(); };
    const auto ridden = [this] {
        years_.reset();
        later_();
    };
    connect(&yard_, &Yard::corrections_changed, this, later);
    connect(&yard_, &Yard::training_changed, this, later);
    connect(&yard_, &Yard::followed_changed, this, later);
    // What was ridden and judged is read anew only where that changed.
    connect(&yard_, &Yard::ride_changed, this, ridden);
    connect(&yard_, &Yard::clip_changed, this, ridden);
    connect(&yard_, &Yard::stretches_changed, this, ridden);
    connect(&yard_, &Yard::marks_changed, this, ridden);
    connect(&yard_, &Yard::events_changed, this, ridden);
    connect(&yard_, &Yard::riders_changed, this, ridden);
    connect(&yard_, &Yard::knowledge_changed, this, ridden);
    connect(&yard_, &Yard::findings_changed, this, ridden);
}

void ProgressDesk::show(store::RiderId rider) {
    if (rider != rider_) chosen_ = {};
    rider_ = rider;
    years_.reset();
    refresh();
}

QString ProgressDesk::rider_name() const {
    const auto rider = yard_.records().people.rider(rider_);
    return rider ? QString::fromStdString(rider->name) : QString();
}

void ProgressDesk::set_live(bool live) {
    live_ = live;
    if (live && stale_) refresh();
}

void ProgressDesk::refresh() {
    stale_ = false;
    all_.clear();
    marks_.clear();
    if (rider_) {
        if (!years_) years_ = read_years(yard_.records(), yard_.knowledge(), rider_);
        all_ = lanes_of(yard_.records(), yard_.knowledge(), rider_, yard_.today_iso(), *years_);
        marks_ = time_marks(yard_.records(), rider_);
    }
    sift();
}

void ProgressDesk::sift() {
    shown_.clear();
    for (const By by : kFilters) {
        const auto there = values(by);
        QString& chosen = chosen_[static_cast<std::size_t>(by)];
        if (std::ranges::find(there, chosen) == there.end()) chosen.clear();
    }
    for (const Lane& lane : all_) {
        const bool let_through = std::ranges::all_of(kFilters, [&](By by) {
            const QString& chosen = chosen_[static_cast<std::size_t>(by)];
            return chosen.isEmpty() || chosen == value_of(by, lane);
        });
        if (let_through) shown_.push_back(lane);
    }
    emit changed();
}

QString ProgressDesk::value_of(By filter, const Lane& lane) const {
    const core::SeenIn& seen = lane.correction.seen;
    switch (filter) {
        case By::horse:
            return lane.horse.isEmpty() ? tr("the mechanical horse") : lane.horse;
        case By::gait:
            return seen.gait ? text(core::spoken(*seen.gait)) : tr("no gait");
        case By::side:
            return seen.side.empty() ? tr("no side") : text(seen.side);
        case By::group:
            return text(core::spoken(lane.fault->group));
    }
    return {};
}

std::vector<QString> ProgressDesk::values(By filter) const {
    std::vector<QString> out;
    for (const Lane& lane : all_) {
        const QString v = value_of(filter, lane);
        if (std::ranges::find(out, v) == out.end()) out.push_back(v);
    }
    return out;
}

void ProgressDesk::next(By filter) {
    const auto there = values(filter);
    QString& chosen = chosen_[static_cast<std::size_t>(filter)];
    if (there.size() < 2) return;
    const auto at = std::ranges::find(there, chosen);
    if (chosen.isEmpty() || at == there.end())
        chosen = there.front();
    else
        chosen = std::next(at) == there.end() ? QString() : *std::next(at);
    sift();
}

bool ProgressDesk::offers(By filter) const { return values(filter).size() > 1; }

QString ProgressDesk::words(By filter) const {
    const QString& chosen = chosen_[static_cast<std::size_t>(filter)];
    if (!chosen.isEmpty())
        return filter == By::horse ? tr("on ") + chosen : filter == By::side ? chosen + tr(" side") : chosen;
    switch (filter) {
        case By::horse:
            return tr("all horses");
        case By::gait:
            return tr("all gaits");
        case By::side:
            return tr("both sides");
        case By::group:
            return tr("all classes");
    }
    return {};
}

bool ProgressDesk::filtered() const {
    return std::ranges::any_of(chosen_, [](const QString& c) { return !c.isEmpty(); });
}
void ProgressDesk::show_all() {
    chosen_ = {};
    sift();
}

ProgressDesk::Glance ProgressDesk::glance() const {
    Glance out;
    for (const Lane& lane : all_) {
        switch (lane.stage) {
            case core::Stage::settled:
                ++out.settled;
                break;
            case core::Stage::holding:
                ++out.holding;
                break;
            case core::Stage::in_work:
                ++out.in_work;
                break;
            case core::Stage::back_again:
            case core::Stage::overcorrected:
                ++out.came_back;
                break;
            default:
                ++out.noticed;
        }
        out.still += lane.stalled.isEmpty() ? 0 : 1;
    }
    return out;
}

QString ProgressDesk::put_stage(const Lane& lane, core::Stage stage) {
    store::CorrectionWord word;
    word.correction = lane.correction.id;
    if (!lane.entries.empty()) word.ride = lane.entries.back().ride;
    word.day = yard_.today_iso();
    word.stage = core::word(stage);
    say_of(yard_, word);
    return tr("%1: %2. [undo] takes it back.")
        .arg(QString::fromStdString(lane.fault->name), text(core::spoken(stage)));
}

QString ProgressDesk::take_proposed(const Lane& lane) {
    if (!lane.life.proposes) return tr("Its rides propose nothing new.");
    return put_stage(lane, *lane.life.proposes);
}
QString ProgressDesk::leave_as_it_is(const Lane& lane) {
    if (!lane.life.proposes) return tr("Its rides propose nothing new.");
    return put_stage(lane, lane.life.stands);
}

QString ProgressDesk::say(const Lane& lane, const LanePoint& entry, const QString& words) {
    store::CorrectionWord word;
    word.correction = lane.correction.id;
    word.ride = entry.ride;
    word.day = yard_.today_iso();
    word.words = words.trimmed().toStdString();
    if (word.words.empty()) return {};
    say_of(yard_, word);
    return tr("Written beside the ride of %1.").arg(entry.day);
}

QString ProgressDesk::note(const QString& kind, const QString& words, store::HorseId horse) {
    if (!rider_) return tr("Choose a rider first.");
    store::Milestone m;
    m.rider = rider_;
    m.horse = horse;
    m.day = yard_.today_iso();
    m.kind = kind.toStdString();
    m.words = words.trimmed().toStdString();
    add_milestone(yard_, m);
    return tr("Noted on today's place of the time line.");
}
QString ProgressDesk::take_note_away(const TimeMark& mark) {
    if (!mark.milestone) return tr("This mark comes from the records; it is changed where it was written.");
    remove_milestone(yard_, mark.milestone);
    return tr("The note is gone; [undo] brings it back.");
}

QString ProgressDesk::ask_for_clip(const Lane& lane) {
    const Asking asking = asking_for(yard_, lane);
    app::ask_for_clip(yard_, asking.promise, asking.message);
    return tr("In the outbox: asks %1 for a clip by %2. The yard shows when it comes.")
        .arg(rider_name(), QString::fromStdString(asking.promise.due_on));
}

}  // namespace aspen::app

#include "moc_progress_desk.cpp"
