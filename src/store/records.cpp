#include "store/records.hpp"

namespace aspen::store {

std::vector<std::string> ClipContext::missing() const {
    std::vector<std::string> out;
    if (!rider) out.emplace_back("rider");
    if (!horse) out.emplace_back("horse");
    if (school.empty()) out.emplace_back("school");
    if (!gait) out.emplace_back("gait");
    if (!seat) out.emplace_back("seat");
    if (view == core::View::side && travel == core::Travel::unknown) out.emplace_back("travel");
    return out;
}

}  // namespace aspen::store
