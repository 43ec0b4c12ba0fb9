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
#include "ui/window/window_head.hpp"

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
    void show_outbox();
    /// What a rider agreed to.
    void show_consents(store::RiderId rider);
    void show_exercise(const std::string& id);
    void show_school(const std::string& id);
    /// Does something on the bench, by its id.
    void on_bench(const QString& action);
    /// The yard, with the line that finds words.
    void find_words();
    /// Takes a rider in hand: every page is this rider's from now on. From the yard the rider's page that was
    /// shown last opens; on the bench the rider's newest clip, where there is one.
    void choose_rider(aspen::store::RiderId id);
    /// Who was chosen last, or rides in the clip on the bench; before either the first there is.
    store::RiderId rider_in_hand() const;
    /// A line that stands in the yard until it is told otherwise.
    void note(const QString& line);
    app::Bundles& bundles() { return bundles_; }
    FilesInOut& files() { return *files_; }

  signals:
    void say(const QString& line);
    void changed(aspen::ui::ViewName now);
    /// Who is in hand, or what is said of them, changed.
    void rider_changed(const aspen::ui::HeadRider& rider);
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
    void join_rider();
    HeadRider head_rider() const;
    store::ClipId newest_clip(store::RiderId rider) const;
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
    store::RiderId hand_;                 ///< chosen last
    store::RiderId on_bench_;             ///< who rode there when it was last looked at
    ViewName page_ = ViewName::progress;  ///< the rider's page shown last
};

}  // namespace aspen::ui
