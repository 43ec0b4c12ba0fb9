#pragma once

#include <QWidget>

#include "app/bench.hpp"
#include "app/clip_sound.hpp"
#include "app/frames_out.hpp"
#include "app/importer.hpp"
#include "app/player.hpp"

class QLabel;

namespace aspen::ui {

class Column;
class ContextBar;
class FindingsPanel;
class PictureView;
class Strip;

/// The bench: picture, strip and findings on the left, the column on the right.
class ReviewView : public QWidget {
    Q_OBJECT
  public:
    ReviewView(app::Bench& bench, app::Importer& importer, QWidget* parent = nullptr);
    PictureView& picture() { return *picture_; }
    FindingsPanel& findings() { return *findings_; }
    app::Player& player() { return player_; }
    ContextBar& context() { return *context_; }

  signals:
    void wants_exercise();
    void say(const QString& line);

  protected:
    void keyPressEvent(QKeyEvent*) override;

  private:
    bool arrow(QKeyEvent& e);
    bool letter(int key);
    bool playing_key(QKeyEvent& e);
    void copy_frame(bool with_figure);
    void save_frame();
    void save_stretch();
    app::Bench& bench_;
    app::Player player_;
    app::StretchWriter stretch_;
    app::ClipSound sound_;
    ContextBar* context_;
    PictureView* picture_;
    Strip* strip_;
    FindingsPanel* findings_;
    Column* column_;
};

}  // namespace aspen::ui
