#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <vector>

#include "app/review/fence_phases.hpp"
#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// A fence phase by phase, its pictures side by side: approach, take-off, top, landing, departure. Up and
/// down go through a line of fences; a click goes to the frame.
class FencesPanel : public QWidget {
    Q_OBJECT
  public:
    FencesPanel(app::Bench& bench, app::StrideWork& strides, const KeyMap& keys, QWidget* parent = nullptr);
    void open();
    void move(int by);
    QString title() const { return title_->text(); }
    QString said() const { return said_->text(); }

  signals:
    void say(const QString& line);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

  private:
    void rebuild();
    std::vector<QRectF> places() const;
    app::Bench& bench_;
    app::StrideWork& strides_;
    app::FencePictures pictures_;
    std::vector<app::FencePhases> fences_;
    std::size_t shown_ = 0;
    QWidget* side_;
    QLabel *title_, *said_;
    HintLine* foot_;
    QPushButton* log_;
};

}  // namespace aspen::ui
