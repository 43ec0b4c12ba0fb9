#pragma once

#include <QStyledItemDelegate>

#include "app/models/riders_model.hpp"
#include "app/models/rides_model.hpp"
#include "app/models/thumbs.hpp"

namespace aspen::ui {

/// Paints a ride as a row: who and why on the left, its clips as small pictures on the right. Under the
/// pointer a picture shows that place of the clip.
class RideDelegate : public QStyledItemDelegate {
    Q_OBJECT
  public:
    RideDelegate(app::RidesModel& model, app::Thumbs& thumbs, QObject* parent = nullptr);
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& o, const QModelIndex& index) const override;
    /// Where the pointer is, in the list's own pixels; nothing when it is elsewhere.
    void set_pointer(std::optional<QPoint> at) { pointer_ = at; }
    /// The clip under a point of a row; none beside the pictures.
    store::ClipId clip_at(const QRect& row_area, int row, QPoint at) const;

  private:
    void paint_pictures(QPainter& p, const QRect& area, int row) const;
    QRect picture_area(const QRect& area, int count, int n) const;
    app::RidesModel& model_;
    app::Thumbs& thumbs_;
    std::optional<QPoint> pointer_;
};

/// Paints a rider: name, what is known, what is in work; and the digit that says they ride.
class RiderDelegate : public QStyledItemDelegate {
    Q_OBJECT
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void show_numbers(bool on) { numbers_ = on; }
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& o, const QModelIndex& index) const override;

  private:
    bool numbers_ = true;
};

}  // namespace aspen::ui
