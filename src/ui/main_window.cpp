#include "ui/main_window.hpp"

#include <QAction>
#include <QApplication>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QMimeData>
#include <QStandardPaths>
#include <QTimer>
#include <QVBoxLayout>

#include "app/yard/changes.hpp"
#include "ui/shared/key_overlay.hpp"
#include "ui/shared/view_keys.hpp"

namespace aspen::ui {
MainWindow::MainWindow(app::Yard& yard, QWidget* parent)
    : QMainWindow(parent), yard_(yard), bench_(yard), importer_(yard), preparing_(yard), keys_(yard) {
    setWindowTitle(tr("Aspen Crest"));
    setWindowIcon(QIcon(":/aspen/icons/leaf.svg"));
    setAcceptDrops(true);
    resize(1280, 800);
    setMinimumSize(1024, 700);
    auto* ground = new QWidget(this);
    ground->setObjectName("ground");
    ground->setAttribute(Qt::WA_StyledBackground);
    auto* all = new QVBoxLayout(ground);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    head_ = new WindowHead(keys_, yard_.jobs(), this);
    all->addWidget(head_);
    stack_ = new QStackedWidget(ground);
    build_views();
    all->addWidget(stack_, 1);
    setCentralWidget(ground);
    overlay_ = new KeyOverlay(
        keys_,
        [this] {
            const View& now = *views_->all()[static_cast<std::size_t>(view())];
            return KeyOverlay::Page{now.title(),
                                    view() == ViewName::review ? QList<QAction*>() : now.deeds()};
        },
        [this] { return everywhere_; }, ground);
    actions_ = new ActionLine([this] { return what_can_be_done(); }, ground);
    connect(actions_, &ActionLine::closed, this, [this] { show_view(view()); });
    findable_ = new Findable(yard_, *views_, this);
    riders_ = new RiderChooser(yard_, ground);
    connect(riders_, &RiderChooser::closed, this, [this] { views_->all()[int(view())]->setFocus(); });
    connect(riders_, &RiderChooser::wants_say_rider, this, [this] { views_->on_bench("say_rider"); });
    connect(riders_, &RiderChooser::wants_say_horse, this, [this] { views_->on_bench("say_horse"); });
    connect(riders_, &RiderChooser::chosen, views_, &Views::choose_rider);
    build_actions();
    follow_work();
    show_view(ViewName::yard);
    if (!yard_.said_at_start().isEmpty()) say(yard_.said_at_start());
}

void MainWindow::build_views() {
    views_ = new Views(yard_, bench_, importer_, preparing_, keys_, stack_);
    views_->setParent(this);
    const std::vector<View*>& all = views_->all();
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto view = static_cast<ViewName>(i);
        const QList<QKeySequence> keys{QKeySequence(key_of(view))};
        everywhere(
            {}, all[i]->title(), [this, view] { show_view(view); },
            view == ViewName::exercises ? QList<QKeySequence>{} : keys);
    }
    connect(head_, &WindowHead::wants_view, this, &MainWindow::show_view);
    connect(head_, &WindowHead::wants_riders, this, [this] { choose_rider(); });
    connect(views_, &Views::say, this, &MainWindow::say);
    connect(views_, &Views::changed, head_, &WindowHead::show_view);
    connect(views_, &Views::rider_changed, head_, &WindowHead::show_rider);
    connect(views_, &Views::wants_files, this, &MainWindow::choose_file);
    connect(views_, &Views::wants_whole_screen, this, [this](bool whole) {
        head_->setVisible(!whole);
        whole ? showFullScreen() : showNormal();
    });
}

