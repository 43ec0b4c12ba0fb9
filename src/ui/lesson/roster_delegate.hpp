#pragma once

#include <QStyledItemDelegate>
#include <map>

#include "app/lesson/lesson_desk.hpp"

namespace aspen::ui {

/// Paints a rider of the roster as a tile, read and touched from two metres: who, on which horse, the task in
/// work, and what needs a word first. A rider who rides carries a filled tick.
class RosterDelegate : public QStyledItemDelegate {
    Q_OBJECT
  public:
    RosterDelegate(const app::LessonDesk& desk, QObject* parent = nullptr);
    /// What was read of the riders may have changed.
    void forget() { lines_.clear(); }
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& o, const QModelIndex& index) const override;

  private:
    const app::LessonDesk::RosterLine& line(const QModelIndex& index) const;
    const app::LessonDesk& desk_;
    mutable std::map<qlonglong, app::LessonDesk::RosterLine> lines_;
};

}  // namespace aspen::ui
