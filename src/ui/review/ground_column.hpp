#pragma once

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/review/player.hpp"
#include "app/review/way_work.hpp"
#include "exchange/ground_plan.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/review/picture_tool.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/word_line.hpp"

namespace aspen::ui {

/// Where the horse went: the arena is clicked on the picture, letter by letter, and lies over it as a grid;
/// the plan beside it shows the way to scale, and what it says of the figure that was asked. A press on the
/// way goes to its frame.
class GroundColumn : public BenchPanel, public PictureTool {
    Q_OBJECT
  public:
    /// What clicks on the picture are for: places of the arena, the horse on the ground, or nothing.
    enum class Stage { places, horse, asked };
    GroundColumn(const app::BenchState& now, app::WayWork& work, app::Player& player, WordLine& line,
                 const KeyMap& keys, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    void show_frame() override;
    void clip_opened() override;
    /// Comes into the place of the column, or leaves it.
    void open();
    void leave();
    bool is_on() const { return on_; }
    Stage stage() const { return stage_; }
    /// True when the key was one of its own.
    bool take_key(const QKeyEvent& e);
    /// One stage back; false where there is none, and it may be left.
    bool step_back();
    /// The letter the next click is for; empty where one is to be typed.
    const std::string& next() const { return next_; }
    const exchange::GroundPlan& plan() const { return plan_; }
    QRectF plan_area() const;
    QStringList said() const { return said_; }
    QString heading() const { return heading_->text(); }

    bool takes_clicks() const override;
    std::pair<QString, QString> prompt() const override;
    void click(core::Point at, double zoom) override;
    void paint(QPainter& p, const PictureStage::Place& place) const override;

  signals:
    void say(const QString& line);
    void repaint_picture();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

  private:
    void refresh();
    void rebuild_plan(const app::RiddenGround* ground);
    void tell(const app::RiddenGround* ground);
    void tell_held(const app::RiddenGround& ground);
    QString how_sure(const app::RiddenGround& ground) const;
    bool place_key(const QKeyEvent& e);
    bool asked_key(const QKeyEvent& e);
    void go_on();
    void other_arena();
    void say_height();
    void say_wide();
    void ask_figure(core::FigureKind kind);
    void ask_circle();
    void ask_diagonal();
    std::pair<int, int> asked_frames() const;
    std::string nearest_place(core::Point at) const;
    void place_named(const std::string& name);
    app::WayWork& work_;
    app::Player& player_;
    WordLine& line_;
    QLabel *heading_, *about_;
    QWidget* sayings_;
    QVBoxLayout* lines_;
    QPushButton* on_button_;
    HintLine* foot_;
    exchange::GroundPlan plan_;
    QStringList said_;
    std::string next_;
    std::optional<std::pair<core::Point, double>> waiting_;  ///< clicked before its letter was typed
    Stage stage_ = Stage::places;
    bool on_ = false;
};

}  // namespace aspen::ui
