// Playing, slow motion, and frames that leave the bench.

#include <QFile>
#include <fstream>

#include "app/bench_fixture.hpp"
#include "app/leaving/consents.hpp"
#include "app/leaving/frames_out.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "app/review/clip_sound.hpp"
#include "app/review/player.hpp"
#include "app/review/review_changes.hpp"
#include "core/body/face.hpp"
#include "exchange/coco.hpp"
#include "media/reading/sound_track.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

class PlayingTest : public BenchTest {
  protected:
    PlayingTest() : player(bench.deck()) {}
    void say_everything_of_an_adult() {
        say_everything();
        set_birth_year(1990);
    }
    void set_birth_year(int year) {
        store::Rider r = *yard.records().people.rider(bench.review().rider());
        r.birth_year = year;
        change_rider(yard, r);
    }
    QString path(const char* name) const { return QString::fromStdString((folder / name).string()); }
    void open_full_at(int frame) {
        open();
        go_to(frame);
        ASSERT_TRUE(wait_for([&] { return bench.deck().picture_is_full(); }));
    }
    core::Ellipse face_at(int frame) { return *core::face_ellipse(test::true_figure(source, frame)); }
    /// A stretch of an adult's clip with the moment at frame 25 marked, as it left.
    QString stretch_out(int from, int to) {
        open();
        say_everything_of_an_adult();
        go_to(25);
        mark_all_asked();
        StretchWriter writer(bench);
        QString said;
        QObject::connect(&writer, &StretchWriter::finished, [&](const QString& line) { said = line; });
        EXPECT_EQ(writer.start(from, to, path("part.mp4")), "");
        EXPECT_TRUE(wait_for([&] { return !said.isEmpty(); }));
        EXPECT_THAT(said.toStdString(), testing::HasSubstr("Saved with its marks"));
        return path("part.mp4");
    }
    Player player;
};

TEST_F(PlayingTest, TheClockRunsAtTheSpeedItIsSetTo) {
    open();
    for (const auto& [by, speed] : {std::pair{0, 1.0}, {-1, 0.5}, {-5, 0.125}, {4, 2.0}}) {
        player.change_speed(by);
        EXPECT_EQ(player.speed(), speed);
        bench.deck().go_to(0);
        QElapsedTimer clock;
        clock.start();
        player.play(1);
        // A busy machine may be late at one look, a wrong speed is wrong at all of them.
        EXPECT_TRUE(wait_for([&] {
            const double passed_s = player.position_s() - bench.deck().facts().pts_s[0],
                         elapsed_s = static_cast<double>(clock.nsecsElapsed()) * 1e-9;
            return !player.playing() ||
                   (elapsed_s > 0.4 && std::abs(passed_s - speed * elapsed_s) < 0.03 * speed);
        }));
        EXPECT_TRUE(player.playing());
        player.pause();
        ASSERT_TRUE(wait_for([&] { return bench.deck().picture_is_full(); }))
            << "at rest the exact picture at full size";
    }
}

TEST_F(PlayingTest, StopsAtTheEndsAndTurnsRoundThere) {
    open();
    player.change_speed(1);
    bench.deck().go_to(40);
    player.play(1);
    ASSERT_TRUE(wait_for([&] { return !player.playing(); }));
    EXPECT_EQ(bench.deck().frame(), bench.deck().facts().frames - 1);
    player.play(-1);
    ASSERT_TRUE(wait_for([&] { return !player.playing(); }));
    EXPECT_EQ(bench.deck().frame(), 0);
}

TEST_F(PlayingTest, LoopsBetweenTwoMarksBothWays) {
    open();
    player.mark_from(10);
    player.mark_to(16);
    EXPECT_TRUE(player.loops());
    for (const int direction : {1, -1}) {
        int turns = 0, before = -1;
        const auto watch = QObject::connect(&bench.deck(), &app::ClipDeck::frame_changed, [&](int frame) {
            EXPECT_GE(frame, 10);
            EXPECT_LE(frame, 16);
            turns += before >= 0 && (frame - before) * direction < 0;
            before = frame;
        });
        player.play(direction);
        ASSERT_TRUE(wait_for([&] { return turns >= 3; }));
        player.pause();
        QObject::disconnect(watch);
    }
    player.mark_to(5);
    EXPECT_FALSE(player.from()) << "an end before the start begins a new stretch";
    player.clear_marks();
    EXPECT_FALSE(player.loops());
}

