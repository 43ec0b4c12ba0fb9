// Goes through the demo yard as a coach would and saves a picture of every view: SHOTS YARD FOLDER
// [light|dark].

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <functional>
#include <nlohmann/json.hpp>

#include "app/files/data_files.hpp"
#include "app/files/one_line.hpp"
#include "app/review/eye_pass.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"
#include "app/yard/changes.hpp"
#include "ui/application.hpp"
#include "ui/arena/arena_view.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/eye/eye_view.hpp"
#include "ui/handover/hand_over_view.hpp"
#include "ui/lesson/lesson_view.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/progress/lanes_widget.hpp"
#include "ui/progress/progress_view.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/review/review_view.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/yard/yard_view.hpp"

namespace aspen::ui {
namespace {

constexpr int kDemoTimeMs = 900'000, kStepMs = 20'000;

bool wait_for(const std::function<bool()>& there, int ms) {
    QElapsedTimer clock;
    clock.start();
    while (!there() && clock.elapsed() < ms) QApplication::processEvents(QEventLoop::AllEvents, 50);
    return there();
}

void let_it_settle(int ms = 400) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < ms) QApplication::processEvents(QEventLoop::AllEvents, 20);
}

store::ClipId waiting_clip_of(app::Yard& yard, const std::string& rider) {
    for (const store::RideLine& line : yard.records().waiting()) {
        if (line.rider == rider) return line.first.id;
    }
    return {};
}

store::ClipId clip_of_gait(app::Yard& yard, core::Gait gait) {
    for (const store::Clip& c : yard.records().clips()) {
        if (yard.records().stretches(c.id).front().gait == gait) return c.id;
    }
    return {};
}

/// Clicks the asked joints on the current frame where the clip's truth says they are.
bool mark_from_truth(MainWindow& window, app::Yard& yard, std::size_t joints) {
    app::Bench& bench = window.bench();
    std::ifstream in(yard.file_of(bench.review().clip()).replace(".mp4", ".truth.json").toStdString());
    if (!in) return false;
    const auto truth = nlohmann::json::parse(in);
    const auto& frame = truth["frames"][static_cast<std::size_t>(bench.deck().frame())]["landmarks"];
    for (std::size_t i = 0; i < joints && bench.marking().asked(); ++i) {
        const auto& p = frame[std::string(core::id(*bench.marking().asked()))];
        bench.marking().place({p[0], p[1]}, 1.0);
    }
    return true;
}

/// The plan of a rider who practises, a lesson of four, and poles on the ground.
void show_training(MainWindow& window, app::Yard& yard, const std::function<void(const QString&)>& save) {
    window.show_view(ViewName::prescribe);
    for (const store::Rider& r : yard.records().riders()) {
        if (r.name == "Ines Varga-Holt") window.prescribe().show_rider(r.id);
    }
    let_it_settle(1500);
    save("prescribe");
    window.show_view(ViewName::lesson);
    LessonView& lesson = window.lesson();
    lesson.prepare({});
    for (int i = 0; i < 4; ++i)
        lesson.roster().selectionModel()->select(lesson.roster().model()->index(i, 0),
                                                 QItemSelectionModel::Select);
    lesson.begin();
    app::LessonDesk& desk = lesson.desk();
    for (int rider = 0; rider < static_cast<int>(desk.riders().size()); ++rider) {
        for (const auto& [item, words] : app::before_mounting()) desk.toggle_looked(rider, item);
    }
    desk.start();
    desk.good(0);
    for (int i = 0; i < 3; ++i) desk.attempt(1);
    desk.good_one(1);
    desk.good_one(1);
    desk.hold(2);
    desk.look(3);
    save("lesson");
    window.show_view(ViewName::arena);
    save("arena");
}

/// A question of the eye's, answered.
void show_eye(MainWindow& window, const std::function<void(const QString&)>& save) {
    window.show_view(ViewName::eye);
    app::EyeDesk& desk = window.eye().desk();
    desk.set_coach("demo");  // the drawn questions alone, whatever else the yard holds
    desk.start(core::DrillKind::angle);
    wait_for([&] { return window.eye().picture().shows(); }, kStepMs);
    desk.answer_number(std::round(desk.item()->number + 5));
    save("eye");
    desk.leave();
    desk.set_coach({});
}

