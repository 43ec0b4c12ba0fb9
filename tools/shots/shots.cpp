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
#include "app/review/review_changes.hpp"
#include "app/yard/changes.hpp"
#include "ui/application.hpp"
#include "ui/arena/arena_view.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/eye/eye_view.hpp"
#include "ui/handover/hand_over_view.hpp"
#include "ui/lesson/lesson_view.hpp"
#include "ui/prescribe/exercises_view.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/progress/lanes_widget.hpp"
#include "ui/progress/progress_view.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/review/review_view.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/shared/key_overlay.hpp"
#include "ui/shared/theme.hpp"
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
    for (const store::RideLine& line : yard.records().rides.waiting()) {
        if (line.rider == rider) return line.first.id;
    }
    return {};
}

store::ClipId clip_of_gait(app::Yard& yard, core::Gait gait) {
    for (const store::Clip& c : yard.records().rides.clips()) {
        if (yard.records().rides.stretches(c.id).front().gait == gait) return c.id;
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
    for (const store::Rider& r : yard.records().people.riders()) {
        if (r.name == "Ines Varga-Holt") window.choose_rider(r.id);
    }
    let_it_settle(1500);
    save("prescribe");
    window.show_view(ViewName::lesson);
    LessonView& lesson = window.the<LessonView>();
    lesson.prepare({});
    for (int i = 0; i < 4; ++i)
        lesson.roster().selectionModel()->select(lesson.roster().model()->index(i, 0),
                                                 QItemSelectionModel::Select);
    save("lesson-who");
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
    app::EyeDesk& desk = window.the<EyeView>().desk();
    desk.set_coach("demo");  // the drawn questions alone, whatever else the yard holds
    desk.start(core::DrillKind::angle);
    wait_for([&] { return window.the<EyeView>().picture().shows(); }, kStepMs);
    desk.answer_number(std::round(desk.item()->number + 5));
    save("eye");
    desk.leave();
    desk.set_coach({});
}

/// A review spoken over the open clip, by whatever microphone there is, and the page.
void show_hand_over(MainWindow& window, app::Yard& yard, const std::function<void(const QString&)>& save) {
    app::Bench& bench = window.bench();
    ReviewView& review = window.the<ReviewView>();
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
    HandOverView& handed = window.the<HandOverView>();
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
    if (const auto s = yard.records().leaving.spoken(spoken)) {  // the demo stays as it was
        QFile::remove(yard.folder().filePath(QString::fromStdString(s->sound)));
        yard.quietly([&](store::YardStore& records) { records.remove(spoken); });
    }
}

/// Takes the pictures one after the other; each part leaves the window as the next one wants it.
class Shots {
  public:
    Shots(MainWindow& window, app::Yard& yard, const QString& folder)
        : window_(window), yard_(yard), folder_(folder) {}

    int take() {
        QDir().mkpath(folder_);
        const auto reviews = static_cast<std::size_t>(app::demo_reviews().size());
        if (yard_.records().rides.clips().size() < reviews) window_.start_demo();
        if (!wait_for([&] { return yard_.records().rides.clips().size() >= reviews; }, kDemoTimeMs)) return 4;
        let_it_settle(2500);
        save("yard");
        if (!marked() || !looked_at() || !logged() || !followed()) return 4;
        compared();
        prescribed();
        progressed();
        const auto keep = [this](const QString& name) { save(name); };
        show_hand_over(window_, yard_, keep);
        show_eye(window_, keep);
        if (!jumped()) return 4;
        while (yard_.steps().stack().canUndo()) yard_.steps().stack().undo();  // the demo stays as it was
        app::set_ride_state(yard_, bench_.review().ride().id, store::RideState::fresh);
        return all_ ? 0 : 4;
    }

  private:
    void save(const QString& name) {
        let_it_settle();
        const bool saved = window_.grab().save(folder_ + "/" + name + ".png");
        std::printf("%s/%s.png%s\n", qPrintable(folder_), qPrintable(name),
                    saved ? "" : " could not be written");
        all_ = all_ && saved;
    }
    bool picture_is_full() {
        return wait_for([&] { return bench_.deck().picture_is_full(); }, kStepMs);
    }

    bool marked() {
        window_.open_clip(waiting_clip_of(yard_, "Joss Penhallow"));
        if (!wait_for([&] { return bench_.deck().ready() && bench_.deck().picture_is_current(); }, kStepMs))
            return false;
        for (const int frame : {37, 60}) {
            bench_.deck().go_to(frame);
            if (!wait_for([&] { return bench_.deck().picture_is_current(); }, kStepMs)) return false;
            bench_.marking().ask_for_others(frame == 60);
            if (frame == 60) {
                if (!mark_from_truth(window_, yard_, 5)) return false;
                save("review-marking");
            }
            if (!mark_from_truth(window_, yard_, 30)) return false;
            app::set_phase(bench_.review(), "rise_top");
        }
        bench_.marking().select(std::nullopt);
        return wait_for(
            [&] {
                return bench_.deck().picture_is_full() &&
                       !bench_.deck().small_picture(bench_.deck().facts().frames - 1).isNull();
            },
            kStepMs);
    }

    /// A first look's notes and stretches, as a coach leaves them, and what the eye is asked.
    bool looked_at() {
        bench_.deck().go_to(0);
        app::ride_from_here(bench_, core::Gait::trot);
        app::ride_from_here(bench_, core::Rein::left);
        bench_.deck().go_to(22);
        app::add_note(bench_, store::NoteKind::good);
        bench_.deck().go_to(49);
        app::add_note(bench_, store::NoteKind::words, "leg slid back again");
        bench_.deck().go_to(84);
        app::ride_from_here(bench_, core::Rein::right);
        app::movement_from_here(bench_, "circle", false);
        bench_.deck().go_to(100);
        app::add_note(bench_, store::NoteKind::look);
        bench_.deck().go_to(60);
        if (!picture_is_full()) return false;
        save("review");
        review_.act("checks");
        for (const int n : {2, 1, 1}) review_.lower().checks().answer(n);
        app::name_here(bench_, app::named_by(yard_.knowledge(), "ql").front());
        save("checks");
        review_.act("let_go");
        review_.act("why");
        save("why");
        review_.act("let_go");
        return true;
    }

    bool logged() {
        review_.act("log_events");
        const std::tuple<int, const char*, const char*> events[] = {{6, "aid", "with=calf"},
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
        for (const auto& [frame, event, detail] : events) {
            bench_.deck().go_to(frame);
            review_.log().log(event, detail);
        }
        if (!picture_is_full()) return false;
        save("log");
        review_.act("log_events");
        return true;
    }

    bool followed() {
        bench_.deck().go_to(66);
        review_.act("strides");
        if (!wait_for([&] { return !review_.strides().busy() && review_.strides().followed(); }, kStepMs) ||
            !picture_is_full())
            return false;
        save("strides");
        review_.act("curves");
        save("curves");
        review_.act("let_go");
        return true;
    }

    void compared() {
        bench_.deck().go_to(60);
        review_.act("two_at_once");
        app::Comparison& compared = window_.the<CompareView>().comparison();
        compared.then_and_now();
        wait_for(
            [&] {
                for (std::size_t i = 0; i < compared.count(); ++i) {
                    if (!compared.deck(i).picture_is_current()) return false;
                }
                return compared.count() > 0;
            },
            kStepMs);
        window_.say({});
        save("compare");
    }

    void prescribed() {
        window_.show_view(ViewName::review);
        for (const app::FindingRow& row : std::vector(bench_.findings().rows())) {
            if (row.found.verdict == core::Verdict::outside)
                bench_.findings().decide(row.found.fault->id, store::Decision::accepted);
        }
        window_.show_view(ViewName::schools);
        window_.the<SchoolsView>().choose("hunter", "classical");
        save("schools");
        window_.show_view(ViewName::exercises);
        window_.the<ExercisesView>().show_exercise("two_point_walk_trot");
        save("exercises");
        window_.overlay().open();
        save("keys");
        window_.overlay().hide();
        window_.show_view(ViewName::prescribe);
        window_.the<PrescribeView>().give();
        const QString refused = window_.the<PrescribeView>().write_page(folder_ + "/page.pdf");
        if (!refused.isEmpty()) std::printf("page: %s\n", qPrintable(refused));
        wait_for([&] { return !window_.the<PrescribeView>().writing(); }, kStepMs);
        window_.say({});  // the pictures name no folder of the machine they were taken on
        show_training(window_, yard_, [this](const QString& name) { save(name); });
    }

    void progressed() {
        window_.show_view(ViewName::progress);
        window_.choose_rider(bench_.review().rider());
        let_it_settle(1000);
        Lanes& lanes = window_.the<ProgressView>().lanes_widget();
        if (lanes.current() && lanes.current()->entries.size() > 1) {
            lanes.choose(0, 1);
            lanes.pin();
        }
        let_it_settle(1500);
        window_.say({});
        save("progress");
    }

    bool jumped() {
        const store::ClipId jump = clip_of_gait(yard_, core::Gait::jump);
        if (!jump) return true;
        window_.open_clip(jump);
        if (!wait_for([&] { return bench_.deck().ready() && bench_.deck().picture_is_full(); }, kStepMs))
            return false;
        review_.act("fences");
        let_it_settle(2500);
        save("fences");
        return true;
    }

    MainWindow& window_;
    app::Yard& yard_;
    QString folder_;
    app::Bench& bench_ = window_.bench();
    ReviewView& review_ = window_.the<ReviewView>();
    bool all_ = true;
};

int take_shots(MainWindow& window, app::Yard& yard, const QString& folder) {
    return Shots(window, yard, folder).take();
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
        if (!yard.records().people.riders().empty())
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
