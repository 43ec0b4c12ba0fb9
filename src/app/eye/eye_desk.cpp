#include "app/eye/eye_desk.hpp"

#include <QDateTime>
#include <algorithm>
#include <map>

#include "app/yard/changes.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

using core::DrillKind;

constexpr double kTolerance = 4;  // degrees within which a guess counts as seen

core::DrillDone done_of(const store::DrillAnswer& d) {
    return {d.at.substr(0, 10), d.coach, d.about, d.source, d.off};
}

}  // namespace

EyeDesk::EyeDesk(Yard& yard, QObject* parent) : QObject(parent), yard_(yard) {
    connect(&yard_, &Yard::drills_changed, this, &EyeDesk::changed);
}

void EyeDesk::set_coach(const QString& initials) {
    coach_ = initials.trimmed().left(8);
    emit changed();
}

std::vector<EyeDesk::Line> EyeDesk::lines() const {
    std::vector<Line> out;
    for (int i = 0; i < core::kDrillKinds; ++i) {
        Line line;
        line.kind = static_cast<DrillKind>(i);
        for (const store::DrillAnswer& d :
             yard_.records().following.drills(std::string(core::word(line.kind)))) {
            if (d.coach == coach_.toStdString()) line.done.push_back(done_of(d));
        }
        // What was long ago says little of the eye of today.
        const std::size_t recent = std::min<std::size_t>(line.done.size(), 60);
        line.skill = core::skill_of(line.kind, std::span(line.done).last(recent));
        line.due_in_days = core::due_in_days(line.kind, line.done, yard_.today_iso(), kTolerance);
        out.push_back(std::move(line));
    }
    return out;
}

std::optional<core::TwoCoaches> EyeDesk::with_another(QString* who) const {
    std::map<std::string, std::vector<core::SaidOf>> by_coach;
    for (const store::DrillAnswer& d :
         yard_.records().following.drills(std::string(core::word(DrillKind::angle))))
        by_coach[d.coach].push_back({d.source, QString::fromStdString(d.said).toDouble()});
    std::optional<core::TwoCoaches> best;
    for (const auto& [other, said] : by_coach) {
        if (other == coach_.toStdString()) continue;
        const auto both = core::agree(by_coach[coach_.toStdString()], said);
        if (!both || (best && both->shared <= best->shared)) continue;
        best = both;
        if (who) *who = other.empty() ? coach_of(yard_) : QString::fromStdString(other);
    }
    return best;
}

core::ClickError EyeDesk::marking() const {
    std::vector<core::MarkedTwice> pairs;
    for (const store::Repeat& r : yard_.records().reviews.repeats())
        pairs.push_back({r.clip.value, r.frame, r.first, r.again});
    return core::click_error(pairs);
}

std::optional<std::pair<store::ClipId, int>> EyeDesk::to_mark_again() const {
    std::map<std::pair<store::ClipId, int>, std::string> last;
    for (const store::Repeat& r : yard_.records().reviews.repeats()) {
        std::string& day = last[{r.clip, r.frame}];
        day = std::max(day, r.marked_on);
    }
    std::optional<std::pair<store::ClipId, int>> best;
    std::string best_day;
    for (const store::Clip& c : yard_.records().rides.clips()) {
        for (const store::Moment& m : yard_.records().reviews.moments(c.id)) {
            if (m.figure.marked() < core::kFewestJoints) continue;
            const auto at = last.find({c.id, m.frame});
            const std::string day = at == last.end() ? "" : at->second;
            if (best && day >= best_day) continue;
            best = {c.id, m.frame};
            best_day = day;
            if (day.empty()) return best;
        }
    }
    return best;
}

