#pragma once

#include <QPushButton>

#include "app/jobs/jobs.hpp"

namespace aspen::ui {

/// What runs in the background, in one quiet line: the first job with how far it is, and how many more.
/// Pressed, it lists them all, each with its stop. Hidden while nothing runs.
class JobsLine : public QPushButton {
    Q_OBJECT
  public:
    explicit JobsLine(app::Jobs& jobs, QWidget* parent = nullptr);
    /// Fills a menu with what runs: a press on an entry stops it.
    void fill(QMenu& menu);

  private:
    void refresh();
    app::Jobs& jobs_;
};

}  // namespace aspen::ui
