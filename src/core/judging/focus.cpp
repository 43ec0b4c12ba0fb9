#include "core/judging/focus.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <set>

namespace aspen::core {
namespace {

const FoundFault* certain(const std::vector<FoundFault>& found, const std::string& id) {
    const auto it = std::ranges::find_if(
        found, [&](const FoundFault& f) { return f.fault->id == id && f.verdict == Verdict::outside; });
    return it == found.end() ? nullptr : &*it;
}

bool comes_first(const FoundFault& a, const FoundFault& b) {
    if (a.fault->group != b.fault->group) return a.fault->group < b.fault->group;
    return a.severity * a.share > b.severity * b.share;
}

/// Walks from a fault to the one that explains it, as long as there is one; a ring ends the walk.
const FoundFault* root_of(const FoundFault* start, const std::vector<FoundFault>& found,
                          const std::vector<Cause>& causes) {
    std::set<const FoundFault*> seen{start};
    const FoundFault* at = start;
    while (true) {
        const FoundFault* up = nullptr;
        for (const Cause& c : causes) {
            if (c.to != at->fault->id) continue;
            const FoundFault* from = certain(found, c.from);
            if (from && !seen.contains(from) && (!up || comes_first(*from, *up))) up = from;
        }
        if (!up) return at;
        seen.insert(up);
        at = up;
    }
}

std::string lower_first(std::string s) {
    if (!s.empty()) s[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(s[0])));
    return s;
}

std::string reason(const FoundFault& chosen, const FoundFault& foremost, const std::vector<FoundFault>& found,
                   const std::vector<Cause>& causes) {
    std::vector<std::string> explained;
    for (const Cause& c : causes) {
        if (c.from != chosen.fault->id) continue;
        if (const FoundFault* to = certain(found, c.to)) explained.push_back(lower_first(to->fault->name));
    }
    std::string why = fmt::format("{} first: ", chosen.fault->name);
    if (&chosen != &foremost) {
        why += fmt::format("it is what drives {}", lower_first(foremost.fault->name));
    } else if (chosen.fault->group == AttentionGroup::safety) {
        why += "safety comes before everything else";
    } else if (chosen.fault->group == AttentionGroup::base) {
        why += "the base comes before what it carries";
    } else {
        why += fmt::format("the base is in order, so {} {} next", spoken(chosen.fault->group),
                           chosen.fault->group == AttentionGroup::trunk ? "is" : "are");
    }
    if (!explained.empty() && &chosen == &foremost) {
        why += fmt::format(", and it explains {}", explained.front());
        for (std::size_t i = 1; i < explained.size(); ++i) {
            why += fmt::format("{}{}", i + 1 == explained.size() ? " and " : ", ", explained[i]);
        }
    }
    return why + ".";
}

}  // namespace

std::optional<Focus> choose_focus(const std::vector<FoundFault>& found, const std::vector<Cause>& causes,
                                  const std::vector<std::string>& in_work) {
    for (const std::string& id : in_work) {
        if (const FoundFault* f = certain(found, id)) {
            return Focus{f->fault,
                         fmt::format("{} stays the focus: it is in work and not yet held.", f->fault->name)};
        }
    }
    const FoundFault* foremost = nullptr;
    for (const FoundFault& f : found) {
        if (f.verdict == Verdict::outside && (!foremost || comes_first(f, *foremost))) foremost = &f;
    }
    if (!foremost) return std::nullopt;
    const FoundFault* chosen = root_of(foremost, found, causes);
    return Focus{chosen->fault, reason(*chosen, *foremost, found, causes)};
}

}  // namespace aspen::core
