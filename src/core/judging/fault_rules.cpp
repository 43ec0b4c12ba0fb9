#include "core/judging/fault_rules.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;
using How = RuleSays::How;

constexpr std::array<std::string_view, 5> kSideWords{"below", "above", "either", "inside", "inward"};

template <typename Value, typename From>
std::vector<Value> words_of(const Entry& entry, const char* field, From from) {
    std::vector<Value> out;
    for (const std::string& w : entry.texts_or_none(field)) {
        const auto value = from(w);
        if (!value) entry.complain(field, fmt::format("has the unknown word \"{}\"", w));
        out.push_back(*value);
    }
    return out;
}

template <typename T>
bool asked(const std::vector<T>& list, const T& one) {
    return list.empty() || std::ranges::find(list, one) != list.end();
}

Condition read_condition(const Json& json, const std::string& file, const std::string& name) {
    const Entry entry(json, file, name + ", when");
    Condition out;
    if (entry.has("any")) {
        out.any = read_conditions(entry.array("any"), file, name);
    } else if (entry.has("all")) {
        out.all = read_conditions(entry.array("all"), file, name);
    } else if (entry.has("check")) {
        out.check = entry.text("check");
        const std::string answer = entry.text_or("answer", "fault");
        if (answer != "fault" && answer != "good") entry.complain("answer", "must be fault or good");
        out.answered_good = answer == "good";
    } else {
        out.measure = entry.text("measure");
        if (!find_measure(out.measure))
            entry.complain("measure", fmt::format("\"{}\" is not a measure", out.measure));
        const auto side = std::ranges::find(kSideWords, entry.text("side"));
        if (side == kSideWords.end())
            entry.complain("side", "must be below, above, either, inside or inward");
        out.side = static_cast<Condition::Side>(side - kSideWords.begin());
    }
    out.views = words_of<View>(entry, "views", view_from);
    return out;
}

/// The side of a band that a condition asks for, in this setting; nothing where it cannot be said.
bool matches(Condition::Side side, Beyond beyond, const Setting& setting) {
    using S = Condition::Side;
    if (beyond == Beyond::neither) return false;
    if (side == S::either) return true;
    if (side == S::inward) return (setting.rein == Rein::right) == (beyond == Beyond::above);
    return (side == S::below) == (beyond == Beyond::below);
}

RuleSays of_measure(const Condition& c, const std::vector<Judged>& judged, const Setting& setting) {
    const Judged* j = find(judged, c.measure);
    const bool known = j && (j->verdict == Verdict::inside || j->verdict == Verdict::borderline ||
                             j->verdict == Verdict::outside);
    if (!known) return {};
    RuleSays out{How::no, j->severity, j->beyond, 0, {c.measure}, {}};
    out.past = std::abs(*j->measured.value) - kNinetyPercent * j->measured.sd;
    if (c.side == Condition::Side::inside) {
        out.severity = 0;
        out.toward = Beyond::neither;
        out.how = j->verdict == Verdict::inside    ? How::yes
                  : j->verdict == Verdict::outside ? How::no
                  : j->beyond == Beyond::neither   ? How::doubtful
                                                   : How::unsure;
        return out;
    }
    if (c.side == Condition::Side::inward && (!setting.rein || *setting.rein == Rein::straight)) return {};
    if (matches(c.side, j->beyond, setting))
        out.how = j->verdict == Verdict::outside ? How::yes : How::doubtful;
    else if (j->verdict == Verdict::borderline)
        out.how = How::unsure;  // it tends to none or the other way
    return out;
}

RuleSays of_check(const Condition& c, const EyeAnswers& eye) {
    const auto said = eye.find(c.check);
    if (said == eye.end()) return {How::unknown, 0, Beyond::neither, 0, {}, {c.check}};
    return {said->second != c.answered_good ? How::yes : How::no, 0, Beyond::neither, 0, {c.check}, {}};
}

