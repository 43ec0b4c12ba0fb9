#include "core/motion/counts.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace aspen::core {
namespace {

constexpr std::size_t kFewestRounds = 3;

struct Round {
    double from_s = 0;
    int rises = 0, sits = 0;
};

}  // namespace

std::optional<CountsKept> counts_kept(std::vector<Happening> events) {
    std::ranges::stable_sort(events, {}, &Happening::time_s);
    std::vector<Round> rounds;
    for (const Happening& e : events) {
        if (e.event == "rise") {
            if (rounds.empty() || rounds.back().sits > 0) rounds.push_back({e.time_s, 0, 0});
            ++rounds.back().rises;
        } else if (e.event == "sit" && !rounds.empty()) {
            ++rounds.back().sits;
        }
    }
    if (!rounds.empty()) rounds.pop_back();
    if (rounds.size() < kFewestRounds) return std::nullopt;
    std::map<std::pair<int, int>, int> often;
    for (const Round& r : rounds) ++often[{r.rises, r.sits}];
    const auto usual =
        std::ranges::max_element(often, {}, [](const auto& counted) { return counted.second; })->first;
    CountsKept out{usual.first, usual.second, 0, static_cast<int>(rounds.size()), {}};
    for (const Round& r : rounds) {
        if (std::pair(r.rises, r.sits) == usual)
            ++out.kept;
        else
            out.off_s.push_back(r.from_s);
    }
    return out;
}

std::string in_words(const std::optional<CountsKept>& c) {
    if (!c) return {};
    std::string out =
        fmt::format("Up {}, sit {}, kept in {} of {} rounds", c->rises, c->sits, c->kept, c->rounds);
    for (std::size_t i = 0; i < c->off_s.size() && i < 3; ++i)
        out += fmt::format("{} {:.1f} s", i == 0 ? "; not at" : ",", c->off_s[i]);
    if (c->off_s.size() > 3) out += " and later";
    return out;
}

}  // namespace aspen::core
