#pragma once

#include <QWidget>
#include <vector>

#include "app/models/thumbs.hpp"

namespace aspen::ui {

/// What a review would show, a picture for each of its chapters with its time and words.
class Storyboard : public QWidget {
    Q_OBJECT
  public:
    struct Card {
        store::Clip clip;
        int frame = 0;
        QString time, title, words;
    };
    explicit Storyboard(app::Thumbs& thumbs, QWidget* parent = nullptr);
    void show_cards(std::vector<Card> cards);

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    QRect area(std::size_t card) const;
    app::Thumbs& thumbs_;
    std::vector<Card> cards_;
};

}  // namespace aspen::ui
