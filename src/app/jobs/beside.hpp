#pragma once

#include <algorithm>
#include <cstddef>
#include <exception>
#include <thread>
#include <vector>

namespace aspen::app {

/// Does the same to every one of many, on as many threads as there are cores, and waits for it. `each`
/// touches nothing but its own one; what one of them throws is thrown here, when all have ended.
template <typename T, typename Each>
void beside_each_other(std::vector<T>& all, Each each) {
    const std::size_t threads =
        std::min<std::size_t>(std::max(1U, std::thread::hardware_concurrency()), all.size());
    if (threads <= 1) {
        for (T& one : all) each(one);
        return;
    }
    std::vector<std::thread> working;
    std::vector<std::exception_ptr> thrown(threads);
    working.reserve(threads);
    for (std::size_t first = 0; first < threads; ++first) {
        working.emplace_back([&all, &each, &thrown, first, threads] {
            try {
                for (std::size_t i = first; i < all.size(); i += threads) each(all[i]);
            } catch (...) {
                thrown[first] = std::current_exception();
            }
        });
    }
    for (std::thread& t : working) t.join();
    for (const std::exception_ptr& e : thrown) {
        if (e) std::rethrow_exception(e);
    }
}

}  // namespace aspen::app
