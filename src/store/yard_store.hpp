#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "store/database.hpp"
#include "store/records.hpp"

namespace aspen::store {

/// All reading and writing of the yard's records. Every call is one transaction unless within() groups
/// several. A row that breaks the schema throws core::Refused and changes nothing. Adding a moment or
/// correction that already has an id takes that id again, so that undo and redo keep what refers to it. One
/// thread.
class YardStore {
  public:
    explicit YardStore(const std::filesystem::path& file) : database_(file) {}
    Database& database() { return database_; }

    /// Runs the work in one transaction; an exception rolls all of it back.
    void within(const std::function<void()>& work);

    RiderId add(const Rider& rider);
    void update(const Rider& rider);
    /// The trash is left out.
    std::vector<Rider> riders();
    std::vector<Rider> trashed_riders();
    std::optional<Rider> rider(RiderId id);

    HorseId add(const Horse& horse);
    std::vector<Horse> horses();
    std::optional<Horse> horse(HorseId id);

    ClipId add(const Clip& clip);
    void update(const Clip& clip);
    /// Newest filming date first; the trash is left out.
    std::vector<Clip> clips();
    std::vector<Clip> clips_of(RiderId rider);
    /// Clips in which the rider is a companion, with that companion's slot; rider and horse of the context
    /// are theirs.
    std::vector<std::pair<Clip, int>> clips_as_companion(RiderId rider);
    std::vector<Clip> trashed_clips();
    /// For good, with all that hangs on it.
    void remove(ClipId id);
    std::optional<Clip> clip(ClipId id);
    std::optional<Clip> clip_with_hash(const std::string& hash);

    MomentId add(const Moment& moment);
    void set_phase(MomentId id, const std::string& phase);
    void set_head_top(MomentId id, std::optional<core::Point> at);
    /// Into the trash, or back. Its frame is free for another moment meanwhile; putting it back then is
    /// refused.
    void trash(MomentId id, bool trashed);
    void remove(MomentId id);
    /// Writes one joint; an absent mark removes it.
    void put(MomentId id, core::Landmark landmark, const core::Mark& mark);
    /// In frame order, with figures; view, travel and camera are filled in from the clip. Of all riders in
    /// the clip.
    std::vector<Moment> moments(ClipId clip);
    std::vector<Moment> trashed_moments();
    /// Moments of all clips of this rider, as figures with the clip's view, travel and camera.
    std::vector<core::Figure> figures_of(RiderId rider);
    /// Every figure in the yard that has joints the program placed.
    std::vector<core::Figure> placed_figures();

    void put_stretches(ClipId clip, const core::Stretches& stretches);
    core::Stretches stretches(ClipId clip);
    void put_companions(ClipId clip, const std::vector<Companion>& companions);
    std::vector<Companion> companions(ClipId clip);

    NoteId add(const Note& note);
    void update(const Note& note);
    void remove(NoteId id);
    std::vector<Note> notes(ClipId clip);
    RemarkId add(const Remark& remark);
    void remove(RemarkId id);
    std::vector<Remark> remarks(ClipId clip);

    /// Counts one more use of a phrase of this coach.
    void use_phrase(const std::string& words, int by = 1);
    /// The phrases used most, most used first.
    std::vector<std::string> phrases(int most = 9);

    void put(const Finding& finding);
    void remove_finding(ClipId clip, const std::string& fault, int slot = 0);
    std::vector<Finding> findings(ClipId clip);

    CorrectionId add(const Correction& correction);
    void update(const Correction& correction);
    void remove(CorrectionId id);
    std::vector<Correction> corrections(RiderId rider);
    std::optional<Correction> correction_like(const Correction& wanted);

    PrescriptionId add(const Prescription& prescription);
    void withdraw(PrescriptionId id, bool withdrawn);
    std::vector<Prescription> prescriptions(CorrectionId correction);

    std::string setting(const std::string& key, const std::string& otherwise = {});
    void set_setting(const std::string& key, const std::string& value);

  private:
    Database database_;
    int depth_ = 0;
};

}  // namespace aspen::store
