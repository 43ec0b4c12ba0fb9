#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <vector>

#include "app/review/fence_phases.hpp"
#include "ui/review/bench_panel.hpp"
#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// A fence phase by phase, its pictures side by side: approach, take-off, top, landing, departure. Up and
/// down go through a line of fences; a click goes to the frame.
class FencesPanel : public BenchPanel {
    Q_OBJECT
  public:
    FencesPanel(const app::BenchState& now, app::StrideWork& strides, app::FencePictures& pictures,
                const KeyMap& keys, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    void show_frame() override;
    void open();
    void move(int by);
    QString title() const { return title_->text(); }
    QString said() const { return said_->text(); }

  signals:
    void say(const QString& line);
    void wants_logged();  ///< the fences that are proposed, as events

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

  private:
    void rebuild();
    std::vector<QRectF> places() const;
    app::StrideWork& strides_;
    app::FencePictures& pictures_;
    std::vector<app::FencePhases> fences_;
    std::size_t shown_ = 0;
    QWidget* side_;
    QLabel *title_, *said_;
    HintLine* foot_;
    QPushButton* log_;
};

}  // namespace aspen::ui
