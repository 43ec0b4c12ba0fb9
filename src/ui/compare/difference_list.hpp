#pragma once

#include <QWidget>

#include "app/following/comparison.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// What differs between the first picture and the chosen one, in riding words with its error: strong only
/// beyond the smallest detectable change. Above it what spoils the comparison.
class DifferenceList : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    DifferenceList(app::Comparison& comparison, QWidget* parent);
    void show_against(std::size_t side);
    const std::vector<core::MeasureDifference>& rows() const { return rows_; }
    const QStringList& spoilers() const { return spoilers_; }
    /// "Three things differ beyond measuring error."
    QString summary() const;
    int row_count() const override { return static_cast<int>(rows_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int) override {}

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    void lay_out();
    app::Comparison& comparison_;
    std::vector<core::MeasureDifference> rows_;
    QStringList spoilers_;
    bool days_ = false;  ///< moments of two rides
    double rows_from_ = 0;
    bool reins_ = false;
};

}  // namespace aspen::ui
