#pragma once

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <memory>

#include "app/review/stride_work.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

/// What happens over the strides of the stretch that is shown, in the place of the findings.
class StridesPanel : public BenchPanel {
    Q_OBJECT
  public:
    StridesPanel(const app::BenchState& now, app::StrideWork& work, const KeyMap& keys,
                 QWidget* parent = nullptr);
    void show_state(app::BenchParts) override {}
    void show_frame() override;
    void open() { rebuild(); }
    QStringList lines() const { return lines_; }

  signals:
    void wants_curve(const QString& measure);

  private:
    void rebuild();
    app::StrideWork& work_;
    QLabel* title_;
    QPushButton* follow_;
    std::unique_ptr<StandingLines> list_;
    HintLine* foot_;
    QStringList lines_;
    int shown_stretch_ = -1;  ///< its first frame
};

}  // namespace aspen::ui
