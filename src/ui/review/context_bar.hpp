#pragma once

#include <QHBoxLayout>
#include <QPushButton>
#include <QWidget>
#include <array>
#include <functional>

#include "app/review/player.hpp"

class QLabel;

#include "ui/review/bench_panel.hpp"

namespace aspen::ui {

/// What decides bands and signs, in one line of words: each word opens its choices in place; what is not yet
/// said asks for it in sky, one thing at a time.
class ContextBar : public BenchPanel {
    Q_OBJECT
  public:
    ContextBar(const app::BenchState& now, app::Player& player, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    void show_frame() override;
    /// Opens the choices of the first thing not yet said, if any.
    void ask_next();
    /// Goal, question, anything that hurts: what the rider says of this clip.
    void open_own_side();
    /// Who rides, on which horse: also where it is said already.
    void open_rider();
    void open_horse();

  signals:
    void answered();  ///< a menu closed

  private:
    enum Word { kRider, kHorse, kSchool, kGait, kSeat, kView, kTravel, kFilmed, kOwn, kDay, kPhase, kWords };
    /// A line of the ride to be written in a menu.
    struct Line {
        QString hint;
        std::string* (*of)(store::Ride& ride);
    };
    void open_word(Word word);
    void make_words(QHBoxLayout& row);
    void say_part();
    void refresh();
    std::array<QString, kWords> said() const;
    void choice(QMenu& menu, const QString& words, const app::Intent& intent);
    void fill(Word word, QMenu& menu);
    void fill_pair(Word word, QMenu& menu);
    void fill_ridden(Word word, QMenu& menu);
    void fill_day(QMenu& menu);
    void add_name_field(QMenu& menu, const QString& hint, bool nobody,
                        const std::function<void(const QString&)>& take);
    void fill_filmed(QMenu& menu);
    void fill_lines(QMenu& menu, const QString& what, const std::vector<Line>& lines);
    app::Player& player_;
    QStringList shown_;  ///< what the words say now, so that playing does not restyle them at every frame
    std::array<QPushButton*, kWords> words_{};
    QPushButton* turn_ = nullptr;
    QLabel* part_ = nullptr;  ///< which of the ride's clips this is
    QPushButton* copy_ = nullptr;
};

}  // namespace aspen::ui
