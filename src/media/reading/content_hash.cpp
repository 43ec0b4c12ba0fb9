#include "media/reading/content_hash.hpp"

#include <fmt/format.h>

#include <fstream>
#include <memory>
#include <vector>

#include "core/reading/refused.hpp"

extern "C" {
#include <libavutil/mem.h>
#include <libavutil/sha.h>
}

namespace aspen::media {

std::string content_hash(const std::filesystem::path& file, const ReadWatch& watch) {
    std::ifstream in(file, std::ios::binary);
    if (!in)
        throw core::Refused(
            fmt::format("{}: cannot be opened; check the path and its permissions", file.string()));
    const std::unique_ptr<AVSHA, decltype(&av_free)> sha(av_sha_alloc(), &av_free);
    av_sha_init(sha.get(), 256);
    std::vector<char> block(1 << 20);
    while (in) {
        stop_if_cancelled(watch);
        in.read(block.data(), static_cast<std::streamsize>(block.size()));
        av_sha_update(sha.get(), reinterpret_cast<const std::uint8_t*>(block.data()),
                      static_cast<std::size_t>(in.gcount()));
    }
    if (in.bad()) throw core::Refused(fmt::format("{}: reading failed; check the disk", file.string()));
    std::uint8_t digest[32];
    av_sha_final(sha.get(), digest);
    std::string out;
    for (const std::uint8_t b : digest) out += fmt::format("{:02x}", b);
    return out;
}

}  // namespace aspen::media
