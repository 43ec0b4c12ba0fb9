#pragma once

#include <atomic>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

/// A bundle: a zip of JSON and media whose manifest names every file with its length and SHA-256
/// (docs/formats.md).
namespace aspen::exchange {

/// The version that is written; newer ones are refused.
inline constexpr int kBundleVersion = 1;

struct BundleEntry {
    std::string name;  ///< beneath the bundle: letters, digits, . _ - and /
    std::uintmax_t bytes = 0;
    std::string sha256{};
};
struct Manifest {
    std::string kind;             ///< ride, rider
    std::string sender, made_at;  ///< the coach who made it, and when
    std::vector<BundleEntry> files;
    std::string sha256{};  ///< of the manifest's own bytes, when read
};

/// A file to put in: bytes, or one that lies on the disk.
struct BundlePart {
    std::string name;
    std::string bytes{};
    std::filesystem::path file{};  ///< where it is given, its bytes
};

struct BundleLimits {
    std::uintmax_t most_bytes = std::uintmax_t{16} << 30;  ///< unpacked, all files together
    std::size_t most_files = 10000;
    std::optional<std::uintmax_t> free_bytes{};  ///< instead of asking the disk
};
/// Told the share that is done; true stops with core::Refused, and nothing is left half-done.
using BundleWatch = std::function<bool(double share)>;

/// Writes a bundle; the file bears its name when it is whole. Throws core::Refused in one line.
void write_bundle(const std::filesystem::path& file, Manifest manifest, const std::vector<BundlePart>& parts,
                  const BundleWatch& watch = {});

/// Reads the manifest alone. Throws core::Refused in one line for what is no bundle, of a newer version, too
/// large, or names files that would lie outside it.
Manifest read_manifest(const std::filesystem::path& file, const BundleLimits& limits = {});

/// Unpacks into a folder that is there and empty. Throws core::Refused in one line, and leaves the folder
/// empty, when the bundle holds anything but the plain files its manifest names, or one whose bytes are not
/// those of the manifest.
Manifest unpack_bundle(const std::filesystem::path& file, const std::filesystem::path& into,
                       const BundleLimits& limits = {}, const BundleWatch& watch = {});

}  // namespace aspen::exchange
