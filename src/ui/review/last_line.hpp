#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/review/last_time.hpp"

#include "ui/review/bench_panel.hpp"

namespace aspen::ui {

/// Over the picture: what was worked on last time, its rung, what this clip was to show, and whether it does.
/// Gone when there is nothing, or when it was read.
class LastLine : public BenchPanel {
    Q_OBJECT
  public:
    LastLine(const app::BenchState& now, QWidget* parent);
    void show_state(app::BenchParts what) override;
    void clip_opened() override;
    void clip_closing() override { hide(); }
    /// As a reader hears it; "" while it is hidden.
    QString spoken() const;

  signals:
    void say(const QString& line);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void refresh();
    void fit();
    QLabel* words_;
    QPushButton* copy_;
    QPushButton* read_;
    QString sentence_;
    QStringList said_;  ///< from all of it to the shortest
    bool read_here_ = false;
};

}  // namespace aspen::ui
