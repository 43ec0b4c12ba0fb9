#pragma once

#include <atomic>

namespace aspen::app {

/// Says that what was written before `give` on one thread is read after `take` on another. Qt's queues see to
/// that themselves; said once more here, the thread sanitizer, which does not look into Qt, can watch
/// everything else.
class ThreadFence {
  public:
    void give() { given_.fetch_add(1, std::memory_order_release); }
    void take() const { (void)given_.load(std::memory_order_acquire); }

  private:
    std::atomic<int> given_{0};
};

}  // namespace aspen::app
