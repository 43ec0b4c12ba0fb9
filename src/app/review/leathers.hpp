#pragma once

#include "app/review/bench.hpp"

/// At which hole the leathers are, kept by rider, saddle and job.
namespace aspen::app {

/// What was noted last for this rider in this saddle for the job that the ride asks for, and what the ride
/// advises, as lines; empty where neither is known.
QStringList leathers_in_words(const BenchState& bench);

/// What would be asked: "Stirrups for flat work in the brown saddle: hole left and right".
QString leathers_asked(const BenchState& bench);

/// Notes "6", "6 7" or "jump 5": the job that is said, else the ride's. Gives the line to say: done, or what
/// was not understood.
QString note_leathers(Bench& bench, const QString& words);

}  // namespace aspen::app
