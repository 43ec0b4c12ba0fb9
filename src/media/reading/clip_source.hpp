#pragma once

#include <atomic>
#include <filesystem>
#include <optional>
#include <string>

#include "media/reading/byte_file.hpp"
#include "media/reading/display.hpp"

namespace aspen::media {

/// An opened container and its one picture stream: the largest that is no cover picture. Internal to media.
class ClipSource {
  public:
    /// Throws core::Refused in one line: what is none of the containers and codecs of accepted.hpp by its
    /// content, whatever its name, and what does not open within ten seconds; ReadCancelled once `stop` is
    /// set, which is heeded at every read as long as this lives. MP4 and MOV are opened by their head alone,
    /// without probing the streams; everything else is probed.
    explicit ClipSource(const std::filesystem::path& file, const std::atomic<bool>* stop = nullptr);

    const std::filesystem::path& path() const { return bytes_.path(); }
    ByteFile& bytes() { return bytes_; }
    const ByteFile& bytes() const { return bytes_; }
    AVFormatContext* input() const { return input_.get(); }
    const AVStream& stream() const { return *stream_; }
    const AVCodecParameters& parameters() const { return *stream_->codecpar; }
    const Display& display() const { return display_; }
    /// The picture's shape is sometimes stated only in the pictures themselves.
    void learn_from(const AVFrame& first);
    double seconds(std::int64_t stamp) const {
        return static_cast<double>(stamp) * av_q2d(stream_->time_base);
    }
    /// Frames a second as the container states them; 0 where it does not.
    double nominal_fps() const;
    bool container_is(std::initializer_list<std::string_view> names) const;
    bool has_sound() const;
    /// Frames a second at which the camera took the pictures, where the container's tags say so.
    std::optional<double> capture_fps() const;
    /// ISO 8601 date, mostly with time and zone, where the container's tags say when it was filmed, else "".
    std::string filmed_on() const;
    /// A decoder for the picture stream. Throws core::Refused.
    ff::Codec open_decoder(int threads = 2) const;

  private:
    void open();
    void choose_stream();
    [[noreturn]] void refuse_unopened();
    std::string tag(const char* name) const;
    ByteFile bytes_;
    ff::Input input_;
    AVStream* stream_ = nullptr;
    const AVCodec* codec_ = nullptr;
    Display display_;
};

}  // namespace aspen::media
