#pragma once

#include <QString>
#include <optional>

#include "app/review/bench.hpp"

namespace aspen::app {

/// A note at the frame one is at, while it plays or stands: good, look here, or in words.
void add_note(Bench& bench, store::NoteKind kind, const QString& words = {}, std::optional<int> frame = {});

/// The n-th of the coach's own phrases (from 1) as a note; false when there is none yet.
bool add_phrase(Bench& bench, int number);

/// Goes to the next or previous note, a list to walk through afterwards; false at its end.
bool go_to_note(Bench& bench, int direction);

/// Takes the note at this frame away; false when there is none.
bool remove_note_here(Bench& bench);

/// Cuts the clip's stretches at this frame by what is ridden from here on. The first gait and seat said also
/// become the clip's own where those were not said yet, in the same undo step.
void ride_from_here(Bench& bench, core::Gait gait);
void ride_from_here(Bench& bench, core::Seat seat);
void ride_from_here(Bench& bench, core::Rein rein);
/// Says what is ridden in the stretch here as a whole; the first time it holds for all of the clip.
void ridden_here(Bench& bench, core::Gait gait);
void ridden_here(Bench& bench, core::Seat seat);
void movement_from_here(Bench& bench, const std::string& movement, bool asked);
/// Marks this stretch as one the view cannot judge, or takes that back.
void toggle_judged_here(Bench& bench);
void split_here(Bench& bench);
bool join_here(Bench& bench);
void name_stretch(Bench& bench, std::size_t place, const QString& name);

}  // namespace aspen::app
