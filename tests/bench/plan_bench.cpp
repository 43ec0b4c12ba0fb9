// What planning a session costs: ten thousand random riders and horses, each plan timed on its own.

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <random>
#include <vector>

#include "app/files/data_files.hpp"
#include "core/training/session.hpp"

int main() {
    using namespace aspen;
    const auto knowledge = app::shipped_knowledge();
    const core::ExerciseBook& book = knowledge->exercises;
    std::mt19937 random(1);
    const auto up_to = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n + 1)); };
    std::vector<double> plan_ms, rules_ms;
    for (int i = 0; i < 10000; ++i) {
        core::SessionAsk ask;
        ask.minutes = 20 + up_to(70);
        ask.rider.level = up_to(1) ? "novice" : "established";
        for (const std::string_view g : core::kGates) ask.rider.signed_off.emplace_back(g);
        ask.stiff_side = up_to(1) ? "left" : "right";
        for (int n = up_to(6); n > 0; --n) {
            const core::Exercise& e =
                book.all()[static_cast<std::size_t>(up_to(static_cast<int>(book.all().size()) - 1))];
            ask.works.push_back({&e, up_to(static_cast<int>(e.dose.ladder.size()) - 1)});
        }
        const auto start = std::chrono::steady_clock::now();
        const core::Session s = core::plan_session(ask, book);
        const auto planned = std::chrono::steady_clock::now();
        const auto broken = core::broken_rules(s, ask, book);
        const auto judged = std::chrono::steady_clock::now();
        if (!broken.empty()) return 1;
        plan_ms.push_back(std::chrono::duration<double, std::milli>(planned - start).count());
        rules_ms.push_back(std::chrono::duration<double, std::milli>(judged - planned).count());
    }
    for (auto* all : {&plan_ms, &rules_ms}) {
        std::ranges::sort(*all);
        std::printf("%s: median %.3f ms, p99 %.3f ms, longest %.3f ms\n",
                    all == &plan_ms ? "planned" : "held against the rules", (*all)[all->size() / 2],
                    (*all)[all->size() * 99 / 100], all->back());
    }
    return 0;
}
