#include "ui/review/column_rows.hpp"

#include <QFontMetrics>
#include <algorithm>
#include <cmath>

#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

using RowKind = ColumnRow::Kind;

constexpr double kRowRail = 18, kRowApart = 14, kValuesApart = 4;
constexpr int kMostWaitNamed = 3;

double text_high(const QString& words, int px, bool strong, double wide) {
    if (words.isEmpty()) return 0;
    return QFontMetrics(text_font(px, strong))
        .boundingRect(QRect(0, 0, static_cast<int>(wide), 400), Qt::TextWordWrap | Qt::AlignRight, words)
        .height();
}

double high_of(const ColumnRow& r, double wide) {
    if (r.kind == RowKind::value) return text_high(r.words, 12, false, wide) + kValuesApart;
    return text_high(r.words, 14, r.kind == RowKind::out, wide) + kRowRail +
           text_high(r.detail, 12, false, wide) + kRowApart;
}

/// What the words do not say yet: how much, where it is not in them, and how far that could be off.
QString detail_of(const core::Judged& j, const app::BenchState& now, const QString& words) {
    const core::SpokenAmounts amounts = now.amounts();
    const QString much = amount_words(j, amounts),
                  off = text(amounts.doubt(j.info().id, j.info().unit, j.measured.sd));
    return words.contains(much) ? off : much + ", " + off;
}

/// Head to heel, each as near to its part as the others leave room.
void hang(std::vector<ColumnRow>& rows, const ColumnRoom& room) {
    std::ranges::stable_sort(rows, {}, [](const ColumnRow& r) { return r.anchor.y(); });
    const auto full = [&] {
        double sum = 0;
        for (ColumnRow& r : rows) {
            r.area.setHeight(high_of(r, room.wide));
            sum += r.area.height();
        }
        return sum;
    };
    const double there = room.bottom - room.top;
    double needs = full();
    for (const RowKind gives : {RowKind::close, RowKind::out}) {  // what is said twice goes first
        if (needs <= there) break;
        for (ColumnRow& r : rows) {
            if (r.kind == gives) r.detail.clear();
        }
        needs = full();
    }
    const double squeeze = needs > there ? there / needs : 1;
    double lowest = room.top;
    for (ColumnRow& r : rows) {
        const double high = r.area.height() * squeeze;
        r.area = {room.left, std::max(r.anchor.y() - high / 2, lowest), room.wide, high};
        lowest = r.area.bottom();
    }
    double highest = room.bottom;
    for (auto r = rows.rbegin(); r != rows.rend(); ++r) {
        if (r->area.bottom() > highest) r->area.moveBottom(highest);
        highest = r->area.top();
    }
}

/// "5 wait for bit and cantle": what joints would bring; else how many cannot be judged here.
QString waiting_words(const std::vector<core::Judged>& open, const core::Figure& figure) {
    QStringList joints;
    int for_joints = 0, doubtful = 0;
    for (const core::Judged& j : open) {
        const auto missing = missing_joint(j, figure);
        if (!missing) {
            ++doubtful;
            continue;
        }
        ++for_joints;
        const QString name = text(core::spoken(*missing));
        if (!joints.contains(name)) joints << name;
    }
    if (for_joints == 0) return QObject::tr("%1 not judged here").arg(doubtful);
    const bool more = joints.size() > kMostWaitNamed;
    const QString last = more ? QObject::tr("more") : joints.last();
    QStringList first = more ? joints.mid(0, kMostWaitNamed) : joints.mid(0, joints.size() - 1);
    return (for_joints == 1 ? QObject::tr("1 waits for %2") : QObject::tr("%1 wait for %2").arg(for_joints))
        .arg(first.isEmpty() ? last : QObject::tr("%1 and %2").arg(first.join(", "), last));
}

/// The lines at the foot, what is good above what is waited for.
void put_lines(std::vector<ColumnRow>& rows, const std::vector<core::Judged>& good,
               const std::vector<core::Judged>& open, const app::BenchState& now, const core::Figure& figure,
               const ColumnRoom& room) {
    double bottom = room.lines.bottom();
    const auto put = [&](RowKind kind, const core::Judged& first, const QString& words) {
        ColumnRow row{kind, first, words, {}, {}, {}};
        const double high = std::min(text_high(words, 14, false, room.lines.width() - 22) + 8, 44.0);
        row.area = {room.lines.left(), bottom - high, room.lines.width(), high};
        bottom -= high;
        rows.push_back(std::move(row));
    };
    if (!open.empty()) put(RowKind::waits, open.front(), waiting_words(open, figure));
    if (good.empty()) return;
    QStringList names;
    for (const core::Judged& j : good)
        names << text(now.knowledge().measure_words.of(j, now.knowledge().body, now.to_whom()));
    constexpr double kTwoLines = 1.8;  // of what two lines hold, for words are not broken
    const QFontMetrics m(text_font(14));
    put(RowKind::good, good.front(),
        m.elidedText(QObject::tr("%1 good: %2").arg(good.size()).arg(names.join(", ")), Qt::ElideRight,
                     static_cast<int>(kTwoLines * (room.lines.width() - 26))));
}

}  // namespace

std::optional<core::Landmark> missing_joint(const core::Judged& j, const core::Figure& f) {
    for (const core::Landmark l : j.info().needs) {
        if (!f.measurable(l)) return l;
    }
    return std::nullopt;
}

std::vector<ColumnRow> column_rows(const app::BenchState& now, const std::vector<core::Judged>& judged,
                                   const core::Figure& figure, const RiderDrawing& rider,
                                   const ColumnRoom& room, bool numbers) {
    std::vector<ColumnRow> out;
    std::vector<core::Judged> good, open;
    const core::Knowledge& known = now.knowledge();
    const core::Setting here = now.review().setting();
    const bool unjudged = here.school.empty();  // no measure has a band then
    for (const core::Judged& j : judged) {
        const bool stated = std::holds_alternative<core::Band>(known.schools.band(j.info().id, here));
        const bool held = j.band.has_value() || (!j.measured.value && stated);
        if (!held && !numbers && !unjudged) continue;
        ColumnRow row{RowKind::value,
                      j,
                      sentence(text(known.measure_words.of(j, known.body, now.to_whom()))),
                      {},
                      {},
                      rider.anchor(j.info())};
        if (numbers) {
            row.words += j.measured.value ? QString("   %1%2 %3")
                                                .arg(value_text(*j.measured.value), unit_text(j.info().unit),
                                                     error_text(j.measured.sd))
                                          : ": " + text(j.reason);
        } else if (!j.measured.value) {
            open.push_back(j);
            continue;
        } else if (unjudged) {
            row.words += "   " + amount_words(j, now.amounts());
        } else if (j.verdict == core::Verdict::inside) {
            good.push_back(j);
            continue;
        } else {
            row.kind = j.verdict == core::Verdict::outside ? RowKind::out : RowKind::close;
            row.detail = row.kind == RowKind::close
                             ? QObject::tr("too close: ") + detail_of(j, now, row.words)
                             : detail_of(j, now, row.words);
        }
        out.push_back(std::move(row));
    }
    hang(out, room);
    put_lines(out, good, open, now, figure, room);
    std::ranges::stable_sort(out, {}, [](const ColumnRow& r) { return r.area.top(); });  // as they are read
    return out;
}

}  // namespace aspen::ui
