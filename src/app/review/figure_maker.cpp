#include "app/review/figure_maker.hpp"
#include "app/review/pictures.hpp"
#include "app/review/review_changes.hpp"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <map>

#include "app/files/cache_folder.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/ride.hpp"
#include "media/pose/point_carrier.hpp"
#include "media/pose/pose_network.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

constexpr double kHalfSecond = 0.5;  // for which the carried joints' error was measured
constexpr int kFewestToCarry = 3;

/// The network, read once; used only in its lane's one thread.
media::PoseNetwork& network() {
    static media::PoseNetwork net(FigureMaker::model_file().toStdString());
    return net;
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

QString network_file(const QString& name) {
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

}  // namespace

namespace {

/// A figure followed from one frame to another; joints that were lost are absent in it.
FigureMaker::Carried carry_figure(const QString& file, const media::OrderCache& cache,
                                  const core::Figure& source, const std::optional<core::Point>& top, int from,
                                  int to, double seconds, const core::FigureErrors& errors, Job& job) {
    media::ReaderOptions options;
    options.order_cache = cache;
    media::VideoReader reader(file.toStdString(), {&job.stopped(), {}}, options);
    std::vector<L> landmarks;
    std::vector<media::PointToCarry> points;
    for (const L l : core::landmarks_of(source.view)) {
        if (source[l].visibility != core::Visibility::seen) continue;
        landmarks.push_back(l);
        points.push_back(media::to_carry(source, l));
    }
    if (top) points.push_back({*top, {}, 0});
    const double trunk = trunk_px(source);
    const auto carried = media::carry_points(reader, from, to, points, 0.1 * trunk, &job.stopped());
    if (carried.size() != points.size()) throw media::ReadCancelled{};
    FigureMaker::Carried out{source, {}, {}};
    out.figure.marks = {};
    for (std::size_t i = 0; i < landmarks.size(); ++i) {
        if (!carried[i].sure) {
            out.lost.push_back(landmarks[i]);
            continue;
        }
        core::Mark& m = out.figure[landmarks[i]];
        m = {carried[i].at, core::Visibility::seen, 0, core::Origin::carried, false, carried[i].at};
        const double drift = errors.of(core::Origin::carried, landmarks[i]) * trunk *
                             std::sqrt(std::max(0.2, seconds / kHalfSecond));
        m.sd_px = std::hypot(source[landmarks[i]].sd_px, drift);
    }
    for (const L l : core::doubtful_by_limbs(source, out.figure)) {
        if (out.figure[l].visibility == core::Visibility::absent) continue;
        out.figure[l] = core::Mark{};
        out.lost.push_back(l);
    }
    if (top && carried.back().sure) out.head_top = carried.back().at;
    return out;
}

}  // namespace

FigureMaker::FigureMaker(Bench& bench, QObject* parent)
    : QObject(parent),
      bench_(bench),
      review_(bench.review()),
      deck_(bench.deck()),
      marking_(bench.marking()) {
    connect(&bench_, &Bench::closing, this, [this] { waits_for_picture_.reset(); });
    connect(&bench_, &Bench::changed, this, [this](const BenchState& now) {
        if (now.marking().dragging() || !waits_for_hand_) return;
        QTimer::singleShot(0, this, [take = std::exchange(waits_for_hand_, nullptr)] { take(); });
    });
    connect(&deck_, &ClipDeck::picture_changed, this, [this] {
        if (!waits_for_picture_ || !deck_.picture_is_full() ||
            deck_.frame() != waits_for_picture_->first.frame)
            return;
        const auto [place, head_top] = *std::exchange(waits_for_picture_, std::nullopt);
        propose(place, head_top);
    });
    connect(&deck_, &ClipDeck::frame_changed, this, [this](int frame) {
        if (waits_for_picture_ && waits_for_picture_->first.frame != frame) cancel();
    });
}

FigureMaker::~FigureMaker() {
    if (job_) job_->stop();
}

QString FigureMaker::model_file() { return network_file("movenet-thunder.onnx"); }
QString FigureMaker::ends_file() { return network_file("blazepose-full.onnx"); }

bool FigureMaker::has_model() { return QFileInfo::exists(model_file()); }

/// One piece of work at a time: a new one takes the place of the one that runs.
template <typename Work, typename Done>
void FigureMaker::start(const QString& title, Work work, Done done) {
    cancel();
    job_ = bench_.yard().jobs().run(JobLane::pose, title, this, std::move(work),
                                    [this, done = std::move(done)](const auto& outcome) {
                                        job_.reset();
                                        if (outcome.value)
                                            done(*outcome.value);
                                        else
                                            emit say(outcome.trouble);
                                        emit busy_changed();
                                    });
    emit busy_changed();
}

bool FigureMaker::busy() const { return waits_for_picture_ || (job_ && !job_->ended() && !job_->stopped()); }

void FigureMaker::cancel() {
    if (!busy()) return;
    waits_for_picture_.reset();
    if (job_) job_->stop();
    job_.reset();
    emit busy_changed();
}

FigureMaker::Place FigureMaker::here() {
    return {review_.clip().id,
            deck_.frame(),
            review_.slot(),
            deck_.field(),
            deck_.stream_s(deck_.frame()),
            bench_.yard().steps().new_gesture()};
}

/// The moment a result belongs to, with how it is seen there, whether its clip is open or not.
std::optional<FigureMaker::Recorded> FigureMaker::moment_at(const Place& place) const {
    const store::YardStore& records = bench_.yard().records();
    if (!records.rides.clip(place.clip)) return std::nullopt;
    Recorded out;
    out.seen = core::ridden_at(records.rides.stretches(place.clip), place.frame);
    for (const store::Slot& s : records.rides.places(place.clip)) {
        if (s.slot == place.slot) out.ride = records.rides.ride(s.ride).value_or(store::Ride{});
    }
    for (store::Moment& m : records.reviews.moments(place.clip)) {
        if (m.frame == place.frame && m.slot == place.slot) out.moment = std::move(m);
    }
    return out;
}

void FigureMaker::lay(core::Point head_top, core::Point second, core::Point third, double zoom, Way way) {
    if (!review_.is_open() || !deck_.ready()) return;
    const bool side = review_.stretch().view == core::View::side;
    const double sd = core::click_sd_px(deck_.facts().width, deck_.facts().height, zoom);
    Yard& yard = bench_.yard();
    core::PoseFrame frame = marking_.pose_frame();
    core::Figure figure = marking_.figure();
    const bool says_travel = side && figure.travel == core::Travel::unknown;
    if (says_travel) {  // the toe points where the horse goes; shown, and one key turns it
        const core::Point foot{third.x - second.x, third.y - second.y};
        figure.travel = core::unrolled(foot, core::radians(figure.camera.roll_deg)).x < 0
                            ? core::Travel::left
                            : core::Travel::right;
        frame.travel = figure.travel;
    }
    figure[side ? L::heel : L::left_heel] = clicked(second, sd);
    figure[side ? L::toe : L::right_heel] = clicked(third, sd);
    const core::Knowledge& known = yard.knowledge();
    core::Figure laid = core::laid_figure(figure, frame, known.body, known.figure_errors, head_top);
    if (way == Way::mirrored) {
        if (const auto other = other_rein()) {
            // Mirrored about its own middle; only its shape counts, the clicks say where it lies.
            core::Figure shape = core::mirrored(other->figure, 2 * other->figure[L::heel].at.x);
            std::optional<core::Point> top;
            if (other->head_top)
                top = core::Point{2 * other->figure[L::heel].at.x - other->head_top->x, other->head_top->y};
            shape = core::laid_onto(shape, top, head_top, second, third);
            for (const L l : core::posed_landmarks()) {
                if (l == L::heel || l == L::toe || shape[l].visibility != core::Visibility::seen ||
                    figure[l].confirmed)
                    continue;
                laid[l] = shape[l];
                laid[l].sd_px = known.figure_errors.of(core::Origin::laid, l) * trunk_px(shape);
            }
        }
    }
    const Place place = here();
    yard.step(
        tr("Lay figure"),
        [&] {
            if (says_travel) set_travel(review_, figure.travel);
            marking_.put_figure(laid, head_top, tr("Lay figure"));
        },
        place.gesture);
    if (way != Way::usual_pose) return;
    if (has_model())
        propose(place, head_top);
    else
        emit say(
            tr("Laid from your three clicks. The body-pose network is not there: ./aspen setup fetches it."));
}

void FigureMaker::propose(const Place& place, core::Point head_top) {
    if (!deck_.picture_is_full()) {  // the network sees what the clip shows, not what fits the window
        cancel();
        waits_for_picture_ = {place, head_top};
        emit busy_changed();
        return;
    }
    const QImage image = deck_.picture();
    const core::Figure figure = marking_.figure();
    const double shrunk = static_cast<double>(image.width()) / std::max(1, deck_.display_size().width());
    const core::Point foot = figure.view == core::View::side
                                 ? figure[L::heel].at
                                 : core::Point{(figure[L::left_heel].at.x + figure[L::right_heel].at.x) / 2,
                                               (figure[L::left_heel].at.y + figure[L::right_heel].at.y) / 2};
    start(
        tr("Proposing joints"),
        [image, shrunk, head_top, foot, view = figure.view, travel = figure.travel,
         trunk = trunk_px(figure)](Job& job) {
            const media::Picture picture = to_picture(image);
            const auto small = [&](core::Point p) { return core::Point{p.x * shrunk, p.y * shrunk}; };
            std::vector<core::NetworkRun> runs;
            for (const core::Crop& crop : core::crops_for(head_top, foot)) {
                for (const bool mirror : {false, true}) {
                    if (job.stopped()) throw media::ReadCancelled{};
                    core::NetworkRun run =
                        network().run(picture, small(crop.centre), crop.side * shrunk, mirror);
                    for (core::Point& p : run.at) p = {p.x / shrunk, p.y / shrunk};
                    runs.push_back(run);
                }
            }
            return core::combine(runs, view, travel, trunk);
        },
        [this, place, head_top](const core::Proposal& proposal) {
            take_proposal(place, proposal, head_top);
        });
}

void FigureMaker::take_proposal(const Place& place, const core::Proposal& proposal, core::Point head_top) {
    // A proposal never arrives in the middle of a gesture: what is in hand is put down first.
    if (marking_.dragging()) {
        waits_for_hand_ = [this, place, proposal, head_top] { take_proposal(place, proposal, head_top); };
        return;
    }
    const auto there = moment_at(place);
    if (!there || !there->moment) return;  // taken back meanwhile
    if (!proposal.rider_found) {
        emit say(tr("No rider found here: the figure is laid from your three clicks alone."));
        return;
    }
    Yard& yard = bench_.yard();
    const core::Knowledge& known = yard.knowledge();
    const store::Moment& m = *there->moment;
    const core::Figure before = m.figure;
    const core::Limbs limbs =
        there->ride.rider ? core::limbs_of(yard.records().reviews.figures_of(there->ride.rider), known.body)
                          : core::typical_limbs(known.body);
    const core::PoseFrame frame{
        before.travel,
        before.camera,
        limbs,
        core::usual_pose(core::setting_in(there->seen, {there->ride.school, there->ride.level}, m.phase),
                         known.schools),
        {}};
    core::Figure start = before;  // what was laid makes room; what was clicked or confirmed stays
    for (const L l : core::landmarks_of(before.view)) {
        if (start[l].origin == core::Origin::laid && !start[l].confirmed) start[l] = core::Mark{};
    }
    const auto offsets = core::learned_offsets(yard.records().reviews.placed_figures());
    core::Figure after =
        core::proposed_figure(start, proposal, frame, known.body, known.figure_errors, offsets, head_top);
    QStringList unsure;
    for (const core::ProposedJoint& j : proposal.joints) {
        const L l = j.landmark;
        if (j.sure || after[l].origin != core::Origin::laid || after[l].confirmed) continue;
        unsure << QString::fromUtf8(core::spoken(l).data());
        // Where the network doubts, the joint stays exactly as it was laid.
        const bool was_laid = before[l].origin == core::Origin::laid && !before[l].confirmed &&
                              before[l].visibility != core::Visibility::absent;
        if (was_laid && l != L::knee && l != L::ankle) after[l] = before[l];
    }
    put_figure(yard, m, after, m.head_top, tr("Lay figure"), place.gesture);
    emit say(unsure.isEmpty() ? tr("Joints proposed. Look, drag what is off, then [confirm] confirms them.")
                              : tr("Unsure of ") + unsure.join(", ") +
                                    tr(": laid only; look there with [confirm_one]. The others are proposed; "
                                       "[confirm] confirms."));
}

const store::Moment* FigureMaker::nearest_marked() const {
    const store::Moment* best = nullptr;
    for (const store::Moment& m : review_.moments()) {
        if (m.slot != review_.slot() || m.frame == deck_.frame()) continue;
        const auto measured =
            std::ranges::count_if(m.figure.marks, [](const core::Mark& k) { return k.measurable(); });
        if (measured < kFewestToCarry) continue;
        if (!best || std::abs(m.frame - deck_.frame()) < std::abs(best->frame - deck_.frame())) best = &m;
    }
    return best;
}

void FigureMaker::carry() {
    if (!review_.is_open() || !deck_.ready()) return;
    const store::Moment* from = nearest_marked();
    if (!from) {
        emit say(tr("There is no marked moment to carry from: mark one first."));
        return;
    }
    const Place place = here();
    const QString file = bench_.yard().file_of(review_.clip());
    const media::OrderCache cache{cache_folder().toStdString(), review_.clip().hash};
    const core::Figure source = review_.figure_of(from);
    const double seconds = std::abs(deck_.real_s(place.frame) - deck_.real_s(from->frame));
    emit say(tr("Carrying the joints over %1 frames … [let_go] stops it")
                 .arg(std::abs(place.frame - from->frame)));
    start(
        tr("Carrying joints"),
        [to = place.frame, file, cache, source, seconds, top = from->head_top, from_frame = from->frame,
         errors = bench_.yard().knowledge().figure_errors](Job& job) {
            return carry_figure(file, cache, source, top, from_frame, to, seconds, errors, job);
        },
        [this, place](const Carried& carried) { take_carried(place, carried); });
}

void FigureMaker::take_carried(const Place& place, const Carried& carried) {
    const auto there = moment_at(place);
    if (!there) return;
    Yard& yard = bench_.yard();
    core::Figure after;
    if (there->moment) after = there->moment->figure;
    after.view = there->seen.view;
    for (const L l : core::landmarks_of(after.view)) {
        const bool stays = after[l].visibility != core::Visibility::absent && after[l].confirmed;
        if (!stays && carried.figure[l].visibility != core::Visibility::absent) after[l] = carried.figure[l];
    }
    yard.step(tr("Carry joints"), [&] {
        store::Moment m = there->moment.value_or(store::Moment{});
        if (!there->moment) {
            m.clip = place.clip;
            m.frame = place.frame;
            m.slot = place.slot;
            m.field = place.field;
            m.time_s = place.time_s;
            m.id = add_moment(yard, m);
        }
        put_figure(yard, m, after, carried.head_top ? carried.head_top : m.head_top, tr("Carry joints"));
    });
    QStringList names;
    for (const L l : carried.lost) {
        if (after[l].visibility == core::Visibility::absent)
            names << QString::fromUtf8(core::spoken(l).data());
    }
    emit say(names.isEmpty() ? tr("Joints carried. Look, drag what is off, then [confirm] confirms them.")
                             : tr("Lost on the way: ") + names.join(", ") +
                                   tr(". Click there; the others are carried, [confirm] confirms."));
}

void FigureMaker::paste() {
    if (!review_.is_open() || !deck_.ready()) return;
    const store::Moment* nearest = nearest_marked();
    if (!nearest) {
        emit say(tr("There is no marked moment to paste from: mark one first."));
        return;
    }
    const store::Moment from = *nearest;  // the bench reads its moments anew while this one is written
    core::Figure after = marking_.figure();
    const core::Figure source = review_.figure_of(&from);
    const store::Moment* here = review_.moment();
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
    marking_.put_figure(after, from.head_top, tr("Paste figure"));
    emit say(tr("Pasted from frame %1. Drag what is off, then [confirm] confirms.").arg(from.frame));
}

std::optional<store::Moment> FigureMaker::other_rein() const {
    if (!review_.is_open() || !review_.rider()) return std::nullopt;
    const core::Travel here = marking_.figure().travel;
    for (const store::RiddenClip& ridden :
         bench_.yard().records().rides.ridden_by(review_.rider())) {  // newest first
        for (store::Moment& m : bench_.yard().records().reviews.moments(ridden.clip.id)) {
            const core::Figure& f = m.figure;
            if (m.slot != ridden.slot || f.view != core::View::side || f.travel == core::Travel::unknown ||
                f.travel == here)
                continue;
            if (f.measurable(L::hip) && f.measurable(L::shoulder) && f.measurable(L::heel)) return m;
        }
    }
    return std::nullopt;
}

bool FigureMaker::has_other_rein() const { return other_rein().has_value(); }

}  // namespace aspen::app

#include "moc_figure_maker.cpp"
