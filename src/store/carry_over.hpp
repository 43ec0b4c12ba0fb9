#pragma once

#include <filesystem>

namespace aspen::store {

/// Before a backup takes the place of the records: what was withdrawn since, and the log of what left, go
/// into it from the records that it replaces, and the newer word counts. Riders whom those no longer know
/// agreed to nothing; a line of somebody the backup does not know keeps no name. Twice is as once. Brings the
/// backup to the newest version. Throws core::Refused where either cannot be read.
void carry_over_leaving(const std::filesystem::path& replaced, const std::filesystem::path& backup);

}  // namespace aspen::store
