#include "app/bench.hpp"

#include <QCoreApplication>
#include <QFileInfo>
#include <QPointer>
#include <QThreadPool>
#include <algorithm>
#include <set>

#include "app/cache_folder.hpp"
#include "app/importer.hpp"

namespace aspen::app {
namespace {

constexpr int kFirstJointsForJudgement = 3;  // the column comes alive from the third joint
constexpr int kKeepPlaceAfterMs = 400;
constexpr double kSlowerByTags = 1.5;  // a camera's rate this much above the stream's is slow motion, not rounding

}  // namespace

Bench::Bench(Yard& yard, QObject* parent) : QObject(parent), yard_(yard) {
    connect(&frames_, &FrameService::opening, this, &Bench::opening);
    connect(&frames_, &FrameService::failed, this, &Bench::trouble);
    connect(&frames_, &FrameService::opened, this, [this](const media::ClipFacts& facts) {
        facts_ = facts;
        picture_frame_ = -1;
        frame_ = std::clamp(clip_->last_frame, 0, facts_.frames - 1);
        frames_.request(frame_);
        choose_asked();
        judge();
        emit clip_opened();
        emit frame_changed(frame_);
        emit moments_changed();
        emit figure_changed();
    });
    connect(&frames_, &FrameService::first_picture, this, [this](const QImage& picture) {
        if (ready()) return;
        picture_ = picture;
        emit picture_changed();
    });
    connect(&frames_, &FrameService::picture_ready, this, &Bench::take_picture);
    connect(&frames_, &FrameService::previews_made, this, &Bench::previews_made);
    connect(&frames_, &FrameService::damage_found, this, [this](const std::vector<int>& frames) {
        facts_.damaged = frames;
        emit figure_changed();
    });
    place_timer_.setSingleShot(true);
    place_timer_.setInterval(kKeepPlaceAfterMs);
    connect(&place_timer_, &QTimer::timeout, this, &Bench::keep_place);
    const auto mine = [this](store::ClipId id) { return clip_ && clip_->id == id; };
    connect(&yard_, &Yard::marks_changed, this, [this, mine](store::ClipId id) { if (mine(id)) reload(); });
    connect(&yard_, &Yard::clip_changed, this, [this, mine](store::ClipId id) { if (mine(id)) reload(); });
    connect(&yard_, &Yard::findings_changed, this, [this, mine](store::ClipId id) { if (mine(id)) judge(); });
}

void Bench::open(store::ClipId id) {
    close();
    clip_ = yard_.records().clip(id);
    if (!clip_) return;
    if (clip_->state == store::ClipState::fresh) yard_.set_clip_state(id, store::ClipState::started);
    reload();
    find_and_open();
}

void Bench::open_frames(const QString& file) {
    const int megabytes = QString::fromStdString(yard_.records().setting("cache_mb", "512")).toInt();
    frames_.open(file, {cache_folder(), QString::fromStdString(clip_->hash), static_cast<std::size_t>(std::clamp(megabytes, 64, 16384)) << 20});
}

void Bench::find_and_open() {
    const QString file = yard_.file_of(*clip_);
    if (QFileInfo::exists(file)) {
        open_frames(file);
        return;
    }
    emit trouble("Looking for the clip, it is not where it was …");
    const QStringList folders{QFileInfo(file).absolutePath(), yard_.folder().filePath("clips"), QFileInfo(QFileInfo(file).absolutePath()).absolutePath()};
    QThreadPool::globalInstance()->start([self = QPointer(this), clip = *clip_, folders, file] {
        const QString found = find_moved(clip.hash, clip.bytes, folders);
        QMetaObject::invokeMethod(QCoreApplication::instance(), [self, clip, found, file] {
            if (!self || !self->clip_ || self->clip_->id != clip.id) return;
            if (found.isEmpty()) {
                emit self->trouble(file + ": the clip has moved; drop it on the window to find it again.");
                return;
            }
            self->yard_.move_clip(clip.id, found);
            self->clip_ = self->yard_.records().clip(clip.id);
            self->open_frames(found);
        });
    });
}

void Bench::close() {
    emit closing();
    keep_place();
    frames_.close();
    field_ = 0;
    clip_.reset();
    facts_ = {};
    picture_ = {};
    picture_frame_ = -1;
    moments_.clear();
    judged_.clear();
    findings_.clear();
    drag_.reset();
    selected_.reset();
    asked_.reset();
}

void Bench::reload() {
    clip_ = yard_.records().clip(clip_->id);
    moments_ = yard_.records().moments(clip_->id);
    if (selected_ && figure()[*selected_].visibility == core::Visibility::absent) selected_.reset();
    choose_asked();
    judge();
    emit moments_changed();
    emit figure_changed();
}

void Bench::go_to(int frame, media::Motion motion) {
    if (!ready()) return;
    frame = std::clamp(frame, 0, facts_.frames - 1);
    if (frame == frame_) return;
    end_drag();
    const bool marked_before = moment() != nullptr;
    frame_ = frame;
    selected_.reset();
    const int field = moment() ? moment()->field : 0;
    if (field != field_) show_field(field);
    frames_.request(frame, motion);
    place_timer_.start();
    choose_asked();
    judge_here();
    if (marked_before || moment()) emit findings_changed();  // their small rails show the moment one is at
    emit frame_changed(frame_);
    emit figure_changed();
}

void Bench::rest() {
    if (ready()) frames_.request(frame_);
}

void Bench::take_picture(const FramePicture& picture) {
    using Kind = media::ShownPicture::Kind;
    if (picture.wanted != frame_ && picture.kind != Kind::exact) return;
    if (picture.wanted != frame_ && picture_frame_ == frame_) return;  // late
    picture_ = picture.image;
    picture_frame_ = picture.frame;
    picture_kind_ = picture.kind;
    picture_full_ = picture.full;
    emit picture_changed();
}

void Bench::keep_place() {
    place_timer_.stop();
    if (clip_ && ready()) yard_.leave_at(clip_->id, frame_);
}

bool Bench::damaged(int frame) const { return std::ranges::binary_search(facts_.damaged, frame); }

core::CaptureMap Bench::capture_map() const {
    if (!ready()) return {};
    if (clip_->context.capture.filmed_fps > 0) return {clip_->context.capture, facts_.average_fps};
    if (facts_.capture_fps > kSlowerByTags * facts_.average_fps) return {{facts_.capture_fps, {}, {}}, facts_.average_fps};
    return {};
}

double Bench::stream_s(int frame) const {
    if (!ready()) return 0;
    const auto n = static_cast<std::size_t>(frame);
    const double half = field_ == 0 ? 0 : (n + 1 < facts_.pts_s.size() ? facts_.pts_s[n + 1] - facts_.pts_s[n] : 1 / facts_.average_fps) / 2;
    return facts_.pts_s[n] + half;
}

void Bench::show_field(int field) {
    field_ = field == 1 ? 1 : 0;
    frames_.set_field(field_ == 1 ? media::Field::second : media::Field::first);
    rest();
    emit frame_changed(frame_);
}

void Bench::go_to_moment(int direction) {
    const store::Moment* best = nullptr;
    for (const store::Moment& m : moments_) {
        if ((m.frame - frame_) * direction <= 0) continue;
        if (!best || (m.frame - best->frame) * direction < 0) best = &m;
    }
    if (best) go_to(best->frame);
}

const store::Moment* Bench::moment() const {
    const auto it = std::ranges::find(moments_, frame_, &store::Moment::frame);
    return it == moments_.end() ? nullptr : &*it;
}

core::Figure Bench::figure() const {
    core::Figure f;
    if (const store::Moment* m = moment()) f = m->figure;
    if (!clip_) return f;
    f.view = clip_->context.view;
    f.travel = clip_->context.travel;
    f.camera = clip_->context.camera;
    if (drag_) f[drag_->landmark] = drag_->mark;
    return f;
}

core::Setting Bench::setting() const {
    core::Setting s;
    if (!clip_) return s;
    const store::ClipContext& c = clip_->context;
    if (c.gait && c.seat) s.school = c.school;
    s.gait = c.gait.value_or(core::Gait::walk);
    s.seat = c.seat.value_or(core::Seat::sitting);
    if (const store::Moment* m = moment()) s.phase = m->phase;
    return s;
}

void Bench::choose_asked() {
    const auto before = asked_;
    asked_.reset();
    const core::Figure f = figure();
    const bool side = f.view == core::View::side;
    const auto order = side && !others_ ? core::first_nine() : core::asking_order(f.view);
    for (const core::Landmark l : order) {
        if (f[l].visibility != core::Visibility::absent) continue;
        asked_ = l;
        break;
    }
    if (asked_ != before) emit asked_changed();
}

void Bench::ask_for(core::Landmark l) {
    asked_ = l;
    emit asked_changed();
}

void Bench::ask_for_others(bool others) {
    others_ = others;
    choose_asked();
    emit asked_changed();
}

store::Moment& Bench::moment_here() {
    if (!moment()) {
        store::Moment m;
        m.clip = clip_->id;
        m.frame = frame_;
        m.time_s = stream_s(frame_);
        m.field = field_;
        yard_.add_moment(std::move(m));
    }
    return *std::ranges::find(moments_, frame_, &store::Moment::frame);
}

void Bench::put(core::Landmark l, const core::Mark& mark, int gesture) {
    // A first joint makes its moment in the same undo step, so that taking it back leaves nothing behind.
    const bool fresh = !moment();
    if (fresh) yard_.undo_stack().beginMacro("Place " + QString::fromUtf8(core::spoken(l).data()));
    const store::Moment here = moment_here();
    yard_.put_mark(here, l, here.figure[l], mark, gesture);
    if (fresh) yard_.undo_stack().endMacro();
    keep_place();
}

void Bench::place(core::Point at, double zoom) {
    if (!asked_ || !picture_is_current()) return;
    core::Mark mark;
    mark.at = at;
    mark.visibility = core::Visibility::seen;
    mark.sd_px = core::click_sd_px(facts_.width, facts_.height, zoom);
    const core::Landmark l = *asked_;
    put(l, mark, 0);
    selected_ = l;
    choose_asked();
    emit figure_changed();
}

void Bench::skip() {
    if (!asked_ || !ready()) return;
    core::Mark mark;
    mark.visibility = core::Visibility::hidden;
    mark.at = {facts_.width / 2.0, facts_.height / 2.0};
    // A guess near its neighbours, so that the figure can be drawn; never measured.
    const core::Figure f = figure();
    for (const auto& [a, b] : core::segments_of(f.view)) {
        const auto other = a == *asked_ ? b : b == *asked_ ? a : *asked_;
        if (other != *asked_ && f[other].visibility != core::Visibility::absent) mark.at = {f[other].at.x, f[other].at.y + 30};
    }
    mark.sd_px = core::click_sd_px(facts_.width, facts_.height);
    put(*asked_, mark, 0);
}

void Bench::select(std::optional<core::Landmark> l) {
    selected_ = l;
    ++gesture_;
    emit figure_changed();
}

void Bench::take_away_selected() {
    if (!selected_ || !moment()) return;
    put(*selected_, core::Mark{}, 0);
    selected_.reset();
    emit figure_changed();
}

void Bench::nudge_selected(double dx, double dy) {
    const store::Moment* m = moment();
    if (!selected_ || !m) return;
    core::Mark mark = m->figure[*selected_];
    mark.at.x += dx;
    mark.at.y += dy;
    put(*selected_, mark, gesture_ == 0 ? ++gesture_ : gesture_);
}

void Bench::drag(core::Landmark l, core::Point to, double zoom) {
    const store::Moment* m = moment();
    if (!m) return;
    if (!drag_) {
        ++gesture_;
        selected_ = l;
        drag_ = Drag{l, m->figure[l]};
        drag_->mark.sd_px = core::click_sd_px(facts_.width, facts_.height, zoom);
        drag_->mark.visibility = core::Visibility::seen;
        drag_->mark.origin = core::Origin::clicked;
    }
    drag_->mark.at = to;
    judge();
    emit figure_changed();
}

void Bench::end_drag() {
    if (!drag_) return;
    const Drag done = *drag_;
    drag_.reset();
    put(done.landmark, done.mark, 0);
}

void Bench::set_context(const store::ClipContext& context, const QString& what) {
    if (clip_) yard_.set_context(clip_->id, context, what);
}

void Bench::turn_travel() {
    if (!clip_) return;
    store::ClipContext c = clip_->context;
    c.travel = c.travel == core::Travel::left ? core::Travel::right : core::Travel::left;
    set_context(c, "direction of travel");
}

bool Bench::travel_doubtful() const { return clip_ && core::bit_behind_hip(figure()); }

void Bench::set_upright(core::Point a, core::Point b) {
    if (!clip_ || core::distance(a, b) < 20) return;
    store::ClipContext c = clip_->context;
    c.camera.roll_deg = core::roll_from_upright(a, b);
    c.camera.roll_sd_deg = core::roll_sd_from_upright(a, b, core::click_sd_px(facts_.width, facts_.height));
    c.camera.roll_marked = true;
    set_context(c, "upright");
}

void Bench::set_phase(const std::string& phase) {
    if (const store::Moment* m = moment()) yard_.set_phase(*m, phase);
}

void Bench::remove_moment() {
    if (const store::Moment* m = moment()) yard_.remove_moment(*m);
}

void Bench::judge() {
    judge_here();
    find_faults();
}

void Bench::judge_here() {
    const core::Figure f = figure();
    judged_.clear();
    if (f.marked() >= kFirstJointsForJudgement) {
        judged_ = core::judge(f, setting(), yard_.knowledge().body, yard_.knowledge().schools);
    }
}

void Bench::find_faults() {
    const core::Figure f = figure();
    std::vector<std::vector<core::FoundFault>> each;
    const core::FaultBook& book = yard_.knowledge().faults;
    for (const store::Moment& m : moments_) {
        core::Setting s = setting();
        s.phase = m.phase;
        core::Figure figure_there = m.frame == frame_ ? f : m.figure;
        if (figure_there.marked() < kFirstJointsForJudgement) continue;
        each.push_back(book.look_for(core::judge(figure_there, s, yard_.knowledge().body, yard_.knowledge().schools), s, figure_there.view));
    }
    findings_.clear();
    const auto decided = clip_ ? yard_.records().findings(clip_->id) : std::vector<store::Finding>{};
    if (!each.empty()) {
        for (core::FoundFault& found : book.merge(each)) findings_.push_back({std::move(found), store::Decision::open, nullptr});
    }
    for (const store::Finding& d : decided) {
        auto row = std::ranges::find_if(findings_, [&](const FindingRow& r) { return r.found.fault->id == d.fault; });
        if (row == findings_.end()) {
            // The coach's word stays, whatever a later computation finds.
            const core::Fault* fault = book.find(d.fault);
            if (!fault || each.empty()) continue;
            findings_.push_back({core::FoundFault{fault, core::Verdict::no_band, d.measured_severity, 0, {}}, d.decision, book.find(d.changed_to)});
            continue;
        }
        row->decision = d.decision;
        row->changed_to = d.decision == store::Decision::changed ? book.find(d.changed_to) : nullptr;
    }
    // Base before what it carries: the list stands in the order of attention.
    std::ranges::stable_sort(findings_, [](const FindingRow& a, const FindingRow& b) { return a.found.fault->group < b.found.fault->group; });
    emit findings_changed();
}

void Bench::write_decision(const std::string& fault, store::Decision decision, const std::string& to) {
    const auto row = std::ranges::find_if(findings_, [&](const FindingRow& r) { return r.found.fault->id == fault; });
    if (!clip_ || row == findings_.end()) return;
    const bool again = row->decision == decision && decision != store::Decision::changed;
    yard_.decide({clip_->id, fault, std::string(core::word(row->found.verdict)), row->found.severity,
                  again ? store::Decision::open : decision, to, yard_.today().toString(Qt::ISODate).toStdString()});
}
void Bench::accept(const std::string& fault) { write_decision(fault, store::Decision::accepted, {}); }
void Bench::reject(const std::string& fault) { write_decision(fault, store::Decision::rejected, {}); }
void Bench::change(const std::string& fault, const std::string& to) { write_decision(fault, store::Decision::changed, to); }

std::vector<core::FoundFault> Bench::said_faults() const {
    const bool decided = std::ranges::any_of(findings_, [](const FindingRow& r) {
        return r.decision == store::Decision::accepted || r.decision == store::Decision::changed;
    });
    std::vector<core::FoundFault> out;
    for (const FindingRow& row : findings_) {
        const core::Fault* said = row.said();
        if (!said || (decided && row.decision == store::Decision::open)) continue;
        core::FoundFault f = row.found;
        f.fault = said;
        // What the coach accepts counts as certain, even where the number alone was borderline.
        if (row.decision != store::Decision::open) f.verdict = core::Verdict::outside;
        f.share = std::max(f.share, 1e-6);
        out.push_back(std::move(f));
    }
    return out;
}

std::vector<core::Cause> Bench::causes() const { return yard_.knowledge().faults.causes_among(said_faults()); }

std::optional<core::Focus> Bench::focus() const {
    if (!clip_) return std::nullopt;
    std::vector<std::string> in_work;
    if (clip_->context.rider) {
        for (const store::Correction& c : yard_.records().corrections(clip_->context.rider)) {
            if (c.focus && c.horse == clip_->context.horse) in_work.push_back(c.fault);
        }
    }
    return core::choose_focus(said_faults(), causes(), in_work);
}

QStringList Bench::what_is_good() const {
    struct Tally { int inside = 0, other = 0; double margin = 0; };
    std::map<std::string_view, Tally> tallies;
    for (const store::Moment& m : moments_) {
        core::Setting s = setting();
        s.phase = m.phase;
        for (const core::Judged& j : core::judge(m.figure, s, yard_.knowledge().body, yard_.knowledge().schools)) {
            if (j.verdict == core::Verdict::inside) {
                ++tallies[j.info().id].inside;
                const double middle = j.band->lo && j.band->hi ? (*j.band->lo + *j.band->hi) / 2 : *j.measured.value;
                tallies[j.info().id].margin += 1 - std::abs(*j.measured.value - middle) / j.band->half_width;
            } else if (j.verdict == core::Verdict::outside || j.verdict == core::Verdict::borderline) {
                ++tallies[j.info().id].other;
            }
        }
    }
    std::vector<std::pair<double, QString>> ranked;
    std::set<std::string> named;
    for (const core::Fault& fault : yard_.knowledge().faults.faults()) {
        if (fault.good.empty() || named.contains(fault.good) || fault.when.size() != 1) continue;
        const auto it = tallies.find(core::leading_measure(fault));
        if (it == tallies.end() || it->second.inside == 0 || it->second.other > 0) continue;
        named.insert(fault.good);
        QString text = QString::fromStdString(fault.good);
        text[0] = text[0].toUpper();
        ranked.emplace_back(-it->second.margin / it->second.inside, text);
    }
    std::ranges::stable_sort(ranked, {}, &std::pair<double, QString>::first);
    QStringList out;
    for (const auto& [rank, text] : ranked) out << text;
    return out;
}

}  // namespace aspen::app
