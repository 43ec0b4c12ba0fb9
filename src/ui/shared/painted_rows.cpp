#include "ui/shared/painted_rows.hpp"

#include <QAccessibleWidget>
#include <QKeyEvent>
#include <QPainter>
#include <algorithm>
#include <memory>
#include <vector>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

class Row : public QAccessibleInterface {
  public:
    Row(QWidget& widget, PaintedRows& rows, int n) : widget_(widget), rows_(rows), n_(n) {}
    bool isValid() const override { return n_ < rows_.row_count(); }
    QObject* object() const override { return nullptr; }
    QAccessibleInterface* parent() const override { return QAccessible::queryAccessibleInterface(&widget_); }
    QAccessibleInterface* child(int) const override { return nullptr; }
    QAccessibleInterface* childAt(int, int) const override { return nullptr; }
    int childCount() const override { return 0; }
    int indexOfChild(const QAccessibleInterface*) const override { return -1; }
    QAccessible::Role role() const override { return QAccessible::ListItem; }
    void setText(QAccessible::Text, const QString&) override {}
    QRect rect() const override {
        const QRect area = rows_.row_area(n_);
        return {widget_.mapToGlobal(area.topLeft()), area.size()};
    }
    QString text(QAccessible::Text kind) const override {
        return kind == QAccessible::Name && isValid() ? rows_.row_words(n_) : QString();
    }
    QAccessible::State state() const override {
        QAccessible::State s;
        s.focusable = true;
        s.focused = widget_.hasFocus() && rows_.current_row() == n_;
        return s;
    }

  private:
    QWidget& widget_;
    PaintedRows& rows_;
    int n_;
};

class AccessibleRows : public QAccessibleWidget {
  public:
    AccessibleRows(QWidget* widget, PaintedRows& rows)
        : QAccessibleWidget(widget, QAccessible::List), widget_(*widget), rows_(rows) {}
    int childCount() const override { return rows_.row_count(); }
    QAccessibleInterface* child(int n) const override {
        if (n < 0 || n >= rows_.row_count()) return nullptr;
        while (static_cast<int>(made_.size()) <= n)
            made_.push_back(std::make_unique<Row>(widget_, rows_, static_cast<int>(made_.size())));
        return made_[static_cast<std::size_t>(n)].get();
    }
    int indexOfChild(const QAccessibleInterface* wanted) const override {
        for (std::size_t i = 0; i < made_.size(); ++i) {
            if (made_[i].get() == wanted) return static_cast<int>(i);
        }
        return -1;
    }
    QAccessibleInterface* childAt(int x, int y) const override {
        for (int i = 0; i < rows_.row_count(); ++i) {
            if (child(i)->rect().contains(x, y)) return child(i);
        }
        return nullptr;
    }

  private:
    QWidget& widget_;
    PaintedRows& rows_;
    mutable std::vector<std::unique_ptr<Row>> made_;
};

QAccessibleInterface* make_rows(const QString&, QObject* object) {
    auto* rows = dynamic_cast<PaintedRows*>(object);
    auto* widget = qobject_cast<QWidget*>(object);
    return rows && widget ? new AccessibleRows(widget, *rows) : nullptr;
}

}  // namespace

bool PaintedRows::take_row_key(QWidget& widget, const QKeyEvent& e) {
    const int n = row_count();
    if (n == 0 || e.modifiers() & ~Qt::KeypadModifier) return false;
    const int before = current_ = std::clamp(current_, 0, n - 1);
    switch (e.key()) {
        case Qt::Key_Down:
            current_ = std::min(n - 1, current_ + 1);
            break;
        case Qt::Key_Up:
            current_ = std::max(0, current_ - 1);
            break;
        case Qt::Key_Home:
            current_ = 0;
            break;
        case Qt::Key_End:
            current_ = n - 1;
            break;
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Space:
            row_pressed(current_);
            return true;
        default:
            return false;
    }
    if (current_ != before) {
        QAccessibleEvent focus(&widget, QAccessible::Focus);
        focus.setChild(current_);
        QAccessible::updateAccessibility(&focus);
    }
    widget.update();
    return true;
}

void PaintedRows::paint_current(QPainter& p, const QWidget& widget) const {
    if (!widget.hasFocus() || current_ >= row_count()) return;
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().ink, 2));
    p.drawRoundedRect(QRectF(row_area(current_)).adjusted(1, 1, -1, -1), 8, 8);
}

void make_rows_accessible() {
    static const bool once = [] {
        QAccessible::installFactory(make_rows);
        return true;
    }();
    (void)once;
}

}  // namespace aspen::ui