/// A review spoken over the open clip, by whatever microphone there is, and the page.
void show_hand_over(MainWindow& window, app::Yard& yard, const std::function<void(const QString&)>& save) {
    app::Bench& bench = window.bench();
    ReviewView& review = window.review();
    window.show_view(ViewName::review);
    const auto& moments = bench.review().moments();
    if (!moments.empty()) bench.deck().go_to(moments.front().frame);
    let_it_settle(800);
    review.act("record");
    let_it_settle(2200);
    review.findings().move_current(1);
    review.player().play(1);
    let_it_settle(1200);
    review.player().pause();
    if (!moments.empty()) bench.deck().go_to(moments.back().frame);
    review.findings().move_current(1);
    let_it_settle(2400);
    review.act("record");
    HandOverView& handed = window.hand_over();
    const store::SpokenId spoken = handed.desk().spoken().id;
    handed.desk().go_to(1.2);
    wait_for([&] { return handed.desk().covered() && !handed.desk().picture({640, 360}).isNull(); }, kStepMs);
    let_it_settle(1500);
    window.say({});
    save("hand-over");
    for (int i = 0; i < handed.things().count(); ++i) {
        if (!handed.things().item(i)->text().startsWith(HandOverView::tr("The page"))) continue;
        handed.things().setCurrentRow(i);
        wait_for([&] { return !handed.busy(); }, kStepMs);
        save("page");
    }
    handed.desk().open({});
    if (const auto s = yard.records().spoken(spoken)) {  // the demo stays as it was
        QFile::remove(yard.folder().filePath(QString::fromStdString(s->sound)));
        yard.quietly([&] { yard.records().remove(spoken); });
    }
}

