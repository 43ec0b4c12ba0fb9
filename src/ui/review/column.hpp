#pragma once

#include <QWidget>
#include <functional>

#include "ui/review/bench_panel.hpp"
#include "ui/review/column_rows.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// The rider of the moment, drawn true to scale as the joints lie, and three answers: what is out and what is
/// too close to call hang on the body, words first, then the rail; what is good and what is waited for are a
/// line each. Every value with its number, also what has no band, shows with one key.
class Column : public BenchPanel, public PaintedRows {
    Q_OBJECT
  public:
    Column(const app::BenchState& now, const KeyMap& keys, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    void show_frame() override;
    QSize sizeHint() const override { return {384, 620}; }
    /// Where a measure's row stands, for the mouse; empty when it has none.
    QRectF row_of(const QString& measure) const;
    int row_count() const override { return static_cast<int>(rows().size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override;
    /// Also what has no band.
    void show_all(bool all);
    bool shows_all() const { return all_; }
    /// Where the joints were followed to on a frame, shown where nothing is marked; empty for nothing.
    void set_followed(std::function<std::optional<core::Figure>(int)> followed);
    /// Looks again at what was followed, and whether it is looked at.
    void refresh();
    bool shows_followed() const { return followed_here_; }

  signals:
    void wants_measure(const QString& id);  ///< a row was clicked: frame it in the picture and draw it there

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }
    void mousePressEvent(QMouseEvent*) override;
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent*) override;

  private:
    QRectF rider_area() const;
    std::vector<ColumnRow> rows() const;
    QString summary(const std::vector<ColumnRow>& rows) const;
    void paint_line(QPainter& p, const ColumnRow& row) const;
    /// The program put joints here and the coach confirmed none: nothing to list, one thing to say.
    bool waits_for_yes() const;
    void paint_waiting(QPainter& p) const;
    void paint_row(QPainter& p, const ColumnRow& row) const;
    void paint_next(QPainter& p, const RiderDrawing& rider) const;
    void press(const ColumnRow& row);
    void tell_foot();
    void resizeEvent(QResizeEvent*) override;
    void look();
    HintLine* foot_;
    bool all_ = false;
    std::function<std::optional<core::Figure>(int)> followed_;
    /// What is shown: the marked figure, or the followed one.
    core::Figure figure_;
    std::vector<core::Judged> judged_;
    bool followed_here_ = false;
};

}  // namespace aspen::ui
