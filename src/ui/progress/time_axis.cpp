#include "ui/progress/time_axis.hpp"

#include <QDateTime>
#include <QHash>
#include <QLocale>
#include <algorithm>
#include <cmath>

namespace aspen::ui {
namespace {

constexpr double kShortest = 0.5;  // days: an afternoon
constexpr double kRoom = 76;       // pixels for the words of a tick
const QDate kEpoch(1970, 1, 1);

QString words(const QDate& d, const char* format) { return QLocale(QLocale::English).toString(d, format); }

}  // namespace

double TimeAxis::days(const QDate& day, double share) {
    return static_cast<double>(kEpoch.daysTo(day)) + share;
}
double TimeAxis::days(const QString& iso) {
    // Asked for every ride at every painting: read once.
    static QHash<QString, double> known;
    constexpr int kMost = 20000;
    const auto at = known.constFind(iso);
    if (at != known.constEnd()) return *at;
    if (known.size() > kMost) known.clear();
    return *known.insert(iso, read_days(iso));
}

double TimeAxis::read_days(const QString& iso) {
    const QDateTime instant = QDateTime::fromString(iso, Qt::ISODate);
    if (iso.size() > 10 && instant.isValid())
        return days(instant.date(), static_cast<double>(instant.time().msecsSinceStartOfDay()) / 86400000.0);
    return days(QDate::fromString(iso.left(10), Qt::ISODate));
}
QDate TimeAxis::day(double days) { return kEpoch.addDays(static_cast<qint64>(std::floor(days))); }

void TimeAxis::set_whole(double first, double last) {
    if (last - first < 14) {  // a first review alone: two weeks around it
        const double middle = (first + last) / 2;
        first = middle - 7;
        last = middle + 7;
    }
    const double air = (last - first) * 0.03;
    first_ = from_ = first - air;
    last_ = to_ = last + air;
}
void TimeAxis::renew_whole(double first, double last) {
    const bool whole = is_whole();
    const double from = from_, to = to_;
    set_whole(first, last);
    if (whole) return;
    from_ = from;
    to_ = to;
    keep_inside();
}
void TimeAxis::set_area(double left, double right) {
    left_ = left;
    right_ = std::max(left + 1, right);
}
double TimeAxis::x(double days) const { return left_ + (right_ - left_) * (days - from_) / (to_ - from_); }
double TimeAxis::at(double x) const { return from_ + (to_ - from_) * (x - left_) / (right_ - left_); }
bool TimeAxis::is_whole() const { return from_ <= first_ && to_ >= last_; }

void TimeAxis::zoom(double by, double x) {
    const double middle = at(x), span = std::clamp((to_ - from_) / by, kShortest, last_ - first_);
    const double share = (middle - from_) / (to_ - from_);
    from_ = middle - share * span;
    to_ = from_ + span;
    keep_inside();
}
void TimeAxis::pan(double pixels) {
    const double by = (to_ - from_) * pixels / (right_ - left_);
    from_ += by;
    to_ += by;
    keep_inside();
}
void TimeAxis::show_whole() {
    from_ = first_;
    to_ = last_;
}
void TimeAxis::show(double days) {
    const double span = to_ - from_;
    if (days < from_) from_ = days - 0.1 * span;
    if (days > from_ + span) from_ = days - 0.9 * span;
    to_ = from_ + span;
    keep_inside();
}
void TimeAxis::keep_inside() {
    const double span = std::min(to_ - from_, last_ - first_);
    from_ = std::clamp(from_, first_, last_ - span);
    to_ = from_ + span;
}

std::vector<TimeAxis::Tick> TimeAxis::ticks() const {
    std::vector<Tick> out;
    const double per_day = (right_ - left_) / (to_ - from_);
    if (per_day * 0.125 > kRoom) {  // hours
        for (double h = std::ceil(from_ * 8) / 8; h <= to_; h += 0.125) {
            const QTime t = QTime::fromMSecsSinceStartOfDay(
                static_cast<int>(std::lround((h - std::floor(h)) * 86400000.0)) % 86400000);
            const bool midnight = t == QTime(0, 0);
            out.push_back({h, midnight ? words(day(h), "ddd d MMM") : t.toString("hh:mm"), midnight});
        }
        return out;
    }
    if (per_day * 7 > kRoom) {  // days, or every so many
        const int step = per_day > kRoom ? 1 : per_day * 2 > kRoom ? 2 : 7;
        for (QDate d = day(from_); days(d, 0) <= to_; d = d.addDays(1)) {
            if (step == 2 && d.toJulianDay() % 2) continue;
            if (step == 7 && d.dayOfWeek() != 1) continue;
            if (days(d, 0) >= from_) out.push_back({days(d, 0), words(d, "d MMM"), d.day() <= step});
        }
        return out;
    }
    const double month = per_day * 30.4;
    const int step = month > kRoom ? 1 : month * 3 > kRoom ? 3 : month * 6 > kRoom ? 6 : 12;
    QDate d(day(from_).year(), 1, 1);
    for (; days(d, 0) <= to_; d = d.addMonths(step)) {
        if (days(d, 0) < from_) continue;
        const bool year = d.month() == 1;
        out.push_back({days(d, 0), year ? words(d, "yyyy") : words(d, "MMM"), year});
    }
    return out;
}

}  // namespace aspen::ui
