#pragma once

#include <QCoreApplication>
#include <QEvent>
#include <QObject>
#include <deque>
#include <functional>
#include <mutex>
#include <utility>

namespace aspen::app {

/// Pieces of work that other threads leave for an object's thread. The work lies in a queue of its own behind
/// a lock that the thread sanitizer sees; the event that Qt brings carries nothing. Whoever owns one must
/// outlive the threads that post, and call `empty` from its `customEvent`.
class MailBox {
  public:
    explicit MailBox(QObject& owner) : owner_(owner) {}
    /// Any thread.
    void post(std::function<void()> work) {
        {
            const std::lock_guard guard(mutex_);
            waiting_.push_back(std::move(work));
        }
        QCoreApplication::postEvent(&owner_, new QEvent(QEvent::User));
    }
    /// Does what lies there, in order; the owner's thread.
    void empty() {
        for (;;) {
            std::function<void()> work;
            {
                const std::lock_guard guard(mutex_);
                if (waiting_.empty()) return;
                work = std::move(waiting_.front());
                waiting_.pop_front();
            }
            work();
        }
    }

  private:
    QObject& owner_;
    std::mutex mutex_;
    std::deque<std::function<void()>> waiting_;
};

}  // namespace aspen::app
