#pragma once

#include <QException>
#include <QtConcurrent/QtConcurrentMap>
#include <vector>

namespace aspen::app {

/// Does the same to every one of many, on as many threads as there are cores, and waits for it. `each`
/// touches nothing but its own one; what one of them throws is thrown here.
template <typename T, typename Each>
void beside_each_other(std::vector<T>& all, Each each) {
    try {
        QtConcurrent::blockingMap(all, each);
    } catch (const QUnhandledException& e) {
        if (e.exception()) std::rethrow_exception(e.exception());
        throw;
    }
}

}  // namespace aspen::app
