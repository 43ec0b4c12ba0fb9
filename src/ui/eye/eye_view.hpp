#pragma once

#include <QAction>
#include <QLabel>
#include <QTimer>
#include <QWidget>
#include <memory>

#include "app/eye/eye_desk.hpp"
#include "app/review/clip_deck.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/painted_rows.hpp"
#include "ui/shared/picture_stage.hpp"
#include "ui/shared/view.hpp"
#include "ui/shared/view_actions.hpp"

namespace aspen::ui {

class WordLine;

/// The drills as they stand: what is due, how far off the eye is, and how that went over time. A row a drill.
class DrillList : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    DrillList(app::EyeDesk& desk, QWidget* parent);
    void renew();
    int row_count() const override { return static_cast<int>(lines_.size()); }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override { emit chosen(lines_[static_cast<std::size_t>(row)].kind); }

  signals:
    void chosen(aspen::core::DrillKind kind);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    QString skill_words(const app::EyeDesk::Line& line) const;
    QString due_words(const app::EyeDesk::Line& line) const;
    void paint_history(QPainter& p, const app::EyeDesk::Line& line, const QRectF& area) const;
    app::EyeDesk& desk_;
    std::vector<app::EyeDesk::Line> lines_;
};

/// The picture of a question: drawn by the simulator, still or moving, or a frame of the coach's own.
class DrillPicture : public QWidget {
    Q_OBJECT
  public:
    DrillPicture(app::EyeDesk& desk, QWidget* parent);
    /// Shows the question's picture; with its figure once it is answered.
    void renew();
    void stop();
    /// Something to look at is there.
    bool shows() const { return !stage_.picture().isNull(); }

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    app::EyeDesk& desk_;
    PictureStage stage_;
    std::unique_ptr<app::ClipDeck> deck_;
    QTimer moving_;
    QElapsedTimer clock_;
    std::string shown_;
};

/// The coach's eye: short rounds by keys, whose truth is known, with what the answers say over time.
class EyeView : public View {
    Q_OBJECT
  public:
    explicit EyeView(app::Yard& yard, QWidget* parent = nullptr);
    QString title() const override { return tr("Eye"); }
    void open() override;
    void leave() override;
    app::EyeDesk& desk() { return desk_; }
    DrillPicture& picture() { return *picture_; }
    QList<QAction*> deeds() const override { return deeds_.all(); }
    /// What the guess stands at, degrees.
    double guess() const { return guess_; }

  signals:
    void wants_blind_mark(aspen::store::ClipId clip, int frame);

  protected:
    void keyPressEvent(QKeyEvent*) override;

  private:
    void build_deeds();
    void renew();
    void press(int choice);
    void change_guess(double by);
    void go_on();
    void mark_blind();
    QString standing() const;
    app::EyeDesk desk_;
    ViewActions deeds_{*this, tr("Eye")};
    QLabel *title_, *about_, *question_, *choices_, *said_;
    HintLine* hint_;
    DrillList* list_;
    DrillPicture* picture_;
    WordLine* line_;
    QWidget *home_, *round_;
    double guess_ = 0;
    int place_ = -1;
};

}  // namespace aspen::ui
