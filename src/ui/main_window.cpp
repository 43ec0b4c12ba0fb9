#include "ui/main_window.hpp"

#include <QApplication>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QShortcut>
#include <QStandardPaths>
#include <QSvgRenderer>
#include <QTimer>
#include <QVBoxLayout>

#include "app/marks_exchange.hpp"
#include "core/refused.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/progress/progress_view.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/review/review_view.hpp"
#include "ui/shared/key_overlay.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/yard_view.hpp"

namespace aspen::ui {
namespace {

constexpr int kLineStaysMs = 9000;

QPixmap leaf(int size) {
    QPixmap out(size, size);
    out.fill(Qt::transparent);
    QPainter p(&out);
    QSvgRenderer(QString(":/aspen/icons/leaf.svg")).render(&p);
    return out;
}

}  // namespace

MainWindow::MainWindow(app::Yard& yard, QWidget* parent)
    : QMainWindow(parent), yard_(yard), bench_(yard), importer_(yard), keys_(yard), thumbs_(yard) {
    setWindowTitle("Aspen Crest");
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
    yard_view_ = new YardView(yard_, thumbs_, stack_);
    review_ = new ReviewView(bench_, importer_, keys_, stack_);
    prescribe_ = new PrescribeView(bench_, stack_);
    progress_ = new ProgressView(yard_, thumbs_, stack_);
    for (QWidget* w : {static_cast<QWidget*>(yard_view_), static_cast<QWidget*>(review_),
                       static_cast<QWidget*>(prescribe_), static_cast<QWidget*>(progress_)})
        stack_->addWidget(w);
    all->addWidget(stack_, 1);
    setCentralWidget(ground);
    overlay_ = new KeyOverlay(keys_, ground);
    build_actions();
    connect(yard_view_, &YardView::wants_backup, this, &MainWindow::back_up);
    connect(yard_view_, &YardView::wants_restore, this, &MainWindow::restore);
    connect(review_, &ReviewView::wants_next_clip, this, [this] {
        const auto next =
            bench_.is_open() ? yard_view_->next_after(bench_.clip().id) : yard_view_->next_clip();
        if (next)
            open_clip(next);
        else
            say("No other clip waits.");
    });
    connect(yard_view_, &YardView::open_clip, this, &MainWindow::open_clip);
    connect(yard_view_, &YardView::open_rider, this, [this](store::RiderId id) {
        progress_->show_rider(id);
        show_view(ViewName::progress);
    });
    connect(yard_view_, &YardView::choose_file, this, &MainWindow::choose_file);
    connect(yard_view_, &YardView::say, this, &MainWindow::say);
    connect(progress_, &ProgressView::open_clip, this, &MainWindow::open_clip);
    connect(review_, &ReviewView::wants_exercise, this, [this] { show_view(ViewName::prescribe); });
    connect(prescribe_, &PrescribeView::say, this, &MainWindow::say);
    connect(review_, &ReviewView::say, this, &MainWindow::say);
    connect(prescribe_, &PrescribeView::given, this, [this](store::RiderId id) {
        progress_->show_rider(id);
        say("Given. It stands on the rider's card; Ctrl+Z takes it back.");
    });
    connect(&bench_, &app::Bench::trouble, this, &MainWindow::say);
    connect(&importer_, &app::Importer::failed, this, &MainWindow::say);
    connect(&importer_, &app::Importer::imported, this, [this](store::ClipId id, bool known) {
        if (imports_open_first_ > 0) {
            imports_open_first_ = 0;
            open_clip(id);
        }
        if (known) ++known_;
        if (importer_.waiting() > 0 || known_ == 0) return;
        say(known_ == 1
                ? QString("This clip is in the yard already; its record goes on.")
                : QString("%1 of these clips are in the yard already; their records go on.").arg(known_));
        known_ = 0;
    });
    connect(&importer_, &app::Importer::progress, this, [this](int waiting) {
        work_->setText(waiting > 0 ? QString("bringing in %1 …").arg(waiting) : QString());
    });
    show_view(ViewName::yard);
}

void MainWindow::build_top() {
    top_ = new QWidget(this);
    auto* row = new QHBoxLayout(top_);
    row->setContentsMargins(16, 4, 16, 0);
    row->setSpacing(4);
    auto* mark = new QLabel(top_);
    mark->setPixmap(leaf(24));
    row->addWidget(mark);
    row->addWidget(heading_label("Aspen Crest", top_));
    row->addSpacing(24);
    static const char* names[] = {"Yard", "Review", "Prescribe", "Progress"};
    for (int i = 0; i < 4; ++i) {
        auto* b = new QPushButton(names[i], top_);
        b->setObjectName("view");
        b->setCheckable(true);
        b->setToolTip(QString("Ctrl+%1").arg(i + 1));
        connect(b, &QPushButton::clicked, this, [this, i] { show_view(static_cast<ViewName>(i)); });
        connect(new QShortcut(QKeySequence(QString("Ctrl+%1").arg(i + 1)), this), &QShortcut::activated, this,
                [this, i] { show_view(static_cast<ViewName>(i)); });
        buttons_[static_cast<std::size_t>(i)] = b;
        row->addWidget(b);
    }
    row->addSpacing(16);
    line_ = quiet_label("", top_);
    line_->setWordWrap(false);
    line_->setMinimumWidth(0);
    line_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    line_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    row->addWidget(line_, 1);
    work_ = quiet_label("", top_);
    work_->setWordWrap(false);
    work_->setObjectName("small");
    row->addWidget(work_);
}

void MainWindow::build_actions() {
    const auto key = [this](const QKeySequence& keys, auto act) {
        connect(new QShortcut(keys, this), &QShortcut::activated, this, act);
    };
    key(QKeySequence::Open, [this] { choose_file(); });
    key(QKeySequence::Undo, [this] {
        const QString what = yard_.undo_stack().undoText();
        yard_.undo_stack().undo();
        if (!what.isEmpty()) say("Taken back: " + what.toLower());
    });
    const auto redo = [this] {
        const QString what = yard_.undo_stack().redoText();
        yard_.undo_stack().redo();
        if (!what.isEmpty()) say("Done again: " + what.toLower());
    };
    key(QKeySequence("Ctrl+Y"), redo);
    key(QKeySequence("Ctrl+Shift+Z"), redo);
    key(QKeySequence("Ctrl+E"), [this] { export_marks(); });
    key(QKeySequence("Ctrl+I"), [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, "Take in marks", {}, "COCO key points (*.json)");
        if (!file.isEmpty()) import_marks(file);
    });
    key(QKeySequence("F9"), [this] { change_theme(); });
    key(QKeySequence("F1"), [this] { overlay_->isVisible() ? overlay_->hide() : overlay_->open(); });
    key(QKeySequence("?"), [this] { overlay_->isVisible() ? overlay_->hide() : overlay_->open(); });
    key(QKeySequence::Quit, [this] { close(); });
}

