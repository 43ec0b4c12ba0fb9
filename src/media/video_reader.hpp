#pragma once

#include <atomic>
#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "media/picture.hpp"

namespace aspen::media {

/// Where the frame times come from: the stream, or made from the nominal rate (missing), or repaired (backward).
enum class TimeSource { stream, made, repaired };

struct ClipFacts {
    int frames = 0;
    int width = 0, height = 0;  ///< as displayed
    int rotation_deg = 0;       ///< clockwise turn applied for display
    double duration_s = 0;      ///< last time - first time + one mean frame
    double average_fps = 0;
    bool variable_rate = false;  ///< some step differs from the median by more than 10 % and 2 ms
    TimeSource time_source = TimeSource::stream;
    std::vector<double> pts_s;   ///< the stream's own times, one a frame, rising
};

std::string_view word(TimeSource s);

/// How a long read is watched from outside.
struct ReadWatch {
    const std::atomic<bool>* cancel = nullptr;  ///< looked at between packets; when set, ReadCancelled is thrown
    std::function<void(double)> progress;       ///< 0..1, while a full decode settles the order
};
struct ReadCancelled {};

/// Reads a clip exactly: frame N is the N-th picture in presentation order, counted from 0.
///
/// The stream's packets are read once and kept. Where container and codec are known to state their order honestly
/// (times present, unique, decoding times rising, nothing to discard, a true entry at the start), the presentation
/// order is that of the times. Everything else is settled by decoding once from the start, which also takes a check
/// sum of every picture; later seeks are then compared with it and go back to an earlier entry when they differ.
///
/// Not thread-safe: one thread at a time. Decoding itself runs two frame threads.
class VideoReader {
  public:
    /// Most compressed bytes that are kept; longer clips are refused in one line.
    static constexpr std::size_t kMostBytes = std::size_t{2} << 30;

    /// Throws core::Refused in one line: missing, empty, not a video, no picture in it, too large.
    explicit VideoReader(const std::filesystem::path& file, ReadWatch watch = {});
    ~VideoReader();
    VideoReader(const VideoReader&) = delete;
    VideoReader& operator=(const VideoReader&) = delete;

    const ClipFacts& facts() const;
    bool settled_by_decoding() const;

    /// Exactly frame n, fitted into max_width x max_height (0: full display size). Throws std::out_of_range.
    Picture picture(int n, int max_width = 0, int max_height = 0);
    /// MD5 in hex of the decoded picture in the stream's own pixel format, planes packed without padding, before
    /// rotation: the same as `-f framemd5` of the ffmpeg program gives.
    std::string native_md5(int n);

  private:
    class Impl;
    std::unique_ptr<Impl> impl_;
};

/// Opens the file far enough to know that it is a clip with pictures, without reading all of it. Throws
/// core::Refused with the same lines as VideoReader.
void check_opens(const std::filesystem::path& file);

}  // namespace aspen::media
