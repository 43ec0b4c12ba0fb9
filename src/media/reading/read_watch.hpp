#pragma once

#include <atomic>
#include <functional>

namespace aspen::media {

/// How a long read is watched from outside.
struct ReadWatch {
    const std::atomic<bool>* cancel =
        nullptr;                           ///< looked at between packets; when set, ReadCancelled is thrown
    std::function<void(double)> progress;  ///< 0..1, while a full decode settles the order
};
struct ReadCancelled {};

inline void stop_if_cancelled(const ReadWatch& watch) {
    if (watch.cancel && *watch.cancel) throw ReadCancelled{};
}

}  // namespace aspen::media
