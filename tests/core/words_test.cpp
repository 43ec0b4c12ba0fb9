// What is said: words of values and changes, and every word of the files both ways.

#include <gmock/gmock.h>

#include "core/body/vocabulary.hpp"
#include "core/core_support.hpp"
#include "core/judging/judgement.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::HasSubstr;
using testing::Not;

Judged judged(const char* id, double value, Verdict verdict, double lo, double hi) {
    Judged j;
    j.measured.info = find_measure(id);
    j.measured.value = value;
    j.measured.sd = 1;
    j.verdict = verdict;
    j.beyond = value < lo ? Beyond::below : value > hi ? Beyond::above : Beyond::neither;
    Band b;
    b.lo = lo;
    b.hi = hi;
    j.band = b;
    return j;
}
std::string said(const Judged& j, std::optional<int> height = {}) {
    return knowledge().measure_words.of(j, knowledge().body, {height, false});
}

TEST(MeasureWordsOf, EachSideOfABandHasItsOwn) {
    const std::string behind = said(judged("heel_offset", -14, Verdict::outside, -4, 4)),
                      ahead = said(judged("heel_offset", 14, Verdict::outside, -4, 4)),
                      inside = said(judged("heel_offset", 1, Verdict::inside, -4, 4));
    EXPECT_THAT(behind, HasSubstr("behind"));
    EXPECT_NE(behind, ahead);
    EXPECT_NE(inside, behind);
    EXPECT_NE(inside, ahead);
}

TEST(MeasureWordsOf, AKnownHeightGivesCentimetres) {
    const Judged heel = judged("heel_offset", -14, Verdict::outside, -4, 4);
    EXPECT_THAT(said(heel, 170), HasSubstr("cm"));
    EXPECT_THAT(said(heel), Not(HasSubstr("cm")));
}

TEST(MeasureWordsOf, EveryMeasureIsSaidWithoutItsId) {
    for (const MeasureInfo& info : measures_of(View::side)) {
        for (const auto& [value, verdict] :
             {std::pair{-50.0, Verdict::outside}, {0.0, Verdict::inside}, {50.0, Verdict::outside}}) {
            const std::string words = said(judged(std::string(info.id).c_str(), value, verdict, -5, 5));
            EXPECT_FALSE(words.empty()) << info.id;
            EXPECT_EQ(words.find('_'), std::string::npos) << info.id << ": " << words;
            EXPECT_EQ(words.find('{'), std::string::npos) << info.id << ": " << words;
        }
    }
}

TEST(MeasureWordsOf, AChangeIsSaidByItsDirection) {
    const MeasureInfo& heel = *find_measure("heel_offset");
    const std::string more = knowledge().measure_words.of_change(heel, 9, knowledge().body, {}),
                      less = knowledge().measure_words.of_change(heel, -9, knowledge().body, {});
    EXPECT_THAT(more, HasSubstr("forward"));
    EXPECT_NE(more, less);
    for (const MeasureInfo& info : measures_of(View::side)) {
        for (const double by : {-12.0, 12.0}) {
            const std::string words =
                knowledge().measure_words.of_change(info, by, knowledge().body, {170, false});
            EXPECT_FALSE(words.empty()) << info.id;
            EXPECT_EQ(words.find('{'), std::string::npos) << info.id << ": " << words;
        }
    }
}

template <typename Enum>
void comes_back(const char* what) {
    std::set<std::string> seen;
    for (std::size_t i = 0; i < kWordCount<Enum>; ++i) {
        const auto value = static_cast<Enum>(i);
        const std::string w(word(value));
        EXPECT_FALSE(w.empty()) << what << ' ' << i;
        EXPECT_TRUE(seen.insert(w).second) << what << ": " << w << " twice";
        const auto back = from_word<Enum>(w);
        ASSERT_TRUE(back) << what << ": " << w;
        EXPECT_EQ(*back, value) << what << ": " << w;
    }
    EXPECT_FALSE(from_word<Enum>("no such word")) << what;
    EXPECT_FALSE(from_word<Enum>("")) << what;
}

TEST(Vocabulary, EveryWordOfTheFilesComesBack) {
    comes_back<Gait>("gait");
    comes_back<Seat>("seat");
    comes_back<Rein>("rein");
    comes_back<View>("view");
    comes_back<Stirrups>("stirrups");
    comes_back<ReinsHeld>("reins");
    comes_back<Hands>("hands");
    comes_back<Line>("line");
    comes_back<Mount>("mount");
    comes_back<CircleLeg>("circle_leg");
}

TEST(Vocabulary, WhatIsSpokenHasNoLinesUnderIt) {
    for (std::size_t i = 0; i < kWordCount<Gait>; ++i)
        EXPECT_EQ(spoken(static_cast<Gait>(i)).find('_'), std::string_view::npos);
    for (std::size_t i = 0; i < kWordCount<Seat>; ++i)
        EXPECT_EQ(spoken(static_cast<Seat>(i)).find('_'), std::string_view::npos);
    for (const char* phase : {"rise_top", "rise_bottom", "beat_1", "take_off", "suspension"})
        EXPECT_EQ(spoken_phase(phase).find('_'), std::string_view::npos) << phase;
}

TEST(Knowledge, SaysEverythingAPersonReadsInWords) {
    for (const Fault& f : knowledge().faults.faults()) {
        for (const std::string& words : {f.name, f.says, f.rider})
            EXPECT_EQ(words.find('_'), std::string::npos) << f.id << ": " << words;
        EXPECT_FALSE(f.name.empty()) << f.id;
    }
    for (const Exercise& e : knowledge().exercises.all()) {
        EXPECT_EQ(e.name.find('_'), std::string::npos) << e.id;
        for (const Rung& r : e.dose.ladder)
            EXPECT_EQ(spoken(r).find('_'), std::string::npos) << e.id << ": " << spoken(r);
        EXPECT_EQ(spoken(e.dose).find('_'), std::string::npos) << e.id;
    }
}

}  // namespace
}  // namespace aspen::core
