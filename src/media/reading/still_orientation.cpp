#include "media/reading/still_orientation.hpp"

#include <algorithm>
#include <cstdint>
#include <fstream>
#include <string_view>
#include <vector>

namespace aspen::media {
namespace {

constexpr std::size_t kMostExif = 1 << 20, kMostChunks = 10'000;
constexpr unsigned kOrientation = 0x0112, kShort = 3;

using Bytes = std::span<const unsigned char>;

unsigned number(Bytes b, std::size_t at, int size, bool little) {
    unsigned out = 0;
    for (int i = 0; i < size; ++i)
        out = (out << 8) | b[at + static_cast<std::size_t>(little ? size - 1 - i : i)];
    return out;
}

/// The chunk's bytes; nothing where there is none before the picture itself.
std::vector<unsigned char> exif_of_png(std::istream& in) {
    std::vector<unsigned char> head(8);
    for (std::size_t n = 0; n < kMostChunks; ++n) {
        if (!in.read(reinterpret_cast<char*>(head.data()), 8)) return {};
        const std::uint64_t length = number(head, 0, 4, false);
        const std::string_view type(reinterpret_cast<const char*>(head.data()) + 4, 4);
        if (type == "eXIf" && length <= kMostExif) {
            std::vector<unsigned char> out(length);
            if (!in.read(reinterpret_cast<char*>(out.data()), static_cast<std::streamsize>(length)))
                return {};
            return out;
        }
        if (type == "IEND") return {};
        in.seekg(static_cast<std::streamoff>(length) + 4, std::ios::cur);  // and its sum
    }
    return {};
}

}  // namespace

int orientation_in_tiff(Bytes b) {
    if (b.size() < 8) return 1;
    const bool little = b[0] == 'I' && b[1] == 'I';
    if (!little && !(b[0] == 'M' && b[1] == 'M')) return 1;
    if (number(b, 2, 2, little) != 42) return 1;
    const std::size_t at = number(b, 4, 4, little);
    if (at > b.size() || b.size() - at < 2) return 1;
    const std::size_t entries = number(b, at, 2, little);
    for (std::size_t i = 0; i < entries; ++i) {
        const std::size_t entry = at + 2 + 12 * i;
        if (entry + 12 > b.size()) return 1;
        if (number(b, entry, 2, little) != kOrientation || number(b, entry + 2, 2, little) != kShort)
            continue;
        const unsigned held = number(b, entry + 8, 2, little);
        return held >= 1 && held <= 8 ? static_cast<int>(held) : 1;
    }
    return 1;
}

int still_orientation(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::vector<unsigned char> start(8);
    if (!in.read(reinterpret_cast<char*>(start.data()), 8)) return 1;
    constexpr unsigned char kPng[] = {0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n'};
    if (std::equal(start.begin(), start.end(), std::begin(kPng))) return orientation_in_tiff(exif_of_png(in));
    // A directory may lie behind the picture: only it is read.
    const bool little = start[0] == 'I';
    const std::uint64_t at = number(start, 4, 4, little);
    if ((start[0] != 'I' && start[0] != 'M') || number(start, 2, 2, little) != 42 || at < 8) return 1;
    std::vector<unsigned char> directory(8 + 2 + 12 * 512);
    in.seekg(static_cast<std::streamoff>(at));
    in.read(reinterpret_cast<char*>(directory.data()) + 8,
            static_cast<std::streamsize>(directory.size() - 8));
    directory.resize(8 + static_cast<std::size_t>(in.gcount()));
    std::copy(start.begin(), start.begin() + 4, directory.begin());
    directory[little ? 4 : 7] = 8;  // where it stands now
    return orientation_in_tiff(directory);
}

}  // namespace aspen::media
