#include "app/leaving/marks_exchange.hpp"

#include <QFileInfo>
#include <algorithm>
#include <fstream>
#include <map>
#include <sstream>

#include "app/files/whole_file.hpp"
#include "core/reading/refused.hpp"
#include "exchange/coco.hpp"

namespace aspen::app {

QByteArray marks_json(Bench& bench, const Permit&, const std::optional<MarksPart>& part) {
    const Review& review = bench.review();
    const media::ClipFacts& facts = bench.deck().facts();
    Yard& yard = bench.yard();
    std::map<int, store::Ride> rides;
    for (const store::Slot& s : review.places())
        rides[s.slot] = yard.records().rides.ride(s.ride).value_or(store::Ride{});
    std::vector<exchange::MarkedMoment> out;
    const double start_s = part ? facts.pts_s[static_cast<std::size_t>(part->from)] : 0;
    const core::CaptureMap real = bench.deck().capture_map();
    for (const store::Moment& m : review.moments()) {
        if (part && (m.frame < part->from || m.frame > part->to)) continue;
        const core::Stretch& stretch = core::ridden_at(review.stretches(), m.frame);
        const store::Ride& ride = rides[m.slot];
        exchange::MarkedMoment one;
        one.id = m.id.value;
        one.file_name = part ? part->file_name.toStdString()
                             : QFileInfo(QString::fromStdString(review.clip().path)).fileName().toStdString();
        one.width = facts.width;
        one.height = facts.height;
        one.frame = m.frame - (part ? part->from : 0);
        one.time_s = m.time_s - start_s;
        one.real_s = real.real_s(m.time_s) - (part ? real.real_s(start_s) : 0);
        one.figure = m.figure;
        one.field = m.field;
        one.school = ride.school;
        one.gait = stretch.gait;
        one.seat = stretch.seat;
        one.rein = stretch.rein;
        one.movement = stretch.shown;
        one.stirrups = stretch.stirrups;
        one.reins = stretch.reins;
        one.hands = stretch.hands;
        one.line = stretch.line;
        one.circle_leg = stretch.circle_leg;
        one.mount = ride.mount;
        one.level = ride.level == "beginner" || ride.level == "novice" || ride.level == "established"
                        ? ride.level
                        : "";
        one.phase = m.phase;
        one.rider_ref = ride.rider ? std::to_string(ride.rider.value) : "";
        out.push_back(std::move(one));
    }
    std::ostringstream text;
    exchange::write_coco(text, out);
    return QByteArray::fromStdString(text.str());
}

std::string about_clip(Bench& bench, int from, int to) {
    const QString name = QFileInfo(QString::fromStdString(bench.review().clip().path)).fileName();
    if (from < 0) return name.toStdString();
    return QObject::tr("%1, frames %2 to %3").arg(name).arg(from).arg(to < 0 ? from : to).toStdString();
}

QString export_marks(Bench& bench, const QString& file) {
    if (!bench.is_open() || !bench.deck().ready())
        return QObject::tr("There is no open clip whose marks could be saved.");
    if (bench.review().moments().empty())
        return QObject::tr("No moment is marked yet: click the joints of one first.");
    const PermitOrLine asked = ask_to_leave(bench.yard(), bench.review().clip(), Use::page);
    if (!asked) return asked.error();
    const Permit& permit = *asked;
    return leave(bench.yard(), permit, {"marks", about_clip(bench), file, false},
                 [&](const QString& to) { return write_whole(to, marks_json(bench, permit)); });
}

namespace {

/// What the file says of how a moment was ridden, where nothing was said here; what was said stands.
bool fill(core::Stretch& s, const exchange::MarkedMoment& m) {
    const core::Stretch before = s;
    const auto take = [](auto& here, const auto& there) {
        if (!here && there) here = there;
    };
    take(s.gait, m.gait);
    take(s.seat, m.seat);
    take(s.rein, m.rein);
    take(s.stirrups, m.stirrups);
    take(s.reins, m.reins);
    take(s.hands, m.hands);
    take(s.line, m.line);
    take(s.circle_leg, m.circle_leg);
    if (s.shown.empty()) s.shown = m.movement;
    return s != before;
}
bool fill(store::Ride& r, const exchange::MarkedMoment& m, const core::Schools& schools) {
    const store::Ride before = r;
    if (r.school.empty() && schools.find(m.school)) r.school = m.school;
    if (r.level.empty()) r.level = m.level;
    if (m.mount && !r.horse) r.mount = *m.mount;
    return r.school != before.school || r.level != before.level || r.mount != before.mount;
}

/// Why marks do not belong to this clip as it is seen here; "" where they do.
QString does_not_fit(const std::vector<exchange::MarkedMoment>& moments, const media::ClipFacts& facts,
                     const core::Stretches& stretches, const std::string& name) {
    for (const auto& m : moments) {
        if (m.width != facts.width || m.height != facts.height) {
            return QObject::tr(
                       "%1: was marked at %2 × %3, this clip shows %4 × %5; choose the marks of this "
                       "clip.")
                .arg(QString::fromStdString(name))
                .arg(m.width)
                .arg(m.height)
                .arg(facts.width)
                .arg(facts.height);
        }
        if (m.figure.view != core::ridden_at(stretches, m.frame).view)
            return QString::fromStdString(name) +
                   QObject::tr(": was marked from another side; set the view first.");
    }
    return {};
}

void take_in(store::YardStore& records, const Review& review, const core::Schools& schools,
             const media::ClipFacts& facts, const std::vector<exchange::MarkedMoment>& moments) {
    const store::ClipId clip = review.clip().id;
    const auto there = records.reviews.moments(clip);
    core::Stretches stretches = records.rides.stretches(clip);
    store::Ride ride = review.ride();
    bool ridden = false, said = false;
    for (const auto& m : moments) {
        ridden |= fill(stretches[core::stretch_at(stretches, m.frame)], m);
        said |= fill(ride, m, schools);
        const auto it = std::ranges::find_if(there, [&](const store::Moment& one) {
            return one.frame == m.frame && one.slot == review.slot();
        });
        store::Moment here;
        if (it != there.end()) {
            here = *it;
        } else {
            here.clip = clip;
            here.slot = review.slot();
            here.frame = m.frame;
            here.time_s = m.time_s.value_or(facts.pts_s[static_cast<std::size_t>(m.frame)]);
            here.phase = m.phase;
            here.field = m.field;
            here.id = records.add(here);
        }
        for (const core::Landmark l : core::landmarks_of(m.figure.view)) {
            if (here.figure[l] != m.figure[l]) records.put(here.id, l, m.figure[l]);
        }
    }
    if (ridden) records.rides.put_stretches(clip, stretches);
    if (said && ride.id) records.update(ride);
}

}  // namespace

QString import_marks(Bench& bench, const QString& file) {
    if (!bench.is_open() || !bench.deck().ready())
        return QObject::tr("Open the clip first that the marks belong to.");
    const media::ClipFacts& facts = bench.deck().facts();
    try {
        std::ifstream in(file.toStdString());
        if (!in) return file + QObject::tr(": cannot be opened; check the path.");
        const std::string name = QFileInfo(file).fileName().toStdString();
        const auto moments = exchange::read_coco(in, name);
        exchange::check_times(moments, facts.pts_s, name);
        const QString line = does_not_fit(moments, facts, bench.review().stretches(), name);
        if (!line.isEmpty()) return line;
        bench.yard().step(QObject::tr("Take in marks"), [&](store::YardStore& records) {
            take_in(records, bench.review(), bench.yard().knowledge().schools, facts, moments);
        });
        if (!moments.empty()) bench.deck().go_to(moments.front().frame);
        return {};
    } catch (const std::exception& e) {
        return QString::fromUtf8(e.what());
    }
}

}  // namespace aspen::app
