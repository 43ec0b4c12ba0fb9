#include "core/motion/happening_words.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>

namespace aspen::core {
namespace {

constexpr std::pair<std::string_view, std::string_view> kEventSpoken[] = {
    {"aid", "aid given"},
    {"answer", "answer came"},
    {"aid_off", "aid off"},
    {"break", "break of gait"},
    {"halt", "halt"},
    {"back_step", "step back"},
    {"walk_off", "walked off"},
    {"pole", "pole"},
    {"fence", "fence"},
    {"take_off", "take-off"},
    {"landing", "landing"},
    {"lead_left", "left lead taken"},
    {"lead_right", "right lead taken"},
    {"wrong_lead", "wrong lead"},
    {"diagonal_left", "left diagonal"},
    {"diagonal_right", "right diagonal"},
    {"wrong_diagonal", "wrong diagonal"},
    {"rein_left", "on the left rein"},
    {"rein_right", "on the right rein"},
    {"lap_line", "lap line crossed"},
    {"let_go", "position let go"},
    {"set_again", "position set again"},
    {"iron_lost", "iron lost"},
    {"iron_found", "iron found"},
    {"sit", "sit"},
    {"rise", "rise"},
    {"bounce", "bounce"},
    {"spook", "spook"},
    {"attempt", "attempt"},
    {"good_one", "good one"},
    {"half_halt", "half-halt"},
    {"hoof_on", "hoof lands"},
    {"hoof_off", "hoof lifts"},
    {"stride_start", "a stride starts here"},
    {"stride_off", "this stride does not count"}};

std::string plural(int n, const char* one, const char* many) {
    return fmt::format("{} {}", n, n == 1 ? one : many);
}

std::string in_strides(double s, std::optional<double> tempo) {
    return tempo ? fmt::format(", about {}", plural(whole_strides(s, *tempo), "stride", "strides")) : "";
}

void add_delay(const Delay& d, const char* words, std::optional<double> tempo,
               std::vector<std::string>& out) {
    const auto middle = median(d.all_s);
    if (!middle) return;
    std::string line = fmt::format("{} {:.1f} s", words, *middle);
    if (const auto around = median_interval(d.all_s))
        line += fmt::format(" ({:.1f} to {:.1f}, {})", around->first, around->second,
                            plural(d.n(), "time", "times"));
    else
        line += fmt::format(" ({}, too few for a range)", plural(d.n(), "time", "times"));
    // Common practice, no source: an aid that stays on longer than a stride after the answer is nagging.
    if (d.to == "aid_off" && tempo && *middle > 60 / *tempo) line += "; longer than a stride: it nags";
    out.push_back(line);
}

void add_got_by(const HappeningSums& s, std::vector<std::string>& out) {
    std::string line;
    for (const char* with : {"calf", "heel", "stronger", "voice", "hand", "seat", "breath", "unsaid"}) {
        const auto at = s.got_by.find(with);
        if (at != s.got_by.end() && at->second > 0)
            line += fmt::format("{}{} {}", line.empty() ? "" : ", ",
                                std::string_view(with) == "unsaid" ? "not said" : with, at->second);
    }
    if (!line.empty()) out.push_back("The answer was got by: " + line);
}

void add_runs(const HappeningSums& s, std::optional<double> tempo, std::vector<std::string>& out) {
    const auto longest = s.longest_run_s();
    if (!longest) return;
    out.push_back(fmt::format("Held at longest {:.1f} s{}; in the middle {:.1f} s{} ({})", *longest,
                              in_strides(*longest, tempo), *median(s.runs_s),
                              in_strides(*median(s.runs_s), tempo),
                              plural(static_cast<int>(s.runs_s.size()), "time", "times")));
    std::string first;
    for (const auto& [what, n] : s.let_go_first)
        first += fmt::format("{}{} {}", first.empty() ? "" : ", ", what, n);
    std::ranges::replace(first, '_', ' ');
    if (!first.empty()) out.push_back("Let go first: " + first);
}

void add_laps(const HappeningReport& r, std::vector<std::string>& out) {
    if (r.laps_s.empty()) return;
    std::string line =
        fmt::format("{}, {:.1f} s in the middle", plural(static_cast<int>(r.laps_s.size()), "lap", "laps"),
                    *median(r.laps_s));
    if (const auto cv = cv_pct(r.laps_s)) line += fmt::format(", spread {:.0f} %", *cv);
    if (const auto trend = slope(r.laps_s); trend && r.laps_s.size() > 2)
        line += fmt::format(", {} by {:.1f} s a lap", *trend > 0 ? "slower" : "faster", std::abs(*trend));
    if (r.laps_s.size() > 1) {
        const auto slowest = std::ranges::max_element(r.laps_s);
        line += fmt::format("; slowest the {}{}, {:.1f} s", slowest - r.laps_s.begin() + 1,
                            std::array{"th", "st", "nd", "rd"}[static_cast<std::size_t>(
                                slowest - r.laps_s.begin() < 3 ? slowest - r.laps_s.begin() + 1 : 0)],
                            *slowest);
    }
    out.push_back(line);
    std::string ceiling;
    for (const HappeningGroup& g : r.groups) {
        if (const auto fastest = g.fastest_clean_s())
            ceiling += fmt::format("{}{} {:.1f} s", ceiling.empty() ? "" : ", ",
                                   g.rein ? *g.rein + " rein" : std::string("rein not said"), *fastest);
    }
    if (!ceiling.empty())
        out.push_back("Today's ceiling, the fastest lap without a break: " + ceiling + "; work below it");
}

std::string good_of(const HappeningSums& s) { return fmt::format("{} of {}", s.good, s.attempts); }

void add_attempts(const HappeningReport& r, std::vector<std::string>& out) {
    const auto share = wilson(r.good, r.attempts);
    if (!share) return;
    std::string line = fmt::format("Good: {} ({:.0f} to {:.0f} % of such tries)", good_of(r), 100 * share->lo,
                                   100 * share->hi);
    std::vector<const HappeningGroup*> bouts;
    for (const HappeningGroup& g : r.groups) {
        if (g.bout && g.attempts > 0) bouts.push_back(&g);
    }
    if (bouts.size() > 1)
        line += fmt::format("; first bout {}, last {}", good_of(*bouts.front()), good_of(*bouts.back()));
    out.push_back(line);
}

void add_leads(const HappeningSums& s, std::vector<std::string>& out) {
    if (const std::string line = leads_in_words(s); !line.empty()) out.push_back("Leads: " + line);
}

/// Trouble is often tied to a spot: the place where an event came most, where it came there more than once.
void add_places(const HappeningSums& s, std::vector<std::string>& out) {
    for (const auto& [event, at] : s.places) {
        const auto most = std::ranges::max_element(at, {}, [](const auto& one) { return one.second; });
        if (most->second < 2) continue;
        std::string what{spoken_event(event)};
        what[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(what[0])));
        out.push_back(fmt::format("{}: {} of {} {}", what, most->second, s.counts.at(event),
                                  spoken_place(most->first)));
    }
}

void add_counts(const HappeningSums& s, std::vector<std::string>& out) {
    std::string line;
    for (const char* event :
         {"break", "bounce", "iron_lost", "spook", "wrong_diagonal", "back_step", "pole", "fence"}) {
        const auto at = s.counts.find(event);
        if (at != s.counts.end())
            line += fmt::format("{}{} {}", line.empty() ? "" : ", ", spoken_event(event), at->second);
    }
    if (!line.empty()) out.push_back("Counted: " + line);
}

}  // namespace

