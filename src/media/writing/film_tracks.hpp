#pragma once

#include <cstdint>
#include <filesystem>
#include <vector>

#include "core/telling/telling.hpp"
#include "media/reading/ffmpeg.hpp"

/// What goes along with the pictures of a film. Internal to media.
namespace aspen::media {

/// A voice as AAC, fed as far as the pictures have come so that players find both together.
class VoiceTrack {
  public:
    /// One channel of 16-bit samples.
    VoiceTrack(AVFormatContext& output, const std::vector<std::int16_t>& voice, int rate_hz);
    /// Writes the sound that belongs before this time.
    void write_until(double time_s);
    void finish();

  private:
    void encode(int samples);
    void drain();
    AVFormatContext& output_;
    const std::vector<std::int16_t>& voice_;
    int rate_hz_;
    std::size_t at_ = 0;
    ff::Codec encoder_;
    ff::Frame frame_;
    AVStream* stream_ = nullptr;
};

/// Captions as the text track that MP4 knows (3GPP timed text).
class CaptionTrack {
  public:
    CaptionTrack(AVFormatContext& output, std::vector<core::Caption> captions);
    void write_until(double time_s);
    void finish(double length_s);

  private:
    void write(double from_s, double to_s, const std::string& words);
    AVFormatContext& output_;
    std::vector<core::Caption> captions_;
    std::size_t next_ = 0;
    double told_until_s_ = 0;
    AVStream* stream_ = nullptr;
};

/// Chapters have to stand in the output before its head is written.
void add_chapters(AVFormatContext& output, const std::vector<core::Chapter>& chapters, double length_s);

}  // namespace aspen::media
