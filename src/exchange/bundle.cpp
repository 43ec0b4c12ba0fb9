#include "exchange/bundle.hpp"

#include <archive.h>
#include <archive_entry.h>
#include <fmt/format.h>

#include <QCryptographicHash>
#include <algorithm>
#include <array>
#include <fstream>
#include <memory>
#include <nlohmann/json.hpp>
#include <set>

#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"

namespace aspen::exchange {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;

constexpr const char* kManifest = "manifest.json";
constexpr const char* kFormat = "aspen-crest-bundle";
constexpr std::size_t kBlock = 1 << 18, kLongestManifest = 4 << 20, kLongestName = 200;
constexpr std::uintmax_t kKeptFree = std::uintmax_t{64} << 20;  // for the records and their log

struct FreeReader {
    void operator()(archive* a) const { archive_read_free(a); }
};
struct FreeWriter {
    void operator()(archive* a) const { archive_write_free(a); }
};
struct FreeEntry {
    void operator()(archive_entry* e) const { archive_entry_free(e); }
};
using Reader = std::unique_ptr<archive, FreeReader>;
using Writer = std::unique_ptr<archive, FreeWriter>;

std::string shown(const fs::path& file) { return file.filename().string(); }
[[noreturn]] void refuse(const fs::path& file, const std::string& what) {
    throw core::Refused(fmt::format("{}: {}; ask the sender for a new one", shown(file), what));
}

/// Plain names beneath the bundle, and nothing that any system reads as leading out of it.
bool is_plain(const std::string& name) {
    if (name.empty() || name.size() > kLongestName || name.front() == '/' || name.back() == '/') return false;
    std::string part;
    for (const char c : name + "/") {
        if (c == '/') {
            if (part.empty() || part == "." || part == ".." || part.front() == '.') return false;
            part.clear();
        } else {
            const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                               c == '.' || c == '_' || c == '-';
            if (!plain) return false;
            part += c;
        }
    }
    return true;
}

std::string hex(const QCryptographicHash& sum) { return sum.result().toHex().toStdString(); }

/// Gives a part's bytes block by block.
template <typename Take>
void each_block(const BundlePart& part, Take take) {
    if (part.file.empty()) return take(part.bytes.data(), part.bytes.size());
    std::ifstream in(part.file, std::ios::binary);
    if (!in) throw core::Refused(part.file.string() + ": cannot be opened; check that it is there");
    std::vector<char> block(kBlock);
    while (in.read(block.data(), static_cast<std::streamsize>(block.size())), in.gcount() > 0)
        take(block.data(), static_cast<std::size_t>(in.gcount()));
}

std::string manifest_json(const Manifest& m) {
    json out{{"format", kFormat},  {"version", kBundleVersion}, {"kind", m.kind},
             {"sender", m.sender}, {"made_at", m.made_at},      {"files", json::array()}};
    for (const BundleEntry& e : m.files)
        out["files"].push_back({{"name", e.name}, {"bytes", e.bytes}, {"sha256", e.sha256}});
    return out.dump(1);
}

class ZipWriter {
  public:
    explicit ZipWriter(const fs::path& file) : file_(file), zip_(archive_write_new()) {
        archive_write_set_format_zip(zip_.get());
        must(archive_write_open_filename(zip_.get(), file.c_str()));
    }
    void begin(const std::string& name, std::uintmax_t bytes) {
        // Films are packed already: packing them again takes long and gains nothing.
        must(name.starts_with("media/") ? archive_write_zip_set_compression_store(zip_.get())
                                        : archive_write_zip_set_compression_deflate(zip_.get()));
        const std::unique_ptr<archive_entry, FreeEntry> e(archive_entry_new());
        archive_entry_set_pathname(e.get(), name.c_str());
        archive_entry_set_size(e.get(), static_cast<la_int64_t>(bytes));
        archive_entry_set_filetype(e.get(), AE_IFREG);
        archive_entry_set_perm(e.get(), 0644);
        must(archive_write_header(zip_.get(), e.get()));
    }
    void write(const char* bytes, std::size_t n) {
        if (archive_write_data(zip_.get(), bytes, n) != static_cast<la_ssize_t>(n)) must(ARCHIVE_FATAL);
    }
    void close() { must(archive_write_close(zip_.get())); }

