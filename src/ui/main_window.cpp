#include "ui/main_window.hpp"

#include <QAction>
#include <QApplication>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QStandardPaths>
#include <QSvgRenderer>
#include <QTimer>
#include <QVBoxLayout>

#include "app/leaving/events_exchange.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "app/leaving/tracks_exchange.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/arena/arena_view.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/eye/eye_view.hpp"
#include "ui/handover/hand_over_view.hpp"
#include "ui/lesson/lesson_view.hpp"
#include "ui/prescribe/exercises_view.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/progress/progress_view.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/review/review_view.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/shared/key_overlay.hpp"
#include "ui/shared/view_keys.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/yard_view.hpp"

namespace aspen::ui {
namespace {

constexpr std::size_t kBeforeViews = 3;  // leaf, name and a space
constexpr int kTopHigh = 41;
constexpr int kNameFrom = 1180;  // pixels of the window from which the name leaves the line its room

QPixmap leaf(int size) {
    QPixmap out(size, size);
    out.fill(Qt::transparent);
    QPainter p(&out);
    QSvgRenderer(QString(":/aspen/icons/leaf.svg")).render(&p);
    return out;
}

}  // namespace

MainWindow::MainWindow(app::Yard& yard, QWidget* parent)
    : QMainWindow(parent),
      yard_(yard),
      bench_(yard),
      importer_(yard),
      preparing_(yard),
      keys_(yard),
      bundles_(yard),
      thumbs_(yard) {
    setWindowTitle(tr("Aspen Crest"));
    setWindowIcon(leaf(64));
    setAcceptDrops(true);
    resize(1280, 800);
    setMinimumSize(1024, 700);
    auto* ground = new QWidget(this);
    ground->setObjectName("ground");
    ground->setAttribute(Qt::WA_StyledBackground);
    auto* all = new QVBoxLayout(ground);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    build_top();
    all->addWidget(top_);
    stack_ = new QStackedWidget(ground);
    build_views();
    all->addWidget(stack_, 1);
    setCentralWidget(ground);
    overlay_ = new KeyOverlay(keys_, ground);
    actions_ = new ActionLine([this] { return what_can_be_done(); }, ground);
    connect(actions_, &ActionLine::closed, this, [this] { show_view(view()); });
    build_actions();
    follow_views();
    follow_work();
    show_view(ViewName::yard);
    if (!yard_.said_at_start().isEmpty()) say(yard_.said_at_start());
}

void MainWindow::build_views() {
    yard_view_ = new YardView(yard_, thumbs_, stack_);
    review_ = new ReviewView(bench_, importer_, keys_, stack_);
    compare_ = new CompareView(yard_, stack_);
    prescribe_ = new PrescribeView(bench_, stack_);
    lesson_ = new LessonView(yard_, stack_);
    arena_ = new ArenaView(yard_, stack_);
    progress_ = new ProgressView(yard_, thumbs_, stack_);
    eye_ = new EyeView(yard_, stack_);
    schools_ = new SchoolsView(bench_, stack_);
    exercises_ = new ExercisesView(yard_, stack_);
    hand_over_ = new HandOverView(yard_, bundles_, thumbs_, stack_);
    views_ = {
        {tr("Yard"), yard_view_, yard_view_->deeds()},
        {tr("Review"), review_, keys_.actions(),
         [this] {
             review_->picture().setFocus();
             review_->recorder().show_two(std::nullopt);
         },
         [this] { review_->player().pause(); }},
        {tr("Compare"), compare_, compare_->deeds(), [this] { compare_->open(rider_in_hand()); },
         [this] { compare_->leave(); }},
        {tr("Prescribe"), prescribe_, prescribe_->deeds()},
        {tr("Lesson"), lesson_, lesson_->deeds(), [this] { lesson_->open(); }, [this] { lesson_->leave(); }},
        {tr("Arena"), arena_, arena_->deeds(), [this] { arena_->open(); },
         [this] { arena_->clicks().stop(); }},
        {tr("Progress"), progress_, progress_->deeds()},
        {tr("Eye"), eye_, eye_->deeds(), [this] { eye_->open(); }, [this] { eye_->leave(); }},
        {tr("Schools"), schools_, {}, [this] { schools_->open(); }},
        {tr("Exercises"), exercises_, {}, [this] { exercises_->open(); }},
        {tr("Hand over"), hand_over_, hand_over_->deeds(), [this] { open_hand_over(); },
         [this] { hand_over_->leave(); }}};
    for (std::size_t i = 0; i < views_.size(); ++i) {
        stack_->addWidget(views_[i].widget);
        auto* b = new QPushButton(views_[i].title, top_);
        b->setObjectName("view");
        b->setCheckable(true);
        const QString key = i < 10 ? QString("Ctrl+%1").arg((i + 1) % 10) : QStringLiteral("Ctrl+H");
        b->setToolTip(key);
        connect(b, &QPushButton::clicked, this, [this, i] { show_view(static_cast<ViewName>(i)); });
        top_row_->insertWidget(static_cast<int>(kBeforeViews + i), b);
        buttons_.push_back(b);
        everywhere({}, views_[i].title, [this, i] { show_view(static_cast<ViewName>(i)); },
                   {QKeySequence(key)});
    }
}

void MainWindow::follow_views() {
    connect(yard_view_, &YardView::wants_backup, this, &MainWindow::back_up);
    connect(yard_view_, &YardView::wants_restore, this, &MainWindow::restore);
    connect(review_, &ReviewView::wants_next_clip, this, [this] {
        const auto next =
            bench_.is_open() ? yard_view_->next_after(bench_.review().clip().id) : yard_view_->next_clip();
        if (next)
            open_clip(next);
        else
            say(tr("No other clip waits."));
    });
    connect(yard_view_, &YardView::open_clip, this, &MainWindow::open_clip);
    connect(yard_view_, &YardView::open_rider, this, [this](store::RiderId id) {
        progress_->show_rider(id);
        show_view(ViewName::progress);
    });
    connect(yard_view_, &YardView::choose_file, this, &MainWindow::choose_file);
    connect(yard_view_, &YardView::say, this, &MainWindow::say);
    connect(progress_, &ProgressView::open_clip, this, &MainWindow::open_clip);
    connect(progress_, &ProgressView::say, this, &MainWindow::say);
    connect(progress_, &ProgressView::wants_compare, this,
            [this](const app::Lane&, const app::LanePoint& then, const app::LanePoint& now) {
                const QString line = compare_->comparison().show(then.clip, then.frame, now.clip, now.frame);
                show_view(ViewName::compare);
                if (!line.isEmpty()) say(line);
            });
    connect(review_, &ReviewView::wants_compare, this, [this](store::ClipId clip, int frame) {
        const QString line = compare_->comparison().show(clip, frame);
        show_view(ViewName::compare);
        if (!line.isEmpty()) say(line);
    });
    connect(compare_, &CompareView::say, this, &MainWindow::say);
    follow_hand_over();
    connect(compare_, &CompareView::open_moment, this, &MainWindow::open_moment);
    connect(eye_, &EyeView::say, this, &MainWindow::say);
    connect(eye_, &EyeView::wants_blind_mark, this, [this](store::ClipId clip, int frame) {
        open_moment(clip, frame);
        say(tr("Mark the joints again: [mark_again] hides the marks that are there."));
    });
    follow_training();
}

void MainWindow::follow_training() {
    connect(review_, &ReviewView::wants_exercise, this, [this] { show_view(ViewName::prescribe); });
    connect(review_, &ReviewView::wants_band, this, [this](const QString& measure) {
        show_view(ViewName::schools);
        schools_->show_measure(measure);
    });
    connect(schools_, &SchoolsView::say, this, &MainWindow::say);
    connect(prescribe_, &PrescribeView::say, this, &MainWindow::say);
    connect(review_, &ReviewView::say, this, &MainWindow::say);
    connect(prescribe_, &PrescribeView::wants_lesson, this, [this](store::RiderId id) {
        show_view(ViewName::lesson);
        lesson_->prepare(id);
    });
    connect(prescribe_, &PrescribeView::wants_exercises, this, [this] {
        if (const core::Exercise* e = prescribe_->desk().exercise()) exercises_->show_exercise(e->id);
        show_view(ViewName::exercises);
    });
    connect(exercises_, &ExercisesView::left, this, [this] { show_view(ViewName::prescribe); });
    connect(exercises_, &ExercisesView::say, this, &MainWindow::say);
    connect(lesson_, &LessonView::say, this, &MainWindow::say);
    connect(lesson_, &LessonView::wants_whole_screen, this, [this](bool whole) {
        top_->setVisible(!whole);
        whole ? showFullScreen() : showNormal();
    });
    connect(arena_, &ArenaView::say, this, &MainWindow::say);
    connect(prescribe_, &PrescribeView::given, this, [this](store::RiderId id) {
        progress_->show_rider(id);
        say(tr("Given. It stands on the rider's card; [undo] takes it back."));
    });
}

void MainWindow::open_hand_over() {
    const bool open = bench_.is_open();
    hand_over_->open(rider_in_hand(), open ? bench_.review().clip().id : store::ClipId{},
                     open ? bench_.review().slot() : 0, bench_.deck().facts());
}

void MainWindow::follow_hand_over() {
    connect(review_, &ReviewView::wants_hand_over, this, [this] { show_view(ViewName::hand_over); });
    connect(review_, &ReviewView::recorded, this, [this](store::SpokenId id) {
        show_view(ViewName::hand_over);
        hand_over_->show_review(id);
        say(tr("Recorded. Look at it here, cut what is too long, then write the film."));
    });
    connect(hand_over_, &HandOverView::say, this, &MainWindow::say);
    connect(hand_over_, &HandOverView::open_moment, this, &MainWindow::open_moment);
    connect(&bundles_, &app::Bundles::finished, this, [this](const QString& line) { say(line); });
    connect(hand_over_, &HandOverView::talk_new, this, [this] {
        show_view(ViewName::review);
        if (!review_->recorder().recording()) review_->act("record");
    });
    connect(hand_over_, &HandOverView::talk, this,
            [this](const store::Spoken& spoken, std::size_t place, store::ClipId clip, int frame) {
                open_moment(clip, frame);
                when_ready([this, spoken, place] { say(review_->recorder().start_into(spoken, place)); });
            });
    // What is compared while a review is spoken stands side by side in it.
    const auto two = [this] {
        app::Comparison& c = compare_->comparison();
        if (!review_->recorder().recording() || view() != ViewName::compare || c.count() < 2) return;
        const auto shown = [&](std::size_t i) {
            return core::ShownFrame{c.side(i).subject.ridden.clip.id.value, c.deck(i).frame()};
        };
        review_->recorder().show_two(std::pair{shown(0), shown(1)});
    };
    connect(&compare_->comparison(), &app::Comparison::changed, this, two);
    connect(&compare_->comparison(), &app::Comparison::picture_changed, this, two);
    connect(stack_, &QStackedWidget::currentChanged, this, two);
}

/// Once the bench has its clip; now, where it has it already.
void MainWindow::when_ready(const std::function<void()>& then) {
    if (bench_.is_open() && bench_.deck().ready()) return then();
    auto* once = new QObject(this);
    connect(&bench_.deck(), &app::ClipDeck::opened, once, [once, then] {
        once->deleteLater();
        then();
    });
}

void MainWindow::follow_work() {
    connect(&bench_, &app::Bench::trouble, this, &MainWindow::say);
    connect(&bench_, &app::Bench::moved, &importer_, &app::Importer::find_neighbours);
    connect(&importer_, &app::Importer::failed, this, &MainWindow::say);
    connect(&preparing_, &app::Preparing::say, this, &MainWindow::say);
    connect(&preparing_, &app::Preparing::prepared, this, [this](store::ClipId id) {
        if (bench_.is_open() && bench_.review().clip().id == id) review_->prepared().reload();
        yard_view_->model().refresh();
    });
    connect(&importer_, &app::Importer::found_again, this, [this](int clips) {
        say(clips == 1 ? tr("One more clip of that folder was found again.")
                       : tr("%1 more clips of that folder were found again.").arg(clips));
    });
    connect(&importer_, &app::Importer::imported, this, [this](store::ClipId id, bool known) {
        if (imports_open_first_ > 0) {
            imports_open_first_ = 0;
            open_clip(id);
        }
        if (known) ++known_;
        if (importer_.waiting() > 0 || known_ == 0) return;
        say(known_ == 1 ? tr("This clip is in the yard already; its record goes on.")
                        : tr("%1 of these clips are in the yard already; their records go on.").arg(known_));
        known_ = 0;
    });
}

void MainWindow::prepare_inbox() {
    if (yard_.records().settings.setting("prepare", "yes") == "yes") preparing_.start();
}

void MainWindow::change_preparing() {
    const bool on = yard_.records().settings.setting("prepare", "yes") != "yes" || !preparing_.on();
    yard_.set("prepare", on ? "yes" : "no");
    if (!on) {
        preparing_.stop();
        return say(tr("Clips are no longer looked through before you open them."));
    }
    preparing_.start();
    say(preparing_.on() ? tr("Clips of the inbox are looked through in the background; nothing of it counts "
                             "until you confirm it.")
                        : tr("The body-pose network is not there: ./aspen setup fetches it."));
}

void MainWindow::build_top() {
    top_ = new QWidget(this);
    auto* row = top_row_ = new QHBoxLayout(top_);
    row->setContentsMargins(16, 4, 16, 0);
    top_->setFixedHeight(scaled_px(kTopHigh));  // whatever runs or is said, the views stay where they are
    row->setSpacing(4);
    auto* mark = new QLabel(top_);
    mark->setPixmap(leaf(24));
    row->addWidget(mark);
    name_ = heading_label(tr("Aspen Crest"), top_);
    name_->setWordWrap(false);
    row->addWidget(name_);
    row->addSpacing(16);
    line_ = new SaidLine(keys_, top_, this);
    row->addWidget(line_->beside(), 1);
    jobs_line_ = new JobsLine(yard_.jobs(), top_);
    row->addWidget(jobs_line_);
}

void MainWindow::resizeEvent(QResizeEvent* e) {
    name_->setVisible(width() >= kNameFrom);
    QMainWindow::resizeEvent(e);
    line_->place();
}

void MainWindow::everywhere(const QString& id, const QString& words, std::function<void()> act,
                            const QList<QKeySequence>& keys) {
    auto* action = new QAction(words, this);
    action->setShortcuts(keys.isEmpty() ? view_keys(id) : keys);
    connect(action, &QAction::triggered, this, std::move(act));
    addAction(action);
    everywhere_ << action;
    if (id.isEmpty()) return;
    action->setObjectName(id);
    keys_.know(action);
}

void MainWindow::build_actions() {
    everywhere("find_action", tr("Find what can be done"), [this] { actions_->open(); });
    everywhere("find_words", tr("Find a rider, horse, fault, note or day"), [this] {
        show_view(ViewName::yard);
        yard_view_->search().setFocus();
        yard_view_->search().selectAll();
    });
    everywhere("add_clips", tr("Add clips"), [this] { choose_file(); });
    everywhere("undo", tr("Take back"), [this] { say(yard_.undo()); });
    everywhere("redo", tr("Do again"), [this] { say(yard_.redo()); });
    everywhere("save_marks", tr("Save the marks"), [this] { export_marks(); });
    everywhere("take_marks", tr("Take in marks"), [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, tr("Take in marks"), {}, tr("COCO key points (*.json)"));
        if (!file.isEmpty()) import_marks(file);
    });
    everywhere("save_events", tr("Save the events"), [this] {
        const QString file =
            QFileDialog::getSaveFileName(this, tr("Save the events"), "events.csv", tr("Events (*.csv)"));
        if (file.isEmpty()) return;
        const QString trouble = app::export_events(bench_, file);
        say(trouble.isEmpty() ? tr("Saved: ") + file : trouble);
    });
    everywhere("take_events", tr("Take in events"), [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, tr("Take in events"), {}, tr("Events (*.csv)"));
        if (!file.isEmpty()) import_events(file);
    });
    everywhere("save_tracks", tr("Save the followed joints"), [this] {
        const QString file = QFileDialog::getSaveFileName(this, tr("Save the followed joints"), "tracks.csv",
                                                          tr("Tracks (*.csv)"));
        if (file.isEmpty()) return;
        const QString trouble = app::export_tracks(bench_, review_->strides(), file);
        say(trouble.isEmpty() ? tr("Saved: ") + file : trouble);
    });
    everywhere("theme", tr("Light or dark"), [this] { change_theme(); });
    everywhere("prepare", tr("Look through the inbox in the background: on, off"),
               [this] { change_preparing(); });
    everywhere("all_keys", tr("All keys"),
               [this] { overlay_->isVisible() ? overlay_->hide() : overlay_->open(); });
    everywhere("back_up", tr("Back up the records"), [this] { back_up(); });
    everywhere("restore", tr("Restore a backup"), [this] { restore(); });
    everywhere("leave", tr("Leave"), [this] { close(); });
}