void MainWindow::follow_work() {
    connect(&bench_, &app::Bench::trouble, this, &MainWindow::say);
    connect(&bench_, &app::Bench::moved, &importer_, &app::Importer::find_neighbours);
    connect(&importer_, &app::Importer::failed, this, &MainWindow::say);
    connect(&preparing_, &app::Preparing::say, this, &MainWindow::say);
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

void MainWindow::everywhere(const QString& id, const QString& words, std::function<void()> act,
                            const QList<QKeySequence>& keys) {
    auto* action = new QAction(words, this);
    action->setShortcuts(keys.isEmpty() && !id.isEmpty() ? view_keys(id) : keys);
    connect(action, &QAction::triggered, this, std::move(act));
    addAction(action);
    everywhere_ << action;
    if (id.isEmpty()) return;
    action->setObjectName(id);
    keys_.know(action);
}

void MainWindow::build_actions() {
    everywhere("find_action", tr("Find what can be done"), [this] { actions_->open(); });
    everywhere("choose_rider", tr("Choose a rider"), [this] { choose_rider(); });
    everywhere("find_words", tr("Find a rider, horse, fault, note or day"), [this] { views_->find_words(); });
    everywhere("add_clips", tr("Add clips"), [this] { choose_file(); });
    everywhere("undo", tr("Take back"), [this] { say(yard_.steps().undo()); });
    everywhere("redo", tr("Do again"), [this] { say(yard_.steps().redo()); });
    everywhere("save_marks", tr("Save the marks"), [this] { views_->files().save_marks(); });
    everywhere("take_marks", tr("Take in marks"), [this] { views_->files().take_marks(); });
    everywhere("save_events", tr("Save the events"), [this] { views_->files().save_events(); });
    everywhere("take_events", tr("Take in events"), [this] { views_->files().take_events(); });
    everywhere("save_tracks", tr("Save the followed joints"), [this] { views_->files().save_tracks(); });
    everywhere("save_corrections", tr("Save what was corrected of read joints, for another yard"),
               [this] { views_->files().save_corrections(); });
    everywhere("take_corrections", tr("Take in another yard's corrections of read joints"),
               [this] { views_->files().take_corrections(); });
    everywhere("theme", tr("Light or dark"), [this] { change_theme(); });
    everywhere("prepare", tr("Look through the inbox in the background: on, off"),
               [this] { change_preparing(); });
    everywhere("all_keys", tr("All keys"),
               [this] { overlay_->isVisible() ? overlay_->hide() : overlay_->open(); });
    everywhere("back_up", tr("Back up the records"), [this] { views_->files().back_up(); });
    everywhere("restore", tr("Restore a backup"), [this] { views_->files().restore(); });
    everywhere("leave", tr("Leave"), [this] { close(); });
}

/// What works everywhere, what the view that is shown can do, and what can be gone to.
QList<QAction*> MainWindow::what_can_be_done() const {
    return everywhere_ + views_->all()[static_cast<std::size_t>(view())]->deeds() + findable_->all();
}

void MainWindow::change_theme() {
    const bool dark = !theme().dark;
    apply_theme(*qApp, dark ? ThemeChoice::dark : ThemeChoice::light);
    yard_.set("theme", dark ? "dark" : "light");
    show_view(view());
}

void MainWindow::bring_in(const QStringList& files) {
    QStringList clips;
    for (const QString& f : files) {
        if (!f.endsWith(".zip", Qt::CaseInsensitive))
            clips << f;
        else if (const QString line = bundles().open(f); !line.isEmpty())
            say(line);
    }
    imports_open_first_ = clips.size() == 1 ? 1 : 0;
    if (!clips.isEmpty()) importer_.bring_in(clips);
}

void MainWindow::start_demo() {
    demo_ = std::make_unique<app::DemoYard>(yard_);
    connect(demo_.get(), &app::DemoYard::progress, this, [this](int done, int total) {
        views_->note(
            done < total
                ? tr("The demo's clips are being painted: %1 of %2. Go ahead with those that are there.")
                      .arg(done)
                      .arg(total)
                : QString());
    });
    connect(demo_.get(), &app::DemoYard::failed, this, &MainWindow::say);
    views_->note(tr("The demo's first clip is being painted …"));
    demo_->start();
}

void MainWindow::choose_rider() {
    riders_->open(views_->rider_in_hand(), view() == ViewName::review && bench_.is_open());
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

void MainWindow::say(const QString& line) { head_->said().say(line); }

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
    QStringList clips;
    for (const QUrl& url : e->mimeData()->urls()) {
        const QString file = url.toLocalFile();
        if (file.isEmpty()) continue;
        if (file.endsWith(".json"))
            views_->files().take_marks_from(file);
        else if (file.endsWith(".csv"))
            views_->files().take_events_from(file);
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
