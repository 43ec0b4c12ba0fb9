#include <fstream>

#include "app/bench_fixture.hpp"
#include "app/files/whole_file.hpp"
#include "app/leaving/bundle_in.hpp"
#include "app/leaving/bundle_out.hpp"
#include "app/leaving/consents.hpp"
#include "app/leaving/outbox.hpp"
#include "app/leaving/page_content.hpp"
#include "app/leaving/phase_strip.hpp"
#include "app/leaving/tables.hpp"
#include "app/review/finding_row.hpp"
#include "core/body/face.hpp"
#include "core/reading/refused.hpp"
#include "exchange/csv.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

using testing::HasSubstr;

/// A reviewed ride of a grown rider, and another yard.
class Leaving : public BenchTest {
  protected:
    Leaving()
        : BenchTest(1), theirs(QString::fromStdString((folder / "theirs").string()), shipped_knowledge()) {
        theirs.set_clock(test::noon_of(QDate(2026, 11, 25)));
    }
    void ready() {
        open();
        say_everything();
        rider = bench.review().rider();
        grow_up(1990);
        go_to(20);
        mark_all_asked();
        store::Note n;
        n.clip = clip;
        n.frame = 20;
        n.kind = store::NoteKind::good;
        n.words = "A long, quiet back";
        add_note(yard, n);
        store::Event e;
        e.ride = bench.review().ride().id;
        e.clip = clip;
        e.time_s = 0.5;
        e.event = "aid";
        e.detail = "side=left with=calf";
        add_event(yard, e, "aid");
    }
    void grow_up(int year) {
        auto r = *yard.records().people.rider(rider);
        r.birth_year = year;
        change_rider(yard, r);
    }
    /// Accepts the leg and gives an exercise for it.
    void give_for_the_leg() {
        for (const FindingRow& row : std::vector(bench.findings().rows())) {
            if (row.found.fault->id == "lower_leg_back")
                bench.findings().decide(row.key(), store::Decision::accepted);
        }
        const auto focus = bench.findings().focus_seen();
        ASSERT_TRUE(focus);
        prescribe(yard, bench.review().ride().id, *focus, bench.findings().accepted(),
                  *yard.knowledge().exercises.find("two_point_walk_trot"));
    }
    void see_faces() { give_consent(yard, {{}, rider, "clip", "Joss Penhallow", "2026-01-01", "", true}); }
    QString path(const char* name) const { return QString::fromStdString((folder / name).string()); }
    QString done(Yard& of, const std::function<QString(Bundles&)>& act) {
        Bundles bundles(of);
        QString said;
        good = false;
        QObject::connect(&bundles, &Bundles::finished, [&](const QString& line, bool fine) {
            said = line;
            good = fine;
        });
        const QString refused = act(bundles);
        if (!refused.isEmpty()) return refused;
        wait_for([&] { return !said.isEmpty(); });
        return said;
    }
    QString write(const char* name) {
        return done(yard, [&](Bundles& b) { return b.write(rides_with_clips(yard, rider), path(name)); });
    }
    QString take(const char* name) {
        return done(theirs, [&](Bundles& b) { return b.open(path(name)); });
    }
    Yard theirs;
    store::RiderId rider;
    bool good = false;
};

/// A bundle of one ride, taken in by another yard.
class Bundled : public Leaving {
  protected:
    void bundle() {
        ready();
        see_faces();
        auto word = *yard.records().rides.ride(bench.review().ride().id);
        word.coach_word = "Much better than last week";
        change_ride(yard, word, "word");
        ASSERT_THAT(write("rides.zip").toStdString(), HasSubstr("Saved"));
        ASSERT_THAT(take("rides.zip").toStdString(), HasSubstr("1 rides, 1 clips, 1 marked moments"));
        ASSERT_EQ(theirs.records().people.riders().size(), 1U);
        const auto all = theirs.records().rides.ridden_by(theirs.records().people.riders()[0].id);
        ASSERT_EQ(all.size(), 1U);
        ridden = all[0];
    }
    store::RiddenClip ridden;
};

TEST_F(Bundled, IsLogged) {
    bundle();
    ASSERT_FALSE(HasFatalFailure());
    EXPECT_EQ(yard.records().leaving.departures(rider).at(0).what, "bundle");
}

