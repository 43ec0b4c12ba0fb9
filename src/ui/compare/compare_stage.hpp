#pragma once

#include <QTimer>
#include <QWidget>
#include <array>
#include <memory>

#include "app/following/comparison.hpp"
#include "app/leaving/compared_out.hpp"
#include "ui/shared/picture_stage.hpp"

namespace aspen::ui {

/// The pictures of a comparison on their dark ground: beside each other, laid over each other or taking
/// turns, each turned and sized so that hip and trunk, or the saddle, lie in the same place.
class CompareStage : public QWidget {
    Q_OBJECT
  public:
    CompareStage(app::Comparison& comparison, QWidget* parent);
    enum class Way { beside, over, turns, figures };
    Way way() const { return way_; }
    void next_way();
    bool on_saddle() const { return on_saddle_; }
    void line_up_otherwise();
    bool mirrors() const { return mirror_; }
    void toggle_mirror();
    std::size_t chosen() const { return chosen_; }
    void choose(std::size_t side);
    /// A picture of what is shown, figures and words in it, at twice the window's size, faces covered.
    QImage covered_picture(const app::ComparedCovers& covers) const;

  signals:
    void side_chosen(std::size_t side);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    void renew();
    void paint_all(QPainter& p, const QRectF& all, const app::ComparedCovers* covers = nullptr) const;
    void paint_side(QPainter& p, std::size_t i, const QRectF& area, double opacity,
                    const app::ComparedCovers* covers) const;
    void paint_words(QPainter& p, std::size_t i, const QRectF& area) const;
    QRectF pane(std::size_t i, const QRectF& all) const;
    std::optional<PictureStage::Place> place(std::size_t i, const QRectF& area) const;
    bool mirrored(std::size_t i) const;
    app::Comparison& comparison_;
    std::vector<std::unique_ptr<PictureStage>> stages_;
    std::vector<std::optional<core::Figure>> targets_;
    Way way_ = Way::beside;
    bool on_saddle_ = false, mirror_ = true;
    std::size_t chosen_ = 1, turn_ = 0;
    QTimer turns_;
};

}  // namespace aspen::ui
