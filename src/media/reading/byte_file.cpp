#include "media/reading/byte_file.hpp"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <string_view>

#include "core/reading/refused.hpp"

namespace aspen::media {
namespace {

constexpr int kBlock = 64 << 10;
constexpr int kMostBoxes = 100'000;

std::int64_t changed_ns(const struct stat& s) {
    return std::int64_t{s.st_mtim.tv_sec} * 1'000'000'000 + s.st_mtim.tv_nsec;
}

std::uint64_t big_endian(const std::uint8_t* p, int bytes) {
    std::uint64_t v = 0;
    for (int i = 0; i < bytes; ++i) v = v << 8 | p[i];
    return v;
}

}  // namespace

ByteFile::ByteFile(const std::filesystem::path& file, const std::atomic<bool>* stop)
    : path_(file), stop_(stop) {
    // Without waiting: a pipe that nobody writes into would never open.
    descriptor_ = ::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (descriptor_ < 0) {
        const char* what = errno == EACCES   ? "may not be read; change its permissions"
                           : errno == ENOENT ? "no such file; check the path"
                                             : "cannot be opened; check the path and the disk";
        throw core::Refused(fmt::format("{}: {}", file.string(), what));
    }
    struct stat s {};
    const bool known = ::fstat(descriptor_, &s) == 0;
    const char* wrong = nullptr;
    if (!known || S_ISDIR(s.st_mode))
        wrong = "is a folder; choose a clip in it";
    else if (!S_ISREG(s.st_mode))
        wrong = "is no file; choose a clip";
    else if (s.st_size == 0)
        wrong = "the file is empty; copy it again from where it came";
    if (wrong) {
        ::close(descriptor_);
        throw core::Refused(fmt::format("{}: {}", file.string(), wrong));
    }
    size_ = s.st_size;
    changed_ns_ = changed_ns(s);
    io_.reset(avio_alloc_context(static_cast<unsigned char*>(av_malloc(kBlock)), kBlock, 0, this,
                                 &ByteFile::read, nullptr, &ByteFile::seek));
}

int ByteFile::interrupted(void* self) {
    const auto& file = *static_cast<ByteFile*>(self);
    return file.stopped() || file.given_up() ? 1 : 0;
}

ByteFile::~ByteFile() { ::close(descriptor_); }

bool ByteFile::read_at(std::int64_t position, std::uint8_t* to, std::size_t size) const {
    while (size > 0) {
        const ssize_t got = ::pread(descriptor_, to, size, position);
        if (got < 0 && errno == EINTR) continue;
        if (got <= 0) return false;
        to += got;
        position += got;
        size -= static_cast<std::size_t>(got);
    }
    return true;
}

void ByteFile::check_unchanged() const {
    struct stat s {};
    if (::fstat(descriptor_, &s) == 0 && s.st_size == size_ && changed_ns(s) == changed_ns_) return;
    throw core::Refused(fmt::format("{}: the file changed while it was open; open it again", path_.string()));
}

int ByteFile::read(void* self, std::uint8_t* to, int size) {
    auto& file = *static_cast<ByteFile*>(self);
    if (interrupted(self)) return AVERROR_EXIT;
    const auto left = file.size_ - file.position_;
    if (left <= 0) return AVERROR_EOF;
    const auto wanted = static_cast<std::size_t>(std::min<std::int64_t>(size, left));
    if (file.hollow_)
        std::memset(to, 0, wanted);
    else if (!file.read_at(file.position_, to, wanted))
        return AVERROR(EIO);
    file.position_ += static_cast<std::int64_t>(wanted);
    return static_cast<int>(wanted);
}

std::int64_t ByteFile::seek(void* self, std::int64_t offset, int whence) {
    auto& file = *static_cast<ByteFile*>(self);
    switch (whence & ~AVSEEK_FORCE) {
        case AVSEEK_SIZE:
            return file.size_;
        case SEEK_SET:
            break;
        case SEEK_CUR:
            offset += file.position_;
            break;
        case SEEK_END:
            offset += file.size_;
            break;
        default:
            return AVERROR(EINVAL);
    }
    if (offset < 0) return AVERROR(EINVAL);
    return file.position_ = offset;
}

bool ByteFile::lists_its_samples() const {
    bool head = false;
    std::int64_t at = 0;
    std::array<std::uint8_t, 16> box{};
    for (int n = 0; n < kMostBoxes && at + 8 <= size_; ++n) {
        if (!read_at(at, box.data(), 8)) return false;
        auto length = static_cast<std::int64_t>(big_endian(box.data(), 4));
        const std::string_view name(reinterpret_cast<const char*>(box.data()) + 4, 4);
        if (length == 1) {
            if (!read_at(at, box.data(), 16)) return false;
            length = static_cast<std::int64_t>(big_endian(box.data() + 8, 8));
        } else if (length == 0) {
            length = size_ - at;
        }
        if (length < 8 || (n == 0 && name != "ftyp" && name != "moov" && name != "mdat" && name != "wide" &&
                           name != "free"))
            return false;
        if (name == "moof") return false;
        if (name == "moov") head = true;
        if (length > size_ - at) return false;  // cut off: only reading shows what is left
        at += length;
    }
    return head;
}

}  // namespace aspen::media