TEST_F(PlayingTest, AHandThatGoesElsewhereStopsIt) {
    open();
    player.play(1);
    EXPECT_TRUE(player.playing());
    bench.deck().go_to(50);
    EXPECT_FALSE(player.playing());
    EXPECT_EQ(bench.deck().frame(), 50);
}

TEST_F(PlayingTest, SlowMotionTurnsStreamTimeIntoRealTime) {
    open();
    EXPECT_TRUE(bench.deck().capture_map().is_plain());
    store::Clip c = bench.review().clip();
    c.capture = {240, {}, {}};
    set_clip(bench.review(), c, "slow motion");
    EXPECT_NEAR(bench.deck().real_s(40), bench.deck().stream_s(40) / 8, 1e-9);
    c.capture = {240, bench.deck().facts().pts_s[20], bench.deck().facts().pts_s[40]};
    set_clip(bench.review(), c, "slow motion");
    EXPECT_NEAR(bench.deck().real_s(20), bench.deck().stream_s(20), 1e-9);
    EXPECT_NEAR(bench.deck().real_s(50) - bench.deck().real_s(0), (20.0 + 20.0 / 8 + 10.0) / 30, 1e-6);
    yard.steps().undo();
    EXPECT_NEAR(bench.deck().real_s(40), bench.deck().stream_s(40) / 8, 1e-9) << "taken back like everything";
    say_everything_of_an_adult();
    go_to(40);
    mark_all_asked();
    const QString file = QString::fromStdString((folder / "m.json").string());
    EXPECT_EQ(export_marks(bench, file), "");
    std::ifstream in(file.toStdString());
    const auto marks = exchange::read_coco(in, "m.json");
    EXPECT_NEAR(*marks[0].real_s, *marks[0].time_s / 8, 1e-9);
}

TEST_F(PlayingTest, AFrameOutIsTheExactPicture) {
    open_full_at(30);
    say_everything_of_an_adult();
    const media::Picture exact = media::VideoReader(source).picture(30);
    set_face(yard, bench.review().clip().id, 0, 30, face_at(30));
    EXPECT_EQ(frame_out(bench, false).picture.width(), exact.width);
    give_consent(yard, {{}, bench.review().rider(), "clip", "Ines Varga-Holt", "2026-01-01", "", true});
    const FrameOut plain = frame_out(bench, false);
    ASSERT_EQ(plain.picture.width(), exact.width);
    EXPECT_EQ(qRed(plain.picture.pixel(400, 300)), exact.pixel(400, 300)[2]);
    mark_all_asked();
    const FrameOut drawn = frame_out(bench, true);
    ASSERT_EQ(drawn.picture.size(), plain.picture.size()) << drawn.trouble.toStdString();
    EXPECT_NE(drawn.picture, plain.picture);
}

TEST_F(PlayingTest, AFrameOutCoversTheFaceThatIsMarkedOrKnownFromTheJoints) {
    open_full_at(30);
    EXPECT_TRUE(frame_out(bench, false).trouble.contains("not named"))
        << "the gate is shut until somebody is named";
    say_everything_of_an_adult();
    const FrameOut bare = frame_out(bench, false);
    EXPECT_TRUE(bare.wants_face && bare.picture.isNull()) << "nobody marked the face";
    set_face(yard, bench.review().clip().id, 0, 30, face_at(30));
    const core::Point face = face_at(30).centre;
    const QPoint at(static_cast<int>(face.x), static_cast<int>(face.y));
    EXPECT_EQ(qRed(frame_out(bench, false).picture.pixel(at)), 0x6f);
    yard.steps().undo();
    mark_all_asked();
    EXPECT_EQ(qRed(frame_out(bench, false).picture.pixel(at)), 0x6f)
        << "the face is covered though no figure is drawn";
}

