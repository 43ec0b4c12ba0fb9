#pragma once

#include <QVBoxLayout>
#include <QWidget>
#include <memory>

#include "app/review/event_log.hpp"
#include "core/ride/summary.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

/// What the ride says, in the place of the findings: good first, findings by weight, the horse's answers,
/// what was logged, and what could not be judged with the view that would settle it.
class SummaryPanel : public BenchPanel {
    Q_OBJECT
  public:
    SummaryPanel(const app::BenchState& now, app::EventLog& log, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    void open();
    /// All of it as plain lines, for the clipboard and for readers.
    QStringList lines() const;

  private:
    void rebuild();
    void fill(int column, const QString& title, const QStringList& lines, const QString& none);
    app::EventLog& log_;
    std::vector<std::unique_ptr<StandingLines>> columns_;
    QStringList lines_;
};

}  // namespace aspen::ui
