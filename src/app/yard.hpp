#pragma once

#include <QDate>
#include <QDir>
#include <QObject>
#include <QUndoStack>
#include <memory>
#include <vector>

#include "core/knowledge.hpp"
#include "store/yard_store.hpp"

namespace aspen::app {

/// The open yard: its folder, records and undo stack. Every change goes through here, is written at once, can be
/// taken back, and is announced by one signal; views listen and never write past it. Interface thread only.
class Yard : public QObject {
    Q_OBJECT
  public:
    /// Opens or makes the yard in a folder. Throws core::Refused in one line.
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
    void set_clip_state(store::ClipId id, store::ClipState state);
    void set_context(store::ClipId id, const store::ClipContext& context, const QString& what);
    void trash_clip(store::ClipId id);

    store::MomentId add_moment(store::Moment moment);
    void remove_moment(const store::Moment& moment);
    void set_phase(const store::Moment& moment, const std::string& phase);
    /// Marks with the same gesture number merge into one undo step (a drag, a run of nudges); 0 never merges.
    void put_mark(const store::Moment& moment, core::Landmark landmark, const core::Mark& before, const core::Mark& after, int gesture = 0);

    void decide(const store::Finding& finding);
    /// Keeps the focus: makes corrections of the accepted faults, marks one as the focus and gives the exercise.
    void prescribe(const store::ClipId& clip, const std::string& focus_fault, const std::vector<std::string>& accepted, const core::Exercise& exercise);
    void withdraw(const store::Prescription& prescription, store::RiderId rider);

    /// Runs the work as one transaction whose changes cannot be taken back by the person: for what the program
    /// itself brings in (the demo's reviews), so that "undo" never touches what nobody did.
    void without_undo(const std::function<void()>& work);

  signals:
    void riders_changed();
    void clips_changed();
    void clip_changed(aspen::store::ClipId clip);
    void marks_changed(aspen::store::ClipId clip);
    void findings_changed(aspen::store::ClipId clip);
    void corrections_changed(aspen::store::RiderId rider);

  private:
    void carry_out(QUndoCommand* change);
    bool recording_ = true;
    QDir folder_;
    std::shared_ptr<const core::Knowledge> knowledge_;
    store::YardStore store_;
    QUndoStack undo_;
    QDate today_;
};

}  // namespace aspen::app
