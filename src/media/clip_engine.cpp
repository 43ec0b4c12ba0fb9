#include "media/clip_engine.hpp"

#include <malloc.h>

#include <algorithm>
#include <chrono>

#include "core/refused.hpp"
#include "media/content_hash.hpp"
#include "media/frame_decoder.hpp"

namespace aspen::media {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int kAheadAtMost = 48, kBehindAtMost = 32;  // frames decoded ahead at rest
constexpr double kAheadShare = 0.55, kBehindShare = 0.3, kWindowShare = 0.45;
constexpr int kSoonPackets = 64;
constexpr auto kPatience = std::chrono::milliseconds(40);     // then something is shown, exact or not
constexpr auto kStill = std::chrono::milliseconds(80);        // a rubbing hand that has come to rest
constexpr auto kTellEvery = std::chrono::milliseconds(250);

}  // namespace

/// What the engine's thread owns once the clip is open.
class ClipEngine::Work {
  public:
    explicit Work(ClipEngine& engine)
        : e_(engine), source_(engine.file_), watch_{&engine.stop_, engine.events_.opening}, packets_(source_, watch_),
          order_(settle_order(source_, packets_, OrderCache(engine.options_.cache_folder, engine.options_.content_hash), watch_)),
          decoder_(source_, packets_, order_, engine.options_.cache_bytes), previews_(std::make_shared<Previews>(order_.count())) {
        if (e_.options_.previews && (kept_file().empty() || !previews_->load(kept_file()))) preview_maker_.emplace(source_, packets_, order_, *previews_);
    }

    ClipFacts facts() const { return facts_of(source_, order_); }
    const std::shared_ptr<Previews>& previews() const { return previews_; }

    void serve(Request r) {
        r.frame = std::clamp(r.frame, 0, order_.count() - 1);
        const int direction = r.motion == Motion::forward ? 1 : r.motion == Motion::backward ? -1 : r.frame < last_.frame ? -1 : r.frame > last_.frame ? 1 : 0;
        last_ = r;
        served_ = Clock::now();
        given_up_ = false;
        cache().hold(r.frame, direction);
        if (!cache().has(r.frame)) {
            if (r.motion == Motion::forward) play_forward(r.frame);
            else if (r.motion == Motion::backward) play_backward(r.frame);
            else seek(r);
        }
        if (const AVFrame* frame = cache().find(r.frame)) show(*frame, r.frame, r.motion == Motion::rest ? Quality::accurate : Quality::quick);
    }

    /// One small piece of work that nobody waits for. False when there is none left.
    bool idle() {
        if (sharpen() || prefetch()) return true;
        if (last_.motion == Motion::scrub && !sharp_) {  // nothing to do until the hand has been still for a moment
            std::this_thread::sleep_for(kStill / 10);
            return true;
        }
        if (preview_maker_) return make_previews();
        if (look_for_damage_) return find_the_damage();
        return false;
    }

    Stats stats() const { return {cache().bytes(), packets_.bytes_in_memory(), previews_->bytes(), decoder_.packets_decoded()}; }

  private:
    FrameCache& cache() { return decoder_.cache(); }
    const FrameCache& cache() const { return decoder_.cache(); }

    std::filesystem::path kept_file() const {
        if (e_.options_.cache_folder.empty() || e_.options_.content_hash.empty()) return {};
        return e_.options_.cache_folder / (e_.options_.content_hash + ".previews");
    }

    void seek(const Request& r) {
        show_preview(r.frame);
        if (e_.newer_waits()) return;
        try {
            decoder_.exact(r.frame, &e_.waiting_);
        } catch (const ReadCancelled&) {  // something newer is wanted
        }
    }