/// What works everywhere, and what the view that is shown can do.
QList<QAction*> MainWindow::what_can_be_done() const {
    if (view() == ViewName::review && !bench_.is_open()) return everywhere_;
    return everywhere_ + views_[static_cast<std::size_t>(view())].actions;
}

void MainWindow::change_theme() {
    const bool dark = !theme().dark;
    apply_theme(*qApp, dark ? ThemeChoice::dark : ThemeChoice::light);
    yard_.set("theme", dark ? "dark" : "light");
    const ViewName now = view();
    show_view(now);
}

void MainWindow::show_view(ViewName v) {
    const auto to = static_cast<std::size_t>(v);
    for (std::size_t i = 0; i < views_.size(); ++i) {
        buttons_[i]->setChecked(i == to);
        if (i != to && views_[i].hidden) views_[i].hidden();
    }
    stack_->setCurrentIndex(static_cast<int>(to));
    views_[to].widget->setFocus();
    if (views_[to].shown) views_[to].shown();
}

ViewName MainWindow::view() const { return static_cast<ViewName>(stack_->currentIndex()); }

void MainWindow::open_clip(store::ClipId id) {
    // What was said in the lesson while this was filmed.
    int laid = 0;
    for (const store::Slot& s : yard_.records().rides.places(id)) laid += app::lay_under_clips(yard_, s.ride);
    if (laid > 0)
        say(laid == 1
                ? tr("One note of the lesson falls on this ride's clips; [undo] takes it back.")
                : tr("%1 notes of the lesson fall on this ride's clips; [undo] takes them back.").arg(laid));
    bench_.open(id);
    show_view(ViewName::review);
}

