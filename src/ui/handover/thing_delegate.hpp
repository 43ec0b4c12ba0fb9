#pragma once

#include <QStyledItemDelegate>

namespace aspen::ui {

/// A thing the rider gets: its name, and under it a few quiet words.
class ThingDelegate : public QStyledItemDelegate {
  public:
    static constexpr int kUnderRole = Qt::UserRole + 8;
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace aspen::ui
