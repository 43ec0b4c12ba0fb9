#include <algorithm>
#include <filesystem>

#include "app/commands.hpp"
#include "app/yard.hpp"
#include "core/refused.hpp"

/// The yard's changes that belong to a review, and the trash.
namespace aspen::app {
namespace {

QString decision_words(store::Decision d) {
    switch (d) {
        case store::Decision::rejected:
            return "Reject fault";
        case store::Decision::changed:
            return "Change fault";
        case store::Decision::asked_back:
            return "Ask back";
        case store::Decision::open:
            return "Leave fault open";
        default:
            return "Accept fault";
    }
}

/// A list written as a whole; steps of one gesture merge.
class PutStretches : public QUndoCommand {
  public:
    PutStretches(Yard& yard, store::ClipId clip, core::Stretches after, const QString& text, int gesture)
        : QUndoCommand(text),
          yard_(yard),
          clip_(clip),
          before_(yard.records().stretches(clip)),
          after_(std::move(after)),
          gesture_(gesture) {}
    void redo() override { write(after_); }
    void undo() override { write(before_); }
    int id() const override { return gesture_ == 0 ? -1 : 3; }
    bool mergeWith(const QUndoCommand* next) override {
        const auto* other = static_cast<const PutStretches*>(next);
        if (other->clip_ != clip_ || other->gesture_ != gesture_) return false;
        after_ = other->after_;
        return true;
    }

