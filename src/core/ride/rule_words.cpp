#include "core/ride/rule_words.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace aspen::core {
namespace {

using LimitSide = Condition::Side;

const char* side_words(LimitSide side) {
    switch (side) {
        case LimitSide::below:
            return "below its band";
        case LimitSide::above:
            return "above its band";
        case LimitSide::either:
            return "outside its band";
        case LimitSide::inside:
            return "inside its band";
        case LimitSide::inward:
            return "past its band to the inside of the circle";
    }
    return "";
}

void add_lines(const std::vector<Condition>& when, const CheckBook& checks, int depth,
               std::vector<RuleLine>& out) {
    for (const Condition& c : when) {
        if (!c.any.empty() || !c.all.empty()) {
            out.push_back({c.any.empty() ? "all of these" : "one of these", {}, depth});
            add_lines(c.any.empty() ? c.all : c.any, checks, depth + 1, out);
        } else if (!c.check.empty()) {
            const Check* check = checks.find(c.check);
            const std::string asks = check ? check->asks : c.check;
            const std::string said = !check ? "" : c.answered_good ? check->good : check->fault;
            out.push_back({fmt::format("by eye: {} \"{}\"", asks, said), {}, depth});
        } else {
            out.push_back({fmt::format("{} {}", find_measure(c.measure)->spoken, side_words(c.side)),
                           c.measure, depth});
        }
    }
}

template <typename T, typename Words>
std::string listed(const std::vector<T>& all, Words words) {
    std::string out;
    for (std::size_t i = 0; i < all.size(); ++i)
        out += fmt::format("{}{}", i == 0 ? "" : i + 1 == all.size() ? " and " : ", ", words(all[i]));
    return out;
}

/// With a true minus, as every number of the program is written.
std::string with_minus(const std::string& digits) {
    return digits.starts_with('-') ? "\u2212" + digits.substr(1) : digits;
}
std::string limit_words(const std::optional<double>& v) {
    return v ? with_minus(fmt::format("{:.4g}", *v)) : "open";
}

}  // namespace

std::vector<RuleLine> rule_in_words(const Fault& fault, const Knowledge& knowledge) {
    std::vector<RuleLine> out;
    if (fault.by_eye || fault.when.empty()) {
        const Check* check = knowledge.checks.find(fault.id);
        out.push_back({check ? fmt::format("by eye: {} \"{}\"", check->asks, check->fault)
                             : std::string("by the coach's eye alone"),
                       {},
                       0});
        return out;
    }
    add_lines(fault.when, knowledge.checks, 0, out);
    return out;
}

std::string asked_in_words(const WhereAsked& where) {
    std::vector<std::string> parts;
    if (!where.gaits.empty()) parts.push_back("in " + listed(where.gaits, [](Gait g) { return spoken(g); }));
    if (!where.seats.empty()) parts.push_back("in " + listed(where.seats, [](Seat s) { return spoken(s); }));
    if (!where.views.empty())
        parts.push_back("seen from " + listed(where.views, [](View v) { return word(v); }));
    if (where.needs_stirrups) parts.emplace_back("with stirrups");
    std::string out;
    for (const std::string& p : parts) out += (out.empty() ? "" : ", ") + p;
    return out;
}

std::string held_against(const Judged& j, const Schools& schools) {
    if (!j.measured.value || !j.band)
        return fmt::format("not judged: {}", j.reason.empty() ? "no band" : j.reason);
    const char* unit = j.info().unit == "deg" ? "°" : " %";
    const School* school = schools.find(j.band->school);
    std::string out =
        fmt::format("{}{} ± {:.1f}, band {} to {}", with_minus(fmt::format("{:.1f}", *j.measured.value)),
                    unit, j.measured.sd, limit_words(j.band->lo), limit_words(j.band->hi));
    out += school ? " of " + school->name : ", which follows from the other bands";
    if (!j.band->note.empty()) out += "; moved: " + j.band->note;
    return out;
}

}  // namespace aspen::core