void MainWindow::bring_in(const QStringList& files) {
    QStringList clips;
    for (const QString& f : files) {
        if (!f.endsWith(".zip", Qt::CaseInsensitive))
            clips << f;
        else if (const QString line = bundles_.open(f); !line.isEmpty())
            say(line);
    }
    imports_open_first_ = clips.size() == 1 ? 1 : 0;
    if (!clips.isEmpty()) importer_.bring_in(clips);
}

/// Of the open review, else who Prescribe or Progress shows.
store::RiderId MainWindow::rider_in_hand() {
    if (bench_.is_open() && bench_.review().rider()) return bench_.review().rider();
    if (progress_->desk().rider()) return progress_->desk().rider();
    const auto riders = yard_.records().people.riders();
    return riders.empty() ? store::RiderId{} : riders.front().id;
}

void MainWindow::open_moment(store::ClipId id, int frame) {
    open_clip(id);
    if (bench_.is_open() && bench_.deck().ready()) return bench_.deck().go_to(frame);
    auto* once = new QObject(this);
    connect(&bench_.deck(), &app::ClipDeck::opened, once, [this, once, frame] {
        once->deleteLater();
        bench_.deck().go_to(frame);
    });
}

void MainWindow::start_demo() {
    demo_ = std::make_unique<app::DemoYard>(yard_);
    connect(demo_.get(), &app::DemoYard::progress, this, [this](int done, int total) {
        yard_view_->note(
            done < total
                ? tr("The demo's clips are being painted: %1 of %2. Go ahead with those that are there.")
                      .arg(done)
                      .arg(total)
                : QString());
    });
    connect(demo_.get(), &app::DemoYard::failed, this, &MainWindow::say);
    yard_view_->note(tr("The demo's first clip is being painted …"));
    demo_->start();
}

