#pragma once

#include <QWidget>

#include "app/following/horse_story.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// A horse over all its riders: who rides it, what it answers to, its stiff side, leads, the load of its
/// days, and what all its riders share on it.
class HorsePage : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    explicit HorsePage(app::Yard& yard, QWidget* parent = nullptr);
    void show_horse(store::HorseId id);
    store::HorseId horse() const { return shown_; }
    /// The next of the yard's horses by name.
    void next();
    int row_count() const override { return static_cast<int>(rows_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int) override {}

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override { lay_out(); }

  private:
    /// A line of a block: what it says, and beside it a figure.
    struct Row {
        QString block, words, beside;
        double share = -1;  ///< of a bar, 0 … 1; below 0: none
    };
    void lay_out();
    app::Yard& yard_;
    store::HorseId shown_;
    QString name_, about_;
    std::vector<Row> rows_;
    std::vector<QRect> areas_;
    std::vector<std::pair<QString, QRect>> heads_;
};

}  // namespace aspen::ui
