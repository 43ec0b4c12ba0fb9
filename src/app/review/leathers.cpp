#include "app/review/leathers.hpp"

#include <QLocale>
#include <QRegularExpression>
#include <algorithm>
#include <array>

#include "app/yard/changes.hpp"
#include "core/ride/ride.hpp"
#include "core/ride/stirrup.hpp"

namespace aspen::app {
namespace {

constexpr std::array<const char*, 4> kJobs{"flat", "general", "jump", "gallop"};
constexpr double kMostHoles = 40;

QString job_of(const core::StirrupJob job) { return kJobs[static_cast<std::size_t>(job)]; }

QString in_saddle(const store::Ride& ride) {
    return ride.saddle.empty() ? QObject::tr("saddle not named") : QString::fromStdString(ride.saddle);
}

QString holes(const store::Stirrup& s) {
    const QString left = QString::number(s.left_hole), right = QString::number(s.right_hole);
    return s.left_hole == s.right_hole ? QObject::tr("hole %1").arg(left)
                                       : QObject::tr("left hole %1, right hole %2").arg(left, right);
}

std::optional<store::Stirrup> noted(const BenchState& bench, core::StirrupJob job) {
    const store::Ride& ride = bench.review().ride();
    if (!ride.rider) return std::nullopt;
    for (const store::Stirrup& s : bench.yard().records().people.stirrups(ride.rider)) {
        if (s.saddle == ride.saddle && s.job == job_of(job).toStdString()) return s;
    }
    return std::nullopt;
}

}  // namespace

QStringList leathers_in_words(const BenchState& bench) {
    QStringList out;
    if (!bench.is_open()) return out;
    const auto rider = bench.yard().records().people.rider(bench.review().ride().rider);
    if (const auto advice =
            core::stirrup_advice(bench.review().gathered(std::nullopt), bench.findings().assessment(),
                                 rider ? rider->height_cm : std::nullopt))
        out << QString::fromStdString(advice->words);
    const core::StirrupJob job = core::stirrup_job(bench.review().setting());
    if (const auto s = noted(bench, job)) {
        const QDate day = QDate::fromString(QString::fromStdString(s->day), Qt::ISODate);
        QString line = QObject::tr("Stirrups noted for %1, %2: %3, %4.")
                           .arg(QString::fromUtf8(core::spoken(job).data()), in_saddle(bench.review().ride()),
                                holes(*s), QLocale().toString(day, QLocale::ShortFormat));
        if (s->left_hole != s->right_hole) line += QObject::tr(" They differ: meant so?");
        out << line;
    }
    return out;
}

QString leathers_asked(const BenchState& bench) {
    const core::StirrupJob job = core::stirrup_job(bench.review().setting());
    const QString hint =
        QObject::tr("Stirrups for %1, %2: hole left and right")
            .arg(QString::fromUtf8(core::spoken(job).data()), in_saddle(bench.review().ride()));
    return hint + QObject::tr(" (or: jump 5, gallop 3)");
}

QString note_leathers(Bench& bench, const QString& words) {
    const store::Ride& ride = bench.review().ride();
    if (!ride.rider) return QObject::tr("Say first who rides; then the holes can be noted.");
    static const QRegularExpression form(
        R"(^\s*(?:(flat|general|jump|gallop)\w*\s+)?(\d+(?:[.,]\d)?)(?:\s*[,/ ]\s*(\d+(?:[.,]\d)?))?\s*$)",
        QRegularExpression::CaseInsensitiveOption);
    const auto match = form.match(words);
    const auto number = [&](int group) { return match.captured(group).replace(',', '.').toDouble(); };
    store::Stirrup s;
    s.rider = ride.rider;
    s.saddle = ride.saddle;
    s.day = ride.day;
    s.left_hole = match.hasMatch() ? number(2) : -1;
    s.right_hole = match.captured(3).isEmpty() ? s.left_hole : number(3);
    if (!match.hasMatch() || s.left_hole > kMostHoles || s.right_hole > kMostHoles)
        return QObject::tr("\"%1\": write the hole, or left and right: 6, or 6 7, or jump 5.").arg(words);
    s.job = (match.captured(1).isEmpty() ? job_of(core::stirrup_job(bench.review().setting()))
                                         : match.captured(1).toLower())
                .toStdString();
    put_stirrup(bench.yard(), s);
    return QObject::tr("Noted: %1, %2. [undo] takes it back.").arg(QString::fromStdString(s.job), holes(s));
}

}  // namespace aspen::app
