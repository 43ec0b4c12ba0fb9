#pragma once

#include <QDateTime>
#include <QDir>
#include <QObject>
#include <concepts>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "app/files/yard_lock.hpp"
#include "app/jobs/jobs.hpp"
#include "app/yard/steps.hpp"
#include "core/knowledge/knowledge.hpp"
#include "store/yard_store.hpp"

namespace aspen::app {

/// The open yard: its folder, records, steps that can be taken back, and what runs in the background. Every
/// change goes through step() or quietly(): one transaction, written at once, announced after the commit by
/// signals that say whose records it concerns; views listen and read again, and never write past it. What
/// exactly changed is recorded by the store, so no change has to say how it is undone. The changes
/// themselves, by what they are about, are free functions in changes.hpp. Interface thread only.
class Yard : public QObject {
    Q_OBJECT
  public:
    /// Opens or makes the yard in a folder. Throws core::Refused in one line, also when another window has it
    /// open.
    Yard(const QString& folder, std::shared_ptr<const core::Knowledge> knowledge, QObject* parent = nullptr);
    ~Yard() override;

    /// The snapshot now; whoever keeps something of it keeps the shared pointer too.
    const core::Knowledge& knowledge() const { return *knowledge_; }
    std::shared_ptr<const core::Knowledge> shared_knowledge() const { return knowledge_; }
    /// To be read; whoever wants to change something gets it to write in from step().
    const store::YardStore& records() const { return store_; }
    Jobs& jobs() { return jobs_; }
    QDir folder() const { return folder_; }
    /// The wall clock, read when it is needed: what may leave and what left go by it alone, whatever day is
    /// reckoned with.
    QDateTime now() const { return clock_(); }
    void set_clock(std::function<QDateTime()> clock) { clock_ = std::move(clock); }
    /// The day that is reckoned with: that of the clock, unless another was asked for.
    QDate today() const { return reckoned_.value_or(now().date()); }
    std::string today_iso() const { return today().toString(Qt::ISODate).toStdString(); }
    void reckon_with(QDate day) { reckoned_ = day; }
    /// One line for the person when the yard was opened, "" mostly.
    QString said_at_start() const { return said_at_start_; }

    /// Where a clip's file should be; relative paths are below the yard's folder.
    QString file_of(const store::Clip& clip) const;

    /// What a step does: it is handed the records to write in, the only way to come by them. One that writes
    /// nothing itself and only calls other changes may leave them out.
    using Work = std::function<void(store::YardStore& records)>;
    /// One undo step is one transaction. A refusal inside leaves neither rows nor an entry to undo, and is
    /// thrown on. Inside another step it is part of that. Steps with the same gesture number merge into one
    /// (a drag, a run of nudges); 0 never merges.
    void step(const QString& what, const Work& work, int gesture = 0);
    template <std::invocable Calls>
    void step(const QString& what, const Calls& calls, int gesture = 0) {
        step(
            what, [&](store::YardStore&) { calls(); }, gesture);
    }
    /// A change that the person did not make and cannot take back: a clip that came in, where one left off.
    void quietly(const Work& work);
    template <std::invocable Calls>
    void quietly(const Calls& calls) {
        quietly([&](store::YardStore&) { calls(); });
    }
    /// Clears the file of what was deleted. Not within a step. Throws core::Refused.
    void leave_no_trace() { store_.leave_no_trace(); }
    /// What nobody is shown and no step takes back: where one left off. Announced to nobody.
    void silently(const Work& work);
    /// How the program is set here, which is no step either.
    void set(const std::string& key, const std::string& value) { store_.settings.set_setting(key, value); }
    Steps& steps() { return steps_; }

  signals:
    /// All that a step touched, before the parts below are told one by one.
    void stepped(const aspen::store::Touched& touched);
    void riders_changed();
    void clips_changed();  ///< the lists of clips and rides
    void clip_changed(aspen::store::ClipId clip);
    void ride_changed(aspen::store::RideId ride);
    void marks_changed(aspen::store::ClipId clip);
    void findings_changed(aspen::store::RideId ride);
    void stretches_changed(aspen::store::ClipId clip);
    void notes_changed(aspen::store::ClipId clip);
    void events_changed(aspen::store::ClipId clip);  ///< what was logged, and what is marked on its ground
    void corrections_changed(aspen::store::RiderId rider);
    void training_changed();  ///< practice, or how a rider's weeks look
    void lessons_changed();
    void followed_changed();  ///< milestones, promised clips, the outbox
    void drills_changed();
    void leaving_changed();  ///< consents, what left, spoken reviews, faces the coach set
    void knowledge_changed();
    void trouble(const QString& line);

  private:
    friend class Step;
    void apply(const store::ChangeSet& change);
    void announce(const store::ChangeSet& change);
    QDir folder_;
    YardLock lock_;  ///< one window a yard
    QString said_at_start_;
    std::shared_ptr<const core::Knowledge> knowledge_;
    store::YardStore store_;
    Steps steps_;
    std::function<QDateTime()> clock_ = [] { return QDateTime::currentDateTime(); };
    std::optional<QDate> reckoned_;
    Jobs jobs_;  ///< last, so that it ends first
};

std::string now_iso(const Yard& yard);
/// The name the coach goes by.
QString coach_of(const Yard& yard);

}  // namespace aspen::app
