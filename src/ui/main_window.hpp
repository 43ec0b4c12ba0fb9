#pragma once

#include <QMainWindow>
#include <QStackedWidget>
#include <functional>
#include <memory>
#include <vector>

#include "app/demo/demo_yard.hpp"
#include "app/review/bench.hpp"
#include "app/review/preparing.hpp"
#include "app/yard/importer.hpp"
#include "ui/files_in_out.hpp"
#include "ui/findable.hpp"
#include "ui/shared/action_line.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/views.hpp"
#include "ui/window/rider_chooser.hpp"
#include "ui/window/window_head.hpp"

namespace aspen::ui {

class KeyOverlay;

/// The window: its head in two levels (the yard, one rider), the views under it, one line that speaks, and
/// what works everywhere (open, drop, undo, going from view to view).
class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    explicit MainWindow(app::Yard& yard, QWidget* parent = nullptr);

    void show_view(ViewName view) { views_->show(view); }
    ViewName view() const { return views_->shown(); }
    void open_clip(store::ClipId id) { views_->open_clip(id); }
    /// The same, on a frame of it.
    void open_moment(store::ClipId id, int frame) { views_->open_moment(id, frame); }
    /// Takes a rider in hand, as if chosen from the list.
    void choose_rider(store::RiderId id) { views_->choose_rider(id); }
    void bring_in(const QStringList& files);
    void start_demo();
    /// Looks through the clips of the inbox in the background, unless the coach said no.
    void prepare_inbox();
    QString last_line() const { return head_->said().text(); }
    SaidLine& said_line() { return head_->said(); }
    WindowHead& head() { return *head_; }
    RiderChooser& riders() { return *riders_; }

    app::Bench& bench() { return bench_; }
    app::Importer& importer() { return importer_; }
    app::Preparing& preparing() { return preparing_; }
    /// One of the views by its class, for who includes it.
    template <typename Which>
    Which& the() const {
        for (View* v : views_->all()) {
            if (auto* found = qobject_cast<Which*>(v)) return *found;
        }
        qFatal("there is no such view");
    }
    KeyMap& keys() { return keys_; }
    KeyOverlay& overlay() { return *overlay_; }
    ActionLine& action_line() { return *actions_; }
    JobsLine& jobs_line() { return head_->jobs(); }
    app::Bundles& bundles() { return views_->bundles(); }

  public slots:
    /// One line, for some seconds; also for screen readers.
    void say(const QString& line);

  protected:
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;
    void closeEvent(QCloseEvent*) override;

  private:
    void build_views();
    void build_actions();
    void follow_work();
    QList<QAction*> what_can_be_done() const;
    /// A key that works everywhere, with its name for the line that finds it; `id` where hints name it.
    void everywhere(const QString& id, const QString& words, std::function<void()> act,
                    const QList<QKeySequence>& keys = {});
    void choose_file();
    void choose_rider();
    void change_theme();
    void change_preparing();
    app::Yard& yard_;
    app::Bench bench_;
    app::Importer importer_;
    app::Preparing preparing_;
    KeyMap keys_;
    std::unique_ptr<app::DemoYard> demo_;
    QStackedWidget* stack_;
    WindowHead* head_;
    RiderChooser* riders_;
    Findable* findable_;
    ActionLine* actions_;
    Views* views_;
    QList<QAction*> everywhere_;
    KeyOverlay* overlay_;
    int known_ = 0;  ///< of the clips brought in together, those that were here already
    int imports_open_first_ = 0;
};

}  // namespace aspen::ui
