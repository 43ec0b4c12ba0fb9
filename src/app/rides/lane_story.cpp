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

/// Of a ride: in the lane's phase, else in the first it has.
const core::ReviewValue& value_in(const Lane& lane, const LanePoint& entry) {
    const auto at = std::ranges::find(entry.phases, lane.phase, &core::ReviewValue::phase);
    return at != entry.phases.end() ? *at : entry.phases.front();
}

/// "heel two hands behind the hip" after "heel a hand behind the hip": without the words both begin with.
QString without_same_begin(const QString& words, const QString& before) {
    const QStringList a = words.split(' '), b = before.split(' ');
    qsizetype same = 0;
    while (same + 1 < a.size() && same < b.size() && a[same] == b[same]) ++same;
    return a.mid(same).join(' ');
}

/// How a lane's amounts are said.
struct InWords {
    const core::Knowledge& knowledge;
    core::ToWhom to;
    QString amount(const Lane& lane, double value) const {
        return QString::fromStdString(
            knowledge.measure_words.amounts().of(*lane.measure, value, knowledge.body, to));
    }
    QString value(const Lane& lane, const core::ReviewValue& v) const {
        const core::Beyond side = v.band.lo && v.value < *v.band.lo   ? core::Beyond::below
                                  : v.band.hi && v.value > *v.band.hi ? core::Beyond::above
                                                                      : core::Beyond::neither;
        return QString::fromStdString(
            knowledge.measure_words.of_value(*lane.measure, side, v.value, knowledge.body, to));
    }
};

QString change_in_words(const Lane& lane, const InWords& words) {
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
    const QString by = words.amount(lane, core::difference(a, b, turn));
    if (!core::changed(a, b, lane.form, turn)) {
        const QString tells = words.amount(lane, core::smallest_change(a, b, lane.form));
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

QString trend_in_words(const Lane& lane, const InWords& words) {
    if (!lane.trend || !lane.measure) return {};
    const core::Trend& t = *lane.trend;
    if (!t.told) return QObject::tr("no trend that can be told yet");
    const auto& last = lane.points.back().value;
    const double first_miss = miss(lane.points.front().value), last_miss = miss(last);
    const QString way = last_miss < first_miss   ? QObject::tr("better")
                        : last_miss > first_miss ? QObject::tr("worse")
                                                 : QObject::tr("moving");
    return QObject::tr("%1 by %2 a month, give or take %3")
        .arg(way, words.amount(lane, t.a_month), words.amount(lane, (t.hi - t.lo) / 2));
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

/// Whether the last value of a lane differs from the first, short.
QString told_apart(const Lane& lane, const core::ReviewValue& a, const core::ReviewValue& b) {
    const bool turn = lane.measure->full_turn;
    if (core::changed(a, b, lane.form, turn)) {
        const QString more = QObject::tr("more than good and bad days differ");
        if (miss(b) == 0 && miss(a) == 0) return QObject::tr("moved inside the band, ") + more;
        return (miss(b) < miss(a) ? QObject::tr("better, ") : QObject::tr("worse, ")) + more;
    }
    if (const auto need = core::moments_to_tell(a, b, lane.form, turn))
        return *need == 1 ? QObject::tr("one more moment would tell whether that differs")
                          : QObject::tr("%1 more moments would tell whether that differs").arg(*need);
    return QObject::tr("no more than good and bad days differ");
}

/// "Heel three fingers behind the hip now, a hand in August: better, more than good and bad days differ;
/// since two-point".
QString answer_in_words(const Lane& lane, const InWords& words) {
    if (!lane.measure || lane.points.empty()) return {};
    std::vector<const LanePoint*> alike;
    for (const LanePoint& p : lane.points) {
        if (p.value.phase == lane.phase) alike.push_back(&p);
    }
    if (alike.empty()) return {};
    const LanePoint& now = *alike.back();
    const bool angle = lane.measure->unit == "deg";
    QString out = words.value(lane, now.value);
    if (alike.size() < 2) return out + QObject::tr(" on %1").arg(spoken_date(now.day));
    const LanePoint& then = *alike.front();
    // What was said of it says how far where it is a length; an angle's amount is said beside the words.
    out += angle ? QObject::tr(": %1 now, %2 on %3")
                       .arg(words.amount(lane, now.value.value), words.amount(lane, then.value.value),
                            spoken_date(then.day))
                 : QObject::tr(" now, %1 on %2")
                       .arg(without_same_begin(words.value(lane, then.value), out), spoken_date(then.day));
    out += ": " + told_apart(lane, then.value, now.value);
    if (!lane.exercises.empty() && !lane.exercises.back().withdrawn)
        out += QObject::tr("; with %1").arg(lane.exercises.back().name.toLower());
    return out;
}

}  // namespace

std::vector<std::size_t> telling_entries(const Lane& lane) {
    std::vector<std::size_t> out;
    const auto add = [&](std::optional<std::size_t> k) {
        if (k && std::ranges::find(out, *k) == out.end()) out.push_back(*k);
    };
    std::optional<std::size_t> first, last, best;
    for (std::size_t k = 0; k < lane.entries.size(); ++k) {
        const LanePoint& e = lane.entries[k];
        if (!e.clip) continue;
        if (!first) first = k;
        last = k;
        if (!e.phases.empty() &&
            (!best || miss(value_in(lane, e)) < miss(value_in(lane, lane.entries[*best]))))
            best = k;
    }
    add(last);
    add(first);
    add(best);
    return out;
}

void tell_story(Lane& lane, const std::vector<RiddenOn>& ridden, const QString& no_practice,
                const QString& today, const core::Knowledge& knowledge, const core::ToWhom& to) {
    const InWords words{knowledge, to};
    if (lane.measure) {
        for (auto* all : {&lane.points, &lane.entries}) {
            for (LanePoint& p : *all) {
                if (!p.phases.empty()) p.says = words.value(lane, value_in(lane, p));
            }
        }
    }
    if (lane.measure && !lane.points.empty()) {
        const auto end = [&](const std::optional<double>& limit, core::Beyond side) {
            if (!limit) return QString();
            // An angle is a number riders know; a length says which way, as past the end it would.
            return lane.measure->unit == "deg"
                       ? QString::number(*limit, 'f', 0).replace('-', QChar(0x2212)) + QChar(0x00B0)
                       : QString::fromStdString(knowledge.measure_words.of_value(*lane.measure, side, *limit,
                                                                                 knowledge.body, to));
        };
        lane.low_says = end(lane.points.front().value.band.lo, core::Beyond::below);
        lane.high_says = end(lane.points.front().value.band.hi, core::Beyond::above);
    }
    lane.answer = answer_in_words(lane, words);
    lane.why = why_in_words(lane);
    lane.trend_says = trend_in_words(lane, words);
    lane.stalled = stalled_because(lane, ridden, no_practice, today);
    lane.change = change_in_words(lane, words);
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