TEST_F(Bundled, BringsRideFilmAndStretches) {
    bundle();
    ASSERT_FALSE(HasFatalFailure());
    EXPECT_EQ(ridden.ride.school, "hunter");
    EXPECT_NE(ridden.clip.hash, yard.records().rides.clip(clip)->hash)
        << "written anew though nobody asked for a cover: what else lies in the file was not agreed to";
    EXPECT_TRUE(QFile::exists(theirs.file_of(ridden.clip)));
    EXPECT_EQ(theirs.records().rides.stretches(ridden.clip.id), yard.records().rides.stretches(clip));
    const auto events = theirs.records().reviews.events(ridden.ride.id);
    ASSERT_EQ(events.size(), 1U);
    EXPECT_EQ(events[0].detail, "side=left with=calf");
}

TEST_F(Bundled, BringsEveryJointWhereItWas) {
    bundle();
    ASSERT_FALSE(HasFatalFailure());
    const auto moments = theirs.records().reviews.moments(ridden.clip.id),
               ours = yard.records().reviews.moments(clip);
    ASSERT_EQ(moments.size(), 1U);
    EXPECT_EQ(moments[0].frame, 20);
    for (std::size_t i = 0; i < core::kLandmarkCount; ++i) {
        EXPECT_NEAR(moments[0].figure.marks[i].at.x, ours[0].figure.marks[i].at.x, 1e-6);
        EXPECT_EQ(moments[0].figure.marks[i].confirmed, ours[0].figure.marks[i].confirmed);
    }
}

TEST_F(Bundled, LetsTheirWordsStandApart) {
    bundle();
    ASSERT_FALSE(HasFatalFailure());
    EXPECT_TRUE(ridden.ride.coach_word.empty());
    EXPECT_TRUE(theirs.records().reviews.notes(ridden.clip.id).empty());
    const auto parcels = theirs.records().leaving.parcels_of(ridden.ride.id);
    ASSERT_EQ(parcels.size(), 1U);
    const QStringList said = words_of_parcel(parcels[0]);
    EXPECT_TRUE(said.contains("Much better than last week")) << said.join("; ").toStdString();
    EXPECT_TRUE(said.join("; ").contains("A long, quiet back"));
}

TEST_F(Bundled, TheSameAgainIsNothingNew) {
    bundle();
    ASSERT_FALSE(HasFatalFailure());
    EXPECT_THAT(take("rides.zip").toStdString(), HasSubstr("taken in before"));
    EXPECT_EQ(theirs.records().rides.clips().size(), 1U);
}

/// A second rider in the clip, with a joint of their own and an event.
class TwoInAClip : public Leaving {
  protected:
    void bundle() {
        ready();
        see_faces();
        const auto ines = add_rider(yard, test::rider("Ines Varga-Holt", 1990, "hunter"));
        slot = add_companion(yard, clip, ines, {});
        give_consent(yard, {{}, ines, "clip", "Ines Varga-Holt", "2026-01-01", "", true});
        store::Moment m;
        m.clip = clip;
        m.frame = 23;
        m.slot = slot;
        m.figure = test::true_figure(source, 23);
        add_moment(yard, m);
        store::Event e;
        e.ride = ride_in(slot);
        e.clip = clip;
        e.slot = slot;
        e.event = "halt";
        add_event(yard, e, "halt");
        ASSERT_THAT(write("rides.zip").toStdString(), HasSubstr("Saved"));
    }
    store::RideId ride_in(int place) {
        for (const store::Slot& s : yard.records().rides.places(clip)) {
            if (s.slot == place) return s.ride;
        }
        return {};
    }
    int slot = 0;
};

TEST_F(TwoInAClip, BothComeThroughABundle) {
    bundle();
    ASSERT_FALSE(HasFatalFailure());
    ASSERT_THAT(take("rides.zip").toStdString(), HasSubstr("2 rides, 1 clips, 2 marked moments"));
    const auto clips = theirs.records().rides.clips();
    ASSERT_EQ(clips.size(), 1U);
    const auto places = theirs.records().rides.places(clips[0].id);
    ASSERT_EQ(places.size(), 2U);
    for (const store::Slot& s : places) {
        const auto ride = theirs.records().rides.ride(s.ride);
        EXPECT_EQ(theirs.records().people.rider(ride->rider)->name,
                  s.slot == slot ? "Ines Varga-Holt" : "Joss Penhallow");
        const auto events = theirs.records().reviews.events(s.ride);
        ASSERT_EQ(events.size(), 1U);
        EXPECT_EQ(events[0].event, s.slot == slot ? "halt" : "aid");
    }
    for (const store::Moment& m : theirs.records().reviews.moments(clips[0].id))
        EXPECT_EQ(m.slot, m.frame == 23 ? slot : 0);
    EXPECT_THAT(take("rides.zip").toStdString(), HasSubstr("taken in before"));
}

