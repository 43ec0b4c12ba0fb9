#include "app/figure_maker.hpp"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QMutex>
#include <QPointer>
#include <QStandardPaths>
#include <QThreadPool>
#include <algorithm>
#include <cmath>

#include "app/cache_folder.hpp"
#include "core/refused.hpp"
#include "media/point_carrier.hpp"
#include "media/pose_network.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

constexpr int kGestureBase = 1'000'000;  // apart from the bench's own gesture numbers
constexpr double kHalfSecond = 0.5;      // for which the carried joints' error was measured
constexpr int kFewestToCarry = 3;

QThreadPool& pool() {
    static QThreadPool p;
    p.setMaxThreadCount(1);
    return p;
}

/// The network, read once; used only in the pool's one thread.
media::PoseNetwork& network() {
    static media::PoseNetwork net(FigureMaker::model_file().toStdString());
    return net;
}

media::Picture picture_of(const QImage& image) {
    const QImage plain =
        image.convertToFormat(QImage::Format_RGB32);  // blue, green, red, filler on this byte order
    media::Picture out;
    out.width = plain.width();
    out.height = plain.height();
    out.bgra.resize(static_cast<std::size_t>(out.width) * static_cast<std::size_t>(out.height) * 4);
    for (int y = 0; y < out.height; ++y)
        std::copy_n(plain.constScanLine(y), out.width * 4,
                    out.bgra.data() + static_cast<std::ptrdiff_t>(y) * out.width * 4);
    return out;
}

core::Mark clicked(core::Point at, double sd_px) {
    return {at, core::Visibility::seen, sd_px, core::Origin::clicked, true, {}};
}

double trunk_px(const core::Figure& f) {
    const L a = f.view == core::View::side ? L::shoulder : L::left_shoulder,
            b = f.view == core::View::side ? L::hip : L::left_hip;
    const bool both =
        f[a].visibility != core::Visibility::absent && f[b].visibility != core::Visibility::absent;
    return both ? std::max(8.0, core::distance(f[a].at, f[b].at)) : 100.0;
}

}  // namespace

media::PointToCarry to_carry(const core::Figure& figure, core::Landmark landmark) {
    media::PointToCarry carried{figure[landmark].at, {}, 0};
    // Only where the surroundings are mostly background: the foot, and the hip over saddle and skirt.
    // Elsewhere what lies around a joint is the rider's own clothes, and follows it better than a limb's edge
    // (measured, docs/accuracy.md).
    static constexpr std::array<L, 2> kSolid[] = {{L::hip, L::knee},
                                                  {L::hip, L::shoulder},
                                                  {L::ankle, L::heel},
                                                  {L::ankle, L::toe},
                                                  {L::heel, L::toe},
                                                  {L::iron, L::heel},
                                                  {L::iron, L::toe},
                                                  {L::left_heel, L::left_ankle},
                                                  {L::right_heel, L::right_ankle},
                                                  {L::left_toe, L::left_ankle},
                                                  {L::right_toe, L::right_ankle}};
    static constexpr L kTied[] = {L::hip,       L::ankle,      L::heel,     L::toe,      L::iron,
                                  L::left_heel, L::right_heel, L::left_toe, L::right_toe};
    if (std::ranges::find(kTied, landmark) == std::end(kTied)) return carried;
    if (landmark != L::hip)
        carried.solid = core::id(landmark).starts_with("left_")    ? 2
                        : core::id(landmark).starts_with("right_") ? 3
                                                                   : 1;  // a foot in its boot
    for (const auto& [a, b] : kSolid) {
        if (b == landmark && a == L::iron)
            continue;  // the iron is tied to the foot, not the foot to the iron
        const std::optional<L> other = a == landmark   ? std::optional(b)
                                       : b == landmark ? std::optional(a)
                                                       : std::nullopt;
        if (other && figure[*other].visibility != core::Visibility::absent)
            carried.tied_to.push_back(figure[*other].at);
    }
    return carried;
}

