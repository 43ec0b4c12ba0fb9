#include "app/yard.hpp"

#include <QDateTime>
#include <algorithm>

#include "app/commands.hpp"
#include "core/refused.hpp"

namespace aspen::app {
namespace {

/// A backup chosen for restoring takes the place of the records, which stay beside it under the day's name.
void put_restored(const QDir& dir) {
    const QString waiting = dir.filePath("yard.db.to-restore"), now = dir.filePath("yard.db");
    if (!QFile::exists(waiting)) return;
    const QString kept =
        dir.filePath("yard.db.replaced-" + QDateTime::currentDateTime().toString("yyyy-MM-dd-hhmmss"));
    for (const char* end : {"", "-wal", "-shm"}) {
        if (QFile::exists(now + end) && !QFile::rename(now + end, kept + end)) {
            throw core::Refused(
                (now + ": cannot be set aside for the backup; close the other window and start again")
                    .toStdString());
        }
    }
    if (!QFile::rename(waiting, now))
        throw core::Refused((waiting + ": cannot take the place of yard.db; check the folder").toStdString());
}

QString made(const QString& folder) {
    if (!QDir().mkpath(folder + "/clips")) {
        throw core::Refused(
            (folder + ": cannot be made; choose a folder that you may write to").toStdString());
    }
    return QDir(folder).absolutePath();
}

/// The yard belongs to one window; a lock left by a program that was killed is taken over.
void take(QLockFile& lock, const QDir& folder) {
    lock.setStaleLockTime(0);
    if (!lock.tryLock(200)) {
        qint64 process = 0;
        QString host, program;
        lock.getLockInfo(&process, &host, &program);
        throw core::Refused(
            (folder.absolutePath() +
             QString(": this yard is open in another window (process %1); go on there, or close it first")
                 .arg(process))
                .toStdString());
    }
    put_restored(folder);
}

}  // namespace

Yard::Yard(const QString& folder, std::shared_ptr<const core::Knowledge> knowledge, QObject* parent)
    : QObject(parent),
      folder_(made(folder)),
      lock_(folder_.filePath("yard.lock")),
      knowledge_((take(lock_, folder_), std::move(knowledge))),
      store_(folder_.filePath("yard.db").toStdString()),
      today_(QDate::currentDate()) {
    undo_.setUndoLimit(500);
}

void Yard::carry_out(QUndoCommand* change) {
    if (recording_) {
        undo_.push(change);
        return;
    }
    const std::unique_ptr<QUndoCommand> once(change);
    once->redo();
}

void Yard::without_undo(const std::function<void()>& work) {
    const bool before = recording_;
    recording_ = false;
    try {
        store_.within(work);
    } catch (...) {
        recording_ = before;
        throw;
    }
    recording_ = before;
}

QString Yard::file_of(const store::Clip& clip) const {
    const QString path = QString::fromStdString(clip.path);
    return QDir::isAbsolutePath(path) ? path : folder_.filePath(path);
}

store::RiderId Yard::add_rider(const store::Rider& rider) {
    const auto id = store_.add(rider);
    emit riders_changed();
    return id;
}

void Yard::change_rider(const store::Rider& rider) {
    const auto before = store_.rider(rider.id);
    if (!before) return;
    const auto write = [this](const store::Rider& r) {
        store_.update(r);
        emit riders_changed();
    };
    carry_out(new Change(
        "Change rider", [=] { write(rider); }, [=] { write(*before); }));
}

store::HorseId Yard::add_horse(const store::Horse& horse) {
    const auto id = store_.add(horse);
    emit riders_changed();
    return id;
}

store::ClipId Yard::add_clip(const store::Clip& clip) {
    const auto id = store_.add(clip);
    emit clips_changed();
    return id;
}

void Yard::move_clip(store::ClipId id, const QString& new_path) {
    auto clip = store_.clip(id);
    if (!clip) return;
    clip->path = folder_.relativeFilePath(new_path).startsWith("..")
                     ? new_path.toStdString()
                     : folder_.relativeFilePath(new_path).toStdString();
    clip->trashed = false;
    store_.update(*clip);
    emit clips_changed();
}

void Yard::leave_at(store::ClipId id, int frame) {
    auto clip = store_.clip(id);
    if (!clip || clip->last_frame == frame) return;
    clip->last_frame = frame;
    store_.update(*clip);
}

void Yard::set_length(store::ClipId id, double duration_s) {
    auto clip = store_.clip(id);
    if (!clip || clip->duration_s == duration_s) return;
    clip->duration_s = duration_s;
    store_.update(*clip);
    emit clips_changed();
}

void Yard::set_clip_state(store::ClipId id, store::ClipState state) {
    auto clip = store_.clip(id);
    if (!clip || clip->state == state) return;
    clip->state = state;
    store_.update(*clip);
    emit clips_changed();
}

void Yard::set_context(store::ClipId id, const store::ClipContext& context, const QString& what) {
    const auto before = store_.clip(id);
    if (!before || before->context == context) return;
    const auto write = [this, id](const store::ClipContext& c) {
        auto clip = store_.clip(id);
        if (!clip) return;
        clip->context = c;
        store_.update(*clip);
        emit clip_changed(id);
        emit clips_changed();
    };
    carry_out(new Change(
        "Change " + what, [=] { write(context); }, [=, old = before->context] { write(old); }));
}

void Yard::trash_clip(store::ClipId id) {
    const auto write = [this, id](bool trashed) {
        auto clip = store_.clip(id);
        if (!clip) return;
        clip->trashed = trashed;
        store_.update(*clip);
        emit clips_changed();
        if (clip->context.rider) emit corrections_changed(clip->context.rider);
    };
    carry_out(new Change(
        "Put clip in the trash", [=] { write(true); }, [=] { write(false); }));
}

void Yard::prescribe(const store::ClipId& clip_id, const std::string& focus_fault,
                     const std::vector<std::string>& accepted, const core::Exercise& exercise, int slot) {
    auto ridden = store_.clip(clip_id);
    if (ridden && slot > 0) {
        const auto others = store_.companions(clip_id);
        const auto it = std::ranges::find(others, slot, &store::Companion::slot);
        ridden->context.rider = it == others.end() ? store::RiderId{} : it->rider;
        ridden->context.horse = it == others.end() ? store::HorseId{} : it->horse;
    }
    const auto clip = ridden;
    if (!clip || !clip->context.missing().empty()) return;
    struct Done {
        std::vector<store::CorrectionId> made;
        std::vector<store::Correction> unfocused;
        store::PrescriptionId given;
        std::optional<store::Correction> refocused;
    };
    auto done = std::make_shared<Done>();
    const auto state_before = clip->state;
    const auto announce = [this, clip] {
        emit corrections_changed(clip->context.rider);
        emit clips_changed();
    };
    const auto redo = [=, this] {
        *done = {};
        store_.within([&] {
            for (store::Correction old : store_.corrections(clip->context.rider)) {
                if (!old.focus || old.fault == focus_fault) continue;
                done->unfocused.push_back(old);
                old.focus = false;
                store_.update(old);
            }
            std::vector<std::string> faults = accepted;
            if (std::ranges::find(faults, focus_fault) == faults.end()) faults.push_back(focus_fault);
            for (const std::string& fault : faults) {
                store::Correction c{{},
                                    clip->context.rider,
                                    clip->context.horse,
                                    fault,
                                    clip->context.travel,
                                    *clip->context.gait,
                                    clip->context.view,
                                    *clip->context.seat,
                                    clip->filmed_on,
                                    fault == focus_fault};
                if (auto there = store_.correction_like(c)) {
                    c = *there;
                } else {
                    c.id = store_.add(c);
                    done->made.push_back(c.id);
                }
                if (fault != focus_fault) continue;
                if (!c.focus) {
                    done->refocused = c;
                    c.focus = true;
                    store_.update(c);
                }
                const QDate given = QDate::fromString(QString::fromStdString(clip->filmed_on), Qt::ISODate);
                const QDate from = given.isValid() ? given : today_;
                done->given = store_.add(store::Prescription{
                    {},
                    c.id,
                    exercise.id,
                    from.toString(Qt::ISODate).toStdString(),
                    from.addDays(7 * exercise.dose.weeks).toString(Qt::ISODate).toStdString(),
                    0,
                    false});
            }
            auto now = *store_.clip(clip_id);
            now.state = store::ClipState::done;
            store_.update(now);
        });
        announce();
    };
    const auto undo = [=, this] {
        store_.within([&] {
            store_.withdraw(done->given, true);
            if (done->refocused) store_.update(*done->refocused);
            for (const auto& id : done->made) store_.remove(id);
            for (const auto& c : done->unfocused) store_.update(c);
            auto now = *store_.clip(clip_id);
            now.state = state_before;
            store_.update(now);
        });
        announce();
    };
    carry_out(new Change("Give " + QString::fromStdString(exercise.name), redo, undo));
}

void Yard::withdraw(const store::Prescription& prescription, store::RiderId rider) {
    const auto write = [this, prescription, rider](bool withdrawn) {
        store_.withdraw(prescription.id, withdrawn);
        emit corrections_changed(rider);
    };
    carry_out(new Change(
        "Withdraw exercise", [=] { write(true); }, [=] { write(false); }));
}

}  // namespace aspen::app
