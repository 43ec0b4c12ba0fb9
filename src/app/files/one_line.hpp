#pragma once

namespace aspen::app {

/// Standard error is for this program's own one line: whatever the libraries would say there of the
/// surroundings is left out, and a crash, in a reader of foreign files say, is one line too (exit 4).
/// `program` is a literal.
void speak_in_one_line(const char* program);

}  // namespace aspen::app