TEST_F(PlayingTest, AMinorsFrameWantsConsentAndNeverLeavesBare) {
    open_full_at(30);
    say_everything();
    mark_all_asked();
    set_birth_year(2016);
    EXPECT_THAT(frame_out(bench, true).trouble.toStdString(), testing::HasSubstr("consent"));
    give_consent(yard, {{}, bench.review().rider(), "clip", "Guardian", "2026-01-01", "2026-12-31"});
    EXPECT_FALSE(frame_out(bench, true).picture.isNull());
    go_to(31);
    ASSERT_TRUE(wait_for([&] { return bench.deck().picture_is_full(); }));
    give_consent(yard, {{}, bench.review().rider(), "clip", "Guardian", "2026-01-01", "2026-12-31", true});
    const FrameOut unmarked = frame_out(bench, false);
    EXPECT_TRUE(unmarked.picture.isNull() && unmarked.wants_face);
}

TEST_F(PlayingTest, AStretchGoesOutFrameByFrame) {
    const media::VideoReader part(stretch_out(20, 44).toStdString()), whole(source);
    ASSERT_EQ(part.facts().frames, 25);
    for (std::size_t n = 0; n < 25; ++n)
        EXPECT_NEAR(part.facts().pts_s[n], whole.facts().pts_s[n + 20] - whole.facts().pts_s[20], 1e-4);
    StretchWriter writer(bench);
    EXPECT_NE(writer.start(20, 10, path("empty.mp4")), "") << "an empty stretch";
}

TEST_F(PlayingTest, AStretchTakesItsMarksAlongByTheirNewFrameNumbers) {
    media::VideoReader part(stretch_out(20, 44).toStdString()), whole(source);
    std::ifstream in((folder / "part.marks.json").string());
    const auto marks = exchange::read_coco(in, "part.marks.json");
    ASSERT_EQ(marks.size(), 1u);
    EXPECT_EQ(marks[0].frame, 5);
    EXPECT_NO_THROW(exchange::check_times(marks, part.facts().pts_s, "part.marks.json"));
    // The joint's surroundings are the same picture as in the whole clip, within what encoding costs.
    const core::Point knee = marks[0].figure[core::Landmark::knee].at;
    const media::Picture a = part.picture(5), b = whole.picture(25);
    for (int dx = -6; dx <= 6; dx += 3) {
        EXPECT_NEAR(a.pixel(static_cast<int>(knee.x) + dx, static_cast<int>(knee.y))[1],
                    b.pixel(static_cast<int>(knee.x) + dx, static_cast<int>(knee.y))[1], 24);
    }
}

TEST_F(PlayingTest, AStretchThatWentOutComesInAsAClipWhoseMarksFit) {
    const QString file = stretch_out(20, 44);
    Importer importer(yard);
    bool known = true;
    const auto again = importer.record(look_at(file), known);
    EXPECT_FALSE(known);
    bench.open(again);
    ASSERT_TRUE(wait_for([&] { return bench.deck().ready(); }));
    EXPECT_EQ(import_marks(bench, path("part.marks.json")), "");
    EXPECT_EQ(bench.review().moments().size(), 1u);
}