FigureMaker::FigureMaker(Bench& bench, QObject* parent)
    : QObject(parent), bench_(bench), gesture_(kGestureBase) {
    connect(&bench_, &Bench::closing, this, &FigureMaker::cancel);
    connect(&bench_, &Bench::picture_changed, this, [this] {
        if (!waits_for_picture_ || !bench_.picture_is_full() ||
            bench_.frame() != waits_for_picture_->first.frame)
            return;
        const auto [job, head_top] = *waits_for_picture_;
        propose(job, head_top);
    });
    connect(&bench_, &Bench::frame_changed, this, [this](int frame) {
        if (waits_for_picture_ && waits_for_picture_->first.frame != frame) cancel();
    });
}

FigureMaker::~FigureMaker() {
    cancel();
    pool().waitForDone();
}

QString FigureMaker::model_file() {
    const QString name = "movenet-thunder.onnx";
    QStringList places;
    if (const QString said = qEnvironmentVariable("ASPEN_MODELS"); !said.isEmpty())
        return QDir(said).filePath(name);
    places << QString(ASPEN_MODEL_FOLDER)
           << QStandardPaths::locateAll(QStandardPaths::GenericDataLocation, "aspen-crest",
                                        QStandardPaths::LocateDirectory);
    for (const QString& p : places) {
        if (QFileInfo::exists(QDir(p).filePath(name))) return QDir(p).filePath(name);
    }
    return QDir(places.front()).filePath(name);
}

bool FigureMaker::has_model() { return QFileInfo::exists(model_file()); }

void FigureMaker::start(const std::function<void(const std::atomic<bool>&)>& work) {
    cancel();
    stop_ = std::make_shared<std::atomic<bool>>(false);
    busy_ = true;
    emit busy_changed();
    pool().start([self = QPointer(this), stop = stop_, work] {
        QString trouble;
        try {
            if (!*stop) work(*stop);
        } catch (const std::exception& e) {
            trouble = QString::fromUtf8(e.what());
        }
        QMetaObject::invokeMethod(QCoreApplication::instance(), [self, stop, trouble] {
            if (!self || self->stop_ != stop) return;
            if (!trouble.isEmpty()) emit self->say(trouble);
            self->finish();
        });
    });
}

void FigureMaker::finish() {
    waits_for_picture_.reset();
    if (!busy_) return;
    busy_ = false;
    stop_.reset();
    emit busy_changed();
}

void FigureMaker::cancel() {
    if (stop_) *stop_ = true;
    finish();
}

void FigureMaker::lay(core::Point head_top, core::Point second, core::Point third, double zoom, Way way) {
    if (!bench_.is_open() || !bench_.ready()) return;
    const bool side = bench_.clip().context.view == core::View::side;
    const double sd = core::click_sd_px(bench_.facts().width, bench_.facts().height, zoom);
    Yard& yard = bench_.yard();
    std::optional<OneStep> step(std::in_place, yard, "Lay figure");
    if (side && bench_.clip().context.travel == core::Travel::unknown) {
        store::ClipContext c =
            bench_.clip().context;  // the toe points where the horse goes; shown, and one key turns it
        c.travel =
            core::unrolled({third.x - second.x, third.y - second.y}, core::radians(c.camera.roll_deg)).x < 0
                ? core::Travel::left
                : core::Travel::right;
        bench_.set_context(c, "direction of travel");
    }
    core::Figure figure = bench_.figure();
    figure[side ? L::heel : L::left_heel] = clicked(second, sd);
    figure[side ? L::toe : L::right_heel] = clicked(third, sd);
    const core::Knowledge& known = yard.knowledge();
    core::Figure laid =
        core::laid_figure(figure, bench_.pose_frame(), known.body, known.figure_errors, head_top);
    if (way == Way::mirrored) {
        if (const auto other = other_rein()) {
            // Mirrored about its own middle; only its shape counts, the clicks say where it lies.
            core::Figure shape = core::mirrored(other->figure, 2 * other->figure[L::heel].at.x);
            std::optional<core::Point> top;
            if (other->head_top)
                top = core::Point{2 * other->figure[L::heel].at.x - other->head_top->x, other->head_top->y};
            shape = core::laid_onto(shape, top, head_top, second, third);
            for (const L l : core::posed_landmarks()) {
                if (l != L::heel && l != L::toe && shape[l].visibility == core::Visibility::seen &&
                    !figure[l].confirmed)
                    laid[l] = shape[l],
                    laid[l].sd_px = known.figure_errors.of(core::Origin::laid, l) * trunk_px(shape);
            }
        }
    }
    const Job job{bench_.clip().id, bench_.frame(), bench_.slot(), ++gesture_};
    bench_.put_figure(laid, head_top, "Lay figure", job.gesture);
    step.reset();
    if (way == Way::usual_pose) {
        if (has_model())
            propose(job, head_top);
        else
            emit say(
                "Laid from your three clicks. The body-pose network is not there: ./aspen setup fetches it.");
    }
}

