#pragma once

#include <QStackedWidget>

#include "ui/review/checks_panel.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/summary_panel.hpp"

namespace aspen::ui {

/// Under the film: the findings, the eye checks or what the ride says, one at a time by key. Nothing else
/// moves when it changes.
class LowerPanel : public QStackedWidget {
    Q_OBJECT
  public:
    enum class Shows { findings, checks, summary };
    LowerPanel(app::Bench& bench, const KeyMap& keys, QWidget* parent = nullptr);
    FindingsPanel& findings() { return *findings_; }
    ChecksPanel& checks() { return *checks_; }
    SummaryPanel& summary() { return *summary_; }
    Shows shows() const { return static_cast<Shows>(currentIndex()); }
    /// Shows this; the findings again when it is shown already.
    void toggle(Shows what);
    /// Up and down, in whatever is shown.
    void move(int by);

  private:
    FindingsPanel* findings_;
    ChecksPanel* checks_;
    SummaryPanel* summary_;
};

}  // namespace aspen::ui
