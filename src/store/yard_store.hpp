#pragma once

#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "store/changes.hpp"
#include "store/database.hpp"
#include "store/folder_lock.hpp"
#include "store/records.hpp"

namespace aspen::store {

/// A clip as part of a rider's ride.
struct RiddenClip {
    Ride ride;
    Clip clip;
    int slot = 0;
};

/// One line of the yard's lists: a ride with what is shown of it at once.
struct RideLine {
    Ride ride;
    std::string rider, horse;  ///< names
    int clips = 0;
    double duration_s = 0;
    Clip first;         ///< the earliest clip that is not in the trash
    std::string focus;  ///< the fault in work for rider and horse, "" for none
};

enum class HitKind { rider, horse, ride, note, remark, finding };
/// One place where the words that were looked for stand.
struct Hit {
    HitKind kind = HitKind::ride;
    std::int64_t id = 0;
    std::string text, day;
    RideId ride{};  ///< where it leads; none for riders and horses
};

/// The open database and its transaction, under the records below: each class adds a kind of them to the one
/// before, so that none is too large to read. One thread.
class Transactions {
  public:
    /// Keeps the folder from having other records put in their place meanwhile.
    explicit Transactions(const std::filesystem::path& file)
        : open_(file.parent_path(), FolderLock::Kind::together, kWaitForRestore), database_(file) {}
    Database& database() { return database_; }

    /// Runs the work in one transaction; an exception rolls all of it back. Inside another one it joins that.
    void within(const std::function<void()>& work);
    bool in_transaction() const { return depth_ > 0; }
    /// The same, and says what it changed.
    ChangeSet recorded(const std::function<void()>& work);
    /// Carries a change out again, in one transaction. Throws core::Refused, and changes nothing, where the
    /// rows are no longer what they were.
    void apply(const ChangeSet& change);
    Touched touched_by(const ChangeSet& change);

  private:
    static constexpr std::chrono::seconds kWaitForRestore{10};
    FolderLock open_;

  protected:
    Database database_;

  private:
    int depth_ = 0;
};

/// Riders with what their bodies allow, and horses.
class PeopleRecords : public Transactions {
  public:
    using Transactions::Transactions;
    RiderId add(const Rider& rider);
    void update(const Rider& rider);
    /// The trash is left out.
    std::vector<Rider> riders();
    std::vector<Rider> trashed_riders();
    std::optional<Rider> rider(RiderId id);
    std::vector<Limitation> limitations(RiderId rider);
    void put_limitations(RiderId rider, const std::vector<Limitation>& all);
    /// The later one takes the place of the earlier for this rider, saddle and job.
    void put(const Stirrup& stirrup);
    std::vector<Stirrup> stirrups(RiderId rider);
    /// The earlier one stays where there is one already.
    void put(const SignOff& sign_off);
    void remove(SignOffId id);
    /// Oldest first.
    std::vector<SignOff> sign_offs(RiderId rider);
    HorseId add(const Horse& horse);
    void update(const Horse& horse);
    std::vector<Horse> horses();
    std::optional<Horse> horse(HorseId id);
    /// Rides on this horse in which a lead was logged, newest first, so many at most.
    std::vector<RideId> rides_with_leads(HorseId id, int most);
    /// What the eye named in rides on this horse, with in how many of them, the most often first.
    std::vector<std::pair<std::string, int>> named_on(HorseId id);
};

/// Rides, their clips and the riders' places in them, and what the yard's lists show at once.
class RideRecords : public PeopleRecords {
  public:
    using PeopleRecords::add;
    using PeopleRecords::PeopleRecords;
    using PeopleRecords::put;
    using PeopleRecords::remove;
    using PeopleRecords::update;
    RideId add(const Ride& ride);
    void update(const Ride& ride);
    std::optional<Ride> ride(RideId id);
    /// Newest first.
    std::vector<Ride> rides_of(RiderId rider);
    /// Under all its riders.
    std::vector<Ride> rides_on(HorseId horse, const std::string& day);
    /// Rides that wait for the coach: not done, with at least one clip.
    std::vector<RideLine> waiting();
    /// Rides that are done, newest first, so many after the first `skip`.
    std::vector<RideLine> done(int skip, int most);
    int count_done();
    /// All rides, newest first; focus is the fault an exercise was given for in this ride.
    std::vector<RideLine> all_rides();
    /// The newest day each rider rode.
    std::map<RiderId, std::string> last_days();

