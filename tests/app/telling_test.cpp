#include "app/review/finding_row.hpp"
#include "app/telling/recorder.hpp"

#include <QElapsedTimer>
#include <cstdio>
#include <nlohmann/json.hpp>
#include <random>

#include "app/bench_fixture.hpp"
#include "app/killing.hpp"
#include "app/leaving/consents.hpp"
#include "app/review/annotated.hpp"
#include "app/telling/film_writer.hpp"
#include "app/telling/telling_desk.hpp"
#include "core/body/face.hpp"
#include "core/reading/refused.hpp"
#include "media/reading/sound_track.hpp"
#include "media/reading/video_reader.hpp"
#include "media/writing/loudness.hpp"

namespace aspen::app {
namespace {

/// A coach at the bench with the microphone that ships with the program.
class Talking : public BenchTest {
  protected:
    Talking() : player(bench.deck()) {
        auto own = std::make_unique<sound::SimulatedMicrophone>();
        microphone = own.get();
        recorder = std::make_unique<Recorder>(bench, player, std::move(own));
    }
    void ready() {
        open();
        say_everything_of_an_adult();
        go_to(20);
        mark_all_asked();
    }
    void say_everything_of_an_adult() {
        say_everything();
        set_birth_year(1990);
    }
    void set_birth_year(int year) {
        auto rider = *yard.records().people.rider(bench.review().rider());
        rider.birth_year = year;
        change_rider(yard, rider);
    }
    /// Talks on until so much more is recorded.
    void talk_s(double seconds) {
        const double until = recorder->seconds() + seconds;
        ASSERT_TRUE(wait_for([&] { return recorder->seconds() >= until; }));
    }
    /// A bang where the microphone is now: what it has not told yet comes first.
    void bang() {
        QCoreApplication::processEvents();
        microphone->bang();
    }
    store::SpokenId talk_of_two_chapters() {
        ready();
        recorder->speak_of("What is good");
        recorder->start();
        talk_s(0.6);
        recorder->speak_of("Lower leg back");
        talk_s(0.6);
        const auto id = recorder->stop();
        EXPECT_TRUE(id);
        return id.value_or(store::SpokenId{});
    }
    store::Spoken spoken_of(store::SpokenId id) { return *yard.records().leaving.spoken(id); }
    core::Telling telling_of(store::SpokenId id) { return core::read_telling(spoken_of(id).timeline); }
    QString film() const { return QString::fromStdString((folder / "review.mp4").string()); }
    QString write(const store::Spoken& s, const FilmWish& wish = {}) {
        FilmWriter writer(yard);
        QString said;
        bool good = false;
        QObject::connect(&writer, &FilmWriter::finished, [&](const QString& line, bool written) {
            said = line;
            good = written;
        });
        const QString refused = writer.start(s, film(), wish);
        if (!refused.isEmpty()) return refused;
        wait_for([&] { return !said.isEmpty(); });
        return good ? QString() : said;
    }
    Player player;
    sound::SimulatedMicrophone* microphone = nullptr;
    std::unique_ptr<Recorder> recorder;
};

TEST_F(Talking, VoiceAndHandsAreOnOneClock) {
    ready();
    recorder->speak_of("What is good");
    EXPECT_TRUE(recorder->start().contains("Recording"));
    talk_s(0.4);
    go_to(33);
    const double there_s = recorder->seconds();
    talk_s(0.3);
    recorder->see({0.3, 0.4, 0.5});
    bang();
    const double banged_s = recorder->seconds();
    recorder->speak_of("Lower leg back");
    talk_s(0.3);
    const double length_s = recorder->seconds();
    const auto id = recorder->stop();
    ASSERT_TRUE(id);
    const core::Telling t = telling_of(*id);
    EXPECT_NEAR(t.length_s(), length_s, 0.2);
    EXPECT_EQ(t.scene(0.1).shown.frame, 20);
    EXPECT_EQ(t.scene(0.1).shown.clip, bench.review().clip().id.value);
    EXPECT_EQ(t.scene(there_s).shown.frame, 33);
    EXPECT_EQ(t.scene(t.length_s()).part, (core::SeenPart{0.3, 0.4, 0.5}));
    ASSERT_EQ(t.chapters().size(), 2U);
    // The bang is heard where the hand was.
    const auto voice = read_voice(yard.folder().filePath(QString::fromStdString(spoken_of(*id).sound)));
    ASSERT_TRUE(voice);
    std::size_t loud = 0;
    while (loud < voice->size() && std::abs((*voice)[loud]) < 25000) ++loud;
    EXPECT_NEAR(static_cast<double>(loud) / 48000, banged_s, 1.0 / 25) << "within a frame";
}

TEST_F(Talking, WhatRunsIsToldAsItRan) {
    ready();
    recorder->start();
    talk_s(0.2);
    player.play(1);
    ASSERT_TRUE(wait_for([&] { return bench.deck().frame() > 30; }));
    player.pause();
    const int stood = bench.deck().frame();
    talk_s(0.3);
    const auto id = recorder->stop();
    ASSERT_TRUE(id);
    const core::Telling t = telling_of(*id);
    EXPECT_GT(stood, 25);
    EXPECT_EQ(t.scene(t.length_s() - 0.05).shown.frame, stood);
    int last = 20;
    for (double s = 0; s < t.length_s(); s += 0.02) {
        const int frame = t.scene(s).shown.frame;
        EXPECT_GE(frame, last) << s;
        EXPECT_LE(frame, last + 4) << s << ": no leaps";
        last = frame;
    }
    EXPECT_LT(t.deeds().size(), 60U) << "a few pictures tell all the others";
}

TEST_F(Talking, RoomForAnotherTakeChangesNothingYet) {
    const auto id = talk_of_two_chapters();
    TellingDesk desk(yard);
    EXPECT_EQ(desk.open(id), "");
    EXPECT_TRUE(desk.has_voice());
    const double before = desk.telling().length_s();
    desk.go_to(0.1);
    const auto room = desk.make_room(true);
    ASSERT_TRUE(room);
    EXPECT_EQ(room->place, 0U);
    EXPECT_LT(core::read_telling(room->spoken.timeline).length_s(), before - 0.4);
    EXPECT_NEAR(desk.telling().length_s(), before, 1e-9);
}

TEST_F(Talking, ATakeInPlaceOfAChapterLeavesTheOthers) {
    const auto id = talk_of_two_chapters();
    TellingDesk desk(yard);
    EXPECT_EQ(desk.open(id), "");
    const double before = desk.telling().length_s();
    desk.go_to(0.1);
    const auto room = desk.make_room(true);
    ASSERT_TRUE(room);
    recorder->speak_of("What is good");
    go_to(40);
    EXPECT_TRUE(recorder->start_into(room->spoken, room->place).contains("Recording"));
    talk_s(0.8);
    ASSERT_TRUE(recorder->stop());
    const core::Telling t = telling_of(id);
    EXPECT_EQ(t.scene(t.raw_at(0.2)).shown.frame, 40);
    ASSERT_EQ(t.chapters().size(), 2U);
    EXPECT_EQ(t.chapters()[1].title, "Lower leg back");
    EXPECT_EQ(t.scene(t.raw_at(t.length_s() - 0.1)).shown.frame, 20) << "the other chapter is as it was";
    yard.steps().undo();
    desk.open(id);
    EXPECT_NEAR(desk.telling().length_s(), before, 0.05) << "one step brings the old take back";
}

TEST_F(Talking, ItIsCutByItsWaveAndEveryCutCanBeTakenBack) {
    ready();
    recorder->start();
    talk_s(3.9);  // the voice that ships breathes from 2.6 s to 3.5 s
    const auto id = recorder->stop();
    ASSERT_TRUE(id);
    TellingDesk desk(yard);
    desk.open(*id);
    const double whole = desk.telling().length_s();
    EXPECT_TRUE(desk.shorten_all_pauses().contains("1 pauses"));
    EXPECT_NEAR(desk.telling().length_s(), whole - 0.5, 0.15);
    desk.go_to(0.5);
    desk.begin_here();
    EXPECT_NEAR(desk.telling().length_s(), whole - 1.0, 0.15);
    EXPECT_NEAR(static_cast<double>(desk.voice().size()) / 48000, desk.telling().length_s(), 0.01);
    yard.steps().undo();
    yard.steps().undo();
    EXPECT_NEAR(desk.telling().length_s(), whole, 1e-6) << "the desk shows what was taken back";
    EXPECT_FALSE(desk.wave(100).empty());
}

TEST_F(Talking, TheFilmShowsWhatWasDoneWithTheFaceCoveredAndTheVoiceInStep) {
    ready();
    draw_here(bench, store::SketchKind::circle, {300, 500}, {340, 520});
    recorder->speak_of("Lower leg back");
    recorder->start();
    talk_s(0.8);
    bang();
    bench.deck().go_to(45);
    talk_s(0.8);
    const auto id = recorder->stop();
    ASSERT_TRUE(id);
    ASSERT_EQ(write(spoken_of(*id)), "");
    media::VideoReader reader(film().toStdString());
    const core::Telling t = telling_of(*id);
    const double fps = reader.facts().average_fps;
    EXPECT_NEAR(reader.facts().duration_s, t.length_s(), 1.5 / fps);
    // The circle stands on frame 20 and nowhere else.
    media::VideoReader source_clip(source);
    const auto circled = [&](int n) {
        const media::Picture p = reader.picture(n), bare = source_clip.picture(20);
        int off = 0;
        for (int x = 290; x < 350; ++x) {
            for (int y = 490; y < 530; ++y)
                off += std::abs(p.pixel(x, y)[1] - bare.pixel(x, y)[1]) > 60 ? 1 : 0;
        }
        return off;
    };
    EXPECT_GT(circled(5), 60);
    const int late = reader.facts().frames - 3;
    EXPECT_EQ(t.scene(t.raw_at(late / fps)).shown.frame, 45);
    // The face is grey in every picture, at the frame that was marked and at the one that was followed to.
    for (const int n : {2, 8, late}) {
        const int frame = t.scene(t.raw_at(n / fps)).shown.frame;
        const core::Figure truth = test::true_figure(source, frame);
        const media::Picture p = reader.picture(n);
        for (const core::Landmark l : {core::Landmark::eye, core::Landmark::chin}) {
            const auto* px = p.pixel(static_cast<int>(truth[l].at.x), static_cast<int>(truth[l].at.y));
            EXPECT_NEAR(px[1], 0x7a, 28) << n << " " << core::id(l);
            EXPECT_NEAR(px[2], 0x6f, 28) << n << " " << core::id(l);
        }
    }
    const auto sound = media::read_sound(film().toStdString(), {});
    ASSERT_TRUE(sound);
    std::vector<std::int16_t> one;
    for (std::size_t i = 0; i < sound->samples.size(); i += 2) one.push_back(sound->samples[i]);
    double shown_s = 0, heard_s = 0;
    for (int n = 0; n < reader.facts().frames && shown_s == 0; ++n) {
        if (t.scene(t.raw_at(n / fps)).shown.frame == 45) shown_s = n / fps;
    }
    std::size_t loudest = 0;
    for (std::size_t i = 0; i < one.size(); ++i) {
        if (std::abs(one[i]) > std::abs(one[loudest])) loudest = i;
    }
    heard_s = sound->start_s + static_cast<double>(loudest) / 48000;
    EXPECT_NEAR(heard_s, shown_s, 0.01 + 1.0 / fps) << "the bang came with the jump";
    const auto j = nlohmann::json::parse(
        test::run("ffprobe -v error -show_chapters -show_streams -of json " + film().toStdString()).out);
    ASSERT_EQ(j["chapters"].size(), 1U);
    EXPECT_EQ(j["chapters"][0]["tags"]["title"], "Lower leg back");
    EXPECT_EQ(yard.records().leaving.departures(bench.review().rider()).size(), 1U) << "it is in the log";
}

TEST_F(Talking, WithoutAMicrophoneNotesAreItsCaptions) {
    ready();
    store::Note note;
    note.clip = bench.review().clip().id;
    note.frame = 20;
    note.kind = store::NoteKind::good;
    note.words = "A long, quiet back";
    add_note(yard, note);
    note.frame = 60;
    note.kind = store::NoteKind::words;
    note.words = "Let the knee down here";
    add_note(yard, note);
    const auto made = telling_from_notes(yard, bench.review().clip(), 0, bench.deck().facts());
    ASSERT_TRUE(made);
    const auto chapters = made->chapters();
    ASSERT_GE(chapters.size(), 2U);
    EXPECT_EQ(chapters[0].title, "What is good") << "good first";
    store::Spoken s;
    s.clip = bench.review().clip().id;
    s.made_at = "2026-11-24T10:00:00";
    s.timeline = core::write_telling(*made);
    s.id = test::to_write(yard).add(s);
    ASSERT_EQ(write(s), "");
    const test::Ran captions =
        test::run("ffmpeg -v error -i " + film().toStdString() + " -map 0:s:0 -f webvtt -");
    EXPECT_THAT(captions.out, testing::HasSubstr("A long, quiet back"));
    EXPECT_THAT(captions.out, testing::HasSubstr("Let the knee down here"));
    QFile beside(QString::fromStdString((folder / "review.vtt").string()));
    ASSERT_TRUE(beside.open(QIODevice::ReadOnly));
    EXPECT_TRUE(beside.readAll().startsWith("WEBVTT"));
    EXPECT_FALSE(media::VideoReader(film().toStdString()).facts().has_sound);
}

TEST_F(Talking, ASizeForMessagingIsKept) {
    ready();
    recorder->start();
    talk_s(0.2);
    player.play(1);
    talk_s(1.0);
    const auto id = recorder->stop();
    ASSERT_EQ(write(spoken_of(*id), {1, false}), "");
    EXPECT_LE(QFileInfo(film()).size(), 1'000'000);
}

TEST_F(Talking, WhatCannotBeAsSmallAsAskedIsRefusedAndNotLeftBehind) {
    ready();
    core::Telling t;
    core::Deed d;
    d.shown = {bench.review().clip().id.value, 20};
    t.add(d);
    t.recorded(100);
    t.tell(0, {0, 100});
    store::Spoken s;
    s.clip = bench.review().clip().id;
    s.made_at = "2026-11-24T10:00:00";
    s.timeline = core::write_telling(t);
    s.sound = "spoken/long.wav";
    yard.folder().mkpath("spoken");
    VoiceFile(yard.folder().filePath("spoken/long.wav")).add(sound::SimulatedMicrophone::speech(100));
    s.id = test::to_write(yard).add(s);
    EXPECT_THAT(write(s, {1, false}).toStdString(), testing::HasSubstr("does not fit into 1 MB"));
    EXPECT_FALSE(QFile::exists(film()));
}

TEST_F(Talking, WhatTheFilmDrawsIsWhatTheBenchDraws) {
    ready();
    const auto here = annotated_here(bench);
    ASSERT_FALSE(here.marks.empty());
    const auto on_film = moments_on_film(yard, bench.review().clip(), 0);
    ASSERT_EQ(on_film.at(20).annotated.marks.size(), here.marks.size());
    bench.findings().decide(bench.findings().rows()[0].key(), store::Decision::rejected);
    const auto after = moments_on_film(yard, bench.review().clip(), 0);
    EXPECT_EQ(after.at(20).annotated.marks.size(), annotated_here(bench).marks.size());
    EXPECT_LT(after.at(20).annotated.marks.size(), here.marks.size()) << "what was rejected is not drawn";
}

TEST_F(Talking, NothingLeavesWithoutLeaveAndAFaceThatIsNotKnownIsAskedFor) {
    open();
    say_everything_of_an_adult();
    recorder->start();
    talk_s(0.7);
    const auto id = recorder->stop();
    ASSERT_TRUE(id);
    EXPECT_TRUE(write(spoken_of(*id)).contains("not known on any frame"));
    EXPECT_FALSE(QFile::exists(film()));
    set_birth_year(2014);
    EXPECT_TRUE(write(spoken_of(*id)).contains("consent"));
    EXPECT_TRUE(yard.records().leaving.departures().empty());
}

// Killed at any instant: the earlier film or a whole new one, which is in the log; the next start clears up.
TEST_F(Talking, AFilmThatIsKilledLeavesTheEarlierOneOrAWholeNewOne) {
    const store::SpokenId id = talk_of_two_chapters();
    ASSERT_EQ(id.value, 1);
    ASSERT_EQ(write(spoken_of(id)), "");
    const int frames = media::VideoReader(film().toStdString()).facts().frames;
    // The writer has a yard of its own: one is open in one program.
    const std::filesystem::path other = folder / "other";
    std::filesystem::copy(yard.folder().path().toStdString(), other,
                          std::filesystem::copy_options::recursive);
    const auto left_there = [&] { return store::YardStore(other / "yard.db").leaving.departures({}).size(); };
    QElapsedTimer whole;
    whole.start();
    ASSERT_EQ(test::run_and_kill({"film", other.string(), film().toStdString()}, 2, 0).size(), 2U);
    const auto takes_us = static_cast<unsigned>(1000 * whole.elapsed());
    std::mt19937 chance(11);
    int replaced = 0;
    for (int round = 0; round < test::kills(2); ++round) {
        const std::string before = sum_of(film());
        const auto left = left_there();
        const auto told = test::run_and_kill({"film", other.string(), film().toStdString()}, 1,
                                             static_cast<int>(chance() % takes_us));
        ASSERT_FALSE(told.empty());
        ASSERT_EQ(told.front(), "writing\n");
        const bool fresh = sum_of(film()) != before;
        replaced += fresh || told.size() > 1;
        ASSERT_EQ(media::VideoReader(film().toStdString()).facts().frames, frames) << "round " << round;
        if (fresh) {
            EXPECT_GT(left_there(), left) << "nothing left without the log";
        }
    }
    // What the dead left half goes with the next film that leaves there.
    ASSERT_EQ(write(spoken_of(id)), "");
    EXPECT_TRUE(QDir(QFileInfo(film()).path()).entryList({".leaving*"}, QDir::Dirs | QDir::Hidden).isEmpty());
    std::printf("%d of %d films were whole before the kill\n", replaced, test::kills(2));
}

/// What may happen while a film is written; it takes minutes.
struct Meanwhile {
    const char* name;
    void (*happens)(Yard& yard, store::ClipId clip, store::RiderId rider);
    const char* said;
};
void PrintTo(const Meanwhile& m, std::ostream* out) { *out << m.name; }
class TalkingMeanwhile : public Talking, public testing::WithParamInterface<Meanwhile> {};

TEST_P(TalkingMeanwhile, TheFilmStaysHereAndTheEarlierOneIsWhole) {
    const store::SpokenId id = talk_of_two_chapters();
    ASSERT_EQ(write(spoken_of(id)), "");
    const std::string before = sum_of(film());
    const auto rider = bench.review().rider();
    give_consent(yard, {{}, rider, "clip", "Joss Penhallow", "2026-01-01", "2026-12-31"});
    FilmWriter writer(yard);
    QString said;
    bool good = true;
    QObject::connect(&writer, &FilmWriter::finished, [&](const QString& line, bool written) {
        said = line;
        good = written;
    });
    ASSERT_EQ(writer.start(spoken_of(id), film(), {}), "");
    GetParam().happens(yard, clip, rider);
    ASSERT_TRUE(wait_for([&] { return !said.isEmpty(); }));
    EXPECT_FALSE(good);
    EXPECT_THAT(said.toStdString(), testing::ContainsRegex(GetParam().said));
    EXPECT_EQ(sum_of(film()), before) << "an earlier film is replaced by a whole new one or not at all";
    EXPECT_EQ(yard.records().leaving.departures({}).size(), 1U) << "the earlier one";
    EXPECT_TRUE(QDir(QFileInfo(film()).path()).entryList({".leaving*"}, QDir::Dirs | QDir::Hidden).isEmpty());
}
INSTANTIATE_TEST_SUITE_P(
    Every, TalkingMeanwhile,
    testing::Values(Meanwhile{"withdrawn",
                              [](Yard& yard, store::ClipId, store::RiderId rider) {
                                  for (const auto& c : yard.records().leaving.consents_of(rider))
                                      withdraw_consent(yard, c);
                                  yard.steps().undo();
                              },
                              "withdrawn"},
                    Meanwhile{"run out",
                              [](Yard& yard, store::ClipId, store::RiderId) {
                                  yard.set_clock(test::noon_of(QDate(2027, 1, 1)));
                              },
                              "ran out"},
                    Meanwhile{"another face ringed",
                              [](Yard& yard, store::ClipId clip, store::RiderId) {
                                  set_face(yard, clip, -1, 20, {{200, 200}, 20, 20, 0});
                              },
                              "has changed since"},
                    Meanwhile{"a child beside",
                              [](Yard& yard, store::ClipId clip, store::RiderId) {
                                  add_companion(yard, clip,
                                                add_rider(yard, test::rider("Bram Oddleif", 2014, "hunter")),
                                                {});
                              },
                              "without a recorded consent"}));

TEST_F(Talking, WhatIsTooShortIsNothingAndLeavesNoFile) {
    ready();
    recorder->start();
    EXPECT_FALSE(recorder->stop());
    EXPECT_TRUE(yard.records().leaving.spoken_over(bench.review().clip().id).empty());
    EXPECT_TRUE(QDir(yard.folder().filePath("spoken")).entryList(QDir::Files).isEmpty());
}

TEST_F(Talking, AVoiceFileThatWasCutOffIsReadAsFarAsItGoes) {
    const QString name = QString::fromStdString((folder / "v.wav").string());
    {
        VoiceFile voice(name);
        voice.add(std::vector<std::int16_t>(4800, 7));
        voice.add({1, -2, 3});
        EXPECT_NEAR(voice.length_s(), 4803 / 48000.0, 1e-9);
    }
    // Against another reader: Python's own wave.
    const test::Ran ran =
        test::run("/usr/bin/python3 -c \"import wave; w = wave.open('" + name.toStdString() +
                  "'); print(w.getnchannels(), w.getsampwidth(), w.getframerate(), w.getnframes())\"");
    EXPECT_EQ(ran.out, "1 2 48000 4803\n");
    ASSERT_TRUE(QFile::resize(name, 44 + 2001));
    EXPECT_EQ(read_voice(name)->size(), 1000U);
    ASSERT_TRUE(QFile::resize(name, 10));
    EXPECT_FALSE(read_voice(name));
}

}  // namespace
}  // namespace aspen::app