void EyeDesk::start(DrillKind kind) {
    round_.clear();
    if (coach_.isEmpty()) round_ = own_items(yard_, kind, kOwnOfRound);
    // The same questions for every coach: each goes on where that coach stopped.
    unsigned number = 0;
    for (const store::DrillAnswer& d : yard_.records().following.drills(std::string(core::word(kind)))) {
        if (d.coach != coach_.toStdString() || !d.source.starts_with("drawn:")) continue;
        const unsigned asked = QString::fromStdString(d.source.substr(d.source.rfind(':') + 1)).toUInt();
        number = std::max(number, asked + 1);
    }
    while (static_cast<int>(round_.size()) < kOfRound) {
        DrillItem item = drawn_item(kind, number++, yard_.knowledge());
        if (item.drawn) round_.push_back(std::move(item));
    }
    place_ = 0;
    answered_ = false;
    named_.clear();
    clock_.start();
    emit changed();
}

void EyeDesk::leave() {
    round_.clear();
    emit changed();
}

const DrillItem* EyeDesk::item() const {
    return place_ < length() ? &round_[static_cast<std::size_t>(place_)] : nullptr;
}

void EyeDesk::take(const std::string& said, const std::string& truth, double off) {
    const DrillItem& i = *item();
    store::DrillAnswer d;
    d.at = now_iso(yard_);
    d.coach = coach_.toStdString();
    d.kind = core::word(i.kind);
    d.about = i.about;
    d.source = i.source;
    d.clip = i.clip;
    d.frame = i.frame;
    d.said = said;
    d.truth = truth;
    d.off = off;
    d.seconds = static_cast<double>(clock_.elapsed()) / 1000;
    answered_ = true;
    right_ = core::is_number(i.kind) ? std::abs(off) < kTolerance : off < 0.01;
    add_drill(yard_, d);
    emit changed();
}

void EyeDesk::answer_number(double value) {
    if (!item() || answered_ || !core::is_number(item()->kind)) return;
    const double off = std::remainder(value - item()->number, 360.0);
    const auto figure = [](double v) { return QString::number(v, 'f', 1).replace('-', QChar(0x2212)); };
    said_ = std::abs(off) < 0.5 ? tr("You said %1°, and so it is.").arg(figure(value))
                                : tr("You said %1°; it is %2°: %3° too %4.")
                                      .arg(figure(value), figure(item()->number), figure(std::abs(off)),
                                           off > 0 ? tr("much") : tr("little"));
    take(std::to_string(value), std::to_string(item()->number), off);
}

void EyeDesk::answer_choice(int choice) {
    const DrillItem* i = item();
    if (!i || answered_ || core::is_number(i->kind) || choice < 0 || choice >= i->choices.size()) return;
    if (i->right.size() > 1) return name_next(choice);
    const bool good = choice == i->right.front();
    said_ = good ? tr("Right: %1.").arg(i->choices[choice].toLower())
                 : tr("You said %1; it is %2.")
                       .arg(i->choices[choice].toLower(), i->choices[i->right.front()].toLower());
    take(i->choices[choice].toStdString(), i->choices[i->right.front()].toStdString(), good ? 0 : 1);
}

void EyeDesk::name_next(int choice) {
    const DrillItem* i = item();
    if (std::ranges::find(named_, choice) != named_.end()) return;
    named_.push_back(choice);
    if (named_.size() < i->right.size()) return emit changed();
    const auto names = [&](const std::vector<int>& order) {
        QStringList out;
        for (const int n : order) out << i->choices[n];
        return out;
    };
    const auto as_strings = [](const QStringList& all) {
        std::vector<std::string> out;
        for (const QString& one : all) out.push_back(one.toStdString());
        return out;
    };
    const QStringList said = names(named_), truth = names(i->right);
    const double off = core::order_off(as_strings(said), as_strings(truth));
    said_ = off < 0.01 ? tr("Right.") : tr("It is: %1.").arg(truth.join(", ").toLower());
    take(said.join(" > ").toStdString(), truth.join(" > ").toStdString(), off);
}

void EyeDesk::next() {
    if (!answered_) return;
    ++place_;
    answered_ = false;
    named_.clear();
    said_.clear();
    clock_.restart();
    if (place_ >= length()) round_.clear();
    emit changed();
}

}  // namespace aspen::app

#include "moc_eye_desk.cpp"