TEST_F(TwoInAClip, NothingThatWasSaidOfTheOtherGoesAlong) {
    auto word = [&](int of, const char* words) {
        auto ride = *yard.records().rides.ride(ride_in(of));
        ride.coach_word = words;
        change_ride(yard, ride, "word");
    };
    bundle();
    ASSERT_FALSE(HasFatalFailure());
    word(slot, "Ines is late");
    ASSERT_THAT(write("rides.zip").toStdString(), HasSubstr("Saved"));
    ASSERT_THAT(take("rides.zip").toStdString(), HasSubstr("2 rides"));
    for (const store::Rider& r : theirs.records().people.riders()) {
        for (const store::RiddenClip& c : theirs.records().rides.ridden_by(r.id)) {
            for (const store::Parcel& p : theirs.records().leaving.parcels_of(c.ride.id))
                EXPECT_FALSE(words_of_parcel(p).contains("Ines is late"));
        }
    }
}

// Killed after the film lay in its place and before the records knew of it.
TEST_F(Leaving, ABundleIsTakenUpWhereAKillLeftIt) {
    ready();
    see_faces();
    ASSERT_THAT(write("rides.zip").toStdString(), HasSubstr("Saved"));
    const exchange::Manifest m = exchange::read_manifest(path("rides.zip").toStdString());
    const auto film = std::ranges::find_if(m.files, [](auto& e) { return e.name.starts_with("media/"); });
    ASSERT_NE(film, m.files.end());
    const QString left =
        theirs.folder().filePath("clips/" + QString::fromStdString(film->sha256.substr(0, 16)) + ".mp4");
    ASSERT_EQ(write_whole(left, "half of a film"), "");
    ASSERT_THAT(take("rides.zip").toStdString(), HasSubstr("1 rides, 1 clips"));
    EXPECT_EQ(QFileInfo(left).size(), static_cast<qint64>(film->bytes)) << "whole, in the stead of the half";
}

TEST_F(Leaving, WhatAKillLeftHalfUnpackedGoesAtTheNextStart) {
    const QString at = path("killed");
    QDir().mkpath(at + "/.bundle-abc123/media");
    QDir().mkpath(at + "/outbox/.leaving-abc123");
    const Yard again(at, shipped_knowledge());
    EXPECT_TRUE(QDir(at).entryList({".bundle-*"}, QDir::Dirs | QDir::Hidden).isEmpty());
    EXPECT_TRUE(QDir(at + "/outbox").entryList({".leaving-*"}, QDir::Dirs | QDir::Hidden).isEmpty());
}

TEST_F(Leaving, FilmsInABundleHaveTheirFacesCoveredFrameForFrame) {
    ready();
    EXPECT_THAT(write("rides.zip").toStdString(), HasSubstr("Saved"));
    EXPECT_THAT(take("rides.zip").toStdString(), HasSubstr("1 clips"));
    const auto ridden = theirs.records().rides.ridden_by(theirs.records().people.riders().at(0).id);
    media::VideoReader covered(theirs.file_of(ridden.at(0).clip).toStdString()), plain(source);
    ASSERT_EQ(covered.facts().frames, plain.facts().frames);
    for (int n = 0; n < plain.facts().frames; n += 7) {
        const core::Point eye = test::true_figure(source, n)[core::Landmark::eye].at;
        EXPECT_NEAR(covered.picture(n).pixel(static_cast<int>(eye.x), static_cast<int>(eye.y))[1], 0x7a, 28)
            << n;
        EXPECT_NEAR(covered.facts().pts_s[static_cast<std::size_t>(n)],
                    plain.facts().pts_s[static_cast<std::size_t>(n)], 1e-3);
    }
}

TEST_F(Leaving, ABundleThatIsNotWholeTakesNothingIn) {
    ready();
    see_faces();
    write("rides.zip");
    QFile file(path("rides.zip"));
    ASSERT_TRUE(file.open(QIODevice::ReadWrite));
    file.seek(file.size() / 2);
    file.write("these bytes are not the ones that were sent");
    file.close();
    take("rides.zip");
    EXPECT_FALSE(good);
    EXPECT_TRUE(theirs.records().people.riders().empty());
    EXPECT_TRUE(theirs.records().rides.clips().empty());
    EXPECT_TRUE(QDir(theirs.folder().path()).entryList({".bundle*"}, QDir::Dirs | QDir::Hidden).isEmpty());
    take("nothing-there.zip");
    EXPECT_FALSE(good);
}