  private:
    void must(int code) {
        if (code < ARCHIVE_WARN)
            throw core::Refused(fmt::format(
                "{}: cannot be written ({}); check the folder and the free space", file_.string(),
                archive_error_string(zip_.get()) ? archive_error_string(zip_.get()) : "no reason given"));
    }
    fs::path file_;
    Writer zip_;
};

class ZipReader {
  public:
    explicit ZipReader(const fs::path& file) : file_(file), zip_(archive_read_new()) {
        archive_read_support_format_zip(zip_.get());
        if (archive_read_open_filename(zip_.get(), file.c_str(), kBlock) != ARCHIVE_OK)
            refuse(file, "is no bundle, or cannot be read");
    }
    /// The next plain file's name; "" at the end.
    std::string next() {
        archive_entry* e = nullptr;
        const int code = archive_read_next_header(zip_.get(), &e);
        if (code == ARCHIVE_EOF) return {};
        if (code != ARCHIVE_OK) refuse(file_, "is no whole bundle");
        const char* name = archive_entry_pathname(e);
        const std::string plain = name ? name : "";
        if (!is_plain(plain)) refuse(file_, "holds a file that would lie outside it");
        if (archive_entry_filetype(e) != AE_IFREG || archive_entry_symlink(e) || archive_entry_hardlink(e))
            refuse(file_, fmt::format("\"{}\" is no plain file", plain));
        if (archive_entry_is_encrypted(e)) refuse(file_, fmt::format("\"{}\" is locked", plain));
        return plain;
    }
    /// Blocks of the file that next() named, until all are given.
    template <typename Take>
    void blocks(Take take) {
        std::vector<char> block(kBlock);
        for (;;) {
            const la_ssize_t n = archive_read_data(zip_.get(), block.data(), block.size());
            if (n == 0) return;
            if (n < 0) refuse(file_, "is damaged");
            take(block.data(), static_cast<std::size_t>(n));
        }
    }

  private:
    fs::path file_;
    Reader zip_;
};

Manifest manifest_from(const std::string& bytes, const fs::path& file, const BundleLimits& limits) {
    Manifest out;
    try {
        const json j = core::reading::parse_text(bytes, shown(file) + ": its manifest");
        if (j.at("format") != kFormat) refuse(file, "is no bundle of this program");
        if (j.at("version").get<int>() > kBundleVersion)
            throw core::Refused(shown(file) +
                                ": comes from a newer version of this program; update the program");
        if (j.at("version").get<int>() < 1) refuse(file, "has a version that never was");
        out.kind = j.at("kind").get<std::string>();
        out.sender = j.at("sender").get<std::string>();
        out.made_at = j.at("made_at").get<std::string>();
        for (const json& f : j.at("files"))
            out.files.push_back({f.at("name").get<std::string>(), f.at("bytes").get<std::uintmax_t>(),
                                 f.at("sha256").get<std::string>()});
    } catch (const json::exception&) {
        refuse(file, "has a manifest that cannot be read");
    }
    if (out.files.size() > limits.most_files)
        refuse(file, fmt::format("holds {} files; {} at most", out.files.size(), limits.most_files));
    std::uintmax_t all = 0;
    std::set<std::string> names{kManifest};
    for (const BundleEntry& e : out.files) {
        if (!is_plain(e.name)) refuse(file, "names a file that would lie outside it");
        if (!names.insert(e.name).second) refuse(file, fmt::format("names \"{}\" twice", e.name));
        if (e.bytes > limits.most_bytes || (all += e.bytes) > limits.most_bytes)
            refuse(file, fmt::format("is too large: over {} MB unpacked", limits.most_bytes >> 20));
    }
    QCryptographicHash sum(QCryptographicHash::Sha256);
    sum.addData(QByteArrayView(bytes.data(), static_cast<qsizetype>(bytes.size())));
    out.sha256 = hex(sum);
    return out;
}

/// Takes away what was unpacked unless all of it was.
class Unpacked {
  public:
    explicit Unpacked(fs::path folder) : folder_(std::move(folder)) {}
    ~Unpacked() {
        std::error_code ignored;
        if (!whole)
            for (const auto& e : fs::directory_iterator(folder_, ignored)) fs::remove_all(e.path(), ignored);
    }
    Unpacked(const Unpacked&) = delete;
    Unpacked& operator=(const Unpacked&) = delete;
    bool whole = false;

  private:
    fs::path folder_;
};

/// Asked before a byte is written: a bundle that would fill the disk half-way takes the records' room too.
void require_room(const fs::path& into, const fs::path& file, std::uintmax_t bytes,
                  const BundleLimits& limits) {
    std::error_code error;
    const std::uintmax_t free = limits.free_bytes.value_or(fs::space(into, error).available);
    if (error || bytes + kKeptFree <= free) return;
    throw core::Refused(
        fmt::format("{}: needs {} MB and {} MB are free in the yard's folder; make room there", shown(file),
                    (bytes + kKeptFree) >> 20, free >> 20));
}

}  // namespace

