#pragma once

#include <QLabel>
#include <QWidget>
#include <optional>
#include <vector>

#include "app/review/stride_work.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/shared/hint_line.hpp"

class QCustomPlot;
class QCPGraph;
class QCPItemLine;

namespace aspen::ui {

/// One measure of the followed stretch under the film, on the film's own axis: its strides ruled in, the band
/// behind, moments and events on it. Press or drag in it and the picture follows. Or all strides laid over
/// each other, with their mean and its spread.
class CurvesPanel : public BenchPanel {
    Q_OBJECT
  public:
    CurvesPanel(const app::BenchState& now, app::StrideWork& work, const KeyMap& keys,
                QWidget* parent = nullptr);
    void show_state(app::BenchParts) override {}
    void show_frame() override;
    void open() { rebuild(); }
    /// Up and down through the measures that were followed.
    void move(int by);
    /// Shows a measure's curve, by its own id or that of what it does over the strides.
    void choose(const std::string& measure);
    std::string chosen() const { return chosen_; }
    void lay_over(bool on);
    bool laid_over() const { return laid_over_; }
    /// Lays the strides of the other rein beside them; false where none were followed.
    bool set_against_other_rein(bool on);
    bool against_other_rein() const { return other_.has_value(); }
    /// Goes to the frame where the stride that stands out most is farthest out; false where there is none.
    bool go_to_worst();
    QString title() const;
    QString said() const;

  protected:
    bool eventFilter(QObject* object, QEvent* event) override;
    void changeEvent(QEvent* event) override;

  private:
    void rebuild();
    void draw_along(const core::MotionReport& report, const core::MotionCurve& curve);
    void draw_over(const core::MotionReport& report, const core::MotionCurve& curve);
    void draw_other_rein(const core::MotionCurve& curve);
    QString said_of_reins(const core::MotionReport& report, const core::MotionCurve& curve) const;
    void word_axis(const core::MotionCurve& shown);
    void draw_band(const core::MotionCurve& curve, double from, double to);
    void draw_strides(const core::MotionReport& report, const core::MotionCurve& curve);
    void mark_moments(const core::MotionReport& report, const core::MotionCurve& curve);
    void fit_values(const core::MotionCurve& curve);
    void place_cursor();
    void say(const core::MotionReport& report, const core::MotionCurve& curve);
    void dress();
    std::vector<const core::MotionCurve*> curves() const;
    const core::MotionCurve* curve() const;
    double frame_of(double real_s) const;
    app::StrideWork& work_;
    QLabel* title_;
    QLabel* said_;
    HintLine* foot_;
    QCustomPlot* plot_;
    QCPItemLine* cursor_ = nullptr;
    std::string chosen_;
    bool laid_over_ = false;
    std::optional<core::MotionReport> other_;  ///< of the other rein
    double low_ = 0, high_ = 1;
    int shown_stretch_ = -1;  ///< its first frame
};

}  // namespace aspen::ui
