#pragma once

#include <QHash>
#include <QWidget>
#include <functional>

#include "app/leaving/frames_out.hpp"
#include "app/review/clip_sound.hpp"
#include "app/review/commands.hpp"
#include "app/review/event_log.hpp"
#include "app/review/fence_phases.hpp"
#include "app/review/figure_maker.hpp"
#include "app/review/player.hpp"
#include "app/review/prepared_here.hpp"
#include "app/review/stride_work.hpp"
#include "app/review/way_work.hpp"
#include "app/telling/recorder.hpp"
#include "app/yard/importer.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/view.hpp"

namespace aspen::ui {

class AskPanel;
class Column;
class BenchPanel;
class ContextBar;
class FindingsPanel;
class GroundColumn;
class LastLine;
class LowerPanel;
class NameLine;
class NoticeBand;
class PreparedLine;
class EventLane;
class Strip;
class TurnedHorse;
class WordLine;

/// The bench: picture, strip and findings on the left, the column on the right. Every key of the map does its
/// action here.
class ReviewView : public View {
    Q_OBJECT
  public:
    ReviewView(app::Bench& bench, app::Importer& importer, KeyMap& keys, QWidget* parent = nullptr);
    QString title() const override { return tr("Ride"); }
    QList<QAction*> deeds() const override;
    void open() override;
    void leave() override { player_.pause(); }
    PictureView& picture() { return *picture_; }
    FindingsPanel& findings();
    LastLine& last_time() { return *last_; }
    app::Player& player() { return player_; }
    ContextBar& context() { return *context_; }
    AskPanel& asking() { return *ask_; }
    app::FigureMaker& maker() { return maker_; }
    app::EventLog& log() { return log_; }
    app::StrideWork& strides() { return strides_; }
    app::PreparedHere& prepared() { return prepared_; }
    PreparedLine& seems() { return *seems_; }
    NoticeBand& notices() { return *band_; }
    EventLane& event_lane() { return *events_; }
    Column& column() { return *column_; }
    GroundColumn& ground() { return *ground_; }
    app::WayWork& way() { return way_; }
    LowerPanel& lower() { return *lower_; }
    app::Recorder& recorder() { return recorder_; }
    /// Does an action of the key map.
    void act(const QString& action);

  signals:
    void wants_exercise();
    /// This moment against another.
    void wants_compare(aspen::store::ClipId clip, int frame);
    void wants_next_clip();
    void wants_hand_over();
    void recorded(aspen::store::SpokenId id);
    void wants_band(const QString& measure);

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void keyReleaseEvent(QKeyEvent*) override;

  private:
    void does(const QString& id, std::function<void()> act);
    void lay_out();
    void join(BenchPanel& panel);
    void join_panels();
    void join_parts();
    void bind_saving();
    void bind_looking();
    void bind_notes();
    void bind_stretches();
    void bind_joints();
    void bind_seeing();
    void bind_findings();
    void bind_events();
    void bind_strides();
    void bind_prepared();
    void bind_ground();
    void show_ground(bool on);
    bool shows_strides() const;
    void light_strides();
    bool event_key(const QString& action, const QKeyEvent& e);
    bool arrow(const QString& action, const QKeyEvent& e);
    bool digit(const QKeyEvent& e);
    void let_go();
    void name_by_letters();
    void mark_again();
    void note_stirrups();
    void write_note();
    void choose_movement(bool asked);
    void choose_riding();
    void name_moment();
    void rename(std::size_t stretch);
    void write_remark(store::RemarkKind kind);
    void next_rider();
    QString name_of(store::RiderId id) const;
    void take_line(PictureView::Line line, core::Point a, core::Point b);
    void see(PictureView::Part part);
    void ask_for_face(const QString& trouble, const std::function<void()>& again);
    void take_face(core::Point middle, core::Point edge);
    void bind_faces();
    void bind_telling();
    void record();
    void quiet_down();
    void write_stretch(int from, int to, const QString& file, const app::StretchLook& look);
    void save_slowed();
    void copy_frame(bool with_figure);
    void save_frame();
    void save_stretch();
    QStringList phrases() const;
    app::Bench& bench_;
    app::Commands commands_;
    KeyMap& keys_;
    app::Player player_;
    app::StretchWriter stretch_;
    app::ClipSound sound_;
    app::FigureMaker maker_;
    app::EventLog log_;
    app::StrideWork strides_;
    app::FencePictures fence_pictures_;
    app::WayWork way_;
    app::PreparedHere prepared_;
    app::Recorder recorder_;
    NoticeBand* band_;
    bool held_record_ = false;  ///< the key has not been let go since it began
    ContextBar* context_;
    PictureView* picture_;
    AskPanel* ask_;
    TurnedHorse* turned_;
    Strip* strip_;
    EventLane* events_;
    LowerPanel* lower_;
    LastLine* last_;
    PreparedLine* seems_;
    NameLine* name_;
    Column* column_;
    GroundColumn* ground_;
    WordLine* line_;
    bool face_of_other_ = false;  ///< whose face is being set
    std::function<void()> after_face_, again_with_face_;
};

}  // namespace aspen::ui
