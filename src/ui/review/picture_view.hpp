#pragma once

#include <QHash>
#include <QWidget>
#include <functional>

#include "app/review/figure_maker.hpp"
#include "core/telling/telling.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/review/picture_tool.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/picture_stage.hpp"

namespace aspen::ui {

struct FigureLook;

/// The picture with the figure on it: the largest thing on the bench. Places, drags and selects joints, takes
/// the three clicks a figure is laid from, shows a loupe under the pointer, zooms with the wheel or to a part
/// of the body, pans with the middle button or Ctrl. Everything the mouse does here a reticle moved by arrows
/// does too.
class PictureView : public BenchPanel {
    Q_OBJECT
  public:
    PictureView(const app::BenchState& now, const KeyMap& keys, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    void show_frame() override;
    void clip_opened() override;

    /// A line to draw on the picture: the next drag is the line.
    enum class Line { none, upright, level, scale, cover, arrow, circle, words, lap_line, overstep, step };
    void draw_line(Line line);
    Line drawing() const { return drawing_; }
    bool drawing_upright() const { return drawing_ == Line::upright; }

    /// Asks for the three clicks; `again` without any clicks yet leaves it.
    void ask_three(app::FigureMaker::Way way);
    void leave_three();
    bool asks_three() const { return three_.has_value(); }

    /// The reticle: a place moved by arrows where Enter clicks.
    void show_reticle(bool on);
    bool has_reticle() const { return reticle_.has_value(); }
    void move_reticle(double dx, double dy);
    void press_reticle();

    /// While it plays nothing is asked for.
    /// Findings drawn on the frame, or the bare figure.
    void show_marks(bool on) {
        marks_ = on;
        update();
    }
    bool shows_marks() const { return marks_; }
    void be_quiet(bool on) {
        quiet_ = on;
        update();
    }
    /// Where a display pixel falls in the widget, and back.
    QPointF to_widget(core::Point p) const;
    core::Point to_picture(QPointF p) const;
    /// Screen pixels a picture pixel, relative to fitting the bench.
    double zoom() const { return zoom_; }
    core::SeenPart seen_part() const;
    void zoom_to_fit();
    void zoom_by(double factor, QPointF at);
    enum class Part { whole, rider, head, trunk, leg, hand, horse };
    /// Frames a part of the body. False where too few of its joints are there.
    bool see(Part part);
    /// Frames the joints a measure is read from and draws it there; again, or an empty id, lets go.
    void show_measure(const QString& id);
    QString measure_shown() const { return measure_; }
    /// Lifts brightness and contrast of dark clips, for looking only: 0 as it is, 1, 2.
    void set_lift(int level);
    /// Where the joints of an unmarked frame were followed to, drawn thin; empty for nothing.
    void set_followed(std::function<std::optional<core::Figure>(int)> at) { followed_ = std::move(at); }
    /// The rider as read on an unmarked frame where nothing was followed from marks, limbs alone; empty for
    /// nothing.
    void set_read(std::function<std::optional<core::Figure>(int)> at) { read_ = std::move(at); }
    /// On so many moments a figure waits to be taken, and the coach marked none: said before any joint is
    /// asked for.
    void set_waiting(std::size_t figures) {
        waiting_ = figures;
        update();
    }
    /// Takes the clicks while it wants them, and paints over the picture; stands as long as this.
    void set_tool(PictureTool* tool) { tool_ = tool; }
    int lift() const { return stage_.lift(); }
    /// What is asked for next, in words.
    QString asks() const { return prompt_->isHidden() ? QString() : prompt_->spoken(); }
    /// The figure that is shown and its selected joint, for screen readers.
    core::Figure figure() const { return now_.marking().figure(); }
    std::optional<core::Landmark> selected() const { return now_.marking().selected(); }
    core::Point pointer_in_picture() const { return to_picture(pointer_); }

  signals:
    void part_seen(const aspen::core::SeenPart& part);  ///< closer, farther, moved
    void line_drawn(aspen::ui::PictureView::Line line, aspen::core::Point a, aspen::core::Point b);
    void three_clicked(aspen::core::Point top, aspen::core::Point second, aspen::core::Point third,
                       aspen::app::FigureMaker::Way way);
    void say(const QString& words);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void leaveEvent(QEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    void refresh();
    std::optional<core::Landmark> joint_at(QPointF p) const;
    bool aims_at(core::Landmark l, QPointF at) const;
    void click(core::Point at);
    void frame(const QRectF& picture_area, double margin);
    void paint_figures(QPainter& p) const;
    void paint_unmarked(QPainter& p, const FigureLook& look) const;
    void read_names();
    void paint_loupe(QPainter& p) const;
    void paint_glass(QPainter& p, QPointF place) const;
    std::optional<core::Landmark> looked_at() const;
    void tell_prompt();
    void add_layers();
    void paint_reticle(QPainter& p) const;
    std::pair<QString, QString> prompt() const;
    bool tool_takes() const { return tool_ && tool_->takes_clicks(); }
    void tell_size();
    void update_cursor();
    PictureStage::Place place() const;
    double scale() const { return place().scale(); }
    bool inside(core::Point p) const;

    double zoom_ = 1;
    QPointF pan_;  ///< of the picture's middle, widget pixels
    QPointF pointer_{-1, -1};
    std::optional<core::Landmark> held_;
    QPointF press_, pan_press_;
    bool panning_ = false, moved_ = false;
    Line drawing_ = Line::none;
    std::optional<std::pair<core::Point, core::Point>> line_;
    std::optional<app::FigureMaker::Way> three_;
    std::vector<core::Point> clicks_;
    std::optional<core::Point> reticle_;
    QString measure_;
    QHash<int, QString> names_;  ///< by slot, in a clip of several riders
    bool quiet_ = false;
    bool marks_ = true;  ///< findings are drawn on the frame
    PictureStage stage_;
    HintLine* prompt_;
    bool prompt_waits_ = false;
    /// What the prompt says, how wide it may be and in which letters: what its size was measured for.
    struct Told {
        QString strong, rest;
        int room = 0;
        QFont font;
        bool operator==(const Told&) const = default;
    };
    Told told_;
    core::SeenPart last_part_;
    std::function<std::optional<core::Figure>(int)> followed_, read_;
    std::size_t waiting_ = 0;
    PictureTool* tool_ = nullptr;
};

}  // namespace aspen::ui
