#include "core/motion/happenings.hpp"

#include <algorithm>
#include <cmath>
#include <sstream>
#include <utility>

namespace aspen::core {
namespace {

constexpr double kBelongsS = 5;  // a lead to its aid, a "wrong lead" to its lead
constexpr double kSlackS = 1e-9;
constexpr std::pair<const char*, const char*> kDelays[] = {
    {"aid", "answer"}, {"answer", "aid_off"}, {"break", "halt"}, {"halt", "walk_off"}};
constexpr const char* kWith[] = {"calf", "heel", "stronger", "voice", "hand", "seat", "breath"};

void prepare(HappeningSums& sums) {
    for (const auto& [from, to] : kDelays) sums.delays.push_back({from, to, {}});
    for (const char* with : kWith) sums.got_by[with] = 0;
    sums.got_by["unsaid"] = 0;
}

/// Goes through the list once for each thing that is counted; what belongs to a group is added to it and to
/// the whole alike.
class SummingUp {
  public:
    explicit SummingUp(std::vector<Happening> events) : events_(std::move(events)) {
        std::ranges::stable_sort(events_, {}, &Happening::time_s);
        prepare(report_);
        place_in_groups();
        count();
        delays();
        answers();
        runs();
        laps();
        attempts();
        leads();
    }
    HappeningReport take() { return std::move(report_); }

  private:
    template <typename Add>
    void both(std::size_t event, Add add) {
        add(static_cast<HappeningSums&>(report_));
        add(static_cast<HappeningSums&>(report_.groups[group_[event]]));
    }
    void place_in_groups() {
        HappeningGroup now;
        const auto said = [](std::optional<std::string>& to, const std::string& word) {
            if (!word.empty()) to = word;
        };
        for (const Happening& e : events_) {
            if (e.event.starts_with("rein_")) now.rein = e.event.substr(5);
            said(now.rein, detail_of(e.detail, "rein"));
            said(now.gait, detail_of(e.detail, "gait"));
            said(now.bout, detail_of(e.detail, "bout"));
            auto at = std::ranges::find_if(report_.groups, [&](const HappeningGroup& g) {
                return g.rein == now.rein && g.gait == now.gait && g.bout == now.bout;
            });
            if (at == report_.groups.end()) {
                report_.groups.push_back(now);
                prepare(report_.groups.back());
                at = std::prev(report_.groups.end());
            }
            group_.push_back(static_cast<std::size_t>(at - report_.groups.begin()));
        }
    }
    void count() {
        for (std::size_t i = 0; i < events_.size(); ++i) {
            const std::string what =
                events_[i].event == "let_go" ? detail_of(events_[i].detail, "what") : std::string();
            const std::string place = detail_of(events_[i].detail, "at");
            both(i, [&](HappeningSums& s) {
                ++s.counts[events_[i].event];
                if (!what.empty()) ++s.let_go_first[what];
                if (!place.empty()) ++s.places[events_[i].event][place];
            });
        }
    }
    void delays() {
        for (std::size_t d = 0; d < std::size(kDelays); ++d) {
            for (std::size_t i = 0; i < events_.size(); ++i) {
                if (events_[i].event != kDelays[d].first) continue;
                for (std::size_t j = i + 1; j < events_.size(); ++j) {
                    if (events_[j].event == kDelays[d].first) break;
                    if (events_[j].event != kDelays[d].second) continue;
                    const double s = events_[j].time_s - events_[i].time_s;
                    both(i, [&](HappeningSums& to) { to.delays[d].all_s.push_back(s); });
                    break;
                }
            }
        }
    }
    void answers() {
        const Happening* aid = nullptr;
        for (std::size_t i = 0; i < events_.size(); ++i) {
            if (events_[i].event == "aid") aid = &events_[i];
            if (events_[i].event != "answer" || !aid) continue;
            const std::string with = detail_of(aid->detail, "with");
            both(i, [&](HappeningSums& s) { ++s.got_by[with.empty() ? "unsaid" : with]; });
        }
    }
    void runs() {
        const auto ends = [](const Happening& e) { return e.event == "let_go"; };
        const auto starts = [](const Happening& e) { return e.event == "set_again"; };
        if (std::ranges::none_of(events_, [&](const Happening& e) { return ends(e) || starts(e); })) return;
        std::optional<std::size_t> open = 0;
        for (std::size_t i = 0; i < events_.size(); ++i) {
            if (!open && starts(events_[i])) open = i;
            const bool last = i + 1 == events_.size();
            if (!open || (!ends(events_[i]) && !last)) continue;
            const double s = events_[i].time_s - events_[*open].time_s;
            both(*open, [&](HappeningSums& to) { to.runs_s.push_back(s); });
            open.reset();
        }
    }
    void laps() {
        std::optional<std::size_t> from;
        bool clean = true;
        for (std::size_t i = 0; i < events_.size(); ++i) {
            if (events_[i].event == "break") clean = false;
            if (events_[i].event != "lap_line") continue;
            if (from) {
                const double s = events_[i].time_s - events_[*from].time_s;
                both(*from, [&](HappeningSums& to) {
                    to.laps_s.push_back(s);
                    if (clean) to.clean_laps_s.push_back(s);
                });
            }
            from = i;
            clean = true;
        }
    }
    void attempts() {
        std::vector<std::size_t> unmarked;
        for (std::size_t i = 0; i < events_.size(); ++i) {
            if (events_[i].event == "attempt") {
                unmarked.push_back(i);
                both(i, [](HappeningSums& s) { ++s.attempts; });
            } else if (events_[i].event == "good_one") {
                const std::size_t of = unmarked.empty() ? i : unmarked.back();
                const bool alone = unmarked.empty();
                if (!alone) unmarked.pop_back();
                both(of, [&](HappeningSums& s) {
                    s.attempts += alone;
                    ++s.good;
                });
            }
        }
    }

