#pragma once

#include <atomic>
#include <condition_variable>
#include <filesystem>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include "media/reading/frame_cache.hpp"
#include "media/reading/previews.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::media {

/// How the hand moves: it rests, rubs over the clip, or plays.
enum class Motion { rest, scrub, forward, backward };

/// A picture on its way to the eye.
struct ShownPicture {
    enum class Kind {
        exact,        ///< frame `frame` itself: what joints are placed on
        preview,      ///< a small picture of frame `frame`, for looking only
        approximate,  ///< the nearest entry's picture, until previews are made
    };
    Picture picture;
    int frame = 0;
    int wanted = 0;  ///< the frame that was asked for
    Kind kind = Kind::exact;
    bool full = false;  ///< full display size, not only that of the view
};

/// Gives a window any frame of one clip without ever making it wait.
///
/// Thread contract: two threads of the engine's own. The decoding thread opens the clip and alone touches
/// packets and decoder; the showing thread turns cached frames and previews into pictures, so that what is
/// there is shown without waiting for a picture that is being decoded. All public calls may come from any
/// thread and return at once; the destructor stops the work between two packets and joins. Events are called
/// on these threads (`picture` on the showing one, all others on the decoding one), never after the
/// destructor returned, and must not call back into the engine except for request() and set_view().
///
/// Of several waiting requests only the newest is answered. While the hand rubs, a preview comes first and
/// the exact picture follows when it rests; a newer request ends the work on an older one between two
/// packets. While playing, frames the machine is too slow for are left out, never the clock. When nothing is
/// asked for, the engine decodes ahead in the direction of travel, makes the previews, and looks for damage
/// if the decoder complained.
class ClipEngine {
  public:
    struct Events {
        std::function<void(double)> opening;        ///< 0..1 while the order is settled by decoding
        std::function<void(const Picture&)> first;  ///< before the frames are counted
        std::function<void(const ClipFacts&)> opened;
        std::function<void(ShownPicture)> picture;
        std::function<void(int, int)> previews;  ///< made, total; a few times a second
        std::function<void(const std::vector<int>&)> damage;
        std::function<void(const std::string&)> failed;  ///< one line for a person
    };
    struct Options {
        std::size_t cache_bytes = std::size_t{512} << 20;
        std::filesystem::path cache_folder;  ///< for what is remembered of a clip; empty: nothing is
        std::string content_hash;            ///< the clip's name in it; worked out where needed
        bool previews = true;
    };
    struct Stats {
        std::size_t cache_bytes = 0, packet_bytes = 0, preview_bytes = 0;
        long packets_decoded = 0;
    };

    ClipEngine(std::filesystem::path file, Options options, Events events);
    ~ClipEngine();
    ClipEngine(const ClipEngine&) = delete;
    ClipEngine& operator=(const ClipEngine&) = delete;

    void request(int frame, Motion motion = Motion::rest);
    /// The size at which pictures are shown; they are never sent larger while the hand moves.
    void set_view(int width, int height);
    void set_field(Field field);
    /// A preview near this frame, if there is one by now.
    std::optional<Previews::Hit> preview(int frame) const;
    Stats stats() const;

  private:
    struct Request {
        int frame = 0;
        Motion motion = Motion::rest;
        long number = 0;
    };
    class Decoding;
    class Showing;
    struct Detach;
    void decode();
    void show();
    bool newer_waits() const { return waiting_.load(std::memory_order_relaxed); }

    std::filesystem::path file_;
    Options options_;
    Events events_;
    mutable std::mutex mutex_;
    std::condition_variable decoding_wakes_, showing_wakes_;
    Request request_;  ///< the newest; number 0: none yet
    int view_width_ = 0, view_height_ = 0;
    Field field_ = Field::first;
    std::shared_ptr<Previews> previews_;
    FrameCache* cache_ = nullptr;  ///< the decoding thread's, while the clip is open
    Display display_;
    int frames_ = 0;
    int stand_in_ = -1;  ///< entry decoded while there is no preview
    long arrivals_ = 0;  ///< counts wanted pictures that came
    Stats stats_;
    std::atomic<bool> waiting_{false};  ///< a request newer than the one in work, or the end
    std::atomic<bool> stop_{false};
    std::thread decoding_, showing_;
};

}  // namespace aspen::media
