#pragma once

#include <QWidget>

#include "app/review/bench_state.hpp"
#include "app/review/intents.hpp"

namespace aspen::ui {

/// A part of the review: it is shown the bench's state and says what the coach wants; it holds nothing
/// through which it could change anything itself.
class BenchPanel : public QWidget {
    Q_OBJECT
  public:
    BenchPanel(const app::BenchState& now, QWidget* parent) : QWidget(parent), now_(now) {}

    /// After a step, with what of it is new.
    virtual void show_state(app::BenchParts what) = 0;
    /// Another frame, after what it changed was shown.
    virtual void show_frame() {}
    /// A clip's frames are counted; it is about to be closed.
    virtual void clip_opened() {}
    virtual void clip_closing() {}

  signals:
    void wants(const aspen::app::Intent& what);

  protected:
    const app::BenchState now_;
};

}  // namespace aspen::ui