    ClipId add(const Clip& clip);
    void update(const Clip& clip);
    /// By day, newest first; the trash is left out.
    std::vector<Clip> clips();
    std::vector<Clip> clips_of(RideId ride);
    /// All that this rider rode, newest day first; the trash is left out.
    std::vector<RiddenClip> ridden_by(RiderId rider);
    /// The same of a horse.
    std::vector<RiddenClip> ridden_on(HorseId horse);
    std::vector<Clip> trashed_clips();
    std::optional<Clip> clip(ClipId id);
    std::optional<Clip> clip_with_hash(const std::string& hash);

    void put(const Slot& slot);
    void remove_slot(ClipId clip, int slot);
    std::vector<Slot> places(ClipId clip);
    void put_stretches(ClipId clip, const core::Stretches& stretches);
    core::Stretches stretches(ClipId clip);
};

/// What is marked and said in a review.
class ReviewRecords : public RideRecords {
  public:
    using RideRecords::add;
    using RideRecords::put;
    using RideRecords::remove;
    using RideRecords::RideRecords;
    using RideRecords::update;
    MomentId add(const Moment& moment);
    void set_phase(MomentId id, const std::string& phase);
    void set_head_top(MomentId id, std::optional<core::Point> at);
    /// Into the trash, or back. Its frame is free for another moment meanwhile; putting it back then is
    /// refused.
    void trash(MomentId id, bool trashed);
    void remove(MomentId id);
    /// Writes one joint; an absent mark removes it.
    void put(MomentId id, core::Landmark landmark, const core::Mark& mark);
    std::optional<Moment> moment(MomentId id);
    /// In frame order, with figures; view, travel and camera are the stretch's. Of all riders in the clip.
    std::vector<Moment> moments(ClipId clip);
    std::vector<Moment> trashed_moments();
    /// Figures of this rider, the newest first, at most so many.
    std::vector<core::Figure> figures_of(RiderId rider, int most = 120);
    /// Figures that have joints the program placed, the newest first, at most so many.
    std::vector<core::Figure> placed_figures(int most = 400);

    NoteId add(const Note& note);
    void update(const Note& note);
    void remove(NoteId id);
    std::vector<Note> notes(ClipId clip);
    RemarkId add(const Remark& remark);
    void remove(RemarkId id);
    std::vector<Remark> remarks(RideId ride);
    EventId add(const Event& event);
    void update(const Event& event);
    void remove(EventId id);
    std::vector<Event> events(RideId ride);
    /// Of a clip, of all riders in it, by time.
    std::vector<Event> events_in(ClipId clip);

    /// The later one takes the place of the earlier on the same frame.
    void put(const Answer& answer);
    void remove(AnswerId id);
    /// Of all riders in the clip, in frame order.
    std::vector<Answer> answers(ClipId clip);

    SketchId add(const Sketch& sketch);
    void remove(SketchId id);
    std::vector<Sketch> sketches(ClipId clip);
    /// A lap line takes the place of the clip's earlier one.
    GroundMarkId add(const GroundMark& mark);
    void remove(GroundMarkId id);
    std::vector<GroundMark> ground_marks(ClipId clip);
    RepeatId add(const Repeat& repeat);
    /// All of this coach's, the newest first, at most so many.
    std::vector<Repeat> repeats(int most = 400);

    /// Counts one more use of a phrase of this coach.
    void use_phrase(const std::string& words, int by = 1);
    /// The phrases used most, most used first.
    std::vector<std::string> phrases(int most = 9);

