#pragma once

#include <QRect>
#include <QString>

class QKeyEvent;
class QPainter;
class QWidget;

namespace aspen::ui {

/// For widgets that paint a list instead of holding one: their rows, with all values in words, for screen
/// readers and for the keys. The widget can be reached by Tab; up and down go through the rows, Enter and
/// Space do what a click would.
class PaintedRows {
  public:
    virtual ~PaintedRows() = default;
    virtual int row_count() const = 0;
    /// "Trunk lean, 26.0 ± 1.8°, outside, the band is 8 to 22°"
    virtual QString row_words(int row) const = 0;
    virtual QRect row_area(int row) const = 0;
    virtual void row_pressed(int row) = 0;

    int current_row() const { return current_; }
    /// True when the key was one of the rows'.
    bool take_row_key(QWidget& widget, const QKeyEvent& e);
    /// A ring around the current row while the widget has the focus.
    void paint_current(QPainter& p, const QWidget& widget) const;

  protected:
    void set_current_row(int row) { current_ = row; }

  private:
    int current_ = 0;
};

/// Makes the rows of all such widgets known to screen readers; once for the program.
void make_rows_accessible();

}  // namespace aspen::ui
