#include "fuzz/open_clip.hpp"

#include <sys/mman.h>
#include <unistd.h>

#include <cstdlib>
#include <string>

#include "core/reading/refused.hpp"
#include "media/reading/sound_track.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::test {
namespace {

constexpr std::int64_t kMostPixels =
    4'000'000;  // decoding huge pictures is slow, not wrong: the limit is tested elsewhere

void must(bool holds) {
    if (!holds) std::abort();
}

void read(const std::string& file) {
    try {
        media::check_opens(file);
        media::VideoReader reader(file, {}, {std::size_t{8} << 20, {}});
        const media::ClipFacts& facts = reader.facts();
        must(facts.frames > 0 && facts.pts_s.size() == static_cast<std::size_t>(facts.frames));
        for (std::size_t i = 1; i < facts.pts_s.size(); ++i) must(facts.pts_s[i] > facts.pts_s[i - 1]);
        if (std::int64_t{facts.width} * facts.height > kMostPixels) return;
        for (const int n : {facts.frames - 1, 0, facts.frames / 2}) {
            try {
                must(!reader.picture(n, 160, 90).empty());
            } catch (const core::Refused& e) {
                must(std::string(e.what()).find('\n') == std::string::npos);
            }
        }
    } catch (const core::Refused& e) {
        must(std::string(e.what()).find('\n') == std::string::npos);
    }
}

}  // namespace

void open_bytes_as_clip(const std::uint8_t* data, std::size_t size) {
    const int file = memfd_create("clip", MFD_CLOEXEC);
    must(file >= 0 && ::write(file, data, size) == static_cast<ssize_t>(size));
    const std::string name = "/proc/self/fd/" + std::to_string(file);
    read(name);
    media::read_sound(name, {});
    ::close(file);
}

}  // namespace aspen::test