void MainWindow::choose_file() {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Add clips"), QStandardPaths::writableLocation(QStandardPaths::MoviesLocation),
        tr("Clips and pictures (*.mp4 *.mov *.m4v *.mkv *.avi *.webm *.ts *.mts *.jpg *.jpeg *.png);;Bundles "
           "of another yard (*.zip);;All "
           "files "
           "(*)"));
    if (!files.isEmpty()) bring_in(files);
}

void MainWindow::import_marks(const QString& file) {
    const QString trouble = app::import_marks(bench_, file);
    say(trouble.isEmpty() ? tr("Marks taken in.") : trouble);
}

void MainWindow::import_events(const QString& file) {
    const QString trouble = app::import_events(bench_, file);
    say(trouble.isEmpty() ? tr("Events taken in.") : trouble);
}

void MainWindow::export_marks() {
    if (!bench_.is_open()) return say(tr("Open a clip first; then its marks can be saved."));
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the marks"),
        QFileInfo(yard_.file_of(bench_.review().clip())).completeBaseName() + ".marks.json",
        tr("COCO key points (*.json)"));
    if (file.isEmpty()) return;
    const QString trouble = app::export_marks(bench_, file);
    say(trouble.isEmpty() ? tr("Saved: ") + file : trouble);
}

void MainWindow::back_up() {
    const QString start = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) + "/yard-" +
                          yard_.today().toString(Qt::ISODate) + ".aspen-yard";
    const QString file = QFileDialog::getSaveFileName(this, tr("Back up the yard's records"), start,
                                                      tr("Yard records (*.aspen-yard)"));
    if (file.isEmpty()) return;
    try {
        app::back_up(yard_, file);
        say(tr("Backed up: ") + file + tr(". The clips themselves are not in it."));
    } catch (const core::Refused& e) {
        say(QString::fromUtf8(e.what()));
    }
}

void MainWindow::restore() {
    const QString file = QFileDialog::getOpenFileName(
        this, tr("Restore a backup"), QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation),
        tr("Yard records (*.aspen-yard *.db *.before-*)"));
    if (file.isEmpty()) return;
    const QString trouble = app::restore_at_start(yard_.folder().absolutePath(), file);
    say(trouble.isEmpty() ? tr("It takes the place of the records when the program is started again; today's "
                               "stay beside it.")
                          : trouble);
}

void MainWindow::say(const QString& line) { line_->say(line); }

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
    QStringList clips;
    for (const QUrl& url : e->mimeData()->urls()) {
        const QString file = url.toLocalFile();
        if (file.isEmpty()) continue;
        if (file.endsWith(".json"))
            import_marks(file);
        else if (file.endsWith(".csv"))
            import_events(file);
        else
            clips << file;
    }
    if (!clips.isEmpty()) bring_in(clips);
}

void MainWindow::closeEvent(QCloseEvent* e) {
    bench_.close();
    yard_.jobs().stop_all();
    QMainWindow::closeEvent(e);
}

}  // namespace aspen::ui

#include "moc_main_window.cpp"
