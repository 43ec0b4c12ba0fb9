#pragma once

#include <QWidget>

#include "app/following/horse_story.hpp"
#include "app/models/thumbs.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// A horse over all its riders: who rides it, what it answers to, its stiff side, leads, the load of its
/// days, and what all its riders share on it.
class HorsePage : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    HorsePage(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent = nullptr);
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
        double share = -1;           ///< of a bar, 0 … 1; below 0: none
        std::vector<double> dots{};  ///< when, along the row, 0 … 1
        bool strong = false;
    };
    void take(const app::HorseStory& story);
    void take_riders(const app::HorseStory& story);
    void paint_row(QPainter& p, const Row& row, const QRect& area) const;
    void paint_last(QPainter& p) const;
    void lay_out();
    int row_high(const Row& row) const;
    app::Yard& yard_;
    app::Thumbs& thumbs_;
    store::HorseId shown_;
    std::optional<app::HorseStory::Seen> last_;
    QRect last_area_;
    QString name_, about_;
    std::vector<Row> rows_;
    std::vector<QRect> areas_;
    std::vector<std::pair<QString, QRect>> heads_;
};

}  // namespace aspen::ui
