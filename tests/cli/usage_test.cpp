// The command line as a whole: every verb says what it is, and whatever goes wrong is one line with a code.

#include <gmock/gmock.h>

#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "cli/cli_support.hpp"
#include "support/support.hpp"

namespace aspen::cli {
namespace {

using testing::HasSubstr;

/// Each verb with what it needs at least, the files not being there.
const std::vector<std::vector<std::string>> kVerbs{
    {"frames", "/nowhere/clip.mp4", "--json"},
    {"frame", "/nowhere/clip.mp4", "0", "--hash"},
    {"measure", "/nowhere/marks.json", "--json"},
    {"assess", "/nowhere/marks.json", "--json"},
    {"motion", "/nowhere/tracks.csv", "--gait", "trot", "--travel", "right", "--json"},
    {"events", "/nowhere/events.csv", "--json"},
    {"rides", "/nowhere/yard", "--json"},
    {"search", "/nowhere/yard", "heel", "--json"},
    {"progress", "/nowhere/yard", "Maude", "--json"},
    {"plan", "/nowhere/yard", "Maude", "--json"},
};

std::size_t lines_of(const std::string& words) {
    return static_cast<std::size_t>(std::ranges::count(words, '\n'));
}

TEST(CommandLine, SaysEveryVerb) {
    const Said help = say({"--help"});
    EXPECT_EQ(help.code, kDone);
    for (const auto& verb : kVerbs) EXPECT_THAT(help.out + help.err, HasSubstr(verb[0]));
}

TEST(CommandLine, EveryVerbSaysWhatItTakes) {
    for (const auto& verb : kVerbs) {
        const Said help = say({verb[0], "--help"});
        EXPECT_EQ(help.code, kDone) << verb[0];
        EXPECT_GT((help.out + help.err).size(), 60U) << verb[0];
    }
}

TEST(CommandLine, NoVerbAndAnUnknownOneAreWrongUsage) {
    EXPECT_EQ(say({}).code, kWrongUsage);
    EXPECT_EQ(say({"gallop"}).code, kWrongUsage);
    for (const auto& verb : kVerbs) {
        EXPECT_EQ(say({verb[0]}).code, kWrongUsage) << verb[0] << " of nothing";
        auto odd = verb;
        odd.emplace_back("--no-such-option");
        EXPECT_EQ(say(odd).code, kWrongUsage) << verb[0];
    }
}

TEST(CommandLine, WhatIsNotThereIsRefusedInOneLineThatNamesIt) {
    for (const auto& verb : kVerbs) {
        const Said s = say(verb);
        EXPECT_EQ(s.code, kRefused) << verb[0];
        EXPECT_THAT(s.err, HasSubstr("/nowhere/")) << verb[0];
        EXPECT_EQ(lines_of(s.err), 1U) << verb[0] << ": " << s.err;
        EXPECT_EQ(s.out, "") << verb[0] << " gives nothing half";
    }
}

TEST(CommandLine, AFolderOrAnEmptyFileIsNoFile) {
    const test::TempFolder folder;
    std::filesystem::create_directories(folder.path());
    const std::string empty = (folder / "empty").string();
    std::ofstream(empty).flush();
    for (const char* verb : {"frames", "measure", "assess"}) {
        for (const std::string& bad : {folder.path().string(), empty}) {
            const Said s = say({verb, bad, "--json"});
            EXPECT_EQ(s.code, kRefused) << verb << ' ' << bad;
            EXPECT_EQ(lines_of(s.err), 1U) << verb << ": " << s.err;
        }
    }
}

TEST(CommandLine, WhatIsShippedIsListedWithIdsAndNames) {
    for (const char* verb : {"faults", "schools"}) {
        const Said s = say({verb, "--json"});
        ASSERT_EQ(s.code, kDone) << verb << ": " << s.err;
        const auto j = nlohmann::json::parse(s.out);
        EXPECT_FALSE(j.empty()) << verb;
        EXPECT_EQ(s.err, "") << verb;
        EXPECT_THAT(s.out, HasSubstr("\"id\"")) << verb;
        EXPECT_THAT(s.out, HasSubstr("\"name\"")) << verb;
    }
}

TEST(CommandLine, JsonIsTheWholeOfStandardOutput) {
    const test::TempFolder folder;
    std::filesystem::create_directories(folder.path());
    const std::string file = (folder / "events.csv").string();
    std::ofstream(file) << "time_s,event,detail\n1,aid,with=calf\n2,answer,\n";
    const Said s = say({"events", file, "--json"});
    ASSERT_EQ(s.code, kDone) << s.err;
    EXPECT_TRUE(nlohmann::json::accept(s.out));
    const Said words = say({"events", file});
    EXPECT_FALSE(nlohmann::json::accept(words.out)) << "words for a person";
    EXPECT_THAT(words.out, HasSubstr("aid"));
}

TEST(CommandLine, AFrameThatIsNotInTheClipIsRefused) {
    const auto clip = short_clip();
    for (const char* n : {"30", "-1", "100000"}) {
        const Said s = say({"frame", clip.string(), "--hash", "--", n});
        EXPECT_NE(s.code, kDone) << n;
        EXPECT_EQ(s.out, "") << n;
    }
    EXPECT_EQ(say({"frame", clip.string(), "29", "--hash"}).code, kDone);
}

TEST(CommandLine, APictureThatCannotBeWrittenIsOneLineAndNothing) {
    const auto clip = short_clip();
    const Said s = say({"frame", clip.string(), "3", "-o", "/nowhere/at/all.png"});
    EXPECT_NE(s.code, kDone);
    EXPECT_THAT(s.err, HasSubstr("/nowhere/at/all.png"));
    EXPECT_EQ(lines_of(s.err), 1U) << s.err;
}

}  // namespace
}  // namespace aspen::cli
