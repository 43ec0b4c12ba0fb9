#pragma once

#include <stdexcept>
#include <string>

namespace aspen::core {

/// Input that cannot be used. The message is one line for a person: what is wrong, where, and what to do.
/// Every floor throws this for bad input; anything else that is thrown is a defect or a failing machine.
class Refused : public std::runtime_error {
  public:
    using std::runtime_error::runtime_error;
};

}  // namespace aspen::core