TEST_F(Leaving, WhatIsSaidOfSomebodyElseInThePictureStaysHere) {
    ready();
    const int slot =
        add_companion(yard, clip, add_rider(yard, test::rider("Ines Varga-Holt", 1990, "hunter")), {});
    store::Note n;
    n.clip = clip;
    n.frame = 30;
    n.slot = slot;
    n.kind = store::NoteKind::words;
    n.words = "Ines rides too close";
    add_note(yard, n);
    const Permit permit = ask_for_bundle(yard, rides_with_clips(yard, rider)).value();
    EXPECT_EQ(permit.riders().size(), 2U) << "both are asked for";
    for (const exchange::BundlePart& p : bundle_of(yard, rides_with_clips(yard, rider), permit).parts)
        EXPECT_EQ(p.bytes.find("too close"), std::string::npos) << p.name;
}

// A phone's clip: a place in its metadata, and sound.
TEST_F(Leaving, ABundlesFilmTakesNeitherPlaceNorSoundAlong) {
    const std::string phone = (folder / "phone.mp4").string();
    ASSERT_EQ(
        test::run("ffmpeg -v error -y -i " + source.string() +
                  " -f lavfi -i sine=440:d=2 -map 0:v -map 1:a -c:v copy -c:a aac -metadata "
                  "location=+48.2000+016.3666/ -metadata title=Quillfeather -movflags use_metadata_tags " +
                  phone)
            .code,
        0);
    Importer importer(yard);
    bool known = false;
    clip = importer.record(look_at(QString::fromStdString(phone)), known);
    source = phone;
    open();
    say_everything();
    rider = bench.review().rider();
    grow_up(1990);
    see_faces();
    ASSERT_THAT(write("rides.zip").toStdString(), HasSubstr("Saved"));
    ASSERT_THAT(test::run("ffprobe -v error -show_format -show_streams " + phone).out,
                AllOf(HasSubstr("+48.2000"), HasSubstr("codec_type=audio")));
    ASSERT_EQ(
        test::run("cd " + folder.path().string() + " && /usr/bin/python3 -m zipfile -e rides.zip out").code,
        0);
    int films = 0;
    for (const auto& file : std::filesystem::recursive_directory_iterator(folder / "out")) {
        if (file.path().extension() != ".mp4") continue;
        ++films;
        const std::string said =
            test::run("ffprobe -v error -show_format -show_streams " + file.path().string()).out;
        EXPECT_THAT(said, HasSubstr("codec_type=video"));
        for (const char* word : {"48.2000", "codec_type=audio", "Quillfeather"})
            EXPECT_THAT(said, testing::Not(HasSubstr(word)));
    }
    EXPECT_EQ(films, 1);
}

TEST_F(Leaving, WhatWaitsInTheYardHasNotLeft) {
    ready();
    const Permit permit = ask_for_rider(yard, rider, Use::page).value();
    yard.folder().mkpath("leaving");
    const auto write = [](const QString& to) { return write_whole(to, "a page"); };
    const QString waits = yard.folder().filePath("leaving/page.pdf");
    EXPECT_EQ(leave(yard, permit, {"page", "a page", waits}, write), "");
    EXPECT_TRUE(yard.records().leaving.departures().empty() && QFile::exists(waits));
    EXPECT_EQ(leave(yard, permit, {"page", "a page", path("page.pdf")}, write), "");
    EXPECT_EQ(yard.records().leaving.departures().size(), 1U);
}

TEST_F(Leaving, AFrameThatNobodyLookedAtIsNotTakenForBare) {
    FaceCovers covers;
    covers.first = 10;
    covers.by_frame.resize(3);
    EXPECT_TRUE(covers.at(12).empty());
    EXPECT_THROW(covers.at(13), core::Refused);
    EXPECT_THROW(covers.at(9), core::Refused);
}

TEST_F(Leaving, AMinorsBundleStaysHereWithoutConsent) {
    ready();
    grow_up(2014);
    EXPECT_THAT(write("rides.zip").toStdString(), HasSubstr("consent"));
    EXPECT_FALSE(QFile::exists(path("rides.zip")));
}

