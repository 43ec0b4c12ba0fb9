#pragma once

#include <QString>
#include <optional>
#include <vector>

#include "app/review/bench.hpp"

/// What the coach's eye says, without a joint anywhere: the guided pass head to heel, and naming anything of
/// the catalogue by how it begins.
namespace aspen::app {

using Said = core::CheckAnswer::Said;

/// A question of the pass and what was answered in this stretch, the latest word first.
struct Question {
    const core::Check* check = nullptr;
    std::optional<Said> said;
    bool wanted = false;  ///< would settle a fault whose measures are certain: asked first
    /// Its answer could change what is found or what goes first; the others are asked on demand.
    bool decides = true;
};

/// What this view, seat, state and gait can show at the deck's frame: first what the findings need, then head
/// to heel.
std::vector<Question> questions_here(const BenchState& bench);
/// Writes the answer on the frame; the same again takes it back.
void answer_here(Bench& bench, const std::string& check, Said said);

/// Something that can be named: a fault, a strength, a state of the rider or an answer of the horse.
struct Named {
    std::string id;
    QString name;
    QString letters;
    Said said = Said::fault;  ///< what naming it means
};
/// Everything whose letters begin with these, whose name begins with them after that; all for "".
std::vector<Named> named_by(const core::Knowledge& knowledge, const QString& letters);
/// Names it on the deck's frame; the same again takes it back.
void name_here(Bench& bench, const Named& named);
/// The rider's states and the horse's answers that the ride shows, in words.
QStringList states_of(const core::RideAssessment& assessment, bool horse);

}  // namespace aspen::app
