#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <vector>

#include "core/telling/telling.hpp"
#include "media/reading/picture.hpp"

namespace aspen::media {

/// What a film has besides its pictures.
struct FilmExtras {
    std::vector<std::int16_t> voice;  ///< one channel; empty: no sound
    int rate_hz = 48000;
    std::vector<core::Caption> captions;
    std::vector<core::Chapter> chapters;
    double length_s = 0;
    std::int64_t bits_per_s = 0;  ///< of the pictures; 0: by quality_crf
};

struct WriterOptions {
    int width = 1280, height = 720;  ///< stored size, both even
    double fps = 30;                 ///< nominal; times are written in 1/90000 s
    int quality_crf = 23;            ///< x264's constant rate factor, 0 best to 51
    int group = 60;                  ///< frames between entries
    int b_frames = 2;
    const char* preset = "superfast";
    /// For long films: x264's quickest search, but with what looks ahead, smooths block edges and packs
    /// well. Measured on noisy 1080p at the same likeness (SSIM 0.98): 0.6 of superfast's time, 0.4 of its
    /// size. `preset` and `b_frames` do not count then.
    bool swift = false;
    int rotation_deg = 0;              ///< clockwise turn a player must apply: 0, 90, 180, 270
    int shape_num = 1, shape_den = 1;  ///< pixel aspect
};

/// Writes an H.264 MP4. The file gets its name only when finish() has succeeded; until then, and when the
/// writer is dropped, nothing is left but a hidden part file that the next writer for the same name replaces.
class VideoWriter {
  public:
    /// Throws core::Refused when the folder cannot be written.
    VideoWriter(std::filesystem::path file, const WriterOptions& options);
    VideoWriter(std::filesystem::path file, const WriterOptions& options, FilmExtras extras);
    ~VideoWriter();
    VideoWriter(const VideoWriter&) = delete;
    VideoWriter& operator=(const VideoWriter&) = delete;

    /// Adds one picture of the stored size, shown at time_s (must rise).
    void add(const std::uint8_t* bgra, int bytes_per_row, double time_s);
    /// The picture that was added last once more: what stands still is converted once.
    void add_same(double time_s);
    void finish();

  private:
    class Impl;
    std::unique_ptr<Impl> impl_;
};

}  // namespace aspen::media
