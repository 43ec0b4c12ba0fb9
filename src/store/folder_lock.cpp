#include "store/folder_lock.hpp"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <thread>
#include <utility>

#include "core/reading/refused.hpp"

namespace aspen::store {

FolderLock::FolderLock(const std::filesystem::path& folder, Kind kind, std::chrono::milliseconds wait) {
    const auto path = folder.empty() ? std::filesystem::path(".") : folder;
    held_ = ::open(path.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    // Who opens the records there says better what is wrong with the folder.
    if (held_ < 0) return;
    const int how = (kind == Kind::alone ? LOCK_EX : LOCK_SH) | LOCK_NB;
    constexpr std::chrono::milliseconds kStep{20};
    for (auto left = wait;; left -= kStep) {
        if (::flock(held_, how) == 0) return;
        // A file system that knows no such locks has no other program to hold them against.
        if (errno != EWOULDBLOCK && errno != EINTR) return;
        if (left <= std::chrono::milliseconds(0)) break;
        std::this_thread::sleep_for(kStep);
    }
    ::close(std::exchange(held_, -1));
    throw core::Refused(fmt::format("{}: {}", path.string(),
                                    kind == Kind::alone
                                        ? "another program has these records open; close it first"
                                        : "a backup is just being restored there; try again in a moment"));
}
FolderLock::~FolderLock() {
    if (held_ >= 0) ::close(held_);
}

}  // namespace aspen::store
