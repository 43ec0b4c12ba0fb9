#pragma once

#include <cstddef>
#include <cstdint>

namespace aspen::test {

/// Opens the bytes as a clip, settles its frames and decodes a few. Whatever the bytes are, the only way out
/// besides success is a refusal in one line. Ends the program when that does not hold.
void open_bytes_as_clip(const std::uint8_t* data, std::size_t size);

}  // namespace aspen::test