TEST_F(Leaving, ThePageSaysOnlyWhatIsOnRecord) {
    ready();
    EXPECT_THROW(page_of(yard, rider), core::Refused) << "nothing is in work";
    give_for_the_leg();
    const PageDraft draft = page_of(yard, rider);
    EXPECT_EQ(draft.page.focus, "Lower leg back");
    EXPECT_TRUE(draft.page.good.contains("A long, quiet back")) << "what the coach wrote down is evidence";
    EXPECT_EQ(draft.page.exercise, "Two-point, walk then trot");
    EXPECT_FALSE(draft.page.child);
    EXPECT_FALSE(draft.then) << "there is no then yet";
    EXPECT_TRUE(draft.page.change.isEmpty());
    EXPECT_TRUE(page_of(yard, rider, nullptr, {}, true).page.child);
}

TEST_F(Leaving, ThePageIsWrittenInBothFormatsAndLogged) {
    ready();
    give_for_the_leg();
    const PageDraft draft = page_of(yard, rider);
    const auto asked = ask_for_page(yard, rider, draft);
    const PagePictures::Read read = PagePictures(yard, draft, *asked).read(Job(0, {}, true));
    ASSERT_TRUE(read.page) << read.trouble.toStdString();
    EXPECT_GT(read.page->picture.width(), 500);
    for (const char* name : {"page.pdf", "page.html"})
        EXPECT_EQ(write_page(yard, {rider, *read.page, *asked}, path(name)), "");
    EXPECT_EQ(yard.records().leaving.departures(rider).size(), 2U);
}

TEST_F(Leaving, AFileGoesAlongWithItsMessage) {
    ready();
    yard.folder().mkpath("leaving");
    std::ofstream(yard.folder().filePath("leaving/page.pdf").toStdString()) << "%PDF-1.4 something";
    store::Outgoing o{{}, rider, "page", "2026-11-24T10:00:00", "", "Joss Penhallow", "Your page", "Hello\n"};
    o.state = "waiting";
    o.attached = "leaving/page.pdf";
    waits_with(o, ask_for_rider(yard, rider, Use::page).value());
    put_in_outbox(yard, o);
    EXPECT_TRUE(write_outbox(yard).startsWith("One message"));
    const QString file =
        outbox_folder(yard).filePath(QString::fromStdString(yard.records().following.outbox()[0].file));
    std::ofstream(folder / "read.py")
        << "import sys, email, email.policy\n"
           "m = email.message_from_binary_file(open(sys.argv[1], 'rb'), policy=email.policy.default)\n"
           "assert not m.defects, m.defects\n"
           "a = list(m.iter_attachments()); print(len(a), a[0].get_filename(), a[0].get_content_type())\n"
           "print(m.get_body().get_content().strip(), a[0].get_content())\n";
    // Against another reader: Python's own mail parser.
    const test::Ran read =
        test::run("/usr/bin/python3 " + (folder / "read.py").string() + " '" + file.toStdString() + "'");
    EXPECT_EQ(read.out, "1 page.pdf application/pdf\nHello b'%PDF-1.4 something'\n");
    EXPECT_EQ(yard.records().leaving.departures(rider).at(0).what, "page");
}

/// A film of a grown rider and a child that waits in the outbox.
class WaitingFilm : public Leaving {
  protected:
    void SetUp() override {
        ready();
        child = add_rider(yard, test::rider("Pip Marrable", 2014, "hunter"));
        give_consent(yard, {{}, child, "clip", "Ada Marrable", "2026-01-01"});
        yard.folder().mkpath("leaving");
        std::ofstream(film.toStdString()) << "a film";
        store::Outgoing o{{},       rider, "clip", "2026-11-24T10:00:00", "", "Joss Penhallow", "Your review",
                          "Hello\n"};
        o.state = "waiting";
        o.attached = "leaving/clip.mp4";
        waits_with(o, ask(yard, {Use::clip, {rider, child}, {}, {clip}}).value());
        put_in_outbox(yard, o);
    }
    /// Asks for all that waits to be written; the line, once nothing has left by it.
    std::string held() {
        const std::string line = write_outbox(yard).toStdString();
        EXPECT_EQ(yard.records().following.outbox().at(0).state, "waiting");
        EXPECT_TRUE(yard.records().leaving.departures().empty());
        EXPECT_TRUE(outbox_folder(yard).entryList(QDir::Files).isEmpty());
        return line;
    }
    store::RiderId child;
    QString film = yard.folder().filePath("leaving/clip.mp4");
};

TEST_F(WaitingFilm, IsWrittenAndLoggedForBoth) {
    EXPECT_TRUE(write_outbox(yard).startsWith("One message"));
    EXPECT_EQ(yard.records().leaving.departures(child).size(), 1U);
    EXPECT_EQ(yard.records().leaving.departures(rider).size(), 1U);
}