void FigureMaker::propose(const Job& job, core::Point head_top) {
    if (!bench_.picture_is_full()) {  // the network sees what the clip shows, not what fits the window
        waits_for_picture_ = {job, head_top};
        busy_ = true;
        emit busy_changed();
        return;
    }
    const QImage image = bench_.picture();
    const core::Figure figure = bench_.figure();
    const double shrunk = static_cast<double>(image.width()) / std::max(1, bench_.display_size().width());
    const core::Point foot = figure.view == core::View::side
                                 ? figure[L::heel].at
                                 : core::Point{(figure[L::left_heel].at.x + figure[L::right_heel].at.x) / 2,
                                               (figure[L::left_heel].at.y + figure[L::right_heel].at.y) / 2};
    start([self = QPointer(this), image, shrunk, head_top, foot, job, view = figure.view,
           travel = figure.travel, trunk = trunk_px(figure)](const std::atomic<bool>& stop) {
        const media::Picture picture = picture_of(image);
        const auto small = [&](core::Point p) { return core::Point{p.x * shrunk, p.y * shrunk}; };
        std::vector<core::NetworkRun> runs;
        for (const core::Crop& crop : core::crops_for(head_top, foot)) {
            for (const bool mirror : {false, true}) {
                if (stop) return;
                core::NetworkRun run = network().run(picture, small(crop.centre), crop.side * shrunk, mirror);
                for (core::Point& p : run.at) p = {p.x / shrunk, p.y / shrunk};
                runs.push_back(run);
            }
        }
        const core::Proposal proposal = core::combine(runs, view, travel, trunk);
        QMetaObject::invokeMethod(QCoreApplication::instance(), [self, job, proposal, head_top] {
            if (self) self->take_proposal(job, proposal, head_top);
        });
    });
}

