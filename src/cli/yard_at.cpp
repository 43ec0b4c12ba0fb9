#include "cli/yard_at.hpp"

#include <filesystem>

#include "core/reading/refused.hpp"

namespace aspen::cli {

store::YardStore yard_at(const std::string& folder) {
    const auto file = std::filesystem::path(folder) / "yard.db";
    if (!std::filesystem::exists(file))
        throw core::Refused(folder + ": holds no yard; name the folder that yard.db lies in");
    return store::YardStore(file);
}

}  // namespace aspen::cli
