#pragma once

#include <chrono>
#include <filesystem>
#include <functional>

#include "store/changes.hpp"
#include "store/database.hpp"
#include "store/folder_lock.hpp"

namespace aspen::store {

/// The open database and its transaction, under the parts of the records. One thread.
class Transactions {
  public:
    /// Keeps the folder from having other records put in their place meanwhile.
    explicit Transactions(const std::filesystem::path& file)
        : open_(file.parent_path(), FolderLock::Kind::together, kWaitForRestore), database_(file) {}
    Database& database() { return database_; }
    const Database& database() const { return database_; }

    /// Runs the work in one transaction; an exception rolls all of it back. Inside another one it joins that.
    void within(const std::function<void()>& work);
    bool in_transaction() const { return depth_ > 0; }
    /// The same, and says what it changed.
    ChangeSet recorded(const std::function<void()>& work);
    /// Carries a change out again, in one transaction. Throws core::Refused, and changes nothing, where the
    /// rows are no longer what they were.
    void apply(const ChangeSet& change);
    Touched touched_by(const ChangeSet& change);

  private:
    static constexpr std::chrono::seconds kWaitForRestore{10};
    FolderLock open_;
    Database database_;
    int depth_ = 0;
};

}  // namespace aspen::store