void FigureMaker::take_proposal(const Job& job, const core::Proposal& proposal, core::Point head_top) {
    if (!bench_.is_open() || bench_.clip().id != job.clip || bench_.slot() != job.slot) return;
    const store::Moment* m = bench_.moment_at(job.frame);
    if (!m) return;  // taken back meanwhile
    if (!proposal.rider_found) {
        emit say("No rider found here: the figure is laid from your three clicks alone.");
        return;
    }
    Yard& yard = bench_.yard();
    const core::Knowledge& known = yard.knowledge();
    const core::Figure before = bench_.figure_of(m);
    const core::PoseFrame frame{before.travel,
                                before.camera,
                                bench_.pose_frame().limbs,
                                core::usual_pose(bench_.setting_of(job.frame, m->phase), known.schools),
                                {}};
    core::Figure start = before;  // what was laid makes room; what was clicked or confirmed stays
    for (const L l : core::landmarks_of(before.view)) {
        if (start[l].origin == core::Origin::laid && !start[l].confirmed) start[l] = core::Mark{};
    }
    const auto offsets = core::learned_offsets(yard.records().placed_figures());
    const core::Figure after =
        core::proposed_figure(start, proposal, frame, known.body, known.figure_errors, offsets, head_top);
    yard.put_figure(*m, after, m->head_top, "Lay figure", job.gesture);
    QStringList unsure;
    for (const L l : core::asking_order(before.view)) {
        if (before[l].visibility != core::Visibility::absent &&
            after[l].visibility == core::Visibility::absent)
            unsure << QString::fromUtf8(core::spoken(l).data());
    }
    emit say(unsure.isEmpty()
                 ? "Joints proposed. Look, drag what is off, then Y confirms them."
                 : "Unsure of " + unsure.join(", ") + ": click there. The others are proposed; Y confirms.");
}

const store::Moment* FigureMaker::nearest_marked() const {
    const store::Moment* best = nullptr;
    for (const store::Moment& m : bench_.moments()) {
        if (m.slot != bench_.slot() || m.frame == bench_.frame()) continue;
        const auto measured =
            std::ranges::count_if(m.figure.marks, [](const core::Mark& k) { return k.measurable(); });
        if (measured < kFewestToCarry) continue;
        if (!best || std::abs(m.frame - bench_.frame()) < std::abs(best->frame - bench_.frame())) best = &m;
    }
    return best;
}

void FigureMaker::carry() {
    if (!bench_.is_open() || !bench_.ready()) return;
    const store::Moment* from = nearest_marked();
    if (!from) {
        emit say("There is no marked moment to carry from: mark one first.");
        return;
    }
    const Job job{bench_.clip().id, bench_.frame(), bench_.slot(), ++gesture_};
    const QString file = bench_.yard().file_of(bench_.clip());
    const media::OrderCache cache{cache_folder().toStdString(), bench_.clip().hash};
    const core::Figure source = bench_.figure_of(from);
    const double seconds = std::abs(bench_.real_s(job.frame) - bench_.real_s(from->frame));
    emit say(
        QString("Carrying the joints over %1 frames … Esc stops it").arg(std::abs(job.frame - from->frame)));
    start([self = QPointer(this), job, file, cache, source, seconds, top = from->head_top,
           from_frame = from->frame,
           errors = bench_.yard().knowledge().figure_errors](const std::atomic<bool>& stop) {
        media::ReaderOptions options;
        options.order_cache = cache;
        media::VideoReader reader(file.toStdString(), {}, options);
        std::vector<L> landmarks;
        std::vector<media::PointToCarry> points;
        for (const L l : core::landmarks_of(source.view)) {
            if (source[l].visibility != core::Visibility::seen) continue;
            landmarks.push_back(l);
            points.push_back(to_carry(source, l));
        }
        if (top) points.push_back({*top, {}, 0});
        const double trunk = trunk_px(source);
        const auto carried = media::carry_points(reader, from_frame, job.frame, points, 0.1 * trunk, &stop);
        if (carried.size() != points.size()) return;
        core::Figure out = source;
        out.marks = {};
        std::vector<L> lost;
        for (std::size_t i = 0; i < landmarks.size(); ++i) {
            if (!carried[i].sure) {
                lost.push_back(landmarks[i]);
                continue;
            }
            core::Mark& m = out[landmarks[i]];
            m = {carried[i].at, core::Visibility::seen, 0, core::Origin::carried, false, carried[i].at};
            const double drift = errors.of(core::Origin::carried, landmarks[i]) * trunk *
                                 std::sqrt(std::max(0.2, seconds / kHalfSecond));
            m.sd_px = std::hypot(source[landmarks[i]].sd_px, drift);
        }
        for (const L l : core::doubtful_by_limbs(source, out)) {
            if (out[l].visibility == core::Visibility::absent) continue;
            out[l] = core::Mark{};
            lost.push_back(l);
        }
        const std::optional<core::Point> new_top =
            top && carried.back().sure ? std::optional(carried.back().at) : std::nullopt;
        QMetaObject::invokeMethod(QCoreApplication::instance(), [self, job, out, new_top, lost] {
            if (self) self->take_carried(job, out, new_top, lost);
        });
    });
}

