#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "media/reading/frame_order.hpp"
#include "media/reading/picture.hpp"
#include "media/reading/picture_maker.hpp"
#include "media/reading/read_watch.hpp"

namespace aspen::media {

struct ClipFacts {
    int frames = 0;
    int width = 0, height = 0;  ///< as displayed
    int rotation_deg = 0;       ///< clockwise turn applied for display
    double duration_s = 0;      ///< last time - first time + one mean frame
    double average_fps = 0;
    bool variable_rate = false;  ///< some step differs from the median by more than 10 % and 2 ms
    TimeSource time_source = TimeSource::stream;
    std::vector<double> pts_s;  ///< the stream's own times, one a frame, rising
    std::vector<int> damaged;   ///< frames known to be damaged, rising
    double capture_fps = 0;     ///< what the container says of the camera's rate; 0: nothing
    bool has_sound = false;
};

ClipFacts facts_of(const ClipSource& source, const FrameOrder& order);

struct ReaderOptions {
    std::size_t cache_bytes = std::size_t{256} << 20;
    OrderCache order_cache;
    Quality quality = Quality::accurate;  ///< quick: for films that are encoded again
};

/// Reads a clip exactly: frame N is the N-th picture in presentation order, counted from 0 (see
/// settle_order). The plain, waiting form of the video engine, for tools and work in the background; the
/// window uses ClipEngine.
///
/// Not thread-safe: one thread at a time. Decoding itself runs two frame threads.
class VideoReader {
  public:
    /// Throws core::Refused in one line: missing, empty, not a video, no picture in it, too large;
    /// ReadCancelled.
    explicit VideoReader(const std::filesystem::path& file, ReadWatch watch = {}, ReaderOptions options = {});
    ~VideoReader();
    VideoReader(const VideoReader&) = delete;
    VideoReader& operator=(const VideoReader&) = delete;

    const ClipFacts& facts() const;
    bool settled_by_decoding() const;

    /// Exactly frame n, fitted into max_width x max_height (0: full display size). Throws std::out_of_range.
    Picture picture(int n, int max_width = 0, int max_height = 0, Field field = Field::first);
    /// MD5 in hex of the decoded picture in the stream's own pixel format, planes packed without padding,
    /// before rotation: the same as `-f framemd5` of the ffmpeg program gives.
    std::string native_md5(int n);

  private:
    class Impl;
    std::unique_ptr<Impl> impl_;
};

/// Opens the file far enough to know that it is a clip with pictures, without reading all of it. Throws
/// core::Refused with the same lines as VideoReader, ReadCancelled once `stop` is set. Gives the time it was
/// filmed (ISO 8601) where its tags say so.
std::string check_opens(const std::filesystem::path& file, const std::atomic<bool>* stop = nullptr);

/// The clip's first picture, as soon as the container's head allows: no packet list, no probing where the
/// head says enough. Throws core::Refused.
Picture first_picture(const std::filesystem::path& file, int max_width, int max_height);

}  // namespace aspen::media
