#include "app/marks_exchange.hpp"

#include <QFileInfo>
#include <QSaveFile>
#include <algorithm>
#include <fstream>
#include <sstream>

#include "app/gate.hpp"
#include "core/refused.hpp"
#include "exchange/coco.hpp"

namespace aspen::app {

QString export_marks(Bench& bench, const QString& file, const std::optional<MarksPart>& part) {
    if (!bench.is_open() || !bench.ready()) return "There is no open clip whose marks could be saved.";
    if (bench.moments().empty()) return "No moment is marked yet: click the joints of one first.";
    Yard& yard = bench.yard();
    const store::ClipContext& c = bench.clip().context;
    if (const auto refusal = refuses_to_leave(yard, bench.clip())) return *refusal;
    std::vector<exchange::MarkedMoment> out;
    const double start_s = part ? bench.facts().pts_s[static_cast<std::size_t>(part->from)] : 0;
    const core::CaptureMap real = bench.capture_map();
    for (const store::Moment& m : bench.moments()) {
        if (part && (m.frame < part->from || m.frame > part->to)) continue;
        exchange::MarkedMoment one;
        one.id = m.id.value;
        one.file_name = part ? part->file_name.toStdString()
                             : QFileInfo(QString::fromStdString(bench.clip().path)).fileName().toStdString();
        one.width = bench.facts().width;
        one.height = bench.facts().height;
        one.frame = m.frame - (part ? part->from : 0);
        one.time_s = m.time_s - start_s;
        one.real_s = real.real_s(m.time_s) - (part ? real.real_s(start_s) : 0);
        one.figure = m.figure;
        one.field = m.field;
        one.school = c.school;
        const auto at = core::stretch_at(bench.stretches(), m.frame);
        const core::Stretch stretch = at ? bench.stretches()[*at] : core::Stretch{};
        one.gait = stretch.gait ? stretch.gait : c.gait;
        one.seat = stretch.seat ? stretch.seat : c.seat;
        one.rein = stretch.rein;
        one.movement = stretch.shown;
        one.phase = m.phase;
        store::RiderId rider = c.rider;
        for (const store::Companion& companion : bench.companions()) {
            if (companion.slot == m.slot) rider = companion.rider;
        }
        one.rider_ref = rider ? std::to_string(rider.value) : "";
        out.push_back(std::move(one));
    }
    std::ostringstream text;
    exchange::write_coco(text, out);
    QSaveFile target(file);
    const std::string bytes = text.str();
    const bool written =
        target.open(QIODevice::WriteOnly) &&
        target.write(bytes.data(), static_cast<qint64>(bytes.size())) == static_cast<qint64>(bytes.size()) &&
        target.commit();
    return written ? QString() : file + ": cannot be written; choose another folder.";
}

QString import_marks(Bench& bench, const QString& file) {
    if (!bench.is_open() || !bench.ready()) return "Open the clip first that the marks belong to.";
    try {
        std::ifstream in(file.toStdString());
        if (!in) return file + ": cannot be opened; check the path.";
        const std::string name = QFileInfo(file).fileName().toStdString();
        const auto moments = exchange::read_coco(in, name);
        exchange::check_times(moments, bench.facts().pts_s, name);
        for (const auto& m : moments) {
            if (m.width != bench.facts().width || m.height != bench.facts().height) {
                return QString(
                           "%1: was marked at %2 × %3, this clip shows %4 × %5; choose the marks of this "
                           "clip.")
                    .arg(QString::fromStdString(name))
                    .arg(m.width)
                    .arg(m.height)
                    .arg(bench.facts().width)
                    .arg(bench.facts().height);
            }
            if (m.figure.view != bench.clip().context.view)
                return QString::fromStdString(name) + ": was marked from another side; set the view first.";
        }
        Yard& yard = bench.yard();
        const store::ClipId clip = bench.clip().id;
        std::optional<OneStep> step(std::in_place, yard, "Take in marks");
        for (const auto& m : moments) {
            const auto there = yard.records().moments(clip);
            const auto it = std::ranges::find_if(there, [&](const store::Moment& one) {
                return one.frame == m.frame && one.slot == bench.slot();
            });
            store::Moment here;
            if (it != there.end()) {
                here = *it;
            } else {
                here.clip = clip;
                here.slot = bench.slot();
                here.frame = m.frame;
                here.time_s = bench.facts().pts_s[static_cast<std::size_t>(m.frame)];
                here.phase = m.phase;
                here.field = m.field;
                if (m.time_s) here.time_s = *m.time_s;
                here.id = yard.add_moment(here);
            }
            for (const core::Landmark l : core::landmarks_of(m.figure.view))
                yard.put_mark(here, l, here.figure[l], m.figure[l]);
        }
        step.reset();
        if (!moments.empty()) bench.go_to(moments.front().frame);
        return {};
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

}  // namespace aspen::app
