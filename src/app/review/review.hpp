#pragma once

#include <QObject>
#include <memory>
#include <optional>
#include <vector>

#include "app/review/bench_news.hpp"
#include "app/review/clip_deck.hpp"
#include "app/rides/ridden_in.hpp"
#include "app/yard/yard.hpp"

namespace aspen::app {

/// The review of one clip of a ride: whose figure is looked at, its marked moments, stretches, notes, and
/// what is said of all of them. Reads again what a step of the yard touched; what it changes goes
/// through the yard. Interface thread only.
class Review : public QObject {
    Q_OBJECT
  public:
    Review(Yard& yard, ClipDeck& deck, BenchNews& news, QObject* parent = nullptr);
    ~Review() override;

    Yard& yard() { return yard_; }
    ClipDeck& deck() { return deck_; }
    BenchNews& news() { return news_; }
    void open(store::ClipId id, int slot = 0);
    void close();
    bool is_open() const { return clip_.has_value(); }
    const store::Clip& clip() const { return *clip_; }
    /// The ride of the rider whose figure is shown; an empty one for none.
    const store::Ride& ride() const { return ride_; }
    store::RiderId rider() const { return ride_.rider; }
    store::HorseId horse() const { return ride_.horse; }
    /// Their cards; none where nobody or no horse is said.
    const std::optional<store::Rider>& rider_card() const { return rider_card_; }
    const std::optional<store::Horse>& horse_card() const { return horse_card_; }

    /// Several riders in a clip: every slot is one's place in it.
    int slot() const { return slot_; }
    const std::vector<store::Slot>& places() const { return places_; }
    void show_slot(int slot);

    /// Of all riders in the clip.
    const std::vector<store::Moment>& moments() const { return moments_; }
    /// The moment at the deck's frame of the rider whose figure is shown.
    const store::Moment* moment() const { return moment_at(deck_.frame()); }
    const store::Moment* moment_at(int frame) const;
    /// Moments of the ride's other clips, of this rider, as core judges them.
    const std::vector<core::RideMoment>& elsewhere() const;
    /// What the coach's eye said in this clip, of all riders in it.
    const std::vector<store::Answer>& answers() const { return answers_; }
    /// What the coach drew in this clip.
    const std::vector<store::Sketch>& sketches() const { return sketches_; }
    /// What was logged in this clip, of all riders in it, by time.
    const std::vector<store::Event>& events() const { return events_; }
    const std::vector<store::GroundMark>& ground() const { return ground_; }
    /// The whole ride as core judges it; `here` takes the place of the figure at the deck's frame, while a
    /// joint is being dragged.
    core::RideData gathered(const std::optional<core::Figure>& here) const;
    /// A moment's figure as its stretch is seen; an empty one for none.
    core::Figure figure_of(const store::Moment* m) const;

    const core::Stretches& stretches() const { return stretches_; }
    const core::Stretch& stretch() const { return core::ridden_at(stretches_, deck_.frame()); }
    /// What of the ride decides bands.
    const RiddenIn& ridden() const { return ridden_; }
    core::Setting setting() const;
    core::Setting setting_of(int frame, const std::string& phase) const;
    /// What is still to be said for bands at this frame, in the order in which it is asked.
    std::vector<std::string> missing() const;
    const std::vector<store::Note>& notes() const { return notes_; }
    /// Of this ride.
    const std::vector<store::Remark>& remarks() const { return remarks_; }
    /// What the coach decided on this ride.
    const std::vector<store::Finding>& decided() const { return decided_; }

    bool travel_doubtful() const;
    /// Notes where one is, so that one goes on there next time.
    void keep_place();

    /// Reads again what the horse's way on the ground answers.
    void read_ground();
    /// Reads again what a step touched of it.
    void follow(const store::Touched& touched);
    /// The deck came to another frame.
    void come_to_frame();

  private:
    void clear();
    void reload();
    void read_ride();
    void read_elsewhere();
    void read_events();
    void follow_events();
    bool only_counted();
    Yard& yard_;
    ClipDeck& deck_;
    BenchNews& news_;
    std::optional<store::Clip> clip_;
    store::Ride ride_;
    std::optional<store::Rider> rider_card_;
    std::optional<store::Horse> horse_card_;
    std::vector<store::Slot> places_;
    std::vector<store::Moment> moments_;
    std::vector<store::Answer> answers_;
    std::vector<store::Sketch> sketches_;
    std::vector<store::Event> events_;
    std::vector<store::GroundMark> ground_;
    std::vector<store::Answer> by_ground_;
    std::unique_ptr<core::RideData> elsewhere_;
    RiddenIn ridden_;
    core::Stretches stretches_ = core::whole_clip();
    std::vector<store::Note> notes_;
    std::vector<store::Remark> remarks_;
    std::vector<store::Finding> decided_;
    int slot_ = 0;
};

}  // namespace aspen::app
