#pragma once

#include "app/yard/yard.hpp"

/// What the coach wrote beside the shipped data. Kept in the yard, apart from it, so that a new version of
/// the program brings better data without touching what the coach wrote.
namespace aspen::app {

/// The shipped data with this yard's own. Throws core::Refused naming the entry when the own data do not fit.
std::shared_ptr<const core::Knowledge> knowledge_of(const Yard& yard);

/// Keeps a school of the coach's own under its id, as one step; the snapshot is replaced whole and announced.
/// Throws core::Refused, and changes nothing, when the school does not load beside all others.
void put_own_school(Yard& yard, const std::string& id, const std::string& json);
void remove_own_school(Yard& yard, const std::string& id);
/// What the coach says otherwise of a fault, as a JSON merge patch of its entry in `faults.json` (RFC 7386):
/// `{"id": …}` and what differs; an empty text where nothing does.
std::string own_fault(const Yard& yard, const std::string& id);
/// One field of it; `value` is JSON, "null" for as shipped. One step, refused as put_own_school is.
void change_own_fault(Yard& yard, const std::string& id, const std::string& field, const std::string& value);
/// The fault is as it ships again.
void remove_own_fault(Yard& yard, const std::string& id);
/// What the coach says otherwise of an exercise, as a JSON merge patch of its entry in `exercises.json`, or a
/// whole exercise of the coach's own; "" where there is none.
std::string own_exercise(const Yard& yard, const std::string& id);
/// One step, refused naming entry and field as put_own_school is.
void put_own_exercise(Yard& yard, const std::string& id, const std::string& json);
/// Hidden ones are offered no more; what was given of them stays.
void hide_exercise(Yard& yard, const std::string& id, bool hidden);
/// As it ships; one of the coach's own is gone.
void remove_own_exercise(Yard& yard, const std::string& id);
/// A shipped or own school as JSON to start from, under another id and name.
std::string school_copied(const Yard& yard, const std::string& from, const std::string& id,
                          const std::string& name);

}  // namespace aspen::app
