#pragma once

#include <iosfwd>
#include <string>
#include <vector>

#include "core/proposal/reader_offset.hpp"

namespace aspen::exchange {

/// What coaches of one yard corrected of the reader's joints, rider by rider, without names: to be taken
/// along to another yard (docs/formats.md).
struct YardsCorrections {
    std::string yard;  ///< tells yards apart, says nothing of them
    std::vector<core::RiderCorrections> riders;
};

void write_corrections(std::ostream& out, const YardsCorrections& corrections);
/// Throws core::Refused in one line that names file, rider and field.
YardsCorrections read_corrections(std::istream& in, const std::string& file);

}  // namespace aspen::exchange
