#include "app/bench.hpp"

#include <QCoreApplication>
#include <QFileInfo>
#include <QPointer>
#include <QThreadPool>
#include <algorithm>
#include <cmath>

#include "app/cache_folder.hpp"
#include "app/importer.hpp"

namespace aspen::app {
namespace {

constexpr int kKeepPlaceAfterMs = 400;
constexpr double kSlowerByTags =
    1.5;  // a camera's rate this much above the stream's is slow motion, not rounding

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
    connect(&yard_, &Yard::marks_changed, this, [this, mine](store::ClipId id) {
        if (mine(id)) reload();
    });
    connect(&yard_, &Yard::clip_changed, this, [this, mine](store::ClipId id) {
        if (mine(id)) reload();
    });
    connect(&yard_, &Yard::findings_changed, this, [this, mine](store::ClipId id) {
        if (mine(id)) judge();
    });
    connect(&yard_, &Yard::stretches_changed, this, [this, mine](store::ClipId id) {
        if (mine(id)) reload();
    });
    connect(&yard_, &Yard::notes_changed, this, [this, mine](store::ClipId id) {
        if (!mine(id)) return;
        notes_ = yard_.records().notes(id);
        emit notes_changed();
    });
}

void Bench::open(store::ClipId id) {
    close();
    clip_ = yard_.records().clip(id);
    if (!clip_) return;
    if (clip_->state == store::ClipState::fresh) yard_.set_clip_state(id, store::ClipState::started);
    notes_ = yard_.records().notes(id);
    learn_limbs();
    reload();
    emit notes_changed();
    find_and_open();
}

void Bench::open_frames(const QString& file) {
    const int megabytes = QString::fromStdString(yard_.records().setting("cache_mb", "512")).toInt();
    frames_.open(file, {cache_folder(), QString::fromStdString(clip_->hash),
                        static_cast<std::size_t>(std::clamp(megabytes, 64, 16384)) << 20});
}

void Bench::find_and_open() {
    const QString file = yard_.file_of(*clip_);
    if (QFileInfo::exists(file)) {
        open_frames(file);
        return;
    }
    emit trouble("Looking for the clip, it is not where it was …");
    const QStringList folders{QFileInfo(file).absolutePath(), yard_.folder().filePath("clips"),
                              QFileInfo(QFileInfo(file).absolutePath()).absolutePath()};
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
    stretches_.clear();
    notes_.clear();
    companions_.clear();
    remarks_.clear();
    judged_.clear();
    findings_.clear();
    drag_.reset();
    slot_ = 0;
    selected_.reset();
    asked_.reset();
}

void Bench::reload() {
    clip_ = yard_.records().clip(clip_->id);
    moments_ = yard_.records().moments(clip_->id);
    stretches_ = yard_.records().stretches(clip_->id);
    companions_ = yard_.records().companions(clip_->id);
    if (rider() != limbs_of_) learn_limbs();
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
    if (facts_.capture_fps > kSlowerByTags * facts_.average_fps)
        return {{facts_.capture_fps, {}, {}}, facts_.average_fps};
    return {};
}

double Bench::stream_s(int frame) const {
    if (!ready()) return 0;
    const auto n = static_cast<std::size_t>(frame);
    const double half = field_ == 0 ? 0
                                    : (n + 1 < facts_.pts_s.size() ? facts_.pts_s[n + 1] - facts_.pts_s[n]
                                                                   : 1 / facts_.average_fps) /
                                          2;
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
        if (m.slot != slot_ || (m.frame - frame_) * direction <= 0) continue;
        if (!best || (m.frame - best->frame) * direction < 0) best = &m;
    }
    if (best) go_to(best->frame);
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

void Bench::set_level(core::Point a, core::Point b) {
    if (a.x > b.x) std::swap(a, b);
    // A quarter turn makes the level line an upright one.
    set_upright(a, {a.x - (b.y - a.y), a.y + (b.x - a.x)});
}

void Bench::set_scale(core::Point a, core::Point b, double metres) {
    if (!clip_ || !(metres > 0)) return;
    store::ClipContext c = clip_->context;
    c.px_per_m = core::distance(a, b) / metres;
    c.px_per_m_sd = std::sqrt(2.0) * core::click_sd_px(facts_.width, facts_.height) / metres;
    set_context(c, "scale");
}

}  // namespace aspen::app