int take_shots(MainWindow& window, app::Yard& yard, const QString& folder) {
    QDir().mkpath(folder);
    const auto save = [&](const QString& name) {
        let_it_settle();
        const bool saved = window.grab().save(folder + "/" + name + ".png");
        std::printf("%s/%s.png%s\n", qPrintable(folder), qPrintable(name),
                    saved ? "" : " could not be written");
        return saved;
    };
    const auto reviews = static_cast<std::size_t>(app::demo_reviews().size());
    if (yard.records().clips().size() < reviews) window.start_demo();
    if (!wait_for([&] { return yard.records().clips().size() >= reviews; }, kDemoTimeMs)) return 4;
    let_it_settle(2500);
    bool all = save("yard");
    window.open_clip(waiting_clip_of(yard, "Joss Penhallow"));
    app::Bench& bench = window.bench();
    if (!wait_for([&] { return bench.deck().ready() && bench.deck().picture_is_current(); }, kStepMs))
        return 4;
    for (const int frame : {37, 60}) {
        bench.deck().go_to(frame);
        if (!wait_for([&] { return bench.deck().picture_is_current(); }, kStepMs)) return 4;
        bench.marking().ask_for_others(frame == 60);
        if (frame == 60) {
            if (!mark_from_truth(window, yard, 5)) return 4;
            all = save("review-marking") && all;
        }
        if (!mark_from_truth(window, yard, 30)) return 4;
        bench.review().set_phase("rise_top");
    }
    bench.marking().select(std::nullopt);
    if (!wait_for(
            [&] {
                return bench.deck().picture_is_full() &&
                       !bench.deck().small_picture(bench.deck().facts().frames - 1).isNull();
            },
            kStepMs))
        return 4;
    // A first look's notes and stretches, as a coach leaves them.
    bench.deck().go_to(0);
    app::ride_from_here(bench, core::Gait::trot);
    app::ride_from_here(bench, core::Rein::left);
    bench.deck().go_to(22);
    app::add_note(bench, store::NoteKind::good);
    bench.deck().go_to(49);
    app::add_note(bench, store::NoteKind::words, "leg slid back again");
    bench.deck().go_to(84);
    app::ride_from_here(bench, core::Rein::right);
    app::movement_from_here(bench, "circle", false);
    bench.deck().go_to(100);
    app::add_note(bench, store::NoteKind::look);
    bench.deck().go_to(60);
    if (!wait_for([&] { return bench.deck().picture_is_full(); }, kStepMs)) return 4;
    all = save("review") && all;
    window.review().act("checks");
    for (const int n : {2, 1, 1}) window.review().lower().checks().answer(n);
    app::name_here(bench, app::named_by(yard.knowledge(), "ql").front());
    all = save("checks") && all;
    window.review().act("let_go");
    window.review().act("why");
    all = save("why") && all;
    window.review().act("let_go");
    window.review().act("log_events");
    const std::tuple<int, const char*, const char*> logged[] = {{6, "aid", "with=calf"},
                                                                {14, "answer", ""},
                                                                {18, "aid_off", ""},
                                                                {30, "set_again", ""},
                                                                {62, "let_go", "what=lower_leg_back"},
                                                                {70, "aid", "with=heel"},
                                                                {76, "answer", ""},
                                                                {79, "aid_off", ""},
                                                                {90, "attempt", ""},
                                                                {96, "good_one", ""},
                                                                {104, "attempt", ""}};
    for (const auto& [frame, event, detail] : logged) {
        bench.deck().go_to(frame);
        window.review().log().log(event, detail);
    }
    if (!wait_for([&] { return bench.deck().picture_is_full(); }, kStepMs)) return 4;
    all = save("log") && all;
    window.review().act("log_events");
    bench.deck().go_to(66);
    window.review().act("strides");
    if (!wait_for([&] { return !window.review().strides().busy() && window.review().strides().followed(); },
                  kStepMs))
        return 4;
    if (!wait_for([&] { return bench.deck().picture_is_full(); }, kStepMs)) return 4;
    all = save("strides") && all;
    window.review().act("curves");
    all = save("curves") && all;
    window.review().act("let_go");
    bench.deck().go_to(60);
    window.review().act("two_at_once");
    app::Comparison& compared = window.compare().comparison();
    compared.then_and_now();
    wait_for(
        [&] {
            for (std::size_t i = 0; i < compared.count(); ++i) {
                if (!compared.deck(i).picture_is_current()) return false;
            }
            return compared.count() > 0;
        },
        kStepMs);
    window.say({});
    all = save("compare") && all;
    window.show_view(ViewName::review);
    for (const app::FindingRow& row : std::vector(bench.findings().rows())) {
        if (row.found.verdict == core::Verdict::outside) bench.findings().accept(row.found.fault->id);
    }
    window.show_view(ViewName::schools);
    window.schools().choose("hunter", "classical");
    all = save("schools") && all;
    window.show_view(ViewName::prescribe);
    window.prescribe().give();
    const QString refused = window.prescribe().write_page(folder + "/page.pdf");
    if (!refused.isEmpty()) std::printf("page: %s\n", qPrintable(refused));
    wait_for([&] { return !window.prescribe().writing(); }, kStepMs);
    window.say({});  // the pictures name no folder of the machine they were taken on
    show_training(window, yard, [&](const QString& name) { all = save(name) && all; });
    window.progress().show_rider(bench.review().rider());
    window.show_view(ViewName::progress);
    let_it_settle(1000);
    Lanes& lanes = window.progress().lanes_widget();
    if (lanes.current() && lanes.current()->entries.size() > 1) {
        lanes.choose(0, 1);
        lanes.pin();
    }
    let_it_settle(1500);
    window.say({});
    all = save("progress") && all;
    show_hand_over(window, yard, [&](const QString& name) { all = save(name) && all; });
    show_eye(window, [&](const QString& name) { all = save(name) && all; });
    if (const store::ClipId jump = clip_of_gait(yard, core::Gait::jump)) {
        window.open_clip(jump);
        if (!wait_for([&] { return bench.deck().ready() && bench.deck().picture_is_full(); }, kStepMs))
            return 4;
        window.review().act("fences");
        let_it_settle(2500);
        all = save("fences") && all;
    }
    while (yard.undo_stack().canUndo()) yard.undo_stack().undo();  // the demo stays as it was
    app::set_ride_state(yard, bench.review().ride().id, store::RideState::fresh);
    return all ? 0 : 4;
}

}  // namespace
}  // namespace aspen::ui

int main(int argc, char** argv) {
    using namespace aspen;
    app::speak_in_one_line("aspen-crest-shots");
    ui::Application application(argc, argv);
    QApplication::setApplicationName("aspen-crest");
    const QStringList said = QApplication::arguments();
    if (said.size() < 3 || said.size() > 4) {
        std::fprintf(stderr,
                     "aspen-crest-shots: name an empty folder for the demo yard and one for the pictures\n");
        return 2;
    }
    try {
        ui::load_fonts();
        app::Yard yard(said[1], app::shipped_knowledge());
        if (!yard.records().riders().empty())
            throw core::Refused(
                "this yard has riders of its own, whose pictures do not leave that way; name an empty "
                "folder");
        ui::apply_theme(application,
                        said.value(3) == "dark" ? ui::ThemeChoice::dark : ui::ThemeChoice::light);
        ui::MainWindow window(yard);
        window.show();
        return ui::take_shots(window, yard, said[2]);
    } catch (const core::Refused& e) {
        std::fprintf(stderr, "%s\n", e.what());
        return 3;
    }
}