    /// One a ride, fault, gait, seat and side: the later one takes the place of the earlier.
    void put(const Finding& finding);
    std::vector<Finding> findings(RideId ride);
};

/// What is in work: corrections and what was given for them.
class WorkRecords : public ReviewRecords {
  public:
    using ReviewRecords::add;
    using ReviewRecords::remove;
    using ReviewRecords::ReviewRecords;
    using ReviewRecords::update;
    CorrectionId add(const Correction& correction);
    void update(const Correction& correction);
    void remove(CorrectionId id);
    /// The focus first.
    std::vector<Correction> corrections(RiderId rider);
    std::optional<Correction> correction_like(const Correction& wanted);

    PrescriptionId add(const Prescription& prescription);
    void withdraw(PrescriptionId id, bool withdrawn);
    std::vector<Prescription> prescriptions(CorrectionId correction);
    /// The newest running one of each rider's focus: rider, exercise's id, until when.
    struct Running {
        RiderId rider;
        std::string fault, exercise, until;
    };
    std::vector<Running> running();
};

/// What is practised, how riders' weeks look, and lessons.
class TrainingRecords : public WorkRecords {
  public:
    using RideRecords::places;
    using WorkRecords::add;
    using WorkRecords::put;
    using WorkRecords::remove;
    using WorkRecords::update;
    using WorkRecords::WorkRecords;
    PracticeId add(const PracticeEntry& entry);
    void update(const PracticeEntry& entry);
    void remove(PracticeId id);
    /// In order of days.
    std::vector<PracticeEntry> practice_of(RiderId rider);

    /// The later one takes the place of the earlier.
    void put(const RiderPlan& plan);
    /// What is taken for granted where nothing was said.
    RiderPlan plan_of(RiderId rider);

    LessonId add(const Lesson& lesson);
    void update(const Lesson& lesson);
    void remove(LessonId id);
    std::optional<Lesson> lesson(LessonId id);
    /// Newest first, so many at most.
    std::vector<Lesson> lessons(int most = 30);
    LessonPlaceId add(const LessonPlace& place);
    void update(const LessonPlace& place);
    void remove(LessonPlaceId id);
    /// In turn.
    std::vector<LessonPlace> places(LessonId id);
    /// Logged by the wall clock in this ride and not yet laid under a clip, in order.
    std::vector<Note> clock_notes(RideId ride);
    std::vector<Event> clock_events(RideId ride);
    /// The lessons of a day in which this horse went, with the ride.
    std::vector<std::pair<Lesson, LessonPlace>> lessons_of(HorseId horse, const std::string& day);
};

/// How corrections go on: the coach's word on them, what may explain a change, promised clips, what leaves,
/// and how good the coach's eye is.
class FollowRecords : public TrainingRecords {
  public:
    using TrainingRecords::add;
    using TrainingRecords::remove;
    using TrainingRecords::TrainingRecords;
    using TrainingRecords::update;
    CorrectionWordId add(const CorrectionWord& word);
    void remove(CorrectionWordId id);
    /// In the order in which they were said.
    std::vector<CorrectionWord> words_on(CorrectionId correction);

    MilestoneId add(const Milestone& milestone);
    void update(const Milestone& milestone);
    void remove(MilestoneId id);
    /// Of the rider, and of the horses the rider rode; in order of days.
    std::vector<Milestone> milestones_of(RiderId rider);
    std::vector<Milestone> milestones_of(HorseId horse);

    PromiseId add(const Promise& promise);
    void update(const Promise& promise);
    void remove(PromiseId id);
    /// Those that nobody closed, of riders who are not in the trash, the earliest due first.
    std::vector<Promise> open_promises();
    std::vector<Promise> promises_of(RiderId rider);

    OutgoingId add(const Outgoing& outgoing);
    void update(const Outgoing& outgoing);
    void remove(OutgoingId id);
    /// Newest first, so many at most; all riders' where none is named.
    std::vector<Outgoing> outbox(RiderId rider = {}, int most = 200);

