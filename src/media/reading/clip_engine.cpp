#include "media/reading/clip_engine.hpp"

#include <malloc.h>

#include <algorithm>
#include <chrono>

#include "core/reading/refused.hpp"
#include "media/reading/frame_decoder.hpp"

namespace aspen::media {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int kAheadAtMost = 48, kBehindAtMost = 32;  // frames decoded ahead at rest
constexpr double kAheadShare = 0.55, kBehindShare = 0.3, kWindowShare = 0.45, kWidestShare = 0.9;
constexpr int kMostLate = 60;                              // frames behind the clock that may still be shown
constexpr auto kPatience = std::chrono::milliseconds(40);  // while playing, before a preview stands in
constexpr auto kStill = std::chrono::milliseconds(80);     // a rubbing hand that has come to rest
constexpr auto kTellEvery = std::chrono::milliseconds(250);

}  // namespace

/// What the decoding thread owns once the clip is open.
class ClipEngine::Decoding {
  public:
    explicit Decoding(ClipEngine& engine)
        : e_(engine),
          source_(engine.file_, &engine.stop_),
          watch_{&engine.stop_, engine.events_.opening},
          packets_(source_, watch_),
          order_(settle_order(source_, packets_,
                              OrderCache(engine.options_.cache_folder, engine.options_.content_hash),
                              watch_)),
          decoder_(source_, packets_, order_, engine.options_.cache_bytes),
          previews_(std::make_shared<Previews>(order_.count())) {
        if (e_.options_.previews && (kept_file().empty() || !previews_->load(kept_file())))
            preview_maker_.emplace(source_, packets_, order_, *previews_);
    }

    ClipFacts facts() const { return facts_of(source_, order_); }
    const Display& display() const { return source_.display(); }
    const std::shared_ptr<Previews>& previews() const { return previews_; }
    FrameCache& cache() { return decoder_.cache(); }

    /// Gets the frame into the cache, or gives up when something newer is wanted.
    void serve(Request r) {
        r.frame = std::clamp(r.frame, 0, order_.count() - 1);
        const int direction = r.motion == Motion::forward    ? 1
                              : r.motion == Motion::backward ? -1
                              : r.frame < last_.frame        ? -1
                              : r.frame > last_.frame        ? 1
                                                             : 0;
        last_ = r;
        given_up_ = false;
        cache().hold(r.frame, direction);
        if (cache().has(r.frame)) return;
        if (r.motion == Motion::forward) {
            decoder_.aim(r.frame, r.frame + ahead());
            run_to(r.frame);
        } else if (r.motion == Motion::backward) {
            decoder_.aim(window_start(r.frame), r.frame);
            run_to(r.frame);
        } else {
            seek(r.frame);
        }
    }

    /// One small piece of work that nobody waits for. False when there is none left.
    bool idle() {
        if (prefetch()) return true;
        if (preview_maker_) return make_previews();
        return look_for_damage_ && find_the_damage();
    }

    Stats stats() const {
        return {decoder_.cache().bytes(), packets_.bytes_in_memory(), previews_->bytes(),
                decoder_.packets_decoded()};
    }

  private:
    std::filesystem::path kept_file() const {
        if (e_.options_.cache_folder.empty() || e_.options_.content_hash.empty()) return {};
        return e_.options_.cache_folder / (e_.options_.content_hash + ".previews");
    }

    void seek(int n) {
        try {
            if (preview_maker_ && !previews_->near(n)) stand_in(n);
            decoder_.exact(n, &e_.waiting_);
        } catch (const ReadCancelled&) {  // something newer is wanted
        }
    }

    /// No preview yet: the picture of the entry before, which is one packet away.
    void stand_in(int n) {
        const int entry = decoder_.entry_frame(n);
        if (entry < 0 || entry == n) return;
        decoder_.exact(entry, &e_.waiting_);
        cache().hold(n, cache().direction());
        const std::lock_guard lock(e_.mutex_);
        e_.stand_in_ = entry;
        ++e_.arrivals_;
        e_.showing_wakes_.notify_one();
    }

    /// Runs until frame n is there. Forwards, the newest request goes on from where the run is.
    void run_to(int n) {
        while (!cache().has(n) && !e_.stop_) {
            if (!decoder_.advance() &&
                !cache().has(n)) {  // a frame that does not come by a run: only a seek finds it
                if (!e_.newer_waits()) decoder_.exact(n, &e_.stop_);
                return;
            }
            if (last_.motion == Motion::forward && e_.newer_waits()) return;
        }
    }

