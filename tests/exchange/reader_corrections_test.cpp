// Corrections of read joints as a file: what is written is read again, and what is wrong is named in one
// line.

#include "exchange/reader_corrections.hpp"

#include <gmock/gmock.h>

#include <sstream>

#include "core/reading/refused.hpp"

namespace aspen::exchange {
namespace {

using core::Landmark;
using testing::AllOf;
using testing::HasSubstr;

std::string refused(const std::string& text) {
    std::istringstream in(text);
    try {
        read_corrections(in, "c.json");
    } catch (const core::Refused& e) {
        return e.what();
    }
    return "taken";
}

std::string with(const std::string& riders) {
    return R"({"kind":"reader_corrections","version":1,"yard":"a","riders":)" + riders + "}";
}

TEST(ReaderCorrections, AreReadAsTheyWereWritten) {
    const YardsCorrections made{
        "yard-1", {{{Landmark::hip, {{0.04, -0.015}, 12}}, {Landmark::toe, {{-0.07, 0.002}, 1}}}, {}}};
    std::stringstream file;
    write_corrections(file, made);
    const YardsCorrections read = read_corrections(file, "c.json");
    EXPECT_EQ(read.yard, "yard-1");
    EXPECT_EQ(read.riders, made.riders);
}

TEST(ReaderCorrections, WhatIsWrongIsNamed) {
    EXPECT_EQ(refused(with("[]")), "taken");
    EXPECT_THAT(refused("[]"), HasSubstr("c.json"));
    EXPECT_THAT(refused(R"({"kind":"marks","version":1,"yard":"a","riders":[]})"), HasSubstr("kind"));
    EXPECT_THAT(refused(R"({"kind":"reader_corrections","version":2,"yard":"a","riders":[]})"),
                HasSubstr("newer program"));
    EXPECT_THAT(refused(R"({"kind":"reader_corrections","version":1,"yard":"","riders":[]})"),
                HasSubstr("yard"));
    EXPECT_THAT(refused(with(R"([{},{"knuckel":{"forward":0,"up":0,"figures":1}}])")),
                AllOf(HasSubstr("rider 2"), HasSubstr("knuckel"), HasSubstr("no landmark")));
    EXPECT_THAT(refused(with(R"([{"hip":{"forward":0.6,"up":0,"figures":1}}])")),
                AllOf(HasSubstr("rider 1, hip"), HasSubstr("forward")));
    EXPECT_THAT(refused(with(R"([{"hip":{"forward":0,"up":0,"figures":0}}])")), HasSubstr("figures"));
    EXPECT_THAT(refused(with(R"([{"hip":{"forward":0,"figures":1}}])")), HasSubstr("up"));
}

}  // namespace
}  // namespace aspen::exchange