void MainWindow::change_theme() {
    const bool dark = !theme().dark;
    apply_theme(*qApp, dark ? ThemeChoice::dark : ThemeChoice::light);
    yard_.records().set_setting("theme", dark ? "dark" : "light");
    const ViewName now = view();
    show_view(now);
}

void MainWindow::show_view(ViewName v) {
    stack_->setCurrentIndex(static_cast<int>(v));
    for (int i = 0; i < 4; ++i) buttons_[static_cast<std::size_t>(i)]->setChecked(i == static_cast<int>(v));
    stack_->currentWidget()->setFocus();
    if (v == ViewName::review)
        review_->picture().setFocus();
    else
        review_->player().pause();
}

ViewName MainWindow::view() const { return static_cast<ViewName>(stack_->currentIndex()); }

void MainWindow::open_clip(store::ClipId id) {
    bench_.open(id);
    show_view(ViewName::review);
}

void MainWindow::bring_in(const QStringList& files) {
    imports_open_first_ = files.size() == 1 ? 1 : 0;
    importer_.bring_in(files);
}

void MainWindow::start_demo() {
    demo_ = std::make_unique<app::DemoYard>(yard_);
    connect(demo_.get(), &app::DemoYard::progress, this, [this](int done, int total) {
        yard_view_->note(
            done < total
                ? QString("The demo's clips are being painted: %1 of %2. Go ahead with those that are there.")
                      .arg(done)
                      .arg(total)
                : QString());
    });
    connect(demo_.get(), &app::DemoYard::failed, this, &MainWindow::say);
    yard_view_->note("The demo's first clip is being painted …");
    demo_->start();
}

void MainWindow::choose_file() {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, "Add clips", QStandardPaths::writableLocation(QStandardPaths::MoviesLocation),
        "Clips (*.mp4 *.mov *.m4v *.mkv *.avi *.webm *.ts *.mts);;All files (*)");
    if (!files.isEmpty()) bring_in(files);
}

void MainWindow::import_marks(const QString& file) {
    const QString trouble = app::import_marks(bench_, file);
    say(trouble.isEmpty() ? "Marks taken in." : trouble);
}

void MainWindow::export_marks() {
    if (!bench_.is_open()) return say("Open a clip first; then its marks can be saved.");
    const QString file = QFileDialog::getSaveFileName(
        this, "Save the marks", QFileInfo(yard_.file_of(bench_.clip())).completeBaseName() + ".marks.json",
        "COCO key points (*.json)");
    if (file.isEmpty()) return;
    const QString trouble = app::export_marks(bench_, file);
    say(trouble.isEmpty() ? "Saved: " + file : trouble);
}

void MainWindow::back_up() {
    const QString start = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) + "/yard-" +
                          yard_.today().toString(Qt::ISODate) + ".aspen-yard";
    const QString file = QFileDialog::getSaveFileName(this, "Back up the yard's records", start,
                                                      "Yard records (*.aspen-yard)");
    if (file.isEmpty()) return;
    try {
        yard_.back_up(file);
        say("Backed up: " + file + ". The clips themselves are not in it.");
    } catch (const core::Refused& e) {
        say(QString::fromUtf8(e.what()));
    }
}

void MainWindow::restore() {
    const QString file = QFileDialog::getOpenFileName(
        this, "Restore a backup", QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation),
        "Yard records (*.aspen-yard *.db *.before-*)");
    if (file.isEmpty()) return;
    const QString trouble = app::Yard::restore_at_start(yard_.folder().absolutePath(), file);
    say(trouble.isEmpty()
            ? "It takes the place of the records when the program is started again; today's stay beside it."
            : trouble);
}

void MainWindow::say(const QString& line) {
    line_text_ = line;
    line_->setText(line);
    line_->setToolTip(line);
    line_->setAccessibleName(line);
    QTimer::singleShot(kLineStaysMs, this, [this, line] {
        if (line_->text() == line) line_->clear();
    });
}

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
        else
            clips << file;
    }
    if (!clips.isEmpty()) bring_in(clips);
}

void MainWindow::closeEvent(QCloseEvent* e) {
    bench_.close();
    QMainWindow::closeEvent(e);
}

}  // namespace aspen::ui
