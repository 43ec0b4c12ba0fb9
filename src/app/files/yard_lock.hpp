#pragma once

#include <string>

namespace aspen::app {

/// A yard's folder held against a second writer, for as long as this lives: flock(2) on `yard.lock`, which
/// goes with the program however it ends. What stands in the file is for people alone.
class YardLock {
  public:
    /// Throws core::Refused in one line where a window has the yard open, after so long a wait.
    explicit YardLock(const std::string& folder, int wait_ms = 0);
    ~YardLock();
    YardLock(const YardLock&) = delete;
    YardLock& operator=(const YardLock&) = delete;

  private:
    int held_ = -1;
};

/// Today, and now in UTC, ISO 8601.
std::string today_iso();
std::string now_utc_iso();

}  // namespace aspen::app
