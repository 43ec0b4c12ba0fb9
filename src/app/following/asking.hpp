#pragma once

#include <QString>
#include <QStringList>

#include "app/rides/lanes.hpp"
#include "app/yard/yard.hpp"

namespace aspen::app {

/// A request for a clip: what is promised, and the message that asks for it.
struct Asking {
    store::Promise promise;
    store::Outgoing message;
};
/// For a correction: the shots that would judge it, by the day of the next clip in the rider's plan, else in
/// as many days as the coach waits.
Asking asking_for(Yard& yard, const Lane& lane);

/// A promised clip as the yard sees it.
struct PromiseLine {
    store::Promise promise;
    QString rider, horse, about;  ///< about: the fault, "" for none
    QStringList shots;
    store::ClipId kept_by;  ///< the first clip that keeps it; none yet
    QString kept_on;
    int days_left = 0;       ///< to the day promised; negative once it is past
    bool forgotten = false;  ///< past it by more than the coach waits
};
/// All open ones, the most urgent first: forgotten, due, kept, then the rest by day.
std::vector<PromiseLine> promises(Yard& yard);
/// Promises that this clip keeps: asked before it was filmed, of this rider (and horse, where one was said).
std::vector<PromiseLine> kept_by(Yard& yard, store::ClipId clip);
/// One sentence of a promise: "Joss Penhallow was to send a clip on Fig by 4 Dec".
QString words_of(const PromiseLine& line);

/// Days after the promised one until a clip counts as forgotten; the coach's choice.
int days_to_wait(Yard& yard);
void set_days_to_wait(Yard& yard, int days);

}  // namespace aspen::app
