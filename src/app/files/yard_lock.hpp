#pragma once

#include <memory>
#include <string>

namespace aspen::app {

/// A yard's folder held against a second writer, for as long as this lives.
class YardLock {
  public:
    /// Throws core::Refused in one line where a window has the yard open.
    explicit YardLock(const std::string& folder);
    ~YardLock();
    YardLock(const YardLock&) = delete;
    YardLock& operator=(const YardLock&) = delete;

  private:
    struct Held;
    std::unique_ptr<Held> held_;
};

/// Today, and now in UTC, ISO 8601.
std::string today_iso();
std::string now_utc_iso();

}  // namespace aspen::app
