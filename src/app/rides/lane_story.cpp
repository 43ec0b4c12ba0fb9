#include "app/rides/lane_story.hpp"

#include <QDate>
#include <QLocale>
#include <QObject>
#include <algorithm>
#include <cmath>

namespace aspen::app {
namespace {

constexpr int kLongAgoDays = 42;  // six weeks: a term and a half without a ride that shows it

double miss(const core::ReviewValue& v) {
    if (v.band.lo && v.value < *v.band.lo) return *v.band.lo - v.value;
    if (v.band.hi && v.value > *v.band.hi) return v.value - *v.band.hi;
    return 0;
}

QString spoken_date(const QString& iso) {
    return QLocale().toString(QDate::fromString(iso, Qt::ISODate), "d MMM");
}

QString unit_of(const core::MeasureInfo& m) {
    return m.unit == "deg" ? "°" : m.unit == "%" ? " %" : " " + QString::fromUtf8(m.unit.data());
}

QString change_in_words(const Lane& lane) {
    if (!lane.measure) return QObject::tr("seen by eye, not measured");
    if (lane.points.empty()) return QObject::tr("no picture measures it yet");
    if (lane.stage == core::Stage::overcorrected) return QObject::tr("now past the other limit of the band");
    std::vector<const LanePoint*> alike;  // only values of one phase are compared
    for (const LanePoint& p : lane.points) {
        if (p.value.phase == lane.phase) alike.push_back(&p);
    }
    if (alike.size() < 2) return QObject::tr("first review; the next clip shows whether it moves");
    const bool turn = lane.measure->full_turn;
    const core::ReviewValue& b = alike.back()->value;
    const LanePoint& previous = *alike[alike.size() - 2];
    // A step back since the last review is said first; else the whole way from the first review counts.
    const bool slipped = core::changed(previous.value, b, lane.form, turn) && miss(b) > miss(previous.value);
    const core::ReviewValue& a = slipped ? previous.value : alike.front()->value;
    const QString since =
        slipped ? QObject::tr(" since ") + spoken_date(previous.day) : QObject::tr(" since the first review");
    const QString unit = unit_of(*lane.measure);
    const QString by = QString::number(std::abs(core::difference(a, b, turn)), 'f', 1) + unit;
    if (!core::changed(a, b, lane.form, turn)) {
        const QString tells = QString::number(core::smallest_change(a, b, lane.form), 'f', 1) + unit;
        const auto more = core::moments_to_tell(a, b, lane.form, turn);
        const QString from = b.moments == 1   ? QObject::tr("from one moment; ")
                             : b.moments == 2 ? QObject::tr("from two moments; ")
                                              : QString();
        if (more && *more == 1)
            return QObject::tr("cannot be told yet (%1%2): one more moment would tell").arg(from, by);
        if (more)
            return QObject::tr("cannot be told yet (%1%2): %3 more moments would tell")
                .arg(from, by)
                .arg(*more);
        return QObject::tr("no more than a good and a bad day differ (%1%2; %3 would tell)")
            .arg(from, by, tells);
    }
    if (miss(b) == 0 && miss(a) == 0)
        return QObject::tr("moved by ") + by + since + QObject::tr(", inside the band");
    return (miss(b) < miss(a) ? QObject::tr("better by ") : QObject::tr("worse by ")) + by + since +
           QObject::tr(", more than a good and a bad day differ");
}

bool says_something(core::RideVerdict v) {
    return v != core::RideVerdict::not_judged && v != core::RideVerdict::borderline;
}

/// The last ride that says it, "" for none.
QString last_that_says(const Lane& lane, std::initializer_list<core::RideVerdict> what) {
    QString out;
    for (const LanePoint& p : lane.entries) {
        if (std::ranges::find(what, p.verdict) != what.end()) out = p.day;
    }
    return out;
}

QString why_in_words(const Lane& lane) {
    using V = core::RideVerdict;
    const QString outside = last_that_says(lane, {V::outside, V::unsteady}),
                  inside = last_that_says(lane, {V::inside});
    switch (lane.stage) {
        case core::Stage::noticed:
            return QObject::tr("seen, not accepted yet");
        case core::Stage::confirmed:
            return outside.isEmpty() ? QObject::tr("accepted; no exercise is given for it yet")
                                     : QObject::tr("outside on %1; no exercise is given for it yet")
                                           .arg(spoken_date(outside));
        case core::Stage::in_work:
            return outside.isEmpty()
                       ? QObject::tr(
                             "an exercise is given; no ride was certainly outside since it was noticed")
                       : QObject::tr("an exercise is given; last outside on %1").arg(spoken_date(outside));
        case core::Stage::holding: {
            int more = core::kSettledAfter;
            for (auto p = lane.entries.rbegin(); p != lane.entries.rend(); ++p) {
                if (!says_something(p->verdict)) continue;
                if (p->verdict != V::inside) break;
                more -= p->by >= core::kCarriesARide ? 1 : 0;
            }
            return QObject::tr("inside on %1, after outside on %2; %3 more inside and it has settled")
                .arg(spoken_date(inside), spoken_date(outside))
                .arg(std::max(1, more));
        }
        case core::Stage::settled:
            return QObject::tr("inside in the last three rides that could judge it, the last on %1")
                .arg(spoken_date(inside));
        case core::Stage::back_again:
            return QObject::tr("outside again on %1, after it had held on %2")
                .arg(spoken_date(outside), spoken_date(inside));
        case core::Stage::overcorrected:
            return QObject::tr("past the other limit of its band on %1")
                .arg(spoken_date(last_that_says(lane, {V::other_side})));
    }
    return {};
}

QString trend_in_words(const Lane& lane) {
    if (!lane.trend || !lane.measure) return {};
    const core::Trend& t = *lane.trend;
    const QString unit = unit_of(*lane.measure);
    const QString reach = QString::number((t.hi - t.lo) / 2, 'f', 1);
    if (!t.told)
        return QObject::tr("no trend that can be told: %1 ± %2%3 a month")
            .arg(QString::number(t.a_month, 'f', 1).replace('-', QChar(0x2212)), reach, unit);
    const auto& last = lane.points.back().value;
    const double first_miss = miss(lane.points.front().value), last_miss = miss(last);
    const QString way = last_miss < first_miss   ? QObject::tr("better")
                        : last_miss > first_miss ? QObject::tr("worse")
                                                 : QObject::tr("moving");
    return QObject::tr("%1 by %2 ± %3%4 a month")
        .arg(way, QString::number(std::abs(t.a_month), 'f', 1), reach, unit);
}

/// Why nothing moves: another horse meanwhile, no ride that shows it, no practice.
QString stalled_because(const Lane& lane, const std::vector<RiddenOn>& ridden, const QString& no_practice,
                        const QString& today) {
    const bool moves = lane.stage == core::Stage::settled || lane.stage == core::Stage::holding;
    if (moves) return {};
    QString judged, since = QString::fromStdString(lane.correction.noticed_on);
    for (const LanePoint& p : lane.entries) {
        if (p.verdict != core::RideVerdict::not_judged) judged = p.day;
    }
    const auto other_since = [&]() -> QString {
        QString from;
        for (auto r = ridden.rbegin(); r != ridden.rend(); ++r) {
            if (r->horse == lane.correction.horse) break;
            from = r->day;
        }
        return from;
    }();
    if (!other_since.isEmpty())
        return QObject::tr("ridden on another horse since %1").arg(spoken_date(other_since));
    const QDate last = QDate::fromString(judged.isEmpty() ? since : judged, Qt::ISODate);
    if (last.daysTo(QDate::fromString(today, Qt::ISODate)) > kLongAgoDays)
        return judged.isEmpty() ? QObject::tr("no ride has been able to judge it")
                                : QObject::tr("not judged since %1: ask for a clip").arg(spoken_date(judged));
    return no_practice;
}

}  // namespace

void tell_story(Lane& lane, const std::vector<RiddenOn>& ridden, const QString& no_practice,
                const QString& today) {
    lane.why = why_in_words(lane);
    lane.trend_says = trend_in_words(lane);
    lane.stalled = stalled_because(lane, ridden, no_practice, today);
    lane.change = change_in_words(lane);
    if (!lane.measure) {
        core::GoodOf all;
        for (const LanePoint& p : lane.entries) {
            all.good += p.eye.good;
            all.of += p.eye.of;
        }
        if (all.of > 0) lane.change += QObject::tr("; good in %1 of %2 looks").arg(all.good).arg(all.of);
    }
}

}  // namespace aspen::app
