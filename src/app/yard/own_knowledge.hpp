#pragma once

#include "app/yard/yard.hpp"

/// What the coach wrote beside the shipped data. Kept in the yard, apart from it, so that a new version of
/// the program brings better data without touching what the coach wrote.
namespace aspen::app {

/// The shipped data with this yard's own. Throws core::Refused naming the entry when the own data do not fit.
std::shared_ptr<const core::Knowledge> knowledge_of(Yard& yard);

/// Keeps a school of the coach's own under its id, as one step; the snapshot is replaced whole and announced.
/// Throws core::Refused, and changes nothing, when the school does not load beside all others.
void put_own_school(Yard& yard, const std::string& id, const std::string& json);
void remove_own_school(Yard& yard, const std::string& id);
/// A shipped or own school as JSON to start from, under another id and name.
std::string school_copied(Yard& yard, const std::string& from, const std::string& id,
                          const std::string& name);

}  // namespace aspen::app