    DrillId add(const DrillAnswer& answer);
    void remove(DrillId id);
    /// Oldest first; of one kind, or of all with "".
    std::vector<DrillAnswer> drills(const std::string& kind = {});

    /// All corrections of riders who are not in the trash.
    std::vector<Correction> all_corrections();
    /// Lessons in which this horse went, newest day first, so many at most, with the ride.
    std::vector<std::pair<Lesson, LessonPlace>> lessons_with(HorseId horse, int most = 60);
    /// The earliest ride from that day on of which a clip is here, and its clip; on one horse, or on any.
    std::optional<std::pair<ClipId, std::string>> first_clip_since(RiderId rider, HorseId horse,
                                                                   const std::string& day);
};

/// What was agreed to and what left, reviews that were spoken, faces the coach set, rides of other yards.
class LeavingRecords : public FollowRecords {
  public:
    using FollowRecords::add;
    using FollowRecords::FollowRecords;
    using FollowRecords::put;
    using FollowRecords::remove;
    using FollowRecords::update;
    ConsentId add(const Consent& consent);
    void update(const Consent& consent);
    /// All of a rider, also those that ended, in the order in which they were given.
    std::vector<Consent> consents_of(RiderId rider);

    DepartureId add(const Departure& departure);
    /// Newest first, so many at most; all riders' where none is named.
    std::vector<Departure> departures(RiderId rider = {}, int most = 500);

    SpokenId add(const Spoken& spoken);
    void update(const Spoken& spoken);
    void remove(SpokenId id);
    std::optional<Spoken> spoken(SpokenId id);
    /// Newest first.
    std::vector<Spoken> spoken_over(ClipId clip);

    /// Takes the place of what was said of that person on that frame.
    FaceMarkId put(const FaceMark& mark);
    void remove(FaceMarkId id);
    /// By person, then by frame.
    std::vector<FaceMark> face_marks(ClipId clip);

    ParcelId add(const Parcel& parcel);
    std::vector<Parcel> parcels_of(RideId ride);
    bool parcel_known(const std::string& sha256);
};

/// All reading and writing of the yard's records. Every call is one transaction unless within() groups
/// several. A row that breaks the schema throws core::Refused and changes nothing. Adding a row that has a
/// number already takes that number again. One thread.
class YardStore : public LeavingRecords {
  public:
    using LeavingRecords::LeavingRecords;
    using LeavingRecords::remove;
    using RideRecords::places;
    using TrainingRecords::places;

    /// Everything of the one becomes the other's, and the one is gone. Corrections of the same thing become
    /// one.
    void merge(RiderId from, RiderId into);
    void merge(HorseId from, HorseId into);
    /// For good, with rides, corrections and limitations. Gives the clips in which nobody else rides, which
    /// go too.
    std::vector<Clip> remove(RiderId id);

    void remove(RideId id);
    /// All that belongs to the one ride goes into the other; of two decisions on the same fault the later one
    /// stays.
    void merge(RideId from, RideId into);
    /// For good, with all that hangs on it; rides that have no clip and nothing said any more go too.
    void remove(ClipId id);

    /// Clears the file of what was deleted. Not within a transaction. Throws core::Refused.
    void leave_no_trace() { database_.leave_no_trace(); }

    /// Places where all the words stand: riders and horses, then the newest of each kind by day. The last
    /// word may be a beginning only.
    std::vector<Hit> search(const std::string& words, int most = 50);

    /// What the coach wrote beside the shipped data, by kind and id.
    std::vector<std::pair<std::string, std::string>> own_data(const std::string& kind);
    void put_own_data(const std::string& kind, const std::string& id, const std::string& body);
    void remove_own_data(const std::string& kind, const std::string& id);

    std::string setting(const std::string& key, const std::string& otherwise = {});
    void set_setting(const std::string& key, const std::string& value);

  private:
    void erase_if_bare(RideId ride);
    void keep_face(ClipId clip, int slot);
    void withdraw_alike(RiderId one, RiderId other);
};

}  // namespace aspen::store
