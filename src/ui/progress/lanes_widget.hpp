#pragma once

#include <QPixmap>
#include <QWidget>
#include <set>

#include "app/models/thumbs.hpp"
#include "app/rides/lanes.hpp"
#include "ui/progress/time_axis.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// A rider's corrections as lanes through time, one under the other. Up and down choose a lane, left and
/// right a ride in it; the ride under the pointer or the keys shows its frame, which can be pinned.
class Lanes : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    Lanes(TimeAxis& axis, app::Thumbs& thumbs, QWidget* parent = nullptr);
    void show_lanes(const std::vector<app::Lane>& lanes, double today);
    const std::vector<app::Lane>& lanes() const { return lanes_; }
    /// The lane under the keys; null when there is none.
    const app::Lane* current() const;
    /// The ride chosen in it; null when there is none.
    const app::LanePoint* current_entry() const;
    void choose(std::size_t lane, std::size_t entry);
    std::size_t pinned() const { return pinned_.size(); }
    void pin();
    /// Draws the lanes anew: the axis or the theme is another one.
    void update_lanes();
    void step(int by);

    int row_count() const override { return static_cast<int>(lanes_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override { return lane_area(static_cast<std::size_t>(row)).toRect(); }
    /// Opens the chosen ride's clip.
    void row_pressed(int row) override;
    /// What an entry says, in words: for the card and for screen readers.
    QString entry_words(const app::LanePoint& entry) const;
    /// Where an entry is drawn.
    QPointF place_of(std::size_t lane, std::size_t entry) const;
    /// Left edge of the plots, from which the time line starts too.
    static double gutter();

  signals:
    void open_clip(aspen::store::ClipId clip);
    void chosen();
    void moved();  ///< the axis

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void changeEvent(QEvent*) override;
    void leaveEvent(QEvent*) override;
    void wheelEvent(QWheelEvent*) override;

  private:
    using Spot = std::pair<std::size_t, std::size_t>;  ///< lane, entry
    QRectF lane_area(std::size_t i) const;
    QRectF plot_area(std::size_t i) const;
    std::optional<Spot> spot_at(QPointF at) const;
    void paint_lanes(QPainter& p, const QRect& part) const;
    void paint_lane(QPainter& p, std::size_t i) const;
    void paint_words(QPainter& p, std::size_t i) const;
    void paint_answer(QPainter& p, std::size_t i) const;
    void paint_frames(QPainter& p, std::size_t i) const;
    void paint_card(QPainter& p, const Spot& spot, bool pinned) const;
    TimeAxis& axis_;
    app::Thumbs& thumbs_;
    std::vector<app::Lane> lanes_;
    double today_ = 0;
    std::size_t entry_ = 0;
    std::optional<Spot> under_;  ///< the pointer
    std::set<Spot> pinned_;
    double dragged_from_ = 0;
    QPixmap kept_;  ///< of what can be seen, without what follows the pointer
    QRect kept_part_;
};

}  // namespace aspen::ui
