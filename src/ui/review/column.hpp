#pragma once

#include <QWidget>

#include "app/review/bench.hpp"
#include "ui/shared/hint_line.hpp"

#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// The measures of the moment, head to heel, hung on a thin figure that leans as this rider leans.
class Column : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    Column(app::Bench& bench, const KeyMap& keys, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {384, 620}; }
    /// Where a measure's row stands, for the mouse; empty when it has none.
    QRectF row_of(const QString& measure) const;
    int row_count() const override { return static_cast<int>(rows().size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override;

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
    struct Row {
        core::Judged judged;
        QRectF area;
    };
    std::vector<Row> rows() const;
    void paint_rider(QPainter& p, const std::vector<Row>& rows) const;
    void paint_row(QPainter& p, const Row& row) const;
    void tell_foot();
    void resizeEvent(QResizeEvent*) override;
    app::Bench& bench_;
    HintLine* foot_;
};

}  // namespace aspen::ui
