#pragma once

#include <string>
#include <utility>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// What the coach wrote beside the shipped data, and the yard's settings.
class Settings : Part {
  public:
    explicit Settings(Transactions& transactions) : Part(transactions) {}

    /// By kind, each with its id.
    std::vector<std::pair<std::string, std::string>> own_data(const std::string& kind) const;
    void put_own_data(const std::string& kind, const std::string& id, const std::string& body);
    void remove_own_data(const std::string& kind, const std::string& id);

    std::string setting(const std::string& key, const std::string& otherwise = {}) const;
    void set_setting(const std::string& key, const std::string& value);
};

}  // namespace aspen::store
