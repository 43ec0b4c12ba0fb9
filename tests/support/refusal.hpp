#pragma once

#include <string>

#include "core/reading/refused.hpp"

namespace aspen::test {

/// The line in which some work is refused; "taken" where it is not.
template <typename Work>
std::string refusal_of(Work work) {
    try {
        work();
    } catch (const core::Refused& e) {
        return e.what();
    }
    return "taken";
}

}  // namespace aspen::test
