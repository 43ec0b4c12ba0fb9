#pragma once

#include <QObject>
#include <functional>
#include <utility>

namespace aspen::app {

/// Work that several changes ask for at once, done once when the event loop is reached: never from within the
/// button that made the change. Belongs to its owner, and is not done when that is gone.
class OnceLater {
  public:
    OnceLater(QObject& owner, std::function<void()> work) : owner_(owner), work_(std::move(work)) {}
    void operator()() {
        if (std::exchange(pending_, true)) return;
        QMetaObject::invokeMethod(
            &owner_,
            [this] {
                pending_ = false;
                work_();
            },
            Qt::QueuedConnection);
    }

  private:
    QObject& owner_;
    std::function<void()> work_;
    bool pending_ = false;
};

}  // namespace aspen::app