    int ahead() const {
        return std::clamp(static_cast<int>(kAheadShare * decoder_.cache().capacity()), 1, kAheadAtMost);
    }
    int behind() const {
        return std::clamp(static_cast<int>(kBehindShare * decoder_.cache().capacity()), 1, kBehindAtMost);
    }
    /// Where a stretch of frames that ends at `last` starts when it is decoded for going backwards: from an
    /// entry where that fits, so that nothing is decoded twice.
    int window_start(int last) const {
        const int start =
            std::max(0, last - std::max(1, static_cast<int>(kWindowShare * decoder_.cache().capacity())) + 1);
        const int entry = decoder_.entry_frame(start);
        const bool fits = entry >= 0 && last - entry < kWidestShare * decoder_.cache().capacity() -
                                                           (decoder_.cache().hand() - last);
        return fits ? std::min(entry, start) : start;
    }

    /// What the hand comes to first if it goes on: ahead, or going back the stretch below what is there.
    std::pair<int, int> coming() const {
        const FrameCache& cache = decoder_.cache();
        const int n = cache.hand();
        if (cache.direction() >= 0) return {n, std::min(n + ahead(), order_.count() - 1)};
        int edge = n;
        while (edge >= 0 && cache.has(edge)) --edge;
        const bool plays = last_.motion == Motion::backward;
        const int depth = plays ? static_cast<int>(kWindowShare * cache.capacity()) : behind();
        if (edge < 0 || n - edge >= depth) return {n, n};
        return {plays ? window_start(edge) : std::max(0, edge - depth + 1), edge};
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
        if (!decoder_.advance() && !whole(lo, hi))
            given_up_ = true;  // some frame does not come by a run; a seek finds it
        return true;
    }
    bool whole(int lo, int hi) const {
        for (int n = lo; n <= hi; ++n) {
            if (!decoder_.cache().has(n)) return false;
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
    Request last_;
    bool given_up_ = false, look_for_damage_ = false;
    Clock::time_point told_{};
};

/// What the showing thread knows of the newest request.
class ClipEngine::Showing {
  public:
    explicit Showing(ClipEngine& engine) : e_(engine) {}

    /// One round; called and left with the lock held, which is let go while pictures are made.
    void round(std::unique_lock<std::mutex>& lock) {
        if (e_.cache_ && e_.request_.number != now_.number) {
            const bool played = plays();
            now_ = e_.request_;
            if (plays() && !played) shown_at_ = Clock::now();
            now_.frame = std::clamp(now_.frame, 0, std::max(0, e_.frames_ - 1));
            asked_ = Clock::now();
            answered_ = stood_in_ = sharp_ = false;
        }
        if (now_.number == 0 || !e_.cache_) return wait(lock, std::nullopt);
        if (!answered_) {
            if (const ff::Frame frame = e_.cache_->find(now_.frame)) {
                show(lock, *frame);
            } else if (!stood_in_ && plays() && Clock::now() - shown_at_ < kPatience) {
                wait(lock, shown_at_ +
                               kPatience);  // counted from the last picture: the clock asks faster than that
            } else if (!stood_in_ && (show_preview(lock) || show_last_decoded(lock))) {
                stood_in_ = true;
            } else {
                wait(lock, std::nullopt);
            }
            return;
        }
        if (sharp_ || plays()) return wait(lock, std::nullopt);
        if (now_.motion == Motion::scrub && Clock::now() - asked_ < kStill)
            return wait(lock, asked_ + kStill);
        if (const ff::Frame frame = e_.cache_->find(now_.frame))
            sharpen(lock, *frame);
        else
            sharp_ = true;
    }

  private:
    bool plays() const { return now_.motion == Motion::forward || now_.motion == Motion::backward; }

    void wait(std::unique_lock<std::mutex>& lock, std::optional<Clock::time_point> until) {
        const long seen = e_.arrivals_;
        const auto there = [&] {
            return e_.stop_ || (e_.cache_ && e_.request_.number != now_.number) || e_.arrivals_ != seen;
        };
        if (until)
            e_.showing_wakes_.wait_until(lock, *until, there);
        else
            e_.showing_wakes_.wait(lock, there);
    }

    void show(std::unique_lock<std::mutex>& lock, const AVFrame& frame) {
        const int width = e_.view_width_, height = e_.view_height_;
        const Field field = e_.field_;
        const bool full = e_.display_.fitting(width, height) >= 1;
        const Quality quality = now_.motion == Motion::rest ? Quality::accurate : Quality::quick;
        lock.unlock();
        e_.events_.picture({pictures_.make(frame, e_.display_, width, height, quality, field), now_.frame,
                            now_.frame, ShownPicture::Kind::exact, full});
        lock.lock();
        shown_at_ = Clock::now();
        answered_ = true;
        sharp_ = full && quality == Quality::accurate;
    }

    /// The resting frame at full size, once the hand is still.
    void sharpen(std::unique_lock<std::mutex>& lock, const AVFrame& frame) {
        const Field field = e_.field_;
        lock.unlock();
        e_.events_.picture({pictures_.make(frame, e_.display_, 0, 0, Quality::accurate, field), now_.frame,
                            now_.frame, ShownPicture::Kind::exact, true});
        lock.lock();
        sharp_ = true;
    }

    bool show_preview(std::unique_lock<std::mutex>& lock) {
        const auto hit = e_.previews_->near(now_.frame);
        ff::Frame entry = !hit && e_.stand_in_ >= 0 ? e_.cache_->find(e_.stand_in_) : nullptr;
        const int which = hit ? hit->frame : e_.stand_in_;
        e_.stand_in_ = -1;
        if (!hit && !entry) return false;
        lock.unlock();
        if (hit)
            e_.events_.picture(
                {read_jpeg(*hit->jpeg), which, now_.frame, ShownPicture::Kind::preview, false});
        else
            e_.events_.picture(
                {pictures_.make(*entry, e_.display_, Previews::kWidth, Previews::kHeight, Quality::quick),
                 which, now_.frame, ShownPicture::Kind::approximate, false});
        lock.lock();
        shown_at_ = Clock::now();
        return true;
    }

    /// While playing on a machine that is too slow: the decoded frame that is least behind the clock.
    bool show_last_decoded(std::unique_lock<std::mutex>& lock) {
        if (!plays()) return false;
        const int way = now_.motion == Motion::forward ? -1 : 1;
        for (int late = 1; late <= kMostLate; ++late) {
            const ff::Frame frame = e_.cache_->find(now_.frame + way * late);
            if (!frame) continue;
            const int width = e_.view_width_, height = e_.view_height_, n = now_.frame;
            lock.unlock();
            e_.events_.picture({pictures_.make(*frame, e_.display_, width, height, Quality::quick),
                                n + way * late, n, ShownPicture::Kind::exact, false});
            lock.lock();
            shown_at_ = Clock::now();
            return true;
        }
        return false;
    }

    ClipEngine& e_;
    PictureMaker pictures_;
    Request now_;
    Clock::time_point asked_{}, shown_at_{};
    bool answered_ = true, stood_in_ = false, sharp_ = true;
};

/// Takes the cache from the showing thread before it goes.
struct ClipEngine::Detach {
    ClipEngine& engine;
    ~Detach() {
        const std::lock_guard lock(engine.mutex_);
        engine.cache_ = nullptr;
    }
};

ClipEngine::ClipEngine(std::filesystem::path file, Options options, Events events)
    : file_(std::move(file)), options_(std::move(options)), events_(std::move(events)) {
    const auto or_nothing = [](auto& event) {
        if (!event) event = [](auto&&...) {};
    };
    or_nothing(events_.opening), or_nothing(events_.first), or_nothing(events_.opened),
        or_nothing(events_.picture);
    or_nothing(events_.previews), or_nothing(events_.damage), or_nothing(events_.failed);
    decoding_ = std::thread([this] { decode(); });
    showing_ = std::thread([this] { show(); });
}

ClipEngine::~ClipEngine() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
        waiting_ = true;
    }
    decoding_wakes_.notify_one();
    showing_wakes_.notify_one();
    showing_.join();
    decoding_.join();
    malloc_trim(0);  // gives the pictures' memory back at once, not when it suits the allocator
}

