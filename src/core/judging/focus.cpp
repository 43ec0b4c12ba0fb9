#include "core/judging/focus.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <set>

namespace aspen::core {
namespace {

constexpr double kEffectsCount = 3;    // times its own weight, at most
constexpr double kSlight = 0.2;        // of the heaviest
constexpr double kRootCarries = 0.25;  // of all it reaches

std::string lower_first(std::string s) {
    if (!s.empty()) s[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(s[0])));
    return s;
}

/// Of one gait and seat, or of the two gaits that the edge joins; and of one side of the body.
bool joins(const Cause& edge, const FocusCandidate& a, const FocusCandidate& b) {
    if (edge.from != a.found.fault->id || edge.to != b.found.fault->id) return false;
    const bool same_riding = a.gait == b.gait && a.seat == b.seat;
    const bool across = edge.across && a.gait == edge.across->first && b.gait == edge.across->second;
    return (same_riding || across) && (a.side.empty() || b.side.empty() || a.side == b.side);
}

/// Candidates with the edges between them, by their places in the list.
class Graph {
  public:
    Graph(const std::vector<FocusCandidate>& all, const std::vector<Cause>& book)
        : all_(all), effects_(all.size()) {
        for (std::size_t i = 0; i < all.size(); ++i) {
            for (std::size_t j = 0; j < all.size(); ++j) {
                if (i == j) continue;
                const auto edge =
                    std::ranges::any_of(book, [&](const Cause& c) { return joins(c, all[i], all[j]); });
                if (edge) effects_[i].insert(j);
            }
        }
    }
    bool certain(std::size_t i) const {
        return !all_[i].covered && all_[i].found.verdict == Verdict::outside;
    }
    bool solid(std::size_t i) const { return all_[i].covered || certain(i); }
    double own(std::size_t i) const { return certain(i) ? all_[i].found.weight() : 0; }
    /// Everything that follows from a candidate by edges whose ends are certain or covered.
    std::set<std::size_t> reached(std::size_t from) const {
        std::set<std::size_t> out;
        std::vector<std::size_t> open{from};
        while (!open.empty()) {
            const std::size_t at = open.back();
            open.pop_back();
            for (const std::size_t next : effects_[at]) {
                if (next != from && solid(next) && out.insert(next).second) open.push_back(next);
            }
        }
        return out;
    }
    double weight_reached(std::size_t from) const {
        double sum = 0;
        for (const std::size_t i : reached(from)) sum += own(i);
        return sum;
    }
    double total(std::size_t i) const { return own(i) + std::min(weight_reached(i), kEffectsCount * own(i)); }
    const std::set<std::size_t>& effects(std::size_t i) const { return effects_[i]; }

  private:
    const std::vector<FocusCandidate>& all_;
    std::vector<std::set<std::size_t>> effects_;
};

/// One choice, with what it needs to say why.
class Chooser {
  public:
    Chooser(const FocusRequest& request, const FaultBook& book)
        : request_(request), book_(book), all_(request.candidates), graph_(all_, book.causes()) {
        for (std::size_t i = 0; i < all_.size(); ++i) {
            if (certain(i)) heaviest_ = std::max(heaviest_, graph_.own(i));
        }
    }

    std::optional<Focus> choose() const {
        if (const auto i = best([&](std::size_t c) { return group(c) == AttentionGroup::safety; }))
            return said(*i, fmt::format("{} first: safety comes before everything else", name(*i)));
        if (auto stays = in_work()) return stays;
        for (const bool slight_too : {false, true}) {
            for (const auto g : {AttentionGroup::base, AttentionGroup::trunk, AttentionGroup::head,
                                 AttentionGroup::arms, AttentionGroup::fine}) {
                const auto foremost = best([&](std::size_t c) {
                    return group(c) == g && !held_back(c) && (slight_too || !slight(c));
                });
                if (!foremost) continue;
                if (const auto root = root_of(*foremost))
                    return said(*root, fmt::format("{} first: it is what drives {}", name(*root),
                                                   lower_first(name(*foremost))));
                return said(*foremost, reason(*foremost));
            }
        }
        return std::nullopt;
    }

