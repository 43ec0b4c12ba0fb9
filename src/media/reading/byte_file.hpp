#pragma once

#include <atomic>
#include <chrono>
#include <cstdint>
#include <filesystem>
#include <optional>
#include <vector>

#include "media/reading/ffmpeg.hpp"

namespace aspen::media {

/// A file that is read from: held open by one descriptor, so that it stays readable when its name is taken
/// away, and with size and time of its last change, so that a change behind our back is noticed. Also
/// FFmpeg's input, which can be made hollow: then the bytes that it asks for are made up instead of read, and
/// a container whose packet list stands in its own index is listed without touching the pictures.
class ByteFile {
  public:
    using Clock = std::chrono::steady_clock;
    /// Throws core::Refused in one line: missing, a folder, a pipe or a device, empty, not readable. Reading
    /// for FFmpeg ends where `stop` is set, or the time to give up is past.
    explicit ByteFile(const std::filesystem::path& file, const std::atomic<bool>* stop = nullptr);
    ~ByteFile();
    ByteFile(const ByteFile&) = delete;
    ByteFile& operator=(const ByteFile&) = delete;

    const std::filesystem::path& path() const { return path_; }
    std::int64_t size() const { return size_; }
    /// Reads exactly `size` bytes at `position`; false when they are not there.
    bool read_at(std::int64_t position, std::uint8_t* to, std::size_t size) const;
    /// Throws core::Refused when the file was written to since it was opened.
    void check_unchanged() const;
    /// True for an MP4 or MOV whose samples are all listed in its head (no fragments).
    bool lists_its_samples() const;

    void give_up_at(std::optional<Clock::time_point> when) { give_up_ = when; }
    bool given_up() const { return give_up_ && Clock::now() >= *give_up_; }
    bool stopped() const { return stop_ && *stop_; }
    /// For FFmpeg's own loops, with this as its argument.
    static int interrupted(void* self);

    AVIOContext* io() { return io_.get(); }
    void make_hollow() { hollow_ = true; }

  private:
    static int read(void* self, std::uint8_t* to, int size);
    static std::int64_t seek(void* self, std::int64_t offset, int whence);
    std::filesystem::path path_;
    int descriptor_ = -1;
    std::int64_t size_ = 0, changed_ns_ = 0, position_ = 0;
    bool hollow_ = false;
    const std::atomic<bool>* stop_ = nullptr;
    std::optional<Clock::time_point> give_up_;
    ff::Io io_;
};

}  // namespace aspen::media
