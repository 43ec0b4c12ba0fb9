#pragma once

#include <QWidget>

#include "app/telling/recorder.hpp"
#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// While a review is spoken: that it is, for how long, and how loud.
class RecordLine : public QWidget {
    Q_OBJECT
  public:
    RecordLine(app::Recorder& recorder, const KeyMap& keys, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    void refresh();
    app::Recorder& recorder_;
    HintLine* words_;
    QTimer tick_;
};

}  // namespace aspen::ui