  private:
    void write(const core::Stretches& s) {
        yard_.records().put_stretches(clip_, s);
        emit yard_.stretches_changed(clip_);
    }
    Yard& yard_;
    store::ClipId clip_;
    core::Stretches before_, after_;
    int gesture_;
};

}  // namespace

store::MomentId Yard::add_moment(store::Moment moment) {
    // The first writing gives the id; undo takes the row away, redo writes it again under the same id.
    auto kept = std::make_shared<store::Moment>(std::move(moment));
    carry_out(new Change(
        "Mark this moment",
        [this, kept] {
            kept->id = store_.add(*kept);
            emit marks_changed(kept->clip);
        },
        [this, kept] {
            store_.remove(kept->id);
            emit marks_changed(kept->clip);
        }));
    return kept->id;
}

void Yard::remove_moment(const store::Moment& moment) {
    carry_out(new Change(
        "Take this moment away",
        [this, moment] {
            store_.trash(moment.id, true);
            emit marks_changed(moment.clip);
        },
        [this, moment] {
            store_.trash(moment.id, false);
            emit marks_changed(moment.clip);
        }));
}

void Yard::set_phase(const store::Moment& moment, const std::string& phase) {
    const auto write = [this, moment](const std::string& p) {
        store_.set_phase(moment.id, p);
        emit marks_changed(moment.clip);
    };
    carry_out(new Change(
        "Name this moment", [=] { write(phase); }, [=] { write(moment.phase); }));
}

void Yard::put_mark(const store::Moment& moment, core::Landmark landmark, const core::Mark& before,
                    const core::Mark& after, int gesture) {
    if (before == after) return;
    carry_out(new PutMark(*this, moment, landmark, before, after, gesture));
}

void Yard::decide(const store::Finding& finding) {
    const auto all = store_.findings(finding.clip);
    const auto it = std::ranges::find_if(
        all, [&](const store::Finding& f) { return f.fault == finding.fault && f.slot == finding.slot; });
    const bool had = it != all.end();
    const store::Finding before = had ? *it : store::Finding{};
    carry_out(new Change(
        decision_words(finding.decision),
        [this, finding] {
            store_.put(finding);
            emit findings_changed(finding.clip);
        },
        [this, finding, had, before] {
            if (had)
                store_.put(before);
            else
                store_.remove_finding(finding.clip, finding.fault, finding.slot);
            emit findings_changed(finding.clip);
        }));
}

void Yard::put_figure(const store::Moment& moment, const core::Figure& after,
                      std::optional<core::Point> head_top, const QString& what, int gesture) {
    if (after.marks == moment.figure.marks && head_top == moment.head_top) return;
    carry_out(new PutFigure(*this, moment, {after, head_top}, what, gesture));
}

void Yard::set_stretches(store::ClipId clip, const core::Stretches& stretches, const QString& what,
                         int gesture) {
    if (store_.stretches(clip) == stretches) return;
    carry_out(new PutStretches(*this, clip, stretches, what, gesture));
}

void Yard::set_companions(store::ClipId clip, const std::vector<store::Companion>& companions) {
    const auto before = store_.companions(clip);
    if (before == companions) return;
    const auto write = [this, clip](const std::vector<store::Companion>& all) {
        store_.put_companions(clip, all);
        emit clip_changed(clip);
        emit clips_changed();
    };
    carry_out(new Change(
        "Change the riders of this clip", [=] { write(companions); }, [=] { write(before); }));
}

store::NoteId Yard::add_note(store::Note note) {
    auto kept = std::make_shared<store::Note>(std::move(note));
    carry_out(new Change(
        "Note this instant",
        [this, kept] {
            kept->id = store_.add(*kept);
            if (kept->kind == store::NoteKind::words && !kept->words.empty()) store_.use_phrase(kept->words);
            emit notes_changed(kept->clip);
        },
        [this, kept] {
            store_.remove(kept->id);
            if (kept->kind == store::NoteKind::words && !kept->words.empty())
                store_.use_phrase(kept->words, -1);
            emit notes_changed(kept->clip);
        }));
    return kept->id;
}

void Yard::change_note(const store::Note& note) {
    const auto all = store_.notes(note.clip);
    const auto it = std::ranges::find(all, note.id, &store::Note::id);
    if (it == all.end()) return;
    const auto write = [this](const store::Note& n) {
        store_.update(n);
        emit notes_changed(n.clip);
    };
    carry_out(new Change(
        "Change note", [=] { write(note); }, [=, before = *it] { write(before); }));
}

void Yard::remove_note(const store::Note& note) {
    carry_out(new Change(
        "Take note away",
        [this, note] {
            store_.remove(note.id);
            emit notes_changed(note.clip);
        },
        [this, note] {
            store_.add(note);
            emit notes_changed(note.clip);
        }));
}

void Yard::add_remark(store::Remark remark) {
    auto kept = std::make_shared<store::Remark>(std::move(remark));
    carry_out(new Change(
        kept->kind == store::RemarkKind::strength ? "Name a strength" : "Add a finding",
        [this, kept] {
            kept->id = store_.add(*kept);
            store_.use_phrase(kept->words);
            emit findings_changed(kept->clip);
        },
        [this, kept] {
            store_.remove(kept->id);
            store_.use_phrase(kept->words, -1);
            emit findings_changed(kept->clip);
        }));
}

void Yard::remove_remark(const store::Remark& remark) {
    carry_out(new Change(
        "Take finding away",
        [this, remark] {
            store_.remove(remark.id);
            emit findings_changed(remark.clip);
        },
        [this, remark] {
            store_.add(remark);
            emit findings_changed(remark.clip);
        }));
}

void Yard::trash_rider(store::RiderId id) {
    const auto write = [this, id](bool trashed) {
        auto rider = store_.rider(id);
        if (!rider) return;
        rider->trashed = trashed;
        store_.update(*rider);
        emit riders_changed();
        emit clips_changed();
    };
    carry_out(new Change(
        "Put rider in the trash", [=] { write(true); }, [=] { write(false); }));
}

void Yard::put_back(store::RiderId id) {
    auto rider = store_.rider(id);
    if (!rider || !rider->trashed) return;
    rider->trashed = false;
    store_.update(*rider);
    emit riders_changed();
    emit clips_changed();
}

void Yard::put_back(store::ClipId id) {
    auto clip = store_.clip(id);
    if (!clip || !clip->trashed) return;
    clip->trashed = false;
    store_.update(*clip);
    emit clips_changed();
    if (clip->context.rider) emit corrections_changed(clip->context.rider);
}

bool Yard::put_back(const store::Moment& moment) {
    const auto there = store_.moments(moment.clip);
    if (std::ranges::any_of(
            there, [&](const store::Moment& m) { return m.frame == moment.frame && m.slot == moment.slot; }))
        return false;
    store_.trash(moment.id, false);
    emit marks_changed(moment.clip);
    return true;
}

void Yard::delete_for_good(store::ClipId id) {
    undo_.clear();  // a step back could refer to what is gone
    store_.remove(id);
    emit clips_changed();
}

void Yard::back_up(const QString& file) {
    const QString part = file + ".part";
    QFile::remove(part);
    store_.database().back_up(part.toStdString());
    QFile::remove(file);
    if (!QFile::rename(part, file))
        throw core::Refused((file + ": the backup cannot be written; choose another folder").toStdString());
}

QString Yard::restore_at_start(const QString& folder, const QString& backup) {
    const QString waiting = QDir(folder).filePath("yard.db.to-restore");
    try {
        QFile::remove(waiting);
        if (!QFile::copy(backup, waiting))
            return backup + ": cannot be read or copied; check the file and the free space.";
        QFile::setPermissions(waiting, QFile::ReadOwner | QFile::WriteOwner);
        // Opening brings it to this version, or says that it is no yard.
        { store::YardStore check(waiting.toStdString()); }
        return {};
    } catch (const core::Refused& e) {
        QFile::remove(waiting);
        return QString::fromUtf8(e.what());
    }
}

}  // namespace aspen::app
