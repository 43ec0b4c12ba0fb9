#pragma once

#include <QLabel>
#include <QWidget>

#include "app/following/comparison.hpp"

namespace aspen::core {
struct StridesLaidOver;
}

class QCPItemStraightLine;
class QCustomPlot;

namespace aspen::ui {

/// The averaged strides of all sides over one stride, each with its spread and the band behind: one measure
/// at a time.
class CurveStrip : public QWidget {
    Q_OBJECT
  public:
    CurveStrip(app::Comparison& comparison, QWidget* parent);
    /// Reads the sides anew; gives whether there is anything to draw.
    bool rebuild();
    void next();
    /// What is drawn, "" for nothing.
    QString title() const { return title_->text(); }
    QString said() const { return said_->text(); }
    /// Where in the stride the pictures stand, 0 … 1.
    void show_phase(double phase);

  signals:
    void phase_pressed(double phase);

  protected:
    bool eventFilter(QObject*, QEvent*) override;
    void changeEvent(QEvent*) override;

  private:
    std::vector<std::string> common() const;
    struct Range {
        double low = 1e300, high = -1e300;
    };
    void draw(const std::string& id);
    void draw_side(std::size_t side, const core::StridesLaidOver& over, Range& range);
    void draw_band(const core::Band& band, Range& range);
    void dress();
    app::Comparison& comparison_;
    QCustomPlot* plot_ = nullptr;
    QLabel *title_, *said_;
    std::string chosen_;
    QCPItemStraightLine* cursor_ = nullptr;
};

}  // namespace aspen::ui