TEST_F(WaitingFilm, IsHeldOnceAConsentIsWithdrawn) {
    withdraw_consent(yard, yard.records().leaving.consents_of(child).at(0));
    EXPECT_THAT(held(), HasSubstr("withdrawn"));
}

TEST_F(WaitingFilm, IsHeldOnceAConsentRanOut) {
    yard.set_clock(test::noon_of(QDate(2033, 1, 1)));
    grow_up(2020);
    EXPECT_THAT(held(), HasSubstr("without a recorded consent"));
}

TEST_F(WaitingFilm, IsHeldOnceTwoCardsBecameOne) {
    const auto same = add_rider(yard, test::rider("Pip M.", 2014, "hunter"));
    yard.step("merge", [&] { test::to_write(yard).merge(child, same); });
    EXPECT_EQ(riders_in(yard.records().following.outbox().at(0)), (std::vector{rider, same}));
    EXPECT_THAT(held(), HasSubstr("not named"));
}

TEST_F(WaitingFilm, MadeUnderAnotherConsentIsHeldThoughTheNewOneHolds) {
    store::Consent seen{{}, rider, "clip", "Joss Penhallow", "2026-02-01"};
    seen.face = true;
    give_consent(yard, seen);
    grow_up(1990);
    set_face(yard, clip, -1, 30, {{200, 200}, 20, 20, 0});
    EXPECT_THAT(held(), HasSubstr("has changed since it was made"));
}

TEST_F(WaitingFilm, GoesWithWhoIsDeletedForGood) {
    delete_for_good(yard, child);
    EXPECT_FALSE(QFile::exists(film));
}

TEST_F(Leaving, PhasesStandBesideEachOtherWithTheirFacesCovered) {
    ready();
    go_to(40);
    mark_all_asked();
    QString said;
    ASSERT_EQ(write_phases(bench, path("phases.png"), [&](const QString& line) { said = line; }), "");
    ASSERT_TRUE(wait_for([&] { return !said.isEmpty(); }));
    EXPECT_THAT(said.toStdString(), HasSubstr("Saved"));
    const QImage strip(path("phases.png"));
    EXPECT_GT(strip.width(), 2 * 1270);
    const core::Ellipse face = *core::face_ellipse(test::true_figure(source, 20));
    EXPECT_EQ(qRed(strip.pixel(static_cast<int>(face.centre.x),
                               static_cast<int>(face.centre.y - 0.7 * face.short_half))),
              0x6f);
    grow_up(2014);
    EXPECT_THAT(write_phases(bench, path("b.png"), {}).toStdString(), HasSubstr("consent"));
}

TEST_F(Leaving, WhatIsDeletedForGoodTakesItsVoicesAlong) {
    ready();
    yard.folder().mkpath("spoken");
    store::Spoken s;
    s.clip = clip;
    s.made_at = "2026-11-24T10:00:00";
    s.timeline = "{}";
    s.sound = "spoken/a.wav";
    test::to_write(yard).add(s);
    std::ofstream(yard.folder().filePath("spoken/a.wav").toStdString()) << "RIFF";
    bench.close();
    delete_for_good(yard, rider);
    EXPECT_FALSE(QFile::exists(yard.folder().filePath("spoken/a.wav")));
}

TEST_F(Leaving, TablesHoldWhatTheYardHolds) {
    ready();
    const Permit permit = ask_for_rider(yard, rider, Use::page).value();
    for (const Table table : kAllTables) {
        std::istringstream in(table_csv(yard, permit, table));
        std::string line;
        ASSERT_TRUE(std::getline(in, line));
        const auto head = exchange::csv_fields(line.substr(0, line.size() - 1));
        int rows = 0;
        while (std::getline(in, line)) {
            EXPECT_EQ(exchange::csv_fields(line.substr(0, line.size() - 1)).size(), head.size()) << line;
            ++rows;
        }
        if (table == Table::rides) {
            EXPECT_EQ(rows, 1);
        }
        if (table == Table::measures) {
            EXPECT_GT(rows, 8);
        }
        if (table == Table::findings) {
            EXPECT_GT(rows, 0);
        }
    }
    EXPECT_EQ(write_table(yard, permit, Table::rides, path("rides.csv")), "");
    EXPECT_EQ(yard.records().leaving.departures(rider).at(0).about, "rides");
}

}  // namespace
}  // namespace aspen::app