TEST_F(PlayingTest, AStretchThatIsStoppedLeavesNothingAndLosesNothing) {
    open();
    say_everything_of_an_adult();
    StretchWriter writer(bench);
    const QString wanted = QString::fromStdString((folder / "part.mp4").string());
    QString refused;
    int help_at = -1;
    QObject::connect(&writer, &StretchWriter::wants_face, [&](int frame) { help_at = frame; });
    const auto first =
        QObject::connect(&writer, &StretchWriter::finished, [&](const QString& line) { refused = line; });
    ASSERT_EQ(writer.start(0, 20, wanted), "");
    ASSERT_TRUE(wait_for([&] { return !refused.isEmpty(); }));
    EXPECT_TRUE(refused.contains("not known on any frame")) << refused.toStdString();
    EXPECT_EQ(help_at, 0);
    EXPECT_FALSE(std::filesystem::exists(folder / "part.mp4"));
    QObject::disconnect(first);
    mark_all_asked();
    std::ofstream((folder / "part.marks.json").string()) << "an earlier file";
    QString said;
    QObject::connect(&writer, &StretchWriter::finished, [&](const QString& line) { said = line; });
    ASSERT_EQ(writer.start(0, bench.deck().facts().frames - 1,
                           QString::fromStdString((folder / "part.mp4").string())),
              "");
    writer.cancel();
    ASSERT_TRUE(wait_for([&] { return !said.isEmpty(); }));
    EXPECT_FALSE(std::filesystem::exists(folder / "part.mp4"));
    EXPECT_TRUE(wait_for([&] { return !writer.busy(); }));
    std::ifstream kept((folder / "part.marks.json").string());
    EXPECT_EQ(std::string(std::istreambuf_iterator<char>(kept), {}), "an earlier file");
}

// The reference is the ffmpeg program's own decoding and resampling to the same rate.
TEST(Sound, IsReadAsTheReferenceProgramReadsIt) {
    const test::TempFolder folder;
    const std::string clip = (folder / "a.mp4").string(), raw = (folder / "a.raw").string();
    ASSERT_EQ(test::run("ffmpeg -v error -f lavfi -i testsrc2=size=64x64:rate=10:duration=2 -f lavfi -i "
                        "sine=frequency=440:sample_rate=44100:duration=2 -c:v libx264 -c:a aac " +
                        clip)
                  .code,
              0);
    ASSERT_EQ(test::run("ffmpeg -v error -i " + clip + " -map 0:a -ac 2 -ar 48000 -f s16le " + raw).code, 0);
    const auto track = media::read_sound(clip, {});
    ASSERT_TRUE(track);
    std::ifstream in(raw, std::ios::binary);
    std::vector<std::int16_t> theirs(track->samples.size());
    in.read(reinterpret_cast<char*>(theirs.data()), static_cast<std::streamsize>(theirs.size() * 2));
    const auto got = static_cast<std::size_t>(in.gcount()) / 2;
    EXPECT_NEAR(static_cast<double>(got), static_cast<double>(track->samples.size()), 48000 * 2 * 0.1);
    // Both are the same tone: compare the count of its zero crossings, 880 a second.
    int crossings = 0;
    for (std::size_t i = 9602; i < 9600 + 96000; i += 2)
        crossings += (track->samples[i] >= 0) != (track->samples[i - 2] >= 0);
    EXPECT_NEAR(crossings, 880, 4);
    EXPECT_FALSE(media::read_sound(folder / "none.mp4", {}));
}

TEST_F(PlayingTest, NoSoundDeviceIsNoError) {
    const std::string loud = (folder / "loud.mp4").string();
    ASSERT_EQ(test::run("ffmpeg -v error -f lavfi -i testsrc2=size=64x64:rate=10:duration=2 -f lavfi -i "
                        "sine=frequency=440:duration=2 -c:v libx264 -c:a aac " +
                        loud)
                  .code,
              0);
    ClipSound sound(bench.deck(), player, yard.jobs());
    Importer importer(yard);
    bool known = false;
    bench.open(importer.record(look_at(QString::fromStdString(loud)), known));
    ASSERT_TRUE(wait_for([&] { return bench.deck().ready(); }));
    EXPECT_TRUE(bench.deck().facts().has_sound);
    player.play(1);
    ASSERT_TRUE(wait_for([&] { return !player.playing(); }));
    EXPECT_EQ(bench.deck().frame(), 19);
    EXPECT_TRUE(lines.isEmpty()) << lines.join("; ").toStdString();
}

}  // namespace
}  // namespace aspen::app
