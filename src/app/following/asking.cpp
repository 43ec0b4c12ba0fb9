#include "app/following/asking.hpp"

#include <QLocale>
#include <QTime>
#include <algorithm>

#include "app/files/text.hpp"
#include "app/rides/rider_plan.hpp"
#include "core/training/homework.hpp"

namespace aspen::app {
namespace {

constexpr int kUsualWaitDays = 7, kUsualTermDays = 14;

QDate asked_day(const std::string& iso) { return QDate::fromString(text(iso), Qt::ISODate); }
QString day_and_month(const std::string& iso) {
    return QLocale(QLocale::English).toString(asked_day(iso), "d MMM");
}

/// From where a fault is seen, in the words of a shot list.
QString view_for(const core::Fault& fault) {
    const core::MeasureInfo* m = core::find_measure(core::leading_measure(fault));
    return m && m->view != core::View::side
               ? QObject::tr("from behind, riding straight away from the camera, then straight towards it")
               : QObject::tr("from the side, camera square on, still, at the height of the rider's hip");
}

std::vector<std::string> shots_for(Yard& yard, const Lane& lane) {
    std::vector<std::string> out;
    const core::SeenIn& seen = lane.correction.seen;
    const QString what = seen.gait ? text(core::spoken(seen)) : QObject::tr("the same gaits");
    out.push_back(QObject::tr("%1, twenty seconds without stopping").arg(what).toStdString());
    for (const store::Prescription& p : lane.prescriptions) {
        if (p.withdrawn) continue;
        if (const core::Exercise* e = yard.knowledge().exercises.find(p.exercise))
            out.push_back(e->next_clip);
    }
    out.push_back(view_for(*lane.fault).toStdString());
    out.push_back(
        (seen.side.empty()
             ? QObject::tr("on both reins")
             : QObject::tr("with the %1 side to the camera, and the other rein too").arg(text(seen.side)))
            .toStdString());
    return out;
}

std::string joined(const std::vector<std::string>& lines) {
    std::string out;
    for (const std::string& l : lines) out += (out.empty() ? "" : "\n") + l;
    return out;
}

}  // namespace

int days_to_wait(Yard& yard) {
    return text(yard.records().settings.setting("days_to_wait", std::to_string(kUsualWaitDays))).toInt();
}
void set_days_to_wait(Yard& yard, int days) {
    yard.set("days_to_wait", std::to_string(std::clamp(days, 1, 90)));
}

Asking asking_for(Yard& yard, const Lane& lane) {
    Asking out;
    const auto rider = yard.records().people.rider(lane.correction.rider);
    const store::RiderPlan plan = yard.records().training.plan_of(lane.correction.rider);
    store::Promise& p = out.promise;
    p.rider = lane.correction.rider;
    p.horse = lane.correction.horse;
    p.correction = lane.correction.id;
    p.asked_on = yard.today_iso();
    const std::string usual = yard.today().addDays(kUsualTermDays).toString(Qt::ISODate).toStdString();
    p.due_on = plan.clip_on > p.asked_on ? plan.clip_on : usual;
    const auto shots = shots_for(yard, lane);
    p.shots = joined(shots);
    store::Outgoing& m = out.message;
    m.rider = p.rider;
    m.kind = "ask";
    m.made_at = now_iso(yard);
    m.due_on = p.due_on;
    m.to = rider ? rider->name : "";
    const QString due = day_and_month(p.due_on);
    m.subject = QObject::tr("A clip by %1").arg(due).toStdString();
    const QString first = text(m.to).section(' ', 0, 0);
    QStringList words{QObject::tr("Hello %1,").arg(first), {}};
    const QString about = text(lane.fault->name);
    words << (lane.horse.isEmpty()
                  ? QObject::tr("would you film yourself by %1? I would like to see how \"%2\" is coming on.")
                        .arg(due, about)
                  : QObject::tr(
                        "would you film %1 and yourself by %2? I would like to see how \"%3\" is coming on.")
                        .arg(lane.horse, due, about))
          << QObject::tr("What helps:");
    for (const std::string& s : shots) words << "- " + text(s);
    words << QString()
          << QObject::tr(
                 "Helmet on, someone else at the camera, and only as long as the horse is fresh. Thank you!");
    m.words = words.join("\n").toStdString() + "\n";
    m.state = "waiting";
    return out;
}

std::vector<PromiseLine> promises(Yard& yard) {
    const store::YardStore& records = yard.records();
    std::vector<PromiseLine> out;
    const int wait = days_to_wait(yard);
    for (const store::Promise& p : records.following.open_promises()) {
        PromiseLine line;
        line.promise = p;
        if (const auto rider = records.people.rider(p.rider)) line.rider = text(rider->name);
        if (const auto horse = records.people.horse(p.horse)) line.horse = text(horse->name);
        for (const store::Correction& c : records.work.corrections(p.rider)) {
            const core::Fault* fault = c.id == p.correction ? yard.knowledge().faults.find(c.fault) : nullptr;
            if (fault) line.about = text(fault->name);
        }
        line.shots = text(p.shots).split('\n', Qt::SkipEmptyParts);
        if (const auto clip = records.following.first_clip_since(p.rider, p.horse, p.asked_on)) {
            line.kept_by = clip->first;
            line.kept_on = text(clip->second);
        }
        line.days_left = static_cast<int>(yard.today().daysTo(asked_day(p.due_on)));
        line.forgotten = !line.kept_by && line.days_left < -wait;
        out.push_back(std::move(line));
    }
    const auto urgency = [](const PromiseLine& l) {
        return l.forgotten ? 0 : l.kept_by ? 1 : l.days_left <= 0 ? 2 : 3;
    };
    std::ranges::stable_sort(out, [&](const PromiseLine& a, const PromiseLine& b) {
        return std::pair(urgency(a), a.days_left) < std::pair(urgency(b), b.days_left);
    });
    return out;
}

std::vector<PromiseLine> kept_by(Yard& yard, store::ClipId clip) {
    auto all = promises(yard);
    std::erase_if(all, [&](const PromiseLine& l) { return l.kept_by != clip; });
    return all;
}

QString words_of(const PromiseLine& l) {
    const QString what =
        QObject::tr("%1%2%3").arg(l.rider, l.horse.isEmpty() ? QString() : QObject::tr(" on ") + l.horse,
                                  l.about.isEmpty() ? QString() : ": " + l.about);
    if (l.kept_by)
        return QObject::tr("%1. The clip of %2 answers it").arg(what, day_and_month(l.kept_on.toStdString()));
    const QString due = day_and_month(l.promise.due_on);
    if (l.forgotten) return QObject::tr("%1. Promised for %2 and forgotten").arg(what, due);
    if (l.days_left < 0) return QObject::tr("%1. Promised for %2, not here yet").arg(what, due);
    return QObject::tr("%1. Promised for %2").arg(what, due);
}

}  // namespace aspen::app
