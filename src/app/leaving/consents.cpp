#include "app/leaving/consents.hpp"

#include <QLocale>
#include <QRegularExpression>
#include <map>

#include "app/files/text.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

QString consent_day(const std::string& iso) {
    return QLocale(QLocale::English)
        .toString(QDate::fromString(text(iso).left(10), Qt::ISODate), "d MMM yyyy");
}

void check_day(const std::string& day, bool may_be_open) {
    if (may_be_open && day.empty()) return;
    if (!QDate::fromString(text(day), Qt::ISODate).isValid())
        throw core::Refused("consent: \"" + day + "\" is no day; write it as 2026-11-24");
}

/// By the wall clock.
std::string day_now(const Yard& yard) { return yard.now().date().toString(Qt::ISODate).toStdString(); }

QString consent_words(const store::Consent& c, QDate today) {
    QString out = QObject::tr("%1, %2").arg(text(c.given_by), consent_day(c.given_on));
    if (!c.withdrawn_on.empty()) return out + QObject::tr(" · withdrawn %1").arg(consent_day(c.withdrawn_on));
    if (!c.until.empty())
        out += (holds(c, today) ? QObject::tr(" to %1") : QObject::tr(" · ran out %1"))
                   .arg(consent_day(c.until));
    return out + (c.face ? QObject::tr(" · the face may be seen") : QObject::tr(" · face covered"));
}

QString what_in_words(const std::string& what) {
    static const std::map<std::string, QString> words{
        {"page", QObject::tr("page")},       {"review", QObject::tr("spoken review")},
        {"picture", QObject::tr("picture")}, {"stretch", QObject::tr("film")},
        {"marks", QObject::tr("marks")},     {"events", QObject::tr("events")},
        {"tracks", QObject::tr("tracks")},   {"table", QObject::tr("table")},
        {"bundle", QObject::tr("bundle")},   {"message", QObject::tr("message")}};
    const auto it = words.find(what);
    return it == words.end() ? text(what) : it->second;
}

}  // namespace

std::vector<ConsentLine> consents(Yard& yard, store::RiderId rider) {
    std::vector<ConsentLine> out;
    const auto r = yard.records().people.rider(rider);
    if (!r) return out;
    const auto all = yard.records().leaving.consents_of(rider);
    for (const Use use : {Use::page, Use::clip, Use::teaching}) {
        ConsentLine line{use, std::nullopt, !refuses_to_leave(*r, all, use, yard.now().date()), {}};
        line.consent = store::newest_word(all, word(use));
        if (line.consent)
            line.words = consent_words(*line.consent, yard.now().date());
        else if (use == Use::teaching)
            line.words = QObject::tr("not agreed to");
        else if (line.open)
            line.words = QObject::tr("grown up: leaves without one, face covered");
        else
            line.words = r->birth_year ? QObject::tr("a minor: nothing leaves without one")
                                       : QObject::tr("age unknown: nothing leaves without one");
        out.push_back(std::move(line));
    }
    return out;
}

QString consents_in_short(Yard& yard, store::RiderId rider) {
    QStringList open, shut;
    for (const ConsentLine& l : consents(yard, rider)) (l.open ? open : shut) << spoken(l.use);
    const QString left = open.isEmpty() ? QString() : QObject::tr("may leave: ") + open.join(", ");
    const QString stays = shut.isEmpty() ? QString() : QObject::tr("not: ") + shut.join(", ");
    return QStringList{left, stays}.filter(QRegularExpression(".")).join(" · ");
}

void give_consent(Yard& yard, store::Consent c) {
    if (text(c.given_by).trimmed().isEmpty())
        throw core::Refused("consent: nobody is named who agreed; write who did");
    check_day(c.given_on, false);
    check_day(c.until, true);
    if (!c.until.empty() && c.until < c.given_on)
        throw core::Refused("consent: it would end before it began; correct one of the two days");
    if (const auto last = store::newest_word(yard.records().leaving.consents_of(c.rider), c.use);
        last && c.given_on < std::max(last->given_on, last->withdrawn_on))
        throw core::Refused("consent: on " + std::max(last->given_on, last->withdrawn_on) +
                            " something newer was said; write the day on which this was said anew");
    // What was agreed to is no step: taken back with others by a key it would leave or come again in silence.
    yard.quietly([&](store::YardStore& records) {
        // The newest counts; an earlier one is closed, so that withdrawing the newer leaves none behind it.
        for (store::Consent old : records.leaving.consents_of(c.rider)) {
            if (old.use != c.use || !holds(old, yard.now().date())) continue;
            old.withdrawn_on = std::min(day_now(yard), c.given_on);
            records.update(old);
        }
        records.add(c);
    });
}

void withdraw_consent(Yard& yard, const store::Consent& consent) {
    yard.quietly([&](store::YardStore& records) {
        store::Consent c = consent;
        c.withdrawn_on = day_now(yard);
        records.update(c);
    });
}

QStringList what_left(Yard& yard, store::RiderId rider, std::optional<Use> use) {
    QStringList out;
    for (const store::Departure& d : yard.records().leaving.departures(rider)) {
        if (use && d.use != word(*use)) continue;
        const QString faces = d.faces == "covered" ? QObject::tr("face covered")
                              : d.faces == "bare"  ? QObject::tr("face to be seen")
                                                   : QObject::tr("nobody to be seen");
        out << QObject::tr("%1, %2: %3 (%4) · %5 · %6")
                   .arg(consent_day(d.at), text(d.at).mid(11, 5), what_in_words(d.what), text(d.about),
                        text(d.file), faces);
    }
    return out;
}

}  // namespace aspen::app
