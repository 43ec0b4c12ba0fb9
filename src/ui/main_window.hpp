#pragma once

#include <QLabel>
#include <QMainWindow>
#include <QStackedWidget>
#include <functional>
#include <memory>
#include <vector>

#include "app/demo/demo_yard.hpp"
#include "app/leaving/bundle_out.hpp"
#include "app/models/thumbs.hpp"
#include "app/review/bench.hpp"
#include "app/review/preparing.hpp"
#include "app/yard/importer.hpp"
#include "ui/shared/action_line.hpp"
#include "ui/shared/jobs_line.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/said_line.hpp"
#include "ui/shared/theme.hpp"

class QHBoxLayout;
class QPushButton;

namespace aspen::ui {

class ArenaView;
class CompareView;
class ExercisesView;
class EyeView;
class HandOverView;
class KeyOverlay;
class LessonView;
class PrescribeView;
class ProgressView;
class ReviewView;
class SchoolsView;
class YardView;

enum class ViewName {
    yard,
    review,
    compare,
    prescribe,
    lesson,
    arena,
    progress,
    eye,
    schools,
    exercises,
    hand_over
};

/// A view as the window knows it: what it is called, what can be done in it, and what happens when it is
/// shown or left.
struct View {
    QString title;
    QWidget* widget = nullptr;
    QList<QAction*> actions{};
    std::function<void()> shown{}, hidden{};
};

/// The window: the views in the order of work, one line that speaks, and what works everywhere (open,
/// drop, undo, going from view to view).
class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    explicit MainWindow(app::Yard& yard, QWidget* parent = nullptr);

    void show_view(ViewName view);
    ViewName view() const;
    void open_clip(store::ClipId id);
    /// The same, on a frame of it.
    void open_moment(store::ClipId id, int frame);
    void bring_in(const QStringList& files);
    void start_demo();
    /// Looks through the clips of the inbox in the background, unless the coach said no.
    void prepare_inbox();
    QString last_line() const { return line_->text(); }
    SaidLine& said_line() { return *line_; }

    app::Bench& bench() { return bench_; }
    app::Importer& importer() { return importer_; }
    app::Preparing& preparing() { return preparing_; }
    ReviewView& review() { return *review_; }
    CompareView& compare() { return *compare_; }
    PrescribeView& prescribe() { return *prescribe_; }
    EyeView& eye() { return *eye_; }
    HandOverView& hand_over() { return *hand_over_; }
    LessonView& lesson() { return *lesson_; }
    ArenaView& arena() { return *arena_; }
    ProgressView& progress() { return *progress_; }
    SchoolsView& schools() { return *schools_; }
    ExercisesView& exercises() { return *exercises_; }
    YardView& yard_view() { return *yard_view_; }
    KeyMap& keys() { return keys_; }
    KeyOverlay& overlay() { return *overlay_; }
    ActionLine& action_line() { return *actions_; }
    JobsLine& jobs_line() { return *jobs_line_; }
    app::Bundles& bundles() { return bundles_; }

  public slots:
    /// One line, for some seconds; also for screen readers.
    void say(const QString& line);

  protected:
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;
    void closeEvent(QCloseEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    void build_top();
    void build_views();
    void build_actions();
    void open_hand_over();
    void follow_hand_over();
    void when_ready(const std::function<void()>& then);
    void follow_views();
    void follow_training();
    void follow_work();
    QList<QAction*> what_can_be_done() const;
    store::RiderId rider_in_hand();
    /// A key that works everywhere, with its name for the line that finds it; `id` where hints name it.
    void everywhere(const QString& id, const QString& words, std::function<void()> act,
                    const QList<QKeySequence>& keys = {});
    void choose_file();
    void change_theme();
    void change_preparing();
    void import_marks(const QString& file);
    void import_events(const QString& file);
    void export_marks();
    void back_up();
    void restore();
    app::Yard& yard_;
    app::Bench bench_;
    app::Importer importer_;
    app::Preparing preparing_;
    KeyMap keys_;
    app::Bundles bundles_;
    app::Thumbs thumbs_;
    std::unique_ptr<app::DemoYard> demo_;
    QStackedWidget* stack_;
    QWidget* top_;
    QLabel* name_;
    SaidLine* line_;
    JobsLine* jobs_line_;
    ActionLine* actions_;
    std::vector<View> views_;
    QList<QAction*> everywhere_;
    std::vector<QPushButton*> buttons_;
    QHBoxLayout* top_row_ = nullptr;
    YardView* yard_view_;
    ReviewView* review_;
    CompareView* compare_;
    PrescribeView* prescribe_;
    HandOverView* hand_over_ = nullptr;
    EyeView* eye_;
    LessonView* lesson_;
    ArenaView* arena_;
    ProgressView* progress_;
    SchoolsView* schools_;
    ExercisesView* exercises_;
    KeyOverlay* overlay_;
    int known_ = 0;  ///< of the clips brought in together, those that were here already
    int imports_open_first_ = 0;
};

}  // namespace aspen::ui
