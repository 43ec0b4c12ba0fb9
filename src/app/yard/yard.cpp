#include "app/yard/yard.hpp"

#include <QFileInfo>
#include <QUndoCommand>

#include "app/files/private_folder.hpp"
#include "app/yard/own_knowledge.hpp"
#include "app/yard/restoring.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

constexpr int kWaitForOther_ms = 200;

QString made(const QString& folder) {
    // What riders sent is nobody else's on this machine.
    if (!make_private_folder(folder) || !make_private_folder(folder + "/clips")) {
        throw core::Refused(
            (folder + ": cannot be made; choose a folder that you may write to").toStdString());
    }
    return QDir(folder).absolutePath();
}

/// What was half made when the program was killed: bundles on their way in, what was about to leave.
void remove_leftovers(const QDir& folder) {
    for (const char* where : {".", "outbox", "leaving"}) {
        const QDir dir(folder.filePath(where));
        for (const QString& left : dir.entryList({".bundle-*", ".leaving-*"}, QDir::Dirs | QDir::Hidden))
            QDir(dir.filePath(left)).removeRecursively();
    }
}

/// Before the records are opened, by whoever has the yard alone.
QString made_ready(const QDir& folder) {
    remove_leftovers(folder);
    return put_restored(folder);
}

}  // namespace

/// A change as the store recorded it. It was carried out before it was pushed.
class Step : public QUndoCommand {
  public:
    Step(Yard& yard, const QString& text, store::ChangeSet change, int gesture)
        : QUndoCommand(text), yard_(yard), change_(std::move(change)), gesture_(gesture) {}
    void redo() override {
        if (done_) return;
        yard_.apply(change_);
        done_ = true;
    }
    void undo() override {
        yard_.apply(change_.inverted());
        done_ = false;
    }
    int id() const override { return gesture_ == 0 ? -1 : 1; }
    bool mergeWith(const QUndoCommand* next) override {
        const auto* other = static_cast<const Step*>(next);
        if (other->gesture_ != gesture_) return false;
        change_ = change_.followed_by(other->change_);
        return true;
    }

  private:
    Yard& yard_;
    store::ChangeSet change_;
    int gesture_;
    bool done_ = true;
};

Yard::Yard(const QString& folder, std::shared_ptr<const core::Knowledge> knowledge, QObject* parent)
    : QObject(parent),
      folder_(made(folder)),
      lock_(folder_.path().toStdString(), kWaitForOther_ms),
      said_at_start_(made_ready(folder_)),
      knowledge_(std::move(knowledge)),
      store_(folder_.filePath("yard.db").toStdString()) {
    try {
        if (!store_.settings.own_data("school").empty()) knowledge_ = knowledge_of(*this);
    } catch (
        const core::Refused& e) {  // a newer program's data may not go with an older school of the coach's
        said_at_start_ +=
            QString::fromUtf8(e.what()) + tr(" Your own schools are left out until they are mended.");
    }
}

Yard::~Yard() = default;

QString Yard::file_of(const store::Clip& clip) const {
    const QString path = QString::fromStdString(clip.path);
    return QDir::isAbsolutePath(path) ? path : folder_.filePath(path);
}

void Yard::step(const QString& what, const Work& work, int gesture) {
    if (store_.in_transaction()) return work(store_);
    auto change = store_.transactions().recorded([&] { work(store_); });
    if (change.empty()) return;
    steps_.stack().push(new Step(*this, what, change, gesture));
    announce(change);
}

void Yard::quietly(const Work& work) {
    if (store_.in_transaction()) return work(store_);
    announce(store_.transactions().recorded([&] { work(store_); }));
}

void Yard::silently(const Work& work) {
    store_.within([&] { work(store_); });
}

void Yard::apply(const store::ChangeSet& change) {
    store_.transactions().apply(change);
    announce(change);
}

/// A listener that cannot read what it wants to show says so in one line; the change stands, and the others
/// hear of it all the same.
void Yard::announce(const store::ChangeSet& change) {
    if (change.empty()) return;
    const auto tell = [this](const auto& what) {
        try {
            what();
        } catch (const core::Refused& e) {
            emit trouble(QString::fromUtf8(e.what()));
        }
    };
    const auto each = [&](const auto& ids, auto signal) {
        for (const auto id : ids) tell([&] { emit(this->*signal)(id); });
    };
    store::Touched t;
    tell([&] { t = store_.transactions().touched_by(change); });
    // The knowledge is there before anything is read anew that may go by it (a ride by a school), and told of
    // after it (a ride may go by another school now that one is gone).
    if (t.own_data) tell([&] { knowledge_ = knowledge_of(*this); });
    tell([&] { emit stepped(t); });
    each(t.stretches, &Yard::stretches_changed);
    each(t.marks, &Yard::marks_changed);
    each(t.notes, &Yard::notes_changed);
    each(t.events, &Yard::events_changed);
    each(t.findings, &Yard::findings_changed);
    each(t.rides, &Yard::ride_changed);
    each(t.clips, &Yard::clip_changed);
    each(t.corrections, &Yard::corrections_changed);
    if (t.riders || t.horses) tell([&] { emit riders_changed(); });
    if (!t.rides.empty() || !t.clips.empty() || t.riders || t.horses || !t.corrections.empty())
        tell([&] { emit clips_changed(); });
    if (t.training) tell([&] { emit training_changed(); });
    if (t.lessons) tell([&] { emit lessons_changed(); });
    if (t.followed) tell([&] { emit followed_changed(); });
    if (t.drills) tell([&] { emit drills_changed(); });
    if (t.leaving) tell([&] { emit leaving_changed(); });
    if (t.own_data) tell([&] { emit knowledge_changed(); });
}

std::string now_iso(const Yard& yard) { return yard.now().toString("yyyy-MM-ddThh:mm:ss").toStdString(); }

QString coach_of(const Yard& yard) {
    const std::string said = yard.records().settings.setting("coach");
    return said.empty() ? QObject::tr("Your coach") : QString::fromStdString(said);
}

}  // namespace aspen::app

#include "moc_yard.cpp"
