#include "app/yard/changes.hpp"
#include "core/following/following.hpp"

/// How corrections go on.
namespace aspen::app {

store::CorrectionWordId say_of(Yard& yard, const store::CorrectionWord& word) {
    store::CorrectionWordId id;
    const auto stage = core::stage_from(word.stage);
    const QString what = stage ? QObject::tr("Call it ") + QString::fromUtf8(core::spoken(*stage).data())
                               : QObject::tr("Word on a correction");
    yard.step(what, [&](store::YardStore& records) { id = records.add(word); });
    return id;
}

store::MilestoneId add_milestone(Yard& yard, const store::Milestone& milestone) {
    store::MilestoneId id;
    yard.step(QObject::tr("Note on the time line"),
              [&](store::YardStore& records) { id = records.add(milestone); });
    return id;
}
void remove_milestone(Yard& yard, store::MilestoneId id) {
    yard.step(QObject::tr("Take the note away"), [&](store::YardStore& records) { records.remove(id); });
}

store::PromiseId ask_for_clip(Yard& yard, const store::Promise& promise, const store::Outgoing& message) {
    store::PromiseId id;
    yard.step(QObject::tr("Ask for a clip"), [&](store::YardStore& records) {
        // One question at a time: the later one takes the place of the earlier for the same correction.
        for (store::Promise p : records.following.promises_of(promise.rider)) {
            if (!p.closed_on.empty() || p.correction != promise.correction || p.horse != promise.horse)
                continue;
            p.closed_on = yard.today_iso();
            records.update(p);
        }
        id = records.add(promise);
        records.add(message);
    });
    return id;
}
void close_promise(Yard& yard, const store::Promise& promise) {
    yard.step(QObject::tr("Wait no longer for the clip"), [&](store::YardStore& records) {
        store::Promise closed = promise;
        closed.closed_on = yard.today_iso();
        records.update(closed);
    });
}

void put_in_outbox(Yard& yard, const store::Outgoing& outgoing) {
    yard.step(QObject::tr("Put into the outbox"), [&](store::YardStore& records) { records.add(outgoing); });
}
void withdraw(Yard& yard, const store::Outgoing& outgoing) {
    yard.step(QObject::tr("Take out of the outbox"), [&](store::YardStore& records) {
        store::Outgoing gone = outgoing;
        gone.state = "withdrawn";
        records.update(gone);
    });
}
void mark_written(Yard& yard, const store::Outgoing& outgoing) {
    yard.step(QObject::tr("Write the outbox"), [&](store::YardStore& records) { records.update(outgoing); });
}

store::DrillId add_drill(Yard& yard, const store::DrillAnswer& answer) {
    store::DrillId id;
    yard.step(QObject::tr("Answer in a drill"), [&](store::YardStore& records) { id = records.add(answer); });
    return id;
}

}  // namespace aspen::app
