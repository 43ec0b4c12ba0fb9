#include "app/review/clip_deck.hpp"

#include <algorithm>

#include "app/review/real_time.hpp"

namespace aspen::app {
namespace {

constexpr double kSlowerByTags =
    1.5;  // a camera's rate this much above the stream's is slow motion, not rounding

}  // namespace

ClipDeck::ClipDeck(QObject* parent) : QObject(parent) {
    connect(&frames_, &FrameService::opening, this, &ClipDeck::opening);
    connect(&frames_, &FrameService::failed, this, &ClipDeck::failed);
    connect(&frames_, &FrameService::opened, this, [this](const media::ClipFacts& facts) {
        facts_ = facts;
        picture_frame_ = -1;
        frame_ = std::clamp(start_frame_, 0, facts_.frames - 1);
        frames_.request(frame_);
        emit opened();
    });
    connect(&frames_, &FrameService::first_picture, this, [this](const QImage& picture) {
        if (ready()) return;
        picture_ = picture;
        emit picture_changed();
    });
    connect(&frames_, &FrameService::picture_ready, this, &ClipDeck::take_picture);
    connect(&frames_, &FrameService::previews_made, this, &ClipDeck::previews_made);
    connect(&frames_, &FrameService::damage_found, this, [this](const std::vector<int>& frames) {
        facts_.damaged = frames;
        emit damage_found();
    });
}

void ClipDeck::open(const QString& file, const Options& options) {
    close();
    file_ = file;
    start_frame_ = options.start_frame;
    capture_ = options.capture;
    frames_.open(file, options.frames);
}

void ClipDeck::close() {
    if (!file_.isEmpty()) emit closing();
    file_.clear();
    frames_.close();
    field_ = 0;
    frame_ = 0;
    facts_ = {};
    picture_ = {};
    picture_frame_ = -1;
}

void ClipDeck::go_to(int frame, media::Motion motion) {
    if (!ready()) return;
    frame = std::clamp(frame, 0, facts_.frames - 1);
    if (frame == frame_) return;
    emit leaving();
    frame_ = frame;
    frames_.request(frame, motion);
    emit frame_changed(frame_);
}

void ClipDeck::rest() {
    if (ready()) frames_.request(frame_);
}

void ClipDeck::take_picture(const FramePicture& picture) {
    using Kind = media::ShownPicture::Kind;
    if (picture.wanted != frame_ && picture.kind != Kind::exact) return;
    if (picture.wanted != frame_ && picture_frame_ == frame_) return;  // late
    picture_ = picture.image;
    picture_frame_ = picture.frame;
    picture_kind_ = picture.kind;
    picture_full_ = picture.full;
    emit picture_changed();
}

bool ClipDeck::damaged(int frame) const { return std::ranges::binary_search(facts_.damaged, frame); }

core::CaptureMap real_time_of(const core::Capture& said, const media::ClipFacts& facts) {
    if (said.filmed_fps > 0) return {said, facts.average_fps};
    if (facts.capture_fps > kSlowerByTags * facts.average_fps)
        return {{facts.capture_fps, {}, {}}, facts.average_fps};
    return {};
}

int nearest_frame(const std::vector<double>& times, double time_s) {
    const auto after = std::ranges::lower_bound(times, time_s);
    if (after == times.begin()) return 0;
    const auto n = static_cast<int>(after - times.begin());
    const bool before = after == times.end() || time_s - *(after - 1) < *after - time_s;
    return before ? n - 1 : n;
}

core::CaptureMap ClipDeck::capture_map() const {
    return ready() ? real_time_of(capture_, facts_) : core::CaptureMap{};
}

double ClipDeck::stream_s(int frame) const {
    if (!ready()) return 0;
    const auto n = static_cast<std::size_t>(frame);
    const double half = field_ == 0 ? 0
                                    : (n + 1 < facts_.pts_s.size() ? facts_.pts_s[n + 1] - facts_.pts_s[n]
                                                                   : 1 / facts_.average_fps) /
                                          2;
    return facts_.pts_s[n] + half;
}

void ClipDeck::show_field(int field) {
    field_ = field == 1 ? 1 : 0;
    frames_.set_field(field_ == 1 ? media::Field::second : media::Field::first);
    rest();
    emit frame_changed(frame_);
}

}  // namespace aspen::app

#include "moc_clip_deck.cpp"
