#pragma once

#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// The line that says what was just done. It stands beside the views where it fits into two rows there, else
/// on a ground of its own just below them, and goes by itself.
class SaidLine : public QObject {
    Q_OBJECT
  public:
    /// `row` holds the views, `over` is what it may lie on.
    SaidLine(const KeyMap& keys, QWidget* row, QWidget* over);
    HintLine* beside() const { return beside_; }
    void say(const QString& line);
    QString text() const { return text_; }
    /// Whether it is still to be read.
    bool stands() const { return !line_.isEmpty(); }
    /// To be called when the window has another size.
    void place();
    /// Whether it lies on the view.
    bool lies_over() const { return !over_->isHidden(); }

  protected:
    bool eventFilter(QObject* watched, QEvent* e) override;

  private:
    int wide_ = 0;
    QWidget *row_, *ground_;
    HintLine *beside_, *over_;
    QString line_, text_;
};

}  // namespace aspen::ui
