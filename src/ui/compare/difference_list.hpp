#pragma once

#include <QWidget>

#include "app/following/comparison.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// What differs between the first picture and the chosen one, in riding words with its error: first the
/// correction that is in work, changed or not, then what differs of the rider, the horse last; what does not
/// differ is one quiet line. Above it what spoils the comparison.
class DifferenceList : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    DifferenceList(app::Comparison& comparison, QWidget* parent);
    void show_against(std::size_t side);
    const std::vector<core::MeasureDifference>& rows() const { return rows_; }
    const QStringList& spoilers() const { return spoilers_; }
    /// "Three things differ beyond measuring error."
    QString summary() const;
    /// One for each that is in work or differs, and one for all that does not.
    int row_count() const override { return static_cast<int>(told_) + (told_ < rows_.size() ? 1 : 0); }
    /// What stands first: it is in work.
    bool begins_with_work() const { return in_work_; }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int) override {}

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    void lay_out();
    void paint_row(QPainter& p, std::size_t row) const;
    QString amount(const core::MeasureDifference& d) const;
    QString doubt(const core::MeasureDifference& d) const;
    /// In one sentence whether it differs, and by how much it could.
    QString told(const core::MeasureDifference& d) const;
    QString alike() const;
    double high_of(std::size_t row, int wide) const;
    bool heads_horse(std::size_t row) const;
    app::Comparison& comparison_;
    std::vector<core::MeasureDifference> rows_;
    QStringList spoilers_;
    bool days_ = false;  ///< moments of two rides
    double rows_from_ = 0;
    std::size_t told_ = 0;  ///< rows that stand on their own
    bool in_work_ = false;
};

}  // namespace aspen::ui