void ClipEngine::show() {
    Showing showing(*this);
    std::unique_lock lock(mutex_);
    while (!stop_) {
        try {
            showing.round(lock);
        } catch (const std::exception& e) {  // a picture that cannot be converted
            if (!lock.owns_lock()) lock.lock();
            const std::string line = e.what();
            lock.unlock();
            events_.failed(line);
            lock.lock();
            request_.number = 0;
        }
    }
}

void ClipEngine::decode() {
    try {
        try {
            events_.first(first_picture(file_, Previews::kWidth * 2, Previews::kHeight * 2));
        } catch (const core::Refused&) {  // opening says more
        }
        if (stop_) return;
        Decoding work(*this);
        {
            const std::lock_guard lock(mutex_);
            previews_ = work.previews();
            display_ = work.display();
            frames_ = work.facts().frames;
            cache_ = &work.cache();
        }
        const Detach detach{*this};
        events_.opened(work.facts());
        long served = 0;
        bool busy = true;
        while (true) {
            Request next;
            {
                std::unique_lock lock(mutex_);
                stats_ = work.stats();
                if (!busy) decoding_wakes_.wait(lock, [&] { return stop_ || request_.number > served; });
                if (stop_) break;
                next = request_;
                waiting_ = false;
            }
            busy = true;
            try {
                if (next.number > served) {
                    served = next.number;
                    work.serve(next);
                    const std::lock_guard lock(mutex_);
                    ++arrivals_;
                    showing_wakes_.notify_one();
                } else {
                    busy = work.idle();
                }
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
    request_ = {frame, motion, request_.number + 1};
    waiting_ = true;
    decoding_wakes_.notify_one();
    showing_wakes_.notify_one();
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
