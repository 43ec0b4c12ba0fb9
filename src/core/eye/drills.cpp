#include "core/eye/drills.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "core/reading/refused.hpp"
#include "core/training/homework.hpp"

namespace aspen::core {
namespace {

constexpr std::array<std::string_view, kDrillKinds> kWords{"angle", "fault",    "order",
                                                           "lead",  "diagonal", "rise"};
constexpr std::array<std::string_view, kDrillKinds> kDrillSpoken{
    "guess the angle", "say the fault",  "order by severity",
    "which lead",      "which diagonal", "early or late in the rise"};
constexpr int kFirstDays = 2, kMostDays = 64, kFewestOfADay = 4;
constexpr double kGoodShare = 0.8, kRight = 0.01;

bool good_day(DrillKind kind, const std::vector<double>& off, double tolerance) {
    if (static_cast<int>(off.size()) < kFewestOfADay) return false;
    if (is_number(kind)) {
        double sum = 0;
        for (const double o : off) sum += std::abs(o);
        return sum / static_cast<double>(off.size()) < tolerance;
    }
    const auto right = std::ranges::count_if(off, [](double o) { return o < kRight; });
    return static_cast<double>(right) >= kGoodShare * static_cast<double>(off.size());
}

}  // namespace

std::string_view word(DrillKind k) { return kWords[static_cast<std::size_t>(k)]; }
std::string_view spoken(DrillKind k) { return kDrillSpoken[static_cast<std::size_t>(k)]; }
std::optional<DrillKind> drill_from(std::string_view w) {
    const auto at = std::ranges::find(kWords, w);
    if (at == kWords.end()) return std::nullopt;
    return static_cast<DrillKind>(at - kWords.begin());
}
bool is_number(DrillKind k) { return k == DrillKind::angle; }

EyeSkill skill_of(DrillKind kind, std::span<const DrillDone> done) {
    EyeSkill out;
    out.n = static_cast<int>(done.size());
    std::vector<double> off;
    for (const DrillDone& d : done) off.push_back(d.off);
    if (!is_number(kind)) {
        out.right =
            wilson(static_cast<int>(std::ranges::count_if(off, [](double o) { return o < kRight; })), out.n);
        return out;
    }
    if (off.size() < 2) return out;
    const std::vector<double> nothing(off.size(), 0.0);
    out.limits = agreement(off, nothing);
    out.bias = out.limits->mean;
    out.error = out.limits->sd;
    out.smallest_change = kDetectable * std::sqrt(2.0) * out.limits->sd;
    return out;
}

std::optional<TwoCoaches> agree(std::span<const SaidOf> one, std::span<const SaidOf> other) {
    std::map<std::string, double> first, second;
    for (const SaidOf& s : one) first[s.source] = s.said;
    for (const SaidOf& s : other) second[s.source] = s.said;
    Ratings both;
    std::vector<double> a, b;
    for (const auto& [source, said] : first) {
        const auto there = second.find(source);
        if (there == second.end()) continue;
        both.push_back({said, there->second});
        a.push_back(said);
        b.push_back(there->second);
    }
    if (both.size() < 2) return std::nullopt;
    TwoCoaches out;
    out.shared = static_cast<int>(both.size());
    out.icc_2_1 = intraclass(both).icc_2_1;
    out.limits = agreement(a, b);
    return out;
}

int due_in_days(DrillKind kind, std::span<const DrillDone> done, const std::string& today, double tolerance) {
    std::map<std::string, std::vector<double>> days;
    for (const DrillDone& d : done) days[d.day.substr(0, 10)].push_back(d.off);
    if (days.empty()) return 0;
    int wait = kFirstDays / 2;
    for (const auto& [day, off] : days)
        wait = good_day(kind, off, tolerance) ? std::min(2 * wait, kMostDays) : kFirstDays / 2;
    wait = std::max(wait, kFirstDays);
    return wait - days_between(days.rbegin()->first, today);
}

double order_off(const std::vector<std::string>& said, const std::vector<std::string>& truth) {
    if (said.size() != truth.size() || !std::ranges::is_permutation(said, truth))
        throw Refused("order: holds other names than what is true");
    int wrong = 0, pairs = 0;
    const auto place = [&](const std::string& name) { return std::ranges::find(said, name); };
    for (std::size_t i = 0; i < truth.size(); ++i) {
        for (std::size_t k = i + 1; k < truth.size(); ++k) {
            ++pairs;
            wrong += place(truth[i]) > place(truth[k]) ? 1 : 0;
        }
    }
    return pairs ? static_cast<double>(wrong) / pairs : 0;
}

}  // namespace aspen::core
