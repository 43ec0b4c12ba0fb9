#pragma once

#include <QImage>
#include <QTimer>
#include <QWidget>

#include "app/review/other_moment.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/painted_rows.hpp"
#include "ui/shared/picture_stage.hpp"

class QKeyEvent;

namespace aspen::ui {

/// This moment against another, over the bench's picture: side by side, laid over each other or flickering,
/// lined up on hip and trunk or on the saddle, with both values of every measure and the difference. 1 2 3
/// choose how, 4 what is lined up, arrows go through the other moments and, laid over, how much of each is
/// seen; Esc leaves it.
class TwoView : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    TwoView(app::Bench& bench, const KeyMap& keys, QWidget* parent);
    void open();
    void leave();
    bool take_key(const QKeyEvent& e);

    enum class Way { side_by_side, over, flicker };
    Way way() const { return way_; }
    /// Both pictures are there.
    bool complete() const { return !here_.stage.picture().isNull() && !there_.stage.picture().isNull(); }
    bool on_saddle() const { return on_saddle_; }
    const std::vector<app::MeasureDifference>& rows() const { return rows_; }
    int row_count() const override { return static_cast<int>(rows_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int) override {}

  signals:
    void closed();
    void say(const QString& line);

  protected:
    void paintEvent(QPaintEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

  private:
    struct Side {
        core::Figure figure;
        PictureStage stage{};
    };
    void choose(int by);
    std::optional<PictureStage::Place> lined_up(const Side& side, const QRectF& area, bool mirror) const;
    void paint_side(QPainter& p, const Side& side, const QRectF& area, double opacity, bool mirror) const;
    void do_key(const QString& key);
    bool change_by(const QKeyEvent& e);
    void tell_keys();
    void paint_rows(QPainter& p, const QRectF& area) const;
    double row_step(const QRectF& area) const;
    QRectF rows_area() const;
    QRectF slider() const;
    QRectF stage() const;
    app::Bench& bench_;
    app::OtherPicture reader_;
    HintLine* hint_;
    std::vector<app::OtherMoment> others_;
    std::size_t chosen_ = 0;
    Side here_, there_;
    std::vector<app::MeasureDifference> rows_;
    Way way_ = Way::side_by_side;
    bool on_saddle_ = false, flick_ = false;
    double share_ = 0.5;
    QTimer flicker_;
};

}  // namespace aspen::ui
