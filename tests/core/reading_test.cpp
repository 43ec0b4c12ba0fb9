// The one reader of JSON from outside: what it takes, what it refuses, and in which words.

#include <gmock/gmock.h>

#include "core/core_support.hpp"
#include "core/reading/json_reading.hpp"
#include "support/refusal.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;
using testing::AllOf;
using testing::HasSubstr;

std::string parse_refusal(const std::string& words) {
    std::istringstream in(words);
    return test::refusal_of([&] { (void)reading::parse(in, "mine.json"); });
}
std::string nested(int deep) {
    return std::string(static_cast<std::size_t>(deep), '[') +
           std::string(static_cast<std::size_t>(deep), ']');
}

TEST(Parse, TakesJsonAndNothingElse) {
    std::istringstream in(R"({"a": [1, 2.5, "three", null, true]})");
    EXPECT_EQ(reading::parse(in, "mine.json")["a"].size(), 5U);
    for (const char* bad : {"", "{", "{\"a\":}", "[1,]", "nonsense", "{} {}", "{'a': 1}"}) {
        const std::string line = parse_refusal(bad);
        EXPECT_THAT(line, HasSubstr("mine.json")) << bad;
        EXPECT_EQ(line.find('\n'), std::string::npos) << bad;
    }
}

TEST(Parse, IsAsDeepAsItMayBeAndNoDeeper) {
    EXPECT_EQ(parse_refusal(nested(reading::kDeepest)), "taken");
    EXPECT_THAT(parse_refusal(nested(reading::kDeepest + 2)), HasSubstr("nested more than"));
    EXPECT_THAT(parse_refusal(std::string(100'000, '[')), HasSubstr("mine.json"));
}

// 60 MB of empty lists took 1.5 GB of memory once.
TEST(Parse, WhatWouldTakeTooMuchMemoryIsRefusedBeforeItIsBuilt) {
    std::string lists = "[[]";
    for (int i = 0; i < 2'000'000; ++i) lists += ",[]";
    EXPECT_THAT(test::refusal_of([&] { (void)reading::parse_text(lists + "]", "wide.json"); }),
                HasSubstr("wide.json: holds more than can be read at once"));
    EXPECT_EQ(reading::parse_text("[[],[],{}]", "x.json").size(), 3U);
    EXPECT_EQ(reading::parse_in_order("{\"b\":1,\"a\":2}", "x.json").dump(), "{\"b\":1,\"a\":2}");
    EXPECT_THAT(test::refusal_of([&] { (void)reading::parse_in_order(std::string(100, '['), "own"); }),
                HasSubstr("own: is nested more than 32 deep"));
}

TEST(Parse, NumbersThatAreNoneAreRefused) {
    EXPECT_THAT(parse_refusal(R"({"a": 1e999})"), HasSubstr("mine.json"));
    EXPECT_THAT(parse_refusal(R"({"a": NaN})"), HasSubstr("mine.json"));
    EXPECT_EQ(parse_refusal(R"({"a": -1e300})"), "taken");
}

TEST(Whole, IsExactOrNothing) {
    EXPECT_EQ(reading::whole(Json(7)), 7);
    EXPECT_EQ(reading::whole(Json(-3)), -3);
    EXPECT_FALSE(reading::whole(Json(7.5)));
    EXPECT_FALSE(reading::whole(Json("7")));
    EXPECT_FALSE(reading::whole(Json(nullptr)));
    EXPECT_FALSE(reading::whole(Json(18446744073709551615ULL))) << "never cut off";
}

class AnEntry : public testing::Test {
  protected:
    std::string refusal(const std::function<void(const Entry&)>& ask) {
        return test::refusal_of([&] { ask(entry); });
    }
    Json json = Json::parse(
        R"({"name": "Fig", "height": 157.5, "rungs": 4, "green": true, "words": ["quiet", "stiff"], "list": [1], "inner": {}})");
    Entry entry{json, "horses.json", "horse \"fig\""};
};

TEST_F(AnEntry, GivesItsFields) {
    EXPECT_EQ(entry.text("name"), "Fig");
    EXPECT_EQ(entry.number("height"), 157.5);
    EXPECT_EQ(entry.whole_or("rungs", 1), 4);
    EXPECT_TRUE(entry.flag_or("green", false));
    EXPECT_EQ(entry.texts_or_none("words"), (std::vector<std::string>{"quiet", "stiff"}));
    EXPECT_EQ(entry.array("list").size(), 1U);
    EXPECT_TRUE(entry.object("inner").empty());
}

TEST_F(AnEntry, GivesTheOtherWhereAFieldMayBeMissing) {
    EXPECT_EQ(entry.text_or("nickname", "none"), "none");
    EXPECT_EQ(entry.whole_or("years", 9), 9);
    EXPECT_TRUE(entry.flag_or("cold", true));
    EXPECT_TRUE(entry.texts_or_none("notes").empty());
    EXPECT_FALSE(entry.has("nickname"));
}

TEST_F(AnEntry, SaysFileEntryAndFieldOfWhatIsMissing) {
    EXPECT_EQ(refusal([](const Entry& e) { (void)e.text("nickname"); }),
              "horses.json: horse \"fig\": field \"nickname\" is missing");
    EXPECT_THAT(refusal([](const Entry& e) { (void)e.number("weight"); }),
                HasSubstr("\"weight\" is missing"));
    EXPECT_THAT(refusal([](const Entry& e) { (void)e.array("legs"); }), HasSubstr("\"legs\" is missing"));
}

TEST_F(AnEntry, SaysWhatAFieldShouldHaveBeen) {
    const std::pair<std::function<void(const Entry&)>, const char*> all[] = {
        {[](const Entry& e) { (void)e.text("height"); }, "\"height\""},
        {[](const Entry& e) { (void)e.number("name"); }, "\"name\""},
        {[](const Entry& e) { (void)e.whole_or("height", 1); }, "\"height\""},
        {[](const Entry& e) { (void)e.flag_or("rungs", true); }, "\"rungs\""},
        {[](const Entry& e) { (void)e.texts_or_none("list"); }, "\"list\""},
        {[](const Entry& e) { (void)e.array("inner"); }, "\"inner\""},
        {[](const Entry& e) { (void)e.object("list"); }, "\"list\""},
    };
    for (const auto& [ask, field] : all)
        EXPECT_THAT(refusal(ask),
                    AllOf(HasSubstr("horses.json"), HasSubstr("horse \"fig\""), HasSubstr(field)));
}

TEST_F(AnEntry, ComplainsInOneLine) {
    EXPECT_EQ(refusal([](const Entry& e) { e.complain("name", "is taken"); }),
              "horses.json: horse \"fig\": field \"name\" is taken");
}

}  // namespace
}  // namespace aspen::core