    struct Lead {
        std::size_t event;
        std::string under;  ///< left, right or ""
        bool wrong;
    };
    /// The lead that was asked for by an aid not longer ago than it belongs to; else that of the rein in
    /// force, in a counter-canter the other.
    std::string asked_at(std::size_t i, bool& by_aid) const {
        for (std::size_t j = i; j-- > 0;) {
            if (events_[i].time_s - events_[j].time_s > kBelongsS + kSlackS) break;
            if (events_[j].event != "aid") continue;
            const std::string lead = detail_of(events_[j].detail, "lead");
            if (lead != "left" && lead != "right") continue;
            by_aid = true;
            return lead;
        }
        by_aid = false;
        const std::string rein = report_.groups[group_[i]].rein.value_or("");
        return lead_on(rein, events_[i].detail);
    }
    void leads() {
        std::vector<Lead> all;
        for (std::size_t i = 0; i < events_.size(); ++i) {
            const std::string& e = events_[i].event;
            bool by_aid = false;
            if (e == "lead_left" || e == "lead_right") {
                const std::string taken = e.substr(5), asked = asked_at(i, by_aid);
                all.push_back({i, asked.empty() ? taken : asked, !asked.empty() && asked != taken});
            } else if (e == "wrong_lead") {
                const auto last = std::find_if(all.rbegin(), all.rend(), [&](const Lead& l) {
                    return events_[l.event].event != "wrong_lead";
                });
                if (last != all.rend() &&
                    events_[i].time_s - events_[last->event].time_s <= kBelongsS + kSlackS) {
                    last->wrong = true;
                } else if (const std::string asked = asked_at(i, by_aid); !asked.empty()) {
                    all.push_back({i, asked, true});
                }
            }
        }
        for (const Lead& l : all) {
            both(l.event, [&](HappeningSums& s) {
                LeadCount& of = l.under == "left" ? s.left : s.right;
                ++(l.wrong ? of.wrong : of.taken);
            });
        }
    }

    std::vector<Happening> events_;
    std::vector<std::size_t> group_;  ///< of each event
    HappeningReport report_;
};

}  // namespace

std::string detail_of(std::string_view detail, std::string_view key) {
    std::istringstream words{std::string(detail)};
    for (std::string w; words >> w;) {
        if (w.size() > key.size() && w.starts_with(key) && w[key.size()] == '=')
            return w.substr(key.size() + 1);
    }
    return {};
}

std::string detail_with(std::string_view detail, std::string_view key, std::string_view value) {
    std::istringstream words{std::string(detail)};
    std::string out;
    const auto add = [&](const std::string& w) { out += (out.empty() ? "" : " ") + w; };
    for (std::string w; words >> w;) {
        const bool same = w.size() > key.size() && w.starts_with(key) && w[key.size()] == '=';
        if (!same) add(w);
    }
    if (!value.empty()) add(std::string(key) + "=" + std::string(value));
    return out;
}

std::string detail_in(const std::string& detail, const Stretch& s) {
    const std::string& shown = s.shown.empty() ? s.asked : s.shown;
    return shown == "counter_canter" ? detail_with(detail, "movement", shown) : detail;
}

std::string lead_on(std::string_view rein, std::string_view detail) {
    if (rein != "left" && rein != "right") return {};
    const bool counter = detail_of(detail, "movement") == "counter_canter";
    return (rein == "left") != counter ? "left" : "right";
}

std::optional<double> HappeningSums::longest_run_s() const {
    return runs_s.empty() ? std::nullopt : std::optional(*std::ranges::max_element(runs_s));
}
std::optional<double> HappeningSums::fastest_clean_s() const {
    return clean_laps_s.empty() ? std::nullopt : std::optional(*std::ranges::min_element(clean_laps_s));
}

HappeningReport together(const std::vector<HappeningReport>& reports) {
    HappeningReport out;
    prepare(out);
    const auto append = [](auto& to, const auto& more) { to.insert(to.end(), more.begin(), more.end()); };
    const auto count = [](auto& to, const auto& more) {
        for (const auto& [word, n] : more) to[word] += n;
    };
    const auto add = [&](HappeningSums& to, const HappeningSums& s) {
        count(to.counts, s.counts);
        count(to.got_by, s.got_by);
        count(to.let_go_first, s.let_go_first);
        for (const auto& [event, at] : s.places) count(to.places[event], at);
        for (std::size_t i = 0; i < to.delays.size(); ++i) append(to.delays[i].all_s, s.delays[i].all_s);
        append(to.runs_s, s.runs_s);
        append(to.laps_s, s.laps_s);
        append(to.clean_laps_s, s.clean_laps_s);
        to.attempts += s.attempts;
        to.good += s.good;
        for (LeadCount HappeningSums::*lead : {&HappeningSums::left, &HappeningSums::right}) {
            (to.*lead).taken += (s.*lead).taken;
            (to.*lead).wrong += (s.*lead).wrong;
        }
    };
    for (const HappeningReport& r : reports) {
        add(out, r);
        for (const HappeningGroup& g : r.groups) {
            const auto at = std::ranges::find_if(out.groups, [&](const HappeningGroup& o) {
                return o.rein == g.rein && o.gait == g.gait && o.bout == g.bout;
            });
            if (at == out.groups.end())
                out.groups.push_back(g);
            else
                add(*at, g);
        }
    }
    return out;
}

HappeningReport sum_up(std::vector<Happening> events) { return SummingUp(std::move(events)).take(); }

int whole_strides(double seconds, double tempo_per_min) {
    return static_cast<int>(std::floor(seconds * tempo_per_min / 60 + kSlackS));
}

}  // namespace aspen::core
