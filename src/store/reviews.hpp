#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "store/part.hpp"
#include "store/rides.hpp"

namespace aspen::store {

/// What is marked and said in a review.
class Reviews : Part {
  public:
    Reviews(Transactions& transactions, const Rides& rides) : Part(transactions), rides_(rides) {}

    MomentId add(const Moment& moment);
    void set_phase(MomentId id, const std::string& phase);
    void set_head_top(MomentId id, std::optional<core::Point> at);
    /// Into the trash, or back. Its frame is free for another moment meanwhile; putting it back then is
    /// refused.
    void trash(MomentId id, bool trashed);
    void remove(MomentId id);
    /// Writes one joint; an absent mark removes it.
    void put(MomentId id, core::Landmark landmark, const core::Mark& mark);
    std::optional<Moment> moment(MomentId id) const;
    /// In frame order, with figures; view, travel and camera are the stretch's. Of all riders in the clip.
    std::vector<Moment> moments(ClipId clip) const;
    std::vector<Moment> trashed_moments() const;
    /// Figures of this rider, the newest first, at most so many.
    std::vector<core::Figure> figures_of(RiderId rider, int most = 120) const;
    /// Figures that have joints the program placed, the newest first, at most so many.
    std::vector<core::Figure> placed_figures(int most = 400) const;
    /// Figures of other riders that have joints the program placed, rider by rider, those last marked first.
    std::vector<std::vector<core::Figure>> placed_figures_of_others(RiderId own, int most_riders = 20,
                                                                    int most_each = 40) const;

    NoteId add(const Note& note);
    void update(const Note& note);
    void remove(NoteId id);
    std::vector<Note> notes(ClipId clip) const;
    RemarkId add(const Remark& remark);
    void remove(RemarkId id);
    std::vector<Remark> remarks(RideId ride) const;
    EventId add(const Event& event);
    void update(const Event& event);
    void remove(EventId id);
    std::vector<Event> events(RideId ride) const;
    /// Of a clip, of all riders in it, by time.
    std::vector<Event> events_in(ClipId clip) const;

    /// The later one takes the place of the earlier on the same frame.
    void put(const Answer& answer);
    void remove(AnswerId id);
    /// Of all riders in the clip, in frame order.
    std::vector<Answer> answers(ClipId clip) const;

    SketchId add(const Sketch& sketch);
    void remove(SketchId id);
    std::vector<Sketch> sketches(ClipId clip) const;
    /// A lap line takes the place of the clip's earlier one.
    GroundMarkId add(const GroundMark& mark);
    void remove(GroundMarkId id);
    std::vector<GroundMark> ground_marks(ClipId clip) const;
    RepeatId add(const Repeat& repeat);
    /// All of this coach's, the newest first, at most so many.
    std::vector<Repeat> repeats(int most = 400) const;

    /// Counts one more use of a phrase of this coach.
    void use_phrase(const std::string& words, int by = 1);
    /// The phrases used most, most used first.
    std::vector<std::string> phrases(int most = 9) const;

    /// One a ride, fault, gait, seat and side: the later one takes the place of the earlier.
    void put(const Finding& finding);
    std::vector<Finding> findings(RideId ride) const;

  private:
    const Rides& rides_;
};

}  // namespace aspen::store
