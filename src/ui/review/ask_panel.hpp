#pragma once

#include <QWidget>
#include <functional>
#include <vector>

class QLabel;
class QGridLayout;

#include "ui/review/bench_panel.hpp"

namespace aspen::ui {

/// The clip's first page, laid over the foot of the picture: one question at a time of those that matter and
/// are not said yet, its likeliest answers first (what this rider had last time), each a digit. Gone when all
/// is said, or with Esc.
class AskPanel : public BenchPanel {
    Q_OBJECT
  public:
    AskPanel(const app::BenchState& now, QWidget* parent);
    void show_state(app::BenchParts what) override;
    void clip_opened() override;
    void clip_closing() override { hide(); }
    /// Shows the first thing not yet said, if any.
    void open();
    void leave();
    /// Takes the n-th answer (from 1); false when nothing is asked or there is no such answer.
    bool answer(int number);

  protected:
    void paintEvent(QPaintEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

  private:
    struct Answer {
        QString words;
        app::Intent says;
    };
    void refresh();
    void place();
    std::vector<Answer> answers_to(const std::string& question) const;
    QLabel* question_;
    QGridLayout* row_;
    std::vector<Answer> answers_;
    QStringList shown_;  ///< what the buttons say
    QString what_;
    bool left_ = false;
};

}  // namespace aspen::ui
