// How fast a spoken review is written: twenty seconds at 1080p30 that run, stand and come closer, with the
// face followed and covered, voice levelled, everything from the records on; × real time. For
// docs/performance.md.
//   film_bench     figures on standard output

#include <fmt/format.h>

#include <QElapsedTimer>
#include <QGuiApplication>

#include "app/bench_fixture.hpp"
#include "app/telling/film_writer.hpp"
#include "app/telling/voice_file.hpp"
#include "sound/microphone.hpp"

namespace {

using namespace aspen;

class Filmed : public app::BenchTest {
  public:
    void TestBody() override {}

    double times_real(bool bare) {
        auto plan = test::faulty_plan();
        plan.camera.width = 1920;
        plan.camera.height = 1080;
        plan.camera.fps = 30;
        plan.duration_s = 12;
        const auto film = test::simulated_clip(plan, "film-bench");
        app::Importer importer(yard);
        bool known = false;
        clip = importer.record(app::look_at(QString::fromStdString(film.string())), known);
        source = film;
        test::Said said;
        said.rider = add_rider(yard, test::rider("Maude Estrell", 1990, "hunter"));
        said.horse = add_horse(yard, {{}, "Saffron", 165, ""});
        test::say(yard, clip, said);
        for (const int frame : {20, 150, 300}) {
            store::Moment m;
            m.clip = clip;
            m.frame = frame;
            m.figure = test::true_figure(film, frame);
            app::add_moment(yard, m);
        }
        if (bare) {
            store::Consent c{{}, said.rider, "clip", "Maude Estrell", "2026-01-01"};
            c.face = true;
            test::to_write(yard).add(c);
        }
        store::Spoken s;
        s.clip = clip;
        s.made_at = "2026-11-24T10:00:00";
        s.sound = "spoken/a.wav";
        s.timeline = core::write_telling(telling());
        yard.folder().mkpath("spoken");
        app::VoiceFile(yard.folder().filePath("spoken/a.wav")).add(sound::SimulatedMicrophone::speech(20));
        const auto asked = app::ask_to_leave(yard, telling(), app::Use::clip);
        const auto permit = *asked;
        app::Job job(0, {}, true);
        QElapsedTimer clock;
        clock.start();
        const auto made = app::write_film(app::film_plan(yard, s, &permit), permit, {},
                                          QString::fromStdString((folder / "out.mp4").string()), job);
        if (!made.trouble.isEmpty()) throw std::runtime_error(made.trouble.toStdString());
        return made.length_s / (static_cast<double>(clock.elapsed()) / 1000);
    }

  private:
    core::Telling telling() const {
        core::Telling t;
        const auto show = [&](double at, int frame, bool runs) {
            core::Deed d;
            d.at_s = at;
            d.shown = {clip.value, frame};
            d.runs = runs;
            t.add(d);
        };
        for (double s = 0; s < 10; s += 0.1) show(s, static_cast<int>(s * 30), true);
        show(10, 300, false);
        core::Deed d;
        d.at_s = 14;
        d.what = core::Deed::What::part;
        d.part = {0.5, 0.4, 0.5};
        t.add(d);
        t.recorded(20);
        t.tell(0, {0, 20});
        return t;
    }
};

}  // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication application(argc, argv);
    fmt::print("a review of 20 s at 1080p30, half of it running, face covered: {:.2f} x real time\n",
               Filmed().times_real(false));
    fmt::print("the same, the face to be seen: {:.2f} x real time\n", Filmed().times_real(true));
    return 0;
}
