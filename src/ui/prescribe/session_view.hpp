#pragma once

#include <QWidget>

#include "core/training/session.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// A session on a clock: blocks along the time, as tall as they are hard, with their rein, over them what
/// they are and what the horse does in them; the one under the hand can be dragged, made longer, shorter, or
/// taken out. A block that breaks a rule stands off the ground.
class SessionView : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    explicit SessionView(QWidget* parent = nullptr);
    void show_session(const core::Session& session, const std::vector<core::Broken>& broken,
                      const core::ExerciseBook& book);
    int selected() const { return selected_; }
    int row_count() const override { return static_cast<int>(session_.blocks.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override { select(row); }
    QSize sizeHint() const override;
    /// "12:30 to 14:30, trot, left rein: …" of the block that is selected.
    QString selected_words() const;

  signals:
    void selected_changed();
    void moved(int from, int to);
    void longer(int block, int seconds);
    void dropped(int block);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    void select(int block);
    struct Part {
        int first, last;  ///< blocks
        QString name;
        QStringList works;
    };
    std::vector<Part> parts() const;
    void paint_part(QPainter& p, const Part& part) const;
    int block_at(double x) const;
    void paint_block(QPainter& p, int block, double ground) const;
    core::Session session_;
    std::vector<core::Broken> broken_;
    QStringList names_;
    int selected_ = -1, dragged_ = -1, over_ = -1;
};

}  // namespace aspen::ui
