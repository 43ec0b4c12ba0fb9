#pragma once

#include <QObject>
#include <QStringList>
#include <optional>
#include <span>

#include "app/review/bench.hpp"
#include "app/review/player.hpp"
#include "core/motion/happenings.hpp"

namespace aspen::app {

/// One key of the logging hand and what it stands for.
struct EventKey {
    const char* key;     ///< as QKeySequence reads it
    const char* event;   ///< of the vocabulary in docs/formats.md
    const char* detail;  ///< "" or key=value
    int row, place;  ///< where the key lies under the left hand, the shifted layer below: rows 0…3 and 4…7
};
/// `hooves`: the four feet under four fingers instead, for slow play.
std::span<const EventKey> event_keys(bool hooves = false);

/// What can be said more of an event: groups of choices, each a key and a value of its detail.
struct EventChoice {
    std::string key, value;
    QString words;
    bool holds = false;
};
std::vector<EventChoice> choices_of(const store::Event& event);

/// The coach's own time from seeing to pressing.
inline constexpr int kUsualReactionMs = 200;
int reaction_ms(const Yard& yard);
bool reaction_measured(const Yard& yard);
void set_reaction_ms(Yard& yard, int ms);

/// Logs what happens in the open clip, by key: an instant while it plays is pulled back by the coach's own
/// reaction, one in a still frame is that frame's. Interface thread only.
class EventLog : public QObject {
    Q_OBJECT
  public:
    EventLog(Bench& bench, Player& player, QObject* parent = nullptr);

    /// While it is on, only playing and events remain on the keys.
    bool on() const { return on_; }
    void set_on(bool on);
    /// Whether the hand lies on the four hooves; leaving the log leaves them too.
    bool hooves() const { return hooves_; }
    void set_hooves(bool on);
    store::EventId log(const std::string& event, const std::string& detail = {});
    /// The event that is chosen: the last one logged, or one that was pointed at; empty for none.
    std::optional<store::Event> chosen() const;
    void choose(store::EventId id);
    /// Says one thing more of the chosen event, or takes it back when it holds.
    void say_more(const EventChoice& choice);
    /// Moves the chosen event to an instant of the clip; all since the last begin_move is one step.
    void begin_move();
    void move_to(double time_s);
    void take_away();
    /// Goes to the next event in a direction and chooses it.
    void go(int direction);

    /// What was logged in this clip, and in the whole ride, counted; times are real ones where the clip is
    /// slow motion.
    core::HappeningReport counted_here() const;
    core::HappeningReport counted_in_ride() const;
    QStringList words_here() const;
    QStringList words_of_ride() const;

  signals:
    void changed();  ///< on, off, another one chosen

  private:
    double instant() const;
    Bench& bench_;
    Player& player_;
    bool on_ = false, hooves_ = false;
    store::EventId chosen_;
    int move_gesture_ = 0;
};

/// Of any ride, from the records.
core::HappeningReport counted_in(const Yard& yard, const store::Ride& ride);
/// Leads taken and missed on a horse, over the newest rides in which any was logged (at most so many); the
/// second: in how many rides.
std::pair<core::HappeningSums, int> leads_on(const Yard& yard, store::HorseId horse, int rides = 24);
/// Strides a minute of the gait that the ride's events lie in; empty where it was not said.
std::optional<double> usual_tempo(const core::Stretches& stretches, int frame);

}  // namespace aspen::app