    void play_forward(int n) {
        decoder_.aim(n, n + ahead());
        advance_to(n);
    }
    void play_backward(int n) {
        decoder_.aim(n - window() + 1, n);
        advance_to(n);
    }
    /// Runs until frame n is there. After a moment's patience a preview stands in; the newest request goes on from there.
    void advance_to(int n) {
        const auto start = Clock::now();
        bool stood_in = false;
        while (!cache().has(n) && !e_.stop_) {
            if (!decoder_.advance() && !cache().has(n)) {  // a frame that does not come by a run: only a seek finds it
                if (!e_.newer_waits()) decoder_.exact(n, &e_.stop_);
                return;
            }
            if (stood_in || Clock::now() - start < kPatience) continue;
            stood_in = true;
            show_preview(n);
            if (last_.motion == Motion::forward && e_.newer_waits()) return;  // the clock has gone on: aim further ahead
        }
    }

    void show(const AVFrame& frame, int n, Quality quality) {
        int width = 0, height = 0;
        Field field = Field::first;
        {
            const std::lock_guard lock(e_.mutex_);
            width = e_.view_width_, height = e_.view_height_, field = e_.field_;
        }
        const bool full = source_.display().fitting(width, height) >= 1;
        sharp_ = full && quality == Quality::accurate;
        e_.events_.picture({pictures_.make(frame, source_.display(), width, height, quality, field), n, last_.frame, ShownPicture::Kind::exact, full});
    }

    void show_preview(int n) {
        if (const auto hit = previews_->near(n)) {
            e_.events_.picture({read_jpeg(*hit->jpeg), hit->frame, n, ShownPicture::Kind::preview, false});
            return;
        }
        if (!preview_maker_ && !e_.options_.previews) return;
        // No preview yet: the picture of the entry before, which is one packet away.
        const int entry = decoder_.entry_frame(n);
        if (entry < 0 || entry == n || e_.newer_waits()) return;
        try {
            const AVFrame& frame = decoder_.exact(entry, &e_.waiting_);
            cache().hold(n, cache().direction());
            e_.events_.picture({pictures_.make(frame, source_.display(), Previews::kWidth, Previews::kHeight, Quality::quick), entry, n, ShownPicture::Kind::approximate, false});
        } catch (const ReadCancelled&) {
        } catch (const core::Refused&) {
        }
    }

    /// The resting frame at full size, once the hand is still.
    bool sharpen() {
        const bool plays = last_.motion == Motion::forward || last_.motion == Motion::backward;
        const AVFrame* frame = sharp_ || plays ? nullptr : cache().find(last_.frame);
        if (!frame || (last_.motion == Motion::scrub && Clock::now() - served_ < kStill)) return false;
        sharp_ = true;
        e_.events_.picture({pictures_.make(*frame, source_.display(), 0, 0, Quality::accurate, field()), last_.frame, last_.frame, ShownPicture::Kind::exact, true});
        return true;
    }
    Field field() const {
        const std::lock_guard lock(e_.mutex_);
        return e_.field_;
    }

    int ahead() const { return std::clamp(static_cast<int>(kAheadShare * cache().capacity()), 1, kAheadAtMost); }
    int behind() const { return std::clamp(static_cast<int>(kBehindShare * cache().capacity()), 1, kBehindAtMost); }
    int window() const { return std::max(1, static_cast<int>(kWindowShare * cache().capacity())); }

    /// What the hand comes to first if it goes on: ahead, or going back the stretch below what is there.
    std::pair<int, int> coming() const {
        const int n = cache().hand();
        if (cache().direction() >= 0) return {n, std::min(n + ahead(), order_.count() - 1)};
        int edge = n;
        while (edge >= 0 && cache().has(edge)) --edge;
        const int depth = last_.motion == Motion::backward ? window() : behind();
        return edge < 0 || n - edge >= depth ? std::pair{n, n} : std::pair{std::max(0, edge - depth + 1), edge};
    }

    /// Decodes one packet towards what the hand will want next; false when all of it is there.
    bool prefetch() {
        if (given_up_) return false;
        auto [lo, hi] = coming();
        if (whole(lo, hi)) {  // then a little on both sides, for a hand that turns round
            lo = std::max(0, cache().hand() - behind());
            hi = std::min(cache().hand() + ahead() / 2, order_.count() - 1);
        }
        if (whole(lo, hi)) return false;
        decoder_.aim(lo, hi);
        if (!decoder_.advance() && !whole(lo, hi)) given_up_ = true;  // some frame does not come by a run; a seek finds it
        return true;
    }
    bool whole(int lo, int hi) const {
        for (int n = lo; n <= hi; ++n) {
            if (!cache().has(n)) return false;
        }
        return true;
    }

