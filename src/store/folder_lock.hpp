#pragma once

#include <chrono>
#include <filesystem>

namespace aspen::store {

/// A yard's folder held for as long as this lives: by everybody who has its records open, reading or writing,
/// together; by whoever puts other records in their place, alone. flock(2) on the folder itself, so that no
/// file of it is left behind and a program that was killed holds nothing.
class FolderLock {
  public:
    enum class Kind { together, alone };
    /// Waits so long at most for the others. Throws core::Refused in one line where they are still there, or
    /// the folder cannot be opened.
    FolderLock(const std::filesystem::path& folder, Kind kind, std::chrono::milliseconds wait);
    ~FolderLock();
    FolderLock(const FolderLock&) = delete;
    FolderLock& operator=(const FolderLock&) = delete;

  private:
    int held_ = -1;
};

}  // namespace aspen::store
