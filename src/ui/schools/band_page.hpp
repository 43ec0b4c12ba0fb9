#pragma once

#include <QLineEdit>
#include <QWidget>

#include "ui/schools/band_table.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// The ranges of a school on its own rider: each hangs on the limb it is about, with its numbers, what
/// another school asks beside it in quiet ink, and what is looked at from behind or over strides under it. A
/// line is pressed to write its two numbers anew.
class BandPage : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    BandPage(BandTable& bands, QWidget* parent);
    void show_school(const core::Setting& setting, const core::Knowledge& known);
    int row_count() const override { return bands_.rowCount(); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override { write(row); }
    /// Begins to write a line's numbers; says why where they cannot be written.
    void write(int row);
    void choose(int row);
    QLineEdit& lowest() { return *lowest_; }
    QLineEdit& highest() { return *highest_; }

  signals:
    void say(const QString& line);
    void wants_copy();  ///< one would write in a school that ships

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    bool eventFilter(QObject* watched, QEvent* e) override;

  private:
    void paint_row(QPainter& p, int row) const;
    void keep();
    void stop_writing();
    void place_fields();
    double x_of_rows() const;
    BandTable& bands_;
    bool inherits_ = false;
    core::Figure rider_;
    std::vector<core::Judged> judged_;
    QLineEdit *lowest_, *highest_;
    int writing_ = -1;
};

}  // namespace aspen::ui
