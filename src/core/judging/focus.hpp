#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/judging/faults.hpp"

namespace aspen::core {

/// The one thing to work on, and one sentence of reason.
struct Focus {
    const Fault* fault = nullptr;
    std::string why;
};

/// Chooses the focus among the certain faults by the order of attention: a focus already in work stays until
/// it is held; else the foremost group (safety, base, trunk, head, arms, fine), and within it the most
/// severe; and if another certain fault explains that one, its root goes first, whatever its group.
/// Borderline faults are never chosen. Empty when nothing certain was found.
std::optional<Focus> choose_focus(const std::vector<FoundFault>& found, const std::vector<Cause>& causes,
                                  const std::vector<std::string>& in_work = {});

}  // namespace aspen::core
