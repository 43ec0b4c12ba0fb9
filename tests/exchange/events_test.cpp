#include "exchange/events.hpp"

#include <gmock/gmock.h>

#include <sstream>

#include "core/reading/refused.hpp"
#include "support/refusal.hpp"

namespace aspen::exchange {
namespace {

std::vector<EventRow> events_in(const std::string& text) {
    std::istringstream in(text);
    return read_events(in, "events.csv");
}
std::string events_refusal(const std::string& text) {
    return test::refusal_of([&] { events_in(text); });
}

TEST(Events, ComeBackAsTheyWentOutInOrderOfTime) {
    const std::vector<EventRow> rows{
        {1.25, "aid", "side=left with=calf"}, {2.5, "answer", ""}, {3, "spook", "a bird, \"there\""}};
    std::ostringstream out;
    write_events(out, rows);
    EXPECT_EQ(events_in(out.str()), rows);
    EXPECT_EQ(events_in("time_s,event,detail\r\n9,halt,\r\n2,break,\r\n")[0].event, "break")
        << "sorted, other line ends too";
    EXPECT_EQ(events_in("\xEF\xBB\xBFtime_s,event,detail\n1,aid,\n").size(), 1U)
        << "a spreadsheet's mark at the start";
}

TEST(Events, BadFilesSayLineAndWhat) {
    using testing::HasSubstr;
    EXPECT_THAT(events_refusal(""), HasSubstr("line 1"));
    EXPECT_THAT(events_refusal("time,event\n"), HasSubstr("header"));
    EXPECT_THAT(events_refusal("time_s,event,detail\n1,aid\n"), HasSubstr("line 2: has 2 fields"));
    EXPECT_THAT(events_refusal("time_s,event,detail\n1,aid,\nsoon,aid,\n"),
                HasSubstr("line 3: time_s \"soon\""));
    EXPECT_THAT(events_refusal("time_s,event,detail\nnan,aid,\n"), HasSubstr("no number of seconds"));
    EXPECT_THAT(events_refusal("time_s,event,detail\n1,gallop,\n"),
                HasSubstr("event \"gallop\" is not known"));
}

}  // namespace
}  // namespace aspen::exchange