RuleSays one_of(const std::vector<Condition>& any, const std::vector<Judged>& judged, const Setting& setting,
                View view, const EyeAnswers& eye) {
    RuleSays best{How::no};
    bool unknown = false, asked_any = false;
    std::vector<std::string> wanted;
    for (const Condition& c : any) {
        if (!asked(c.views, view)) continue;
        asked_any = true;
        RuleSays one = evaluate({c}, judged, setting, view, eye);
        if (one.how == How::yes && best.how != How::yes) {
            best = std::move(one);
        } else if (one.how == How::unknown) {
            unknown = true;
            wanted.insert(wanted.end(), one.wanted.begin(), one.wanted.end());
        } else if (one.how >= best.how && best.how != How::yes) {
            best = std::move(one);
        }
    }
    if (best.how == How::yes) return best;
    if (unknown || !asked_any) return {How::unknown, 0, Beyond::neither, 0, {}, wanted};
    return best;
}

}  // namespace

bool WhereAsked::holds(const Setting& s, View view) const {
    if (needs_stirrups && s.stirrups == Stirrups::off) return false;
    return asked(views, view) && asked(seats, s.seat) && asked(gaits, s.gait) && asked(phases, s.phase) &&
           asked(movements, s.movement) &&
           (not_phases.empty() || std::ranges::find(not_phases, s.phase) == not_phases.end());
}

WhereAsked read_where(const Entry& entry) {
    WhereAsked out;
    out.views = words_of<View>(entry, "views", view_from);
    out.seats = words_of<Seat>(entry, "seats", seat_from);
    out.gaits = words_of<Gait>(entry, "gaits", gait_from);
    out.phases = entry.texts_or_none("phases");
    out.not_phases = entry.texts_or_none("not_phases");
    out.movements = entry.texts_or_none("movements");
    out.needs_stirrups = entry.flag_or("needs_stirrups", false);
    for (const auto* list : {&out.phases, &out.not_phases}) {
        for (const std::string& p : *list) {
            if (!is_phase(p)) entry.complain("phases", fmt::format("has the unknown phase \"{}\"", p));
        }
    }
    for (const std::string& m : out.movements) {
        if (!is_movement(m)) entry.complain("movements", fmt::format("has the unknown movement \"{}\"", m));
    }
    return out;
}

std::vector<Condition> read_conditions(const Json& list, const std::string& file, const std::string& entry) {
    std::vector<Condition> out;
    for (const Json& one : list) out.push_back(read_condition(one, file, entry));
    return out;
}

RuleSays evaluate(const std::vector<Condition>& when, const std::vector<Judged>& judged,
                  const Setting& setting, View view, const EyeAnswers& eye) {
    RuleSays out{How::yes};
    bool unknown = false, asked_any = false;
    std::vector<std::string> wanted;
    for (const Condition& c : when) {
        if (!asked(c.views, view)) continue;
        asked_any = true;
        RuleSays one = !c.any.empty()     ? one_of(c.any, judged, setting, view, eye)
                       : !c.all.empty()   ? evaluate(c.all, judged, setting, view, eye)
                       : !c.check.empty() ? of_check(c, eye)
                                          : of_measure(c, judged, setting);
        if (one.how == How::no) return {How::no, 0, Beyond::neither, 0, one.evidence, {}};
        if (one.how == How::unknown) {
            unknown = true;
            wanted.insert(wanted.end(), one.wanted.begin(), one.wanted.end());
            continue;
        }
        out.how = std::min(out.how, one.how);
        out.severity = std::max(out.severity, one.severity);
        if (out.toward == Beyond::neither) {
            out.toward = one.toward;
            out.past = one.past;
        }
        out.evidence.insert(out.evidence.end(), one.evidence.begin(), one.evidence.end());
    }
    if (unknown || !asked_any) {
        if (out.how != How::yes || out.evidence.empty()) wanted.clear();
        return {How::unknown, 0, Beyond::neither, 0, std::move(out.evidence), std::move(wanted)};
    }
    return out;
}

std::string_view leading_measure(const std::vector<Condition>& when) {
    for (const Condition& c : when) {
        if (!c.measure.empty()) return c.measure;
        if (const auto in = leading_measure(c.any); !in.empty()) return in;
        if (const auto in = leading_measure(c.all); !in.empty()) return in;
    }
    return {};
}

void each_condition(const std::vector<Condition>& when, const std::function<void(const Condition&)>& f) {
    for (const Condition& c : when) {
        f(c);
        each_condition(c.any, f);
        each_condition(c.all, f);
    }
}

}  // namespace aspen::core
