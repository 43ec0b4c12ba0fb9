#pragma once

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "app/yard/yard.hpp"
#include "exchange/ground_plan.hpp"
#include "sound/click_player.hpp"
#include "ui/shared/stepper.hpp"
#include "ui/shared/view.hpp"
#include "ui/shared/view_actions.hpp"

namespace aspen::ui {

/// Sums for the ground, drawn to scale: poles, a grid, a circle, a line, and a horse's pace with its click
/// track.
class ArenaView : public View {
    Q_OBJECT
  public:
    enum class Sum { poles, fan, grid, circle, pace, line };
    explicit ArenaView(app::Yard& yard, QWidget* parent = nullptr);
    QString title() const override { return tr("Arena"); }
    QList<QAction*> deeds() const override { return deeds_.all(); }
    void choose(Sum sum);
    Sum sum() const { return sum_; }
    const exchange::GroundPlan& plan() const { return plan_; }
    Stepper& stepper(const QString& id);
    /// On paper, with the sums and what they take for granted. One line of trouble, or none.
    QString save_drawing(const QString& file);
    void open() override;
    void leave() override { clicks().stop(); }
    sound::ClickPlayer& clicks() { return clicks_; }

  signals:

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

  private:
    void build_deeds();
    void build_controls();
    void build_steppers(QVBoxLayout& box);
    void build_verbs(QVBoxLayout& box);
    void rebuild();
    void show_controls();
    void shape_poles(bool fan);
    void shape_grid();
    void shape_circle();
    void shape_pace();
    void shape_line();
    void play_or_stop();
    void save_clicks();
    core::ClickWish click_wish() const;
    std::optional<double> height_of_horse() const;
    void paint_detail(QPainter& p, const QRectF& area) const;
    QRectF drawing() const;
    QRectF arena_area() const;
    void write_row(const QString& words);
    app::Yard& yard_;
    sound::ClickPlayer clicks_;
    ViewActions deeds_{*this, tr("Arena")};
    QWidget* controls_;
    QVBoxLayout* results_;
    std::vector<QPushButton*> sums_, kinds_;
    std::map<QString, Stepper*> steppers_;
    QPushButton *size_, *horse_, *gait_, *pattern_;
    Sum sum_ = Sum::poles;
    exchange::GroundPlan plan_;
    std::vector<double> row_m_;  ///< of the detail drawing
    core::GroundPoint at_{24, 6};
    int length_ = 60, kind_ = 0, gait_now_ = 1, pattern_now_ = 0, letter_ = 0;
    std::optional<store::HorseId> on_;
    char line_from_ = 'K', line_to_ = 'M';
};

}  // namespace aspen::ui
