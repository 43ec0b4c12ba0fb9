#include <gmock/gmock.h>

#include <QByteArray>
#include <QCryptographicHash>
#include <cstdio>
#include <fstream>
#include <sstream>

#include "core/core_support.hpp"
#include "exchange/calendar.hpp"
#include "exchange/practice_log.hpp"
#include "exchange/practice_page.hpp"
#include "support/refusal.hpp"
#include "support/support.hpp"

namespace aspen::exchange {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

std::string known(const std::string& words) {
    return words == "Two-point, walk then trot" || words == "two_point_walk_trot" ? "two_point_walk_trot"
                                                                                  : "";
}

ReadPractice log_in(const std::string& text) {
    std::istringstream in(text);
    return read_practice(in, "log.csv", known);
}

std::string log_refusal(const std::string& text) {
    return test::refusal_of([&] { log_in(text); });
}

TEST(PracticeLog, ComesBackAsItWasWritten) {
    core::Practice p;
    p.day = "2026-11-20";
    p.exercise = "two_point_walk_trot";
    p.rung = 2;
    p.attempts = 8;
    p.good = 7;
    p.held = 12;
    p.guess = 6;
    p.feel = 4;
    p.pain = true;
    p.tired_horse = true;
    p.by_rider = true;
    p.words = "windy, \"spooky\" corner";
    core::Practice bare;
    bare.day = "2026-11-21";
    bare.exercise = "two_point_walk_trot";
    std::ostringstream out;
    write_practice(out, {p, bare});
    const ReadPractice back = log_in(out.str());
    EXPECT_THAT(back.passed_over, testing::IsEmpty());
    ASSERT_EQ(back.rows.size(), 2U);
    const core::Practice& q = back.rows[0];
    EXPECT_EQ(std::tie(q.day, q.exercise, q.rung, q.attempts, q.good, q.held, q.guess, q.feel, q.pain,
                       q.tired_horse, q.tired_rider, q.by_rider, q.words),
              std::tie(p.day, p.exercise, p.rung, p.attempts, p.good, p.held, p.guess, p.feel, p.pain,
                       p.tired_horse, p.tired_rider, p.by_rider, p.words));
    EXPECT_EQ(back.rows[1].rung, -1);
    EXPECT_EQ(back.rows[1].guess, -1);
    EXPECT_FALSE(back.rows[1].by_rider);
}

TEST(PracticeLog, IsReadForgivingly) {
    const ReadPractice r = log_in(
        "\xEF\xBB\xBF"
        "Exercise;Day;Tries;Good ones;Hurt;Strides;Notes\r\n"
        "Two-point, walk then trot;21.11.2026;4;4;no;10,5;fine\r\n"
        ";;;;;;\r\n"
        "two_point_walk_trot;1.12.26;;3;x;;\r\n");
    EXPECT_THAT(r.passed_over, testing::IsEmpty());
    ASSERT_EQ(r.rows.size(), 2U);
    EXPECT_EQ(r.rows[0].day, "2026-11-21");
    EXPECT_EQ(r.rows[0].attempts, 4);
    EXPECT_DOUBLE_EQ(r.rows[0].held, 10.5);
    EXPECT_EQ(r.rows[0].words, "fine");
    EXPECT_EQ(r.rows[1].day, "2026-12-01");
    EXPECT_EQ(r.rows[1].attempts, 3) << "as many tries as good ones at least";
    EXPECT_TRUE(r.rows[1].pain);
}

TEST(PracticeLog, PassesOverWhatItCannotReadAndSaysWhy) {
    const ReadPractice r = log_in(
        "date,exercise,attempts,good,feel\n"
        "yesterday,two_point_walk_trot,4,4,3\n"
        "2026-11-20,juggling,4,4,3\n"
        "2026-11-20,two_point_walk_trot,4,7,3\n"
        "2026-11-20,two_point_walk_trot,4,3,9\n"
        "2026-02-30,two_point_walk_trot,4,3,1\n"
        "2026-11-20,two_point_walk_trot,4,3,1\n");
    EXPECT_EQ(r.rows.size(), 1U);
    EXPECT_THAT(r.passed_over,
                ElementsAre("line 2: date \"yesterday\" is no day; write it like 2026-11-27",
                            "line 3: exercise \"juggling\" is not known", "line 4: 7 good of 4 attempts",
                            "line 5: feel \"9\" is no number from 1 to 5", HasSubstr("2026-02-30")));
    EXPECT_THAT(log_refusal(""), HasSubstr("is empty"));
    EXPECT_THAT(log_refusal("name,age\nx,4\n"), HasSubstr("names no date and exercise"));
}

TEST(PracticePage, HoldsEverythingAndFetchesNothing) {
    std::ostringstream out;
    const core::ExerciseBook& book = test::knowledge().exercises;
    core::GoingHome home = core::going_home(*book.find("two_point_walk_trot"), 2, book, {"novice", {}}, {});
    home.purpose = "A </script><!--<script> in it";
    write_practice_page(out, {"Ines", "two_point_walk_trot", home, "Tamsin Quillfeather", {}});
    const std::string page = out.str();
    EXPECT_THAT(page, HasSubstr("trot, one long side"));
    EXPECT_THAT(page, HasSubstr("Stop on pain"));
    EXPECT_THAT(page, HasSubstr("A \\u003c/script>\\u003c!--\\u003cscript> in it"));
    for (const char* outside : {"http://", "https://", "src=", "@import", "url("})
        EXPECT_EQ(page.find(outside), std::string::npos) << outside;
    // A content security policy (W3C CSP Level 3): the script's own sum, and nothing else runs.
    const auto from = page.rfind("<script>") + 8;
    const QByteArray script = QByteArray::fromStdString(page.substr(from, page.rfind("</script>") - from));
    const QByteArray sum = QCryptographicHash::hash(script, QCryptographicHash::Sha256).toBase64();
    EXPECT_THAT(page, HasSubstr("default-src 'none'"));
    EXPECT_THAT(page, HasSubstr("script-src 'sha256-" + sum.toStdString() + "'"));
    // The header its script writes is the one the reader reads.
    std::ostringstream csv;
    write_practice(csv, {});
    EXPECT_THAT(page, HasSubstr(csv.str().substr(0, csv.str().size() - 1)));
}

std::string calendar_text() {
    std::ostringstream out;
    const std::string words = "Counts: five, six; \"loud\"\nA good ride: 3 of 4. " + std::string(90, 'x');
    write_calendar(out, "Homework of Ines",
                   {{"a@aspen", "2026-11-27", "Two-point, 4 min", words},
                    {"b@aspen", "2026-12-31", "Film the next clip", ""}},
                   "2026-11-27T14:05:00");
    return out.str();
}

// RFC 5545: lines end in CRLF and are no longer than 75 octets (3.1); a calendar has PRODID and VERSION 2.0
// (3.6); an event UID and DTSTAMP (3.6.1); the end of a whole day is the day after (3.6.1).
TEST(Calendar, KeepsTheRulesOfItsStandard) {
    const std::string text = calendar_text();
    std::size_t start = 0;
    for (std::size_t end = 0; (end = text.find('\n', start)) != std::string::npos; start = end + 1) {
        ASSERT_GT(end, start);
        EXPECT_EQ(text[end - 1], '\r');
        EXPECT_LE(end - 1 - start, 75U) << text.substr(start, end - start);
    }
    for (const char* line :
         {"BEGIN:VCALENDAR\r\n", "VERSION:2.0\r\n", "PRODID:", "UID:a@aspen\r\n",
          "DTSTAMP:20261127T140500Z\r\n", "DTSTART;VALUE=DATE:20261127\r\n", "DTEND;VALUE=DATE:20261128\r\n",
          "DTEND;VALUE=DATE:20270101\r\n", "END:VCALENDAR\r\n"})
        EXPECT_THAT(text, HasSubstr(line));
    std::ostringstream out;
    EXPECT_THROW(write_calendar(out, "x", {{"u", "2026-13-01", "s", ""}}, "2026-11-27T14:05:00"),
                 core::Refused);
}

// Against another parser: Debian's python3-icalendar, which shares nothing with the writer's libical.
TEST(Calendar, IsReadByAnotherParserAsItWasMeant) {
    const test::TempFolder folder;
    std::ofstream(folder / "a.ics", std::ios::binary) << calendar_text();
    std::ofstream(folder / "read.py") << "import sys, icalendar\n"
                                         "c = icalendar.Calendar.from_ical(open(sys.argv[1], 'rb').read())\n"
                                         "for e in c.walk('vevent'):\n"
                                         "    d = e.get('description') or ''\n"
                                         "    print(e['uid'], e['dtstart'].dt, e['dtend'].dt, e['summary'], "
                                         "str(d).count('\\n'), len(str(d)), sep='|')\n";
    const std::string command =
        "/usr/bin/python3 " + (folder / "read.py").string() + " " + (folder / "a.ics").string() + " 2>&1";
    std::FILE* pipe = popen(command.c_str(), "r");
    ASSERT_TRUE(pipe);
    std::string said;
    for (char line[512]; std::fgets(line, sizeof line, pipe);) said += line;
    EXPECT_EQ(pclose(pipe), 0) << said;
    EXPECT_EQ(said,
              "a@aspen|2026-11-27|2026-11-28|Two-point, 4 min|1|137\n"
              "b@aspen|2026-12-31|2027-01-01|Film the next clip|0|0\n");
}

}  // namespace
}  // namespace aspen::exchange
