#include "exchange/bundle.hpp"

#include <archive.h>
#include <archive_entry.h>
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <fstream>
#include <random>

#include "core/reading/refused.hpp"
#include "support/support.hpp"

namespace aspen::exchange {
namespace {

namespace fs = std::filesystem;
using testing::HasSubstr;

// "abc", from FIPS 180-2, appendix B.1.
const std::string kSumOfAbc = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";

std::string bytes_of(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

/// A zip as somebody else may have made it: any name, any kind of file.
struct Wild {
    std::string name, bytes;
    std::string link_to{};
};
void write_wild(const fs::path& file, const std::vector<Wild>& all) {
    archive* zip = archive_write_new();
    archive_write_set_format_zip(zip);
    archive_write_open_filename(zip, file.c_str());
    for (const Wild& w : all) {
        archive_entry* e = archive_entry_new();
        archive_entry_set_pathname(e, w.name.c_str());
        archive_entry_set_size(e, static_cast<la_int64_t>(w.bytes.size()));
        archive_entry_set_filetype(e, w.link_to.empty() ? AE_IFREG : AE_IFLNK);
        if (!w.link_to.empty()) archive_entry_set_symlink(e, w.link_to.c_str());
        archive_entry_set_perm(e, 0644);
        archive_write_header(zip, e);
        archive_write_data(zip, w.bytes.data(), w.bytes.size());
        archive_entry_free(e);
    }
    archive_write_close(zip);
    archive_write_free(zip);
}

std::string manifest(const std::string& files, int version = 1) {
    return fmt::format(
        R"({{"format":"aspen-crest-bundle","version":{},"kind":"ride","sender":"A coach","made_at":"2026-11-24","files":[{}]}})",
        version, files);
}
std::string entry(const std::string& name, std::uintmax_t bytes = 3, const std::string& sum = kSumOfAbc) {
    return fmt::format(R"({{"name":"{}","bytes":{},"sha256":"{}"}})", name, bytes, sum);
}

class Bundle : public testing::Test {
  protected:
    std::string refusal(const std::vector<Wild>& zip, const BundleLimits& limits = {}) {
        write_wild(folder / "wild.zip", zip);
        return refusal_of(limits);
    }
    std::string refusal_of(const BundleLimits& limits = {}) {
        fs::remove_all(folder / "into");
        fs::create_directories(folder / "into");
        try {
            unpack_bundle(folder / "wild.zip", folder / "into", limits);
            return {};
        } catch (const core::Refused& e) {
            EXPECT_TRUE(fs::is_empty(folder / "into")) << e.what() << ": something was left behind";
            EXPECT_EQ(std::string(e.what()).find('\n'), std::string::npos) << e.what();
            return e.what();
        }
    }
    test::TempFolder folder;
};

TEST_F(Bundle, ComesBackByteForByte) {
    std::ofstream(folder / "film.mp4", std::ios::binary) << std::string(700000, 'x') << '\0' << "end";
    write_bundle(folder / "a.zip", {"ride", "Tamsin Quillfeather", "2026-11-24T10:00:00", {}},
                 {{"ride.json", "{\"day\":\"2026-11-20\"}"}, {"media/film.mp4", {}, folder / "film.mp4"}});
    fs::create_directories(folder / "into");
    const Manifest m = unpack_bundle(folder / "a.zip", folder / "into");
    EXPECT_EQ(m.sender, "Tamsin Quillfeather");
    ASSERT_EQ(m.files.size(), 2U);
    EXPECT_EQ(bytes_of(folder / "into" / "media" / "film.mp4"), bytes_of(folder / "film.mp4"));
    EXPECT_EQ(bytes_of(folder / "into" / "ride.json"), "{\"day\":\"2026-11-20\"}");
}

// Against another program: Python's zipfile and hashlib.
TEST_F(Bundle, AnotherProgramReadsItAndFindsTheSameSums) {
    write_bundle(folder / "a.zip", {"ride", "A coach", "2026-11-24T10:00:00", {}},
                 {{"ride.json", "abc"}, {"media/b.bin", std::string("\0\1\2", 3)}});
    std::ofstream(folder / "read.py") << "import sys, json, zipfile, hashlib\n"
                                         "z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None\n"
                                         "m = json.loads(z.read('manifest.json'))\n"
                                         "for f in m['files']:\n"
                                         "    b = z.read(f['name']); assert len(b) == f['bytes'] and "
                                         "hashlib.sha256(b).hexdigest() == f['sha256']\n"
                                         "print(len(m['files']), m['files'][0]['sha256'])\n";
    const test::Ran ran =
        test::run("/usr/bin/python3 " + (folder / "read.py").string() + " " + (folder / "a.zip").string());
    EXPECT_EQ(ran.code, 0);
    EXPECT_EQ(ran.out, "2 " + kSumOfAbc + "\n");
}

TEST_F(Bundle, TheDiskIsAskedFirst) {
    const std::vector<Wild> zip{{"manifest.json", manifest(entry("x"))}, {"x", "abc"}};
    BundleLimits limits;
    limits.free_bytes = (std::uintmax_t{64} << 20) + 2;
    EXPECT_THAT(refusal(zip, limits), HasSubstr("64 MB are free in the yard's folder; make room there"));
    *limits.free_bytes += 1;
    EXPECT_EQ(refusal(zip, limits), "");
}

TEST_F(Bundle, WhatReachesOutsideIsRefused) {
    for (const char* name : {"../evil", "a/../../evil", "/tmp/evil", "a//b", "./a", "C:evil", "a\\b",
                             ".hidden", "a/", "a b", "media/..", "\xC3\xBC"}) {
        EXPECT_NE(refusal({{"manifest.json", manifest(entry("x"))}, {"x", "abc"}, {name, "abc"}}), "")
            << name;
        EXPECT_NE(
            refusal({{"manifest.json", manifest(entry(std::string(name) == "a\\b" ? "a\\\\b" : name))}}), "")
            << name;
    }
    EXPECT_FALSE(fs::exists(folder / "evil"));
    EXPECT_THAT(refusal({{"manifest.json", manifest(entry("x"))}, {"x", "", "/etc/passwd"}}),
                HasSubstr("no plain file"));
}

TEST_F(Bundle, WhatIsNotAsItsManifestSaysIsRefused) {
    const std::string x = manifest(entry("x"));
    using Packed = std::vector<Wild>;
    EXPECT_EQ(refusal({{"manifest.json", x}, {"x", "abc"}}), "") << "the sound one";
    for (const auto& [why, packed] : {
             std::pair{"not what its manifest", Packed{{"manifest.json", x}, {"x", "abd"}}},
             {"larger than", {{"manifest.json", x}, {"x", "abcd"}}},
             {"not what its manifest", {{"manifest.json", x}, {"x", "ab"}}},
             {"missing", {{"manifest.json", x}}},
             {"does not name", {{"manifest.json", x}, {"x", "abc"}, {"y", "abc"}}},
             {"twice", {{"manifest.json", manifest(entry("x") + "," + entry("x"))}, {"x", "abc"}}},
             {"twice", {{"manifest.json", x}, {"x", "abc"}, {"x", "abc"}}},
             {"twice", {{"manifest.json", manifest(entry("manifest.json"))}}},
             {"no bundle", {{"x", "abc"}, {"manifest.json", x}}},
             {"cannot be read", {{"manifest.json", "{}"}}},
             {"no bundle", {{"manifest.json", "{\"format\":\"other\"}"}}},
             {"newer version", {{"manifest.json", manifest("", 2)}}},
         })
        EXPECT_THAT(refusal(packed), HasSubstr(why));
}

TEST_F(Bundle, WhatIsTooLargeIsRefusedBeforeItIsUnpacked) {
    const BundleLimits tight{1000, 3};
    EXPECT_THAT(refusal({{"manifest.json", manifest(entry("x", 1001))}}, tight), HasSubstr("too large"));
    EXPECT_THAT(refusal({{"manifest.json", manifest(entry("x", 600) + "," + entry("y", 600))}}, tight),
                HasSubstr("too large"));
    EXPECT_THAT(refusal({{"manifest.json", manifest(entry("x", ~std::uintmax_t{0}) + "," + entry("y", 2))}}),
                HasSubstr("too large"))
        << "sums do not wrap round";
    EXPECT_THAT(refusal({{"manifest.json",
                          manifest(entry("a") + "," + entry("b") + "," + entry("c") + "," + entry("d"))}},
                        tight),
                HasSubstr("4 files"));
    // A bomb: a few kilobytes that unpack to far more than the manifest says.
    EXPECT_THAT(refusal({{"manifest.json", manifest(entry("x"))}, {"x", std::string(50 << 20, '\0')}}),
                HasSubstr("larger than"));
    EXPECT_LT(fs::file_size(folder / "wild.zip"), std::uintmax_t{1} << 20);
}

/// Bundles cut off anywhere and with bytes changed anywhere: refused in one line, or all of it is as it was.
TEST_F(Bundle, DamagedOnesAreRefusedOrWhole) {
    write_wild(
        folder / "wild.zip",
        {{"manifest.json", manifest(entry("x") + "," + entry("media/y"))}, {"x", "abc"}, {"media/y", "abc"}});
    const std::string sound = bytes_of(folder / "wild.zip");
    const auto put = [&](const std::string& bytes) {
        std::ofstream(folder / "wild.zip", std::ios::binary | std::ios::trunc) << bytes;
    };
    int refused = 0;
    for (std::size_t n = 0; n < sound.size(); n += 7) {
        put(sound.substr(0, n));
        if (refusal_of().empty()) {  // only the list at the end is missing: all files are there
            EXPECT_EQ(bytes_of(folder / "into" / "media" / "y"), "abc") << n;
            EXPECT_GT(n, sound.size() / 2);
        }
    }
    std::mt19937 random(20261127);
    for (int round = 0; round < 1500; ++round) {
        std::string bytes = sound;
        for (int flips = 0; flips < 1 + round % 4; ++flips)
            bytes[random() % bytes.size()] = static_cast<char>(random());
        put(bytes);
        const std::string line = refusal_of();
        if (!line.empty()) {
            ++refused;
            continue;
        }
        EXPECT_EQ(bytes_of(folder / "into" / "x"), "abc");
        EXPECT_EQ(bytes_of(folder / "into" / "media" / "y"), "abc");
    }
    EXPECT_GT(refused, 500);
}

}  // namespace
}  // namespace aspen::exchange
