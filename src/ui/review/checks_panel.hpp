#pragma once

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>
#include <memory>

#include "app/review/eye_pass.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

/// The guided pass of the eye, in the place of the findings: one question large, its three answers as digits,
/// what comes next and what was said beside it.
class ChecksPanel : public BenchPanel {
    Q_OBJECT
  public:
    ChecksPanel(const app::BenchState& now, const KeyMap& keys, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    /// Starts at the first question that is not answered.
    void open();
    /// 1 good, 2 fault, 3 can't see, and on to the next; false when nothing is asked.
    bool answer(int number);
    void move(int by);
    /// The check that is asked now; "" when there is none.
    QString asked() const;

  signals:
    void opened();

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    void rebuild();
    QWidget* line_for(const app::Question& q, const QString& words, bool now);
    std::vector<app::Question> questions_;
    QLabel* part_;
    QLabel* question_;
    std::unique_ptr<StandingLines> answers_, list_;
    HintLine* foot_;
    std::string at_;  ///< id of the check that is asked
};

}  // namespace aspen::ui
