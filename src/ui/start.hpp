#pragma once

namespace aspen::ui {

/// The program from its first argument to its exit code.
int start(int argc, char** argv, const char* version);

}  // namespace aspen::ui
