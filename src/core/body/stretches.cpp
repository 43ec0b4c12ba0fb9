#include "core/body/stretches.hpp"

#include <algorithm>

namespace aspen::core {

bool Stretch::says_nothing() const {
    Stretch nothing;
    nothing.first = first;
    nothing.view = view;
    nothing.travel = travel;
    nothing.camera = camera;
    return *this == nothing;
}

std::vector<std::string> Stretch::missing() const {
    std::vector<std::string> out;
    if (!gait) out.emplace_back("gait");
    if (!seat) out.emplace_back("seat");
    if (view == View::side && travel == Travel::unknown) out.emplace_back("travel");
    return out;
}

Stretches whole_clip() { return {Stretch{}}; }

std::size_t stretch_at(const Stretches& stretches, int frame) {
    const auto after = std::ranges::upper_bound(stretches, frame, {}, &Stretch::first);
    return after == stretches.begin() ? 0 : static_cast<std::size_t>(after - stretches.begin()) - 1;
}

const Stretch& ridden_at(const Stretches& stretches, int frame) {
    static const Stretch nothing_said;
    return stretches.empty() ? nothing_said : stretches[stretch_at(stretches, frame)];
}

Stretches split_at(Stretches stretches, int frame) {
    if (stretches.empty()) stretches = whole_clip();
    const std::size_t at = stretch_at(stretches, std::max(0, frame));
    if (stretches[at].first == frame || frame < 0) return stretches;
    Stretch after = stretches[at];
    after.first = frame;
    after.name.clear();
    stretches.insert(stretches.begin() + static_cast<std::ptrdiff_t>(at) + 1, after);
    return stretches;
}

Stretches join(Stretches stretches, std::size_t place) {
    if (place >= stretches.size()) return stretches;
    if (stretches.size() == 1) return stretches;
    if (place == 0) place = 1;
    Stretch& before = stretches[place - 1];
    const Stretch& gone = stretches[place];
    if (!before.gait) before.gait = gone.gait;
    if (!before.rein) before.rein = gone.rein;
    if (!before.seat) before.seat = gone.seat;
    if (before.asked.empty()) before.asked = gone.asked;
    if (before.shown.empty()) before.shown = gone.shown;
    if (before.name.empty()) before.name = gone.name;
    stretches.erase(stretches.begin() + static_cast<std::ptrdiff_t>(place));
    return stretches;
}

Stretches move_border(Stretches stretches, std::size_t place, int to, int frames) {
    if (place == 0 || place >= stretches.size()) return stretches;
    const int low = stretches[place - 1].first + 1;
    const int high = (place + 1 < stretches.size() ? stretches[place + 1].first : frames) - 1;
    if (low <= high) stretches[place].first = std::clamp(to, low, high);
    return stretches;
}

std::pair<int, int> extent(const Stretches& stretches, std::size_t place, int frames) {
    const int last = place + 1 < stretches.size() ? stretches[place + 1].first - 1 : frames - 1;
    return {stretches[place].first, last};
}

Stretches merged_alike(Stretches stretches) {
    for (std::size_t i = 1; i < stretches.size();) {
        Stretch same = stretches[i];
        same.first = stretches[i - 1].first;
        if (same == stretches[i - 1])
            stretches.erase(stretches.begin() + static_cast<std::ptrdiff_t>(i));
        else
            ++i;
    }
    return stretches;
}

}  // namespace aspen::core
