// Fields and lines of tables: RFC 4180, and texts that a spreadsheet would take for formulas (OWASP, "CSV
// Injection"; from memory).

#include "exchange/csv.hpp"

#include <gmock/gmock.h>

#include <random>
#include <sstream>

#include "support/refusal.hpp"

namespace aspen::exchange {
namespace {

using testing::ElementsAre, testing::HasSubstr;

TEST(Csv, QuotesWhatNeedsIt) {
    EXPECT_EQ(csv_quoted("plain"), "plain");
    EXPECT_EQ(csv_quoted("a,b"), "\"a,b\"");
    EXPECT_EQ(csv_quoted("say \"hm\""), "\"say \"\"hm\"\"\"");
    EXPECT_EQ(csv_quoted("a\rb"), "\"a\rb\"") << "a lone carriage return ends a line for some";
}

TEST(Csv, ATextIsNoFormula) {
    for (const char* text : {"=1+1", "+1", "-1", "@sum", "\t=1", "\r=1", "'=1"})
        EXPECT_EQ(csv_fields(csv_quoted(text)), std::vector<std::string>{text});
    EXPECT_EQ(csv_quoted("=HYPERLINK(1)"), "'=HYPERLINK(1)");
    EXPECT_EQ(csv_quoted("'=1"), "''=1");
    EXPECT_EQ(csv_quoted("'tis"), "'tis") << "an apostrophe alone is one";
    EXPECT_THAT(csv_fields("-1.5,+3,'=x"), ElementsAre("-1.5", "+3", "=x")) << "numbers stay numbers";
}

TEST(Csv, WhatIsReadIsWhatWasWritten) {
    std::mt19937 engine(5);
    const std::string signs = "=+-@'\",\t\r ab1";
    for (int round = 0; round < 2000; ++round) {
        std::vector<std::string> fields(1 + engine() % 4);
        std::string line;
        for (std::string& f : fields) {
            for (auto n = engine() % 6; n > 0; --n) f += signs[engine() % signs.size()];
            line += (line.empty() && &f == &fields[0] ? "" : ",") + csv_quoted(f);
        }
        ASSERT_EQ(csv_fields(line), fields) << line;
    }
}

TEST(Csv, LinesAreBounded) {
    std::istringstream in("a\r\nb\n\nlast");
    std::string line;
    std::vector<std::string> all;
    while (next_csv_line(in, line, "t.csv")) all.push_back(line);
    EXPECT_THAT(all, ElementsAre("a", "b", "", "last"));
    std::istringstream endless(std::string(1 << 20, 'x'));
    EXPECT_THAT(test::refusal_of([&] { next_csv_line(endless, line, "t.csv"); }),
                HasSubstr("t.csv: has a line of more than 64 KB"));
    EXPECT_LT(line.size(), (1U << 16) + 1) << "no more of it is read";
}

}  // namespace
}  // namespace aspen::exchange
