#pragma once

#include <QCoreApplication>
#include <QDeadlineTimer>
#include <QThread>
#include <functional>

namespace aspen::test {

/// Runs the event loop until what is waited for is there; false when it did not come. The one way in which a
/// test waits: never for so long, always for something. The limit is for a machine under load; no test passes
/// by it.
inline bool wait_for(const std::function<bool()>& there, int ms = 120000) {
    const QDeadlineTimer end(ms);
    while (!there() && !end.hasExpired()) {
        QCoreApplication::processEvents();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        if (!there()) QThread::msleep(1);
    }
    return there();
}

/// Carries out what was put off until the event loop is reached, and what that puts off in turn.
inline void run_queued() {
    for (int round = 0; round < 4; ++round) {
        QCoreApplication::processEvents();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
}

}  // namespace aspen::test
