#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <QWidget>

#include "app/lesson/lesson_desk.hpp"
#include "app/models/riders_model.hpp"
#include "sound/click_player.hpp"
#include "ui/lesson/rider_tile.hpp"
#include "ui/shared/standing_lines.hpp"
#include "ui/shared/view.hpp"
#include "ui/shared/view_actions.hpp"

namespace aspen::ui {

class LessonClock;
class ReplayPanel;
class RosterDelegate;
class SessionView;

/// The lesson at the ring, large, by keys and touch: every rider has a column of the keyboard. Space starts
/// and stops the clock, right and left go through the blocks.
class LessonView : public View {
    Q_OBJECT
  public:
    explicit LessonView(app::Yard& yard, QWidget* parent = nullptr);
    QString title() const override { return tr("Lesson"); }
    app::LessonDesk& desk() { return desk_; }
    /// Takes up a lesson of today that has not ended; else asks who rides.
    void open() override;
    /// Asks who rides, with this rider chosen.
    void prepare(store::RiderId rider);
    void leave() override;
    void begin();
    QList<QAction*> deeds() const override { return deeds_.all(); }
    std::vector<RiderTile*>& tiles() { return tiles_; }
    QLineEdit& word_line() { return *word_; }
    QListView& roster() { return *roster_; }
    ReplayPanel& replay() { return *replay_; }

  signals:
    /// The window may give it the whole screen, or take it back.
    void wants_whole_screen(bool whole);

  protected:
    void keyPressEvent(QKeyEvent*) override;
    bool eventFilter(QObject* watched, QEvent* e) override;

  private:
    void build_roster();
    void build_ring();
    void build_sheet(QVBoxLayout& box);
    void build_deeds();
    void rebuild();
    void rebuild_roster();
    void rebuild_tiles();
    void rebuild_sheet();
    QWidget* ground_choice(const QString& words, const QString& key, const QStringList& values,
                           const QString& now);
    void touched(int rider, RiderTile::Touch what);
    void show_side();
    void select(int rider);
    void ask_word(int rider);
    void word_given();
    void change_horse();
    void start();
    void told(const QString& line);
    std::pair<std::string, double> tempo_here() const;
    void clicks();
    void change_tempo(int by);
    bool rider_key(QKeyEvent& e);
    void tick();
    app::LessonDesk desk_;
    sound::ClickPlayer clicks_;
    app::RidersModel model_;
    QTimer timer_;
    QString answered_for_;  ///< what was open when the coach last asked for the clock
    ViewActions deeds_{*this, tr("Lesson")};
    QWidget *roster_page_, *ring_page_, *side_, *sheet_;
    ReplayPanel* replay_;
    QListView* roster_;
    RosterDelegate* tile_painter_;
    QLabel *roster_words_, *title_, *word_for_, *phrases_, *sheet_words_;
    QPushButton* begin_;
    LessonClock* clock_;
    SessionView* preview_;
    QGridLayout* grid_;
    QLineEdit* word_;
    std::unique_ptr<StandingLines> sheet_lines_;
    std::vector<RiderTile*> tiles_;
    int selected_ = 0, word_rider_ = -1, minutes_ = 45;
    bool says_at_end_ = false;
};

}  // namespace aspen::ui
