// `follow`: the joints of marked moments through the clip, held against the simulator's truth; what cannot be
// followed is one line.

#include <gmock/gmock.h>

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <sstream>

#include "cli/cli_support.hpp"
#include "exchange/coco.hpp"
#include "exchange/tracks.hpp"
#include "support/support.hpp"

namespace aspen::cli {
namespace {

using testing::HasSubstr;

class FollowVerb : public testing::Test {
  protected:
    FollowVerb() { setenv("ASPEN_PAINTER", ASPEN_PAINTER, 1); }
    exchange::MarkedMoment moment(int frame) const {
        exchange::MarkedMoment m;
        m.id = frame + 1;
        m.file_name = "clip.mp4";
        m.width = 1280;
        m.height = 720;
        m.frame = frame;
        m.figure = test::true_figure(short_clip(), frame);
        return m;
    }
    std::string marks(std::vector<exchange::MarkedMoment> moments) const {
        const auto file = folder / "marks.json";
        std::ofstream out(file);
        exchange::write_coco(out, moments);
        return file.string();
    }
    void refuses(const std::vector<std::string>& arguments, const char* why) {
        const Said s = say(arguments);
        EXPECT_EQ(s.code, kRefused) << s.err;
        EXPECT_THAT(s.err, HasSubstr(why));
        EXPECT_EQ(std::ranges::count(s.err, '\n'), 1) << s.err;
    }
    test::TempFolder folder;
    const std::string clip = short_clip().string();
};

TEST_F(FollowVerb, GivesEveryJointOnEveryFrameNearTheTruth) {
    const std::string tracks = (folder / "tracks.csv").string();
    const Said s = say({"follow", clip, marks({moment(5), moment(24)}), "-o", tracks});
    ASSERT_EQ(s.code, kDone) << s.err;
    std::ifstream in(tracks);
    const core::Tracks read = exchange::read_tracks(in, "tracks.csv");
    std::vector<double> off;
    int last = 0, hidden = 0;
    for (const core::TrackPoint& p : read.points) {
        last = std::max(last, p.frame);
        hidden += p.hidden ? 1 : 0;
        const core::Mark truth = test::true_figure(short_clip(), p.frame)[p.landmark];
        if (!p.hidden && truth.visibility == core::Visibility::seen)
            off.push_back(core::distance(p.at, truth.at));
    }
    EXPECT_EQ(last, 29) << "to the end of the clip";
    ASSERT_GT(off.size(), 300U);
    EXPECT_LT(hidden, static_cast<int>(read.points.size() / 4));
    std::ranges::sort(off);
    EXPECT_LT(off[off.size() / 2], 2.0) << "px, half of them";
    EXPECT_LT(off[off.size() * 9 / 10], 8.0) << "px, nine of ten";
}

TEST_F(FollowVerb, KeepsToTheRangeAndWritesToStandardOutput) {
    const Said s = say({"follow", clip, marks({moment(12)}), "--from", "10", "--to", "16"});
    ASSERT_EQ(s.code, kDone) << s.err;
    std::istringstream in(s.out);
    const core::Tracks read = exchange::read_tracks(in, "out");
    ASSERT_FALSE(read.points.empty());
    for (const core::TrackPoint& p : read.points) {
        EXPECT_GE(p.frame, 10);
        EXPECT_LE(p.frame, 16);
    }
}

TEST_F(FollowVerb, RefusesInOneLine) {
    refuses({"follow", clip, marks({moment(12)}), "--from", "20"}, "joints to follow");
    refuses({"follow", clip, marks({moment(12)}), "--to", "99"}, "has frames 0 to 29");
    refuses({"follow", clip, (folder / "nothing.json").string()}, "cannot be opened");
    exchange::MarkedMoment other = moment(12);
    other.width = 640;
    refuses({"follow", clip, marks({other})}, "640 x 720");
    other = moment(12);
    other.frame = 70;
    refuses({"follow", clip, marks({other})}, "frame 70 is past the clip's last");
    other = moment(20);
    other.rider_ref = "the other one";
    refuses({"follow", clip, marks({moment(12), other})}, "several riders");
    other = moment(12);
    for (core::Mark& m : other.figure.marks) m.visibility = core::Visibility::absent;
    refuses({"follow", clip, marks({other})}, "joints to follow");
}

}  // namespace
}  // namespace aspen::cli
