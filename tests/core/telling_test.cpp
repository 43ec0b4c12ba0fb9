#include "core/telling/telling.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/reading/refused.hpp"
#include "core/telling/voice.hpp"

namespace aspen::core {
namespace {

using What = Deed::What;

Deed picture(double at, int frame, bool runs = false, std::int64_t clip = 7) {
    Deed d;
    d.at_s = at;
    d.shown = {clip, frame};
    d.runs = runs;
    return d;
}
Deed told(double at, What what, const char* words) {
    Deed d;
    d.at_s = at;
    d.what = what;
    d.words = words;
    return d;
}

/// Ten seconds: stands on 100, plays 100 to 150 in two seconds, stands on 150, goes back to 40.
Telling recorded() {
    Telling t;
    t.add(told(0, What::chapter, "What is good"));
    t.add(picture(0, 100));
    t.add(picture(2, 100, true));
    t.add(picture(3, 125, true));
    t.add(picture(4, 150));
    t.add(told(6, What::chapter, "The heel"));
    t.add(picture(6, 40));
    t.recorded(10);
    t.tell(0, {0, 10});
    return t;
}

TEST(Telling, ShowsEveryFrameOfWhatRanAndStandsWhereItStood) {
    const Telling t = recorded();
    EXPECT_EQ(t.scene(1.99).shown.frame, 100);
    EXPECT_EQ(t.scene(2.021).shown.frame, 100);
    EXPECT_EQ(t.scene(2.041).shown.frame, 101);
    EXPECT_EQ(t.scene(3.5).shown.frame, 137);
    EXPECT_EQ(t.scene(5).shown.frame, 150);
    EXPECT_EQ(t.scene(9).shown.frame, 40);
}

TEST(Telling, WhatIsLeftOutIsNotToldAndNothingElseMoves) {
    Telling t = recorded();
    EXPECT_EQ(t.leave_out(3, 5), 1U) << "a new take would go behind the first part";
    EXPECT_NEAR(t.length_s(), 8, 1e-9);
    EXPECT_NEAR(t.raw_at(2.9), 2.9, 1e-9);
    EXPECT_NEAR(t.raw_at(3), 5, 1e-9);
    EXPECT_NEAR(t.raw_at(99), 10, 1e-9);
    t.leave_out(0, 1);
    EXPECT_THAT(t.cuts(), testing::ElementsAre(Cut{1, 3}, Cut{5, 10}));
    EXPECT_EQ(t.leave_out(6, 7), 2U);
    EXPECT_THAT(t.cuts(), testing::ElementsAre(Cut{1, 3}, Cut{5, 9}));
    t.leave_out(0, 100);
    EXPECT_TRUE(t.empty());
    EXPECT_EQ(t.recorded_s(), 10) << "what was recorded stays";
}

TEST(Telling, APauseIsShortenedInItsMiddle) {
    Telling t = recorded();
    t.shorten(4, 6, 0.5);
    EXPECT_THAT(t.cuts(), testing::ElementsAre(Cut{0, 4.25}, Cut{5.75, 10}));
    t.shorten(4, 4.4, 0.5);
    EXPECT_NEAR(t.length_s(), 8.5, 1e-9) << "short already";
}

TEST(Telling, OneChapterIsTakenAnewInItsPlace) {
    Telling t = recorded();
    ASSERT_EQ(t.chapters().size(), 2U);
    EXPECT_NEAR(t.chapters()[1].at_s, 6, 1e-9);
    const std::size_t place = t.leave_out(0, 6);
    EXPECT_EQ(place, 0U);
    t.add(told(10, What::chapter, "What is good"));
    t.add(picture(10, 12));
    t.recorded(13);
    t.tell(place, {10, 13});
    EXPECT_EQ(t.scene(t.raw_at(1)).shown.frame, 12);
    ASSERT_EQ(t.chapters().size(), 2U);
    EXPECT_NEAR(t.chapters()[1].at_s, 3, 1e-9);
    EXPECT_EQ(t.chapters()[1].title, "The heel");
}

TEST(Telling, WhatComesBeforeTheFirstTitleIsTheFirstLook) {
    Telling t;
    t.add(picture(0, 100));
    t.add(told(4, What::chapter, "The heel"));
    t.recorded(10);
    t.tell(0, {0, 10});
    ASSERT_EQ(t.chapters().size(), 2U);
    EXPECT_EQ(t.chapters()[0].title, "First look");
    EXPECT_EQ(t.chapters()[0].at_s, 0);
    EXPECT_NEAR(t.chapters()[1].at_s, 4, 1e-9);
    t.leave_out(0, 3.5);
    ASSERT_EQ(t.chapters().size(), 1U) << "half a second is worth no chapter";
    EXPECT_EQ(t.chapters()[0].at_s, 0);
}

TEST(Telling, ATimeThatRunsBackwardsIsRefused) {
    Telling t = recorded();
    EXPECT_THROW(t.add(picture(1, 3)), Refused);
    EXPECT_THROW(t.add(picture(NAN, 3)), Refused);
}

TEST(Telling, NotesAreReadFromTheMomentTheirFrameIsComeTo) {
    const Telling t = recorded();
    const auto captions = t.captions({{{7, 125}, "look at the heel"},
                                      {{7, 40}, "here it is level"},
                                      {{7, 99}, "no"},
                                      {{8, 125}, "another clip"}});
    ASSERT_EQ(captions.size(), 2U);
    EXPECT_NEAR(captions[0].from_s, 3, 1e-9);
    EXPECT_NEAR(captions[0].to_s, 5, 1e-9) << "two seconds at least";
    EXPECT_EQ(captions[1].words, "here it is level");
    EXPECT_NEAR(captions[1].from_s, 6, 1e-9);
}

TEST(Telling, ReadsBackAsItWasWritten) {
    Telling t = recorded();
    Deed d;
    d.at_s = 10;
    d.what = What::stroke;
    d.stroke = {Stroke::Kind::words, {1.25, 2}, {3, 4}, "let it \"drop\""};
    t.add(d);
    d = {};
    d.at_s = 10;
    d.what = What::part;
    d.part = {0.25, 0.5, 0.4};
    t.add(d);
    const Telling back = read_telling(write_telling(t));
    EXPECT_EQ(back.deeds(), t.deeds());
    EXPECT_EQ(back.cuts(), t.cuts());
    EXPECT_EQ(back.recorded_s(), t.recorded_s());
}

TEST(Telling, AnythingElseIsRefusedInOneLine) {
    for (const char* bad :
         {"", "[]", "{}", R"({"version":2,"recorded_s":1,"cuts":[],"deeds":[]})",
          R"({"version":1,"recorded_s":1,"cuts":[[0,2]],"deeds":[]})",
          R"({"version":1,"recorded_s":1,"cuts":[[0.5,0.2]],"deeds":[]})",
          R"({"version":1,"recorded_s":1e9,"cuts":[],"deeds":[]})",
          R"({"version":1,"recorded_s":1,"cuts":[],"deeds":[{"t":0,"do":"fly"}]})",
          R"({"version":1,"recorded_s":1,"cuts":[],"deeds":[{"t":0,"do":"part","part":[0,0,0]}]})",
          R"({"version":1,"recorded_s":1,"cuts":[],"deeds":[{"t":0,"do":"picture","clip":1,"frame":-4}]})"}) {
        try {
            read_telling(bad);
            ADD_FAILURE() << bad;
        } catch (const Refused& e) {
            EXPECT_EQ(std::string(e.what()).find('\n'), std::string::npos) << e.what();
        }
    }
}

TEST(Telling, WithoutAVoiceItIsMadeFromNotes) {
    const Telling t = telling_of({{{7, 100}, "What is good", "The back is long and tall."},
                                  {{7, 60}, "The heel", "It lies a hand behind the hip."}},
                                 25);
    ASSERT_EQ(t.chapters().size(), 2U);
    const auto captions = t.captions();
    ASSERT_EQ(captions.size(), 2U);
    EXPECT_EQ(t.scene(t.raw_at(captions[0].from_s + 0.01)).shown.frame, 100) << "it stands while it is read";
    EXPECT_GE(captions[0].to_s - captions[0].from_s, 2);
    EXPECT_EQ(t.scene(0).shown.frame, 62) << "a second and a half before";
    int last = 62;
    for (double s = 0; s < captions[0].from_s; s += 0.02) {
        const int frame = t.scene(s).shown.frame;
        EXPECT_TRUE(frame == last || frame == last + 1) << s << ": half speed leaves no frame out";
        last = frame;
    }
}

TEST(WebVtt, IsWrittenAsTheStandardHasIt) {
    // W3C, "WebVTT: The Web Video Text Tracks Format": signature line, cues after an empty line, timestamps
    // hh:mm:ss.ttt, and no "-->", "&" or "<" of its own in a cue's text.
    EXPECT_EQ(web_vtt({{0, 1.5, "heel & knee"}, {3661.25, 3662, "a --> b\n\nc"}}),
              "WEBVTT\n\n00:00:00.000 --> 00:00:01.500\nheel &amp; knee\n\n"
              "01:01:01.250 --> 01:01:02.000\na --&gt; b\nc\n");
    EXPECT_EQ(web_vtt({{0, "one"}, {2, "two"}}, 5),
              "WEBVTT\n\n00:00:00.000 --> 00:00:02.000\none\n\n00:00:02.000 --> 00:00:05.000\ntwo\n");
}

Voice tone(double seconds, double loud, int rate = 48000) {
    Voice out;
    for (int i = 0; i < static_cast<int>(seconds * rate); ++i)
        out.push_back(static_cast<std::int16_t>(loud * 32000 * std::sin(i * 0.05)));
    return out;
}

TEST(Voice, IsToldAsLongAsItsPartsToTheSample) {
    const Voice all = tone(3, 0.5);
    const Voice told = told_voice(all, 48000, {{0, 1.00001}, {2, 2.50001}});
    EXPECT_EQ(told.size(), 72001U);
    EXPECT_EQ(told[1000], all[1000]);
    EXPECT_EQ(told[48000 + 1000], all[2 * 48000 + 1000 - 0]) << "in step after the joint";
    int steepest = 0;
    for (std::size_t i = 1; i < told.size(); ++i)
        steepest = std::max(steepest, std::abs(told[i] - told[i - 1]));
    EXPECT_LT(steepest, 2400) << "no click at the joint (the tone itself rises by 800)";
}

TEST(Voice, PausesAreFoundByWhatSpeechIsHere) {
    Voice all = tone(2, 0.3);
    const Voice quiet = tone(1.2, 0.002), breath = tone(0.3, 0.002), more = tone(1, 0.3);
    for (const Voice* v : {&quiet, &more, &breath, &more}) all.insert(all.end(), v->begin(), v->end());
    const auto found = pauses(all, 48000);
    ASSERT_EQ(found.size(), 1U) << "a breath is none";
    EXPECT_NEAR(found[0].from_s, 2, 0.03);
    EXPECT_NEAR(found[0].to_s, 3.2, 0.03);
    EXPECT_TRUE(pauses({}, 48000).empty());
}

TEST(Voice, ItsWaveIsAsHighAsItsLoudestSample) {
    Voice v(1000, 0);
    v[500] = -16384;
    const auto wave = peaks(v, 10);
    EXPECT_FLOAT_EQ(wave[5], 0.5F);
    EXPECT_FLOAT_EQ(wave[4], 0);
}

}  // namespace
}  // namespace aspen::core
