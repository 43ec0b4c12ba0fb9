#pragma once

#include <QStackedWidget>

#include "ui/review/checks_panel.hpp"
#include "ui/review/curves_panel.hpp"
#include "ui/review/event_panel.hpp"
#include "ui/review/fences_panel.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/strides_panel.hpp"
#include "ui/review/summary_panel.hpp"
#include "ui/review/why_panel.hpp"

namespace aspen::ui {

/// Under the film: the findings, the eye checks, what the ride says, why a fault was said, the keys that log
/// what happens, what the strides say, a curve of them, or the fences, one at a time by key. Nothing else
/// moves when it changes.
class LowerPanel : public QStackedWidget {
    Q_OBJECT
  public:
    enum class Shows { findings, checks, summary, why, events, strides, curves, fences };
    LowerPanel(const app::BenchState& now, app::EventLog& log, app::StrideWork& work,
               app::FencePictures& pictures, const KeyMap& keys, QWidget* parent = nullptr);
    std::vector<BenchPanel*> panels() const;
    void show_findings() { setCurrentIndex(0); }
    FindingsPanel& findings() { return *findings_; }
    ChecksPanel& checks() { return *checks_; }
    SummaryPanel& summary() { return *summary_; }
    WhyPanel& why() { return *why_; }
    EventPanel& events() { return *events_; }
    StridesPanel& strides() { return *strides_; }
    CurvesPanel& curves() { return *curves_; }
    FencesPanel& fences() { return *fences_; }
    Shows shows() const { return static_cast<Shows>(currentIndex()); }
    /// Shows this; the findings again when it is shown already.
    void toggle(Shows what);
    /// Up and down, in whatever is shown.
    void move(int by);

  private:
    FindingsPanel* findings_;
    ChecksPanel* checks_;
    SummaryPanel* summary_;
    WhyPanel* why_;
    EventPanel* events_;
    StridesPanel* strides_;
    CurvesPanel* curves_;
    FencesPanel* fences_;
};

}  // namespace aspen::ui