  private:
    AttentionGroup group(std::size_t i) const { return all_[i].found.group(); }
    const std::string& name(std::size_t i) const { return all_[i].found.fault->name; }
    bool certain(std::size_t i) const { return graph_.certain(i) && !all_[i].found.seen_once; }
    bool slight(std::size_t i) const {
        return group(i) != AttentionGroup::safety && graph_.own(i) < kSlight * heaviest_;
    }
    /// Common practice, no source: contact before an independent seat is not a beginner's matter.
    bool held_back(std::size_t i) const { return !waits(i).empty(); }
    std::string waits(std::size_t i) const {
        return group(i) == AttentionGroup::safety ? std::string()
                                                  : book_.held_back(request_.level, *all_[i].found.fault);
    }
    template <typename Fits>
    std::optional<std::size_t> best(Fits fits) const {
        std::optional<std::size_t> out;
        for (std::size_t i = 0; i < all_.size(); ++i) {
            if (certain(i) && fits(i) && (!out || graph_.total(i) > graph_.total(*out))) out = i;
        }
        return out;
    }
    std::optional<std::size_t> root_of(std::size_t foremost) const {
        return best([&](std::size_t c) {
            return group(c) > group(foremost) && !held_back(c) && !slight(c) && !slight(foremost) &&
                   graph_.reached(c).contains(foremost) &&
                   graph_.own(c) >= kRootCarries * graph_.weight_reached(c);
        });
    }
    std::optional<Focus> in_work() const {
        for (const WorkSeen& seen : request_.in_work) {
            const Fault* fault = book_.find(seen.work.fault);
            if (!fault || seen.held) continue;
            const std::string why =
                fmt::format("{} stays the focus: it is in work and not yet held", fault->name);
            std::optional<std::size_t> at;
            for (std::size_t i = 0; i < all_.size(); ++i) {
                if (all_[i].found.fault == fault && !all_[i].covered &&
                    seen.work.in(all_[i].gait, all_[i].seat, all_[i].side) &&
                    (!at || graph_.own(i) > graph_.own(*at)))
                    at = i;
            }
            if (at) return said(*at, why);
            if (seen.shown && seen.inside > 0)
                return Focus{fault,
                             fmt::format("{}; {}.", why,
                                         seen.inside == 1              ? "inside at one moment only"
                                         : seen.inside < kFewestInside ? "inside at two moments only"
                                                                       : "inside, and not steadily"),
                             seen.gait, seen.seat, runners_up(all_.size())};
            return Focus{fault, why + "; this ride could not show it.", {}, {}, runners_up(all_.size())};
        }
        return std::nullopt;
    }
    std::string reason(std::size_t i) const {
        const AttentionGroup g = group(i);
        std::string why = fmt::format("{} first: ", name(i));
        if (slight(i))
            why += "it is slight, and nothing else stands";
        else if (g == AttentionGroup::base)
            why += "the base comes before what it carries";
        else
            why += fmt::format("nothing certain stands before {}", spoken(g));
        std::vector<std::string> explained;
        for (const std::size_t e : graph_.effects(i)) {
            if (graph_.certain(e)) explained.push_back(lower_first(name(e)));
        }
        for (std::size_t k = 0; k < explained.size(); ++k)
            why += (k == 0                      ? ", and it explains "
                    : k + 1 == explained.size() ? " and "
                                                : ", ") +
                   explained[k];
        return why;
    }
    std::vector<Focus::RunnerUp> runners_up(std::size_t chosen) const {
        std::vector<Focus::RunnerUp> out;
        std::vector<std::size_t> others;
        for (std::size_t i = 0; i < all_.size(); ++i) {
            // The same fault in another gait is no other thing to work on.
            const bool same = chosen < all_.size() && all_[i].found.fault == all_[chosen].found.fault;
            if (!same && graph_.certain(i)) others.push_back(i);
        }
        std::ranges::stable_sort(
            others, [&](std::size_t a, std::size_t b) { return graph_.total(a) > graph_.total(b); });
        for (const std::size_t i : others) {
            if (std::ranges::any_of(out,
                                    [&](const Focus::RunnerUp& r) { return r.fault == all_[i].found.fault; }))
                continue;
            out.push_back({all_[i].found.fault, why_not(i, chosen)});
        }
        return out;
    }
    std::string why_not(std::size_t i, std::size_t chosen) const {
        if (all_[i].found.seen_once)
            return fmt::format("seen at {} of {} moments only", all_[i].found.certain,
                               all_[i].found.judgeable);
        if (held_back(i)) return waits(i);
        if (slight(i)) return "slight beside the rest";
        if (chosen < all_.size()) {
            if (graph_.reached(chosen).contains(i)) return "follows from it";
            if (group(i) > group(chosen))
                return fmt::format("{} before {}", spoken(group(chosen)), spoken(group(i)));
        }
        return "weighs less, with what it drives";
    }
    Focus said(std::size_t i, const std::string& why) const {
        return {all_[i].found.fault, why + ".", all_[i].gait, all_[i].seat, runners_up(i)};
    }

    const FocusRequest& request_;
    const FaultBook& book_;
    const std::vector<FocusCandidate>& all_;
    Graph graph_;
    double heaviest_ = 0;
};

}  // namespace

std::vector<Cause> causes_among(const std::vector<FocusCandidate>& all, const std::vector<Cause>& book) {
    std::vector<Cause> out;
    for (const Cause& c : book) {
        std::set<std::pair<std::optional<Gait>, std::optional<Seat>>> done;
        for (const FocusCandidate& from : all) {
            for (const FocusCandidate& to : all) {
                if (!joins(c, from, to)) continue;
                if (done.emplace(from.gait, from.seat).second)
                    out.push_back({c.from, c.to, c.because, from.gait, from.seat});
            }
        }
    }
    return out;
}

std::optional<Focus> choose_focus(const FocusRequest& request, const FaultBook& book) {
    return Chooser(request, book).choose();
}

}  // namespace aspen::core