void write_bundle(const fs::path& file, Manifest manifest, const std::vector<BundlePart>& parts,
                  const BundleWatch& watch) {
    const fs::path part_file = file.parent_path() / ("." + file.filename().string() + ".part");
    struct Remove {
        fs::path path;
        ~Remove() {
            std::error_code ignored;
            fs::remove(path, ignored);
        }
    } const remove{part_file};
    manifest.files.clear();
    std::uintmax_t all = 0, done = 0;
    for (const BundlePart& p : parts) {
        if (!is_plain(p.name)) throw core::Refused("bundle: \"" + p.name + "\" is no name for a file in it");
        QCryptographicHash sum(QCryptographicHash::Sha256);
        std::uintmax_t bytes = 0;
        each_block(p, [&](const char* b, std::size_t n) {
            sum.addData(QByteArrayView(b, static_cast<qsizetype>(n)));
            bytes += n;
        });
        manifest.files.push_back({p.name, bytes, hex(sum)});
        all += bytes;
    }
    {
        ZipWriter zip(part_file);
        const std::string head = manifest_json(manifest);
        zip.begin(kManifest, head.size());
        zip.write(head.data(), head.size());
        for (std::size_t i = 0; i < parts.size(); ++i) {
            zip.begin(parts[i].name, manifest.files[i].bytes);
            each_block(parts[i], [&](const char* b, std::size_t n) {
                zip.write(b, n);
                done += n;
                if (watch && watch(all == 0 ? 1 : static_cast<double>(done) / static_cast<double>(all)))
                    throw core::Refused("Stopped; nothing was written.");
            });
        }
        zip.close();
    }
    std::error_code error;
    fs::rename(part_file, file, error);
    if (error) throw core::Refused(file.string() + ": cannot be named; check the folder");
}

Manifest read_manifest(const fs::path& file, const BundleLimits& limits) {
    ZipReader zip(file);
    if (zip.next() != kManifest) refuse(file, "is no bundle of this program");
    std::string bytes;
    zip.blocks([&](const char* b, std::size_t n) {
        if (bytes.size() + n > kLongestManifest) refuse(file, "has a manifest that is too long");
        bytes.append(b, n);
    });
    return manifest_from(bytes, file, limits);
}

Manifest unpack_bundle(const fs::path& file, const fs::path& into, const BundleLimits& limits,
                       const BundleWatch& watch) {
    const Manifest manifest = read_manifest(file, limits);
    std::uintmax_t all = 0, done = 0;
    for (const BundleEntry& e : manifest.files) all += e.bytes;
    require_room(into, file, all, limits);
    Unpacked unpacked(into);
    ZipReader zip(file);
    std::set<std::string> seen;
    for (std::string name = zip.next(); !name.empty(); name = zip.next()) {
        if (!seen.insert(name).second) refuse(file, fmt::format("holds \"{}\" twice", name));
        if (name == kManifest) continue;
        const auto said = std::ranges::find(manifest.files, name, &BundleEntry::name);
        if (said == manifest.files.end())
            refuse(file, fmt::format("holds \"{}\", which its manifest does not name", name));
        const fs::path to = into / name;
        fs::create_directories(to.parent_path());
        std::ofstream out(to, std::ios::binary);
        QCryptographicHash sum(QCryptographicHash::Sha256);
        std::uintmax_t bytes = 0;
        zip.blocks([&](const char* b, std::size_t n) {
            bytes += n;
            done += n;
            if (bytes > said->bytes)
                refuse(file, fmt::format("\"{}\" is larger than its manifest says", name));
            sum.addData(QByteArrayView(b, static_cast<qsizetype>(n)));
            out.write(b, static_cast<std::streamsize>(n));
            if (watch && watch(all == 0 ? 1 : static_cast<double>(done) / static_cast<double>(all)))
                throw core::Refused("Stopped; nothing was taken in.");
        });
        out.flush();
        if (!out) throw core::Refused(to.string() + ": cannot be written; check the free space");
        if (bytes != said->bytes || hex(sum) != said->sha256)
            refuse(file, fmt::format("\"{}\" is not what its manifest says", name));
    }
    for (const BundleEntry& e : manifest.files) {
        if (!seen.contains(e.name)) refuse(file, fmt::format("\"{}\" is missing in it", e.name));
    }
    unpacked.whole = true;
    return manifest;
}

}  // namespace aspen::exchange