void FigureMaker::take_carried(const Job& job, const core::Figure& carried,
                               std::optional<core::Point> head_top, const std::vector<core::Landmark>& lost) {
    if (!bench_.is_open() || bench_.clip().id != job.clip || bench_.slot() != job.slot ||
        bench_.frame() != job.frame)
        return;
    core::Figure after = bench_.figure();
    for (const L l : core::landmarks_of(after.view)) {
        const bool stays = after[l].visibility != core::Visibility::absent && after[l].confirmed;
        if (!stays && carried[l].visibility != core::Visibility::absent) after[l] = carried[l];
    }
    bench_.put_figure(after, head_top, "Carry joints", job.gesture);
    QStringList names;
    for (const L l : lost) {
        if (after[l].visibility == core::Visibility::absent)
            names << QString::fromUtf8(core::spoken(l).data());
    }
    emit say(names.isEmpty() ? "Joints carried. Look, drag what is off, then Y confirms them."
                             : "Lost on the way: " + names.join(", ") +
                                   ". Click there; the others are carried, Y confirms.");
}

void FigureMaker::paste() {
    if (!bench_.is_open() || !bench_.ready()) return;
    const store::Moment* nearest = nearest_marked();
    if (!nearest) {
        emit say("There is no marked moment to paste from: mark one first.");
        return;
    }
    const store::Moment from = *nearest;  // the bench reads its moments anew while this one is written
    core::Figure after = bench_.figure();
    const core::Figure source = bench_.figure_of(&from);
    const store::Moment* here = bench_.moment();
    core::Figure shape = source;
    if (here && here->head_top && from.head_top && after[L::heel].measurable() &&
        after[L::toe].measurable()) {
        shape = core::laid_onto(source, from.head_top, *here->head_top, after[L::heel].at, after[L::toe].at);
    }
    const double trunk = trunk_px(source);
    for (const L l : core::landmarks_of(after.view)) {
        const bool stays = after[l].visibility != core::Visibility::absent && after[l].confirmed;
        if (stays || shape[l].visibility == core::Visibility::absent) continue;
        after[l] = shape[l];
        after[l].origin = core::Origin::laid;
        after[l].confirmed = false;
        after[l].put_at = after[l].at;
        after[l].sd_px = bench_.yard().knowledge().figure_errors.of(core::Origin::laid, l) * trunk;
    }
    bench_.put_figure(after, from.head_top, "Paste figure");
    emit say(QString("Pasted from frame %1. Drag what is off, then Y confirms.").arg(from.frame));
}

std::optional<store::Moment> FigureMaker::other_rein() const {
    if (!bench_.is_open() || !bench_.rider()) return std::nullopt;
    const core::Travel here = bench_.figure().travel;
    store::YardStore& records = bench_.yard().records();
    auto clips = records.clips_of(bench_.rider());
    std::ranges::reverse(clips);  // newest first
    for (const store::Clip& c : clips) {
        if (c.context.view != core::View::side || c.context.travel == core::Travel::unknown ||
            c.context.travel == here)
            continue;
        for (store::Moment& m : records.moments(c.id)) {
            if (m.slot == 0 && m.figure.measurable(L::hip) && m.figure.measurable(L::shoulder) &&
                m.figure.measurable(L::heel))
                return m;
        }
    }
    return std::nullopt;
}

bool FigureMaker::has_other_rein() const { return other_rein().has_value(); }

}  // namespace aspen::app