    bool make_previews() {
        const bool more = preview_maker_->advance();
        const auto now = Clock::now();
        if (!more || now - told_ > kTellEvery) {
            told_ = now;
            e_.events_.previews(previews_->made(), previews_->total());
        }
        if (more) return true;
        look_for_damage_ = preview_maker_->heard_complaints() && !order_.settled;
        preview_maker_.reset();
        if (!kept_file().empty()) previews_->save(kept_file());
        return true;
    }

    bool find_the_damage() {
        try {
            e_.events_.damage(find_damage(source_, packets_, order_, &e_.waiting_));
            look_for_damage_ = false;
        } catch (const ReadCancelled&) {  // later, when nothing is asked for
        }
        return true;
    }

    ClipEngine& e_;
    ClipSource source_;
    ReadWatch watch_;
    PacketStore packets_;
    FrameOrder order_;
    FrameDecoder decoder_;
    std::shared_ptr<Previews> previews_;
    std::optional<PreviewMaker> preview_maker_;
    PictureMaker pictures_;
    Request last_;
    bool sharp_ = true, given_up_ = false, look_for_damage_ = false;
    Clock::time_point told_{}, served_{};
};

ClipEngine::ClipEngine(std::filesystem::path file, Options options, Events events)
    : file_(std::move(file)), options_(std::move(options)), events_(std::move(events)) {
    const auto or_nothing = [](auto& event) {
        if (!event) event = [](auto&&...) {};
    };
    or_nothing(events_.opening), or_nothing(events_.first), or_nothing(events_.opened), or_nothing(events_.picture);
    or_nothing(events_.previews), or_nothing(events_.damage), or_nothing(events_.failed);
    thread_ = std::thread([this] { run(); });
}

ClipEngine::~ClipEngine() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
        waiting_ = true;
    }
    wake_.notify_one();
    thread_.join();
    malloc_trim(0);  // gives the pictures' memory back at once, not when it suits the allocator
}

void ClipEngine::run() {
    try {
        try {
            int width = 0, height = 0;
            {
                const std::lock_guard lock(mutex_);
                width = view_width_, height = view_height_;
            }
            events_.first(first_picture(file_, width, height));
        } catch (const core::Refused&) {  // opening says more
        }
        if (stop_) return;
        Work work(*this);
        {
            const std::lock_guard lock(mutex_);
            previews_ = work.previews();
        }
        events_.opened(work.facts());
        bool busy = true;
        while (true) {
            std::optional<Request> next;
            {
                std::unique_lock lock(mutex_);
                stats_ = work.stats();
                if (!busy) wake_.wait(lock, [this] { return stop_ || request_; });
                if (stop_) return;
                next.swap(request_);
                waiting_ = false;
            }
            try {
                if (next) work.serve(*next);
                busy = work.idle() || next.has_value();
            } catch (const core::Refused& e) {
                busy = false;
                events_.failed(e.what());
            }
        }
    } catch (const ReadCancelled&) {
    } catch (const std::exception& e) {
        events_.failed(e.what());
    }
}

void ClipEngine::request(int frame, Motion motion) {
    const std::lock_guard lock(mutex_);
    request_ = Request{frame, motion};
    waiting_ = true;
    wake_.notify_one();
}

void ClipEngine::set_view(int width, int height) {
    const std::lock_guard lock(mutex_);
    view_width_ = width;
    view_height_ = height;
}

void ClipEngine::set_field(Field field) {
    const std::lock_guard lock(mutex_);
    field_ = field;
}

std::optional<Previews::Hit> ClipEngine::preview(int frame) const {
    std::shared_ptr<Previews> there;
    {
        const std::lock_guard lock(mutex_);
        there = previews_;
    }
    return there ? there->near(frame) : std::nullopt;
}

ClipEngine::Stats ClipEngine::stats() const {
    const std::lock_guard lock(mutex_);
    return stats_;
}

}  // namespace aspen::media
