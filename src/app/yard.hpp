#pragma once

#include <QDate>
#include <QDir>
#include <QLockFile>
#include <QObject>
#include <QUndoStack>
#include <memory>
#include <vector>

#include "core/knowledge.hpp"
#include "store/yard_store.hpp"

namespace aspen::app {

/// The open yard: its folder, records and undo stack. Every change goes through here, is written at once, can
/// be taken back, and is announced by one signal; views listen and never write past it. Interface thread
/// only.
class Yard : public QObject {
    Q_OBJECT
  public:
    /// Opens or makes the yard in a folder. Throws core::Refused in one line, also when another window has it
    /// open.
    Yard(const QString& folder, std::shared_ptr<const core::Knowledge> knowledge, QObject* parent = nullptr);

    const core::Knowledge& knowledge() const { return *knowledge_; }
    std::shared_ptr<const core::Knowledge> shared_knowledge() const { return knowledge_; }
    store::YardStore& records() { return store_; }
    QUndoStack& undo_stack() { return undo_; }
    QDir folder() const { return folder_; }
    QDate today() const { return today_; }
    void set_today(QDate d) { today_ = d; }
    QString coach() { return QString::fromStdString(store_.setting("coach", "Your coach")); }

    /// Where a clip's file should be; relative paths are below the yard's folder.
    QString file_of(const store::Clip& clip) const;

    store::RiderId add_rider(const store::Rider& rider);
    void change_rider(const store::Rider& rider);
    store::HorseId add_horse(const store::Horse& horse);

    /// Not undoable: a clip that came in stays until it is put in the trash.
    store::ClipId add_clip(const store::Clip& clip);
    void move_clip(store::ClipId id, const QString& new_path);
    void leave_at(store::ClipId id, int frame);
    void set_length(store::ClipId id, double duration_s);
    void set_clip_state(store::ClipId id, store::ClipState state);
    void set_context(store::ClipId id, const store::ClipContext& context, const QString& what);
    void trash_clip(store::ClipId id);

    store::MomentId add_moment(store::Moment moment);
    void remove_moment(const store::Moment& moment);
    void set_phase(const store::Moment& moment, const std::string& phase);
    /// Marks with the same gesture number merge into one undo step (a drag, a run of nudges); 0 never merges.
    /// Many joints and the head's top at once; the moment is as it was read.
    void put_figure(const store::Moment& moment, const core::Figure& after,
                    std::optional<core::Point> head_top, const QString& what, int gesture = 0);
    void put_mark(const store::Moment& moment, core::Landmark landmark, const core::Mark& before,
                  const core::Mark& after, int gesture = 0);

    /// The whole list as it is to be; changes with the same gesture number merge (a border dragged).
    void set_stretches(store::ClipId clip, const core::Stretches& stretches, const QString& what,
                       int gesture = 0);
    void set_companions(store::ClipId clip, const std::vector<store::Companion>& companions);
    store::NoteId add_note(store::Note note);
    void change_note(const store::Note& note);
    void remove_note(const store::Note& note);
    /// Counts the words among the coach's own phrases.
    void add_remark(store::Remark remark);
    void remove_remark(const store::Remark& remark);

    /// What lies in the trash can be put back by undo, from the trash, or be deleted for good, which cannot.
    void trash_rider(store::RiderId id);
    void put_back(store::RiderId id);
    void put_back(store::ClipId id);
    /// False when another moment has taken its frame.
    bool put_back(const store::Moment& moment);
    void delete_for_good(store::ClipId id);

    /// A whole, consistent copy of the records, made by SQLite. Throws core::Refused.
    void back_up(const QString& file);
    /// Makes a backup the yard's records at the next start, and keeps the present ones beside them. Refused
    /// in one line when the file is no yard; empty when it will be done.
    static QString restore_at_start(const QString& folder, const QString& backup);

    void decide(const store::Finding& finding);
    /// Keeps the focus: makes corrections of the accepted faults, marks one as the focus and gives the
    /// exercise, for the clip's rider or in a clip of several for the one in this slot.
    void prescribe(const store::ClipId& clip, const std::string& focus_fault,
                   const std::vector<std::string>& accepted, const core::Exercise& exercise, int slot = 0);
    void withdraw(const store::Prescription& prescription, store::RiderId rider);

    /// Runs the work as one transaction whose changes cannot be taken back by the person: for what the
    /// program itself brings in (the demo's reviews), so that "undo" never touches what nobody did.
    void without_undo(const std::function<void()>& work);

  signals:
    void riders_changed();
    void clips_changed();
    void clip_changed(aspen::store::ClipId clip);
    void marks_changed(aspen::store::ClipId clip);
    void findings_changed(aspen::store::ClipId clip);
    void stretches_changed(aspen::store::ClipId clip);
    void notes_changed(aspen::store::ClipId clip);
    void corrections_changed(aspen::store::RiderId rider);

  private:
    void carry_out(QUndoCommand* change);
    bool recording_ = true;
    QDir folder_;
    QLockFile lock_;  ///< one window a yard
    std::shared_ptr<const core::Knowledge> knowledge_;
    store::YardStore store_;
    QUndoStack undo_;
    QDate today_;
};

/// Several changes as one undo step, closed also when one of them is refused.
class OneStep {
  public:
    OneStep(Yard& yard, const QString& what) : stack_(yard.undo_stack()) { stack_.beginMacro(what); }
    ~OneStep() { stack_.endMacro(); }
    OneStep(const OneStep&) = delete;
    OneStep& operator=(const OneStep&) = delete;

  private:
    QUndoStack& stack_;
};

}  // namespace aspen::app