std::string leads_in_words(const HappeningSums& s) {
    std::string line;
    for (const auto& [name, of] : {std::pair{"left", s.left}, {"right", s.right}}) {
        if (of.taken + of.wrong > 0)
            line += fmt::format("{}{} {} of {} right", line.empty() ? "" : ", ", name, of.taken,
                                of.taken + of.wrong);
    }
    return line;
}

std::string_view spoken_event(std::string_view event) {
    const auto at = std::ranges::find(kEventSpoken, event, [](const auto& p) { return p.first; });
    return at == std::end(kEventSpoken) ? event : at->second;
}

std::string spoken_place(std::string_view place) {
    if (place.size() == 9 && place.starts_with("corner_"))
        return fmt::format("in the corner between {} and {}", place[7], place[8]);
    if (place == "pole_left" || place == "pole_right")
        return fmt::format("{} of the pole's middle", place.substr(5));
    if (place == "pole_middle") return "in the pole's middle";
    return fmt::format("at {}", place);
}

std::string spoken(const Happening& h) {
    std::string out{spoken_event(h.event)};
    const auto add = [&](const char* key, const char* form) {
        if (const std::string value = detail_of(h.detail, key); !value.empty())
            out += fmt::format(fmt::runtime(form), value);
    };
    add("hoof", ", {}");
    add("with", ", with {}");
    add("lead", ", {} lead asked");
    add("side", ", {} side");
    add("what", ", {} first");
    add("drift", ", drifting {}");
    add("leg", ", leg {}");
    add("seat", ", seat {}");
    add("rein", ", {} rein");
    add("gait", ", {}");
    add("bout", ", bout {}");
    std::ranges::replace(out, '_', ' ');
    if (const std::string place = detail_of(h.detail, "at"); !place.empty())
        out += ", " + spoken_place(place);
    return out;
}

std::vector<std::string> in_words(const HappeningReport& r, std::optional<double> tempo) {
    std::vector<std::string> out;
    constexpr const char* kDelayWords[] = {"From aid to answer", "The leg stayed on after the answer",
                                           "From break to halt", "From halt to walking off"};
    for (std::size_t i = 0; i < r.delays.size(); ++i) add_delay(r.delays[i], kDelayWords[i], tempo, out);
    add_got_by(r, out);
    add_runs(r, tempo, out);
    add_attempts(r, out);
    add_laps(r, out);
    add_leads(r, out);
    add_counts(r, out);
    add_places(r, out);
    return out;
}

}  // namespace aspen::core
