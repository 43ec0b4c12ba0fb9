#pragma once

#include <memory>

#include "core/knowledge/knowledge.hpp"

namespace aspen::app {

/// The trade's knowledge as it ships inside the program. Throws core::Refused when a data file is wrong.
std::shared_ptr<const core::Knowledge> shipped_knowledge();
/// One of the files that ship, as it stands ("exercise_plates.json"). Throws core::Refused where there is
/// none.
std::string shipped_text(const std::string& file);

/// A school file of the coach's own, or what the coach changed of a fault: its name for errors, and its text.
struct OwnFile {
    std::string name, text;
};
/// The shipped knowledge with these schools beside it, and with the entries of `faults.json` changed as these
/// say: JSON merge patches (RFC 7386) with the fault's id. An own school of a shipped id is refused.
/// `exercises` are merge patches of `exercises.json`, or whole new ones. Throws core::Refused naming file,
/// entry and field.
std::shared_ptr<const core::Knowledge> knowledge_with(const std::vector<OwnFile>& schools,
                                                      const std::vector<OwnFile>& faults = {},
                                                      const std::vector<OwnFile>& exercises = {});

}  // namespace aspen::app
