#include "app/review/bench_news.hpp"

#include <QScopeGuard>

namespace aspen::app {

void BenchNews::add(BenchParts parts) {
    waiting_ |= parts;
    settle();
}

void BenchNews::settle() {
    if (held_ > 0 || !waiting_ || !tell_) return;
    // What somebody changes who is being told waits until all were told; who throws holds nothing back.
    ++held_;
    const auto let_go = qScopeGuard([this] { --held_; });
    while (waiting_) tell_(std::exchange(waiting_, {}));
}

}  // namespace aspen::app
