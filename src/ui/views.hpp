#pragma once

#include <QObject>
#include <functional>
#include <vector>

#include "app/leaving/bundle_out.hpp"
#include "app/models/thumbs.hpp"
#include "app/review/bench.hpp"
#include "app/review/preparing.hpp"
#include "app/yard/importer.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/view.hpp"

class QStackedWidget;

namespace aspen::ui {

class ArenaView;
class CompareView;
class ExercisesView;
class EyeView;
class FilesInOut;
class HandOverView;
class LessonView;
class PrescribeView;
class ProgressView;
class ReviewView;
class SchoolsView;
class YardView;

/// In the order of Views::all().
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

/// All views and the ways between them: what one of them wants of another is joined here and nowhere else.
class Views : public QObject {
    Q_OBJECT
  public:
    Views(app::Yard& yard, app::Bench& bench, app::Importer& importer, app::Preparing& preparing,
          KeyMap& keys, QStackedWidget* stack);

    const std::vector<View*>& all() const { return all_; }
    ViewName shown() const;
    void show(ViewName view);
    void open_clip(store::ClipId id);
    /// The same, on a frame of it.
    void open_moment(store::ClipId id, int frame);
    /// The yard, with the line that finds words.
    void find_words();
    /// A line that stands in the yard until it is told otherwise.
    void note(const QString& line);
    app::Bundles& bundles() { return bundles_; }
    FilesInOut& files() { return *files_; }

  signals:
    void say(const QString& line);
    void changed(aspen::ui::ViewName now);
    void wants_files();
    void wants_whole_screen(bool whole);

  private:
    void join_yard();
    void join_review();
    void join_compare();
    void join_training();
    void join_hand_over();
    void join_recorder();
    void join_prepared();
    void open_next_clip();
    void when_ready(const std::function<void()>& then);
    store::RiderId rider_in_hand() const;
    app::Yard& yard_;
    app::Bench& bench_;
    app::Preparing& preparing_;
    QStackedWidget* stack_;
    app::Bundles bundles_;
    app::Thumbs thumbs_;
    YardView* yard_view_;
    ReviewView* review_;
    CompareView* compare_;
    PrescribeView* prescribe_;
    LessonView* lesson_;
    ArenaView* arena_;
    ProgressView* progress_;
    EyeView* eye_;
    SchoolsView* schools_;
    ExercisesView* exercises_;
    HandOverView* hand_over_;
    FilesInOut* files_;
    std::vector<View*> all_;
};

}  // namespace aspen::ui
