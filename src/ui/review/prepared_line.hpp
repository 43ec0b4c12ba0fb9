#pragma once

#include "app/review/prepared_here.hpp"
#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// Over the picture, in one line: what the clip seems to be, found before it was opened, and the keys that
/// take it. Gone once everything in it is taken.
class PreparedLine : public QWidget {
    Q_OBJECT
  public:
    PreparedLine(app::PreparedHere& prepared, const KeyMap& keys, QWidget* parent = nullptr);
    QString spoken() const { return isHidden() ? QString() : words_->spoken(); }

  private:
    void refresh();
    app::PreparedHere& prepared_;
    HintLine* words_;
};

}  // namespace aspen::ui
