#include "core/ride/over_strides.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <tuple>

#include "core/measures/student.hpp"

namespace aspen::core {
namespace {

using Between = StrideChange::Between;

constexpr int kFewest = 6;
constexpr std::size_t kLongBout = 18;
constexpr double kFalseAlarms = 0.05;  // over all that one summary compares

/// Spoken, and whether more of it at the end is a position that goes.
struct Known {
    const char *id, *spoken, *unit;  ///< unit as Amounts has it
    bool worse_when_more;
};
constexpr std::array kKnown{Known{"leg_swing", "the lower leg swings", "deg", true},
                            Known{"hand_bounce", "the hand bounces", "%", true},
                            Known{"heel_bob", "the heel bobs", "%", true},
                            Known{"trunk_swing", "the trunk swings", "deg", true},
                            Known{"head_bob", "the head bobs", "%", true},
                            Known{"seat_rise", "the seat rises", "%", false},
                            Known{"tempo_per_min", "strides a minute:", "", false},
                            Known{"speed", "metres a second:", "", false}};

struct Sampled {
    double mean = 0, variance = 0;  ///< of the mean
    double common = 0;              ///< standard deviation that all of them share
    double worth = 0;               ///< independent strides
    int n = 0;
};
Sampled sample_of(std::span<const std::optional<double>> values, double sd) {
    Sampled out;
    double sum = 0, squares = 0;
    for (const auto& v : values) {
        if (!v) continue;
        sum += *v, squares += *v * *v, ++out.n;
    }
    if (out.n == 0) return out;
    out.mean = sum / out.n;
    const double spread = out.n < 2 ? 0 : std::max(0.0, squares - out.n * out.mean * out.mean) / (out.n - 1);
    out.worth = worth(out.n, neighbours_correlation(values));
    out.variance = spread / out.worth;
    out.common = sd;
    return out;
}

const StrideValues* values_in(const RideStrides& s, const std::string& measure) {
    const auto at = std::ranges::find(s.values, measure, &StrideValues::measure);
    return at == s.values.end() ? nullptr : &*at;
}

/// All strides of several stretches.
Sampled pooled(const std::vector<const RideStrides*>& all, const std::string& measure) {
    std::vector<std::optional<double>> values;
    double sd = 0;
    for (const RideStrides* s : all) {
        const StrideValues* v = values_in(*s, measure);
        if (!v) continue;
        values.insert(values.end(), v->by_stride.begin(), v->by_stride.end());
        sd = std::max(sd, v->sd);
    }
    return sample_of(values, sd);
}

class Comparing {
  public:
    explicit Comparing(std::span<const RideStrides> strides) {
        for (const RideStrides& s : strides) {
            if (!s.judged || !s.seen.gait) continue;
            bouts_[s.seen].push_back(&s);
            if (s.rein) reins_[{*s.seen.gait, s.seen.seat}][*s.rein == Rein::left ? 0 : 1].push_back(&s);
            if (s.seen.seat == Seat::sitting) seats_[*s.seen.gait][0].push_back(&s);
            if (s.seen.seat == Seat::rising) seats_[*s.seen.gait][1].push_back(&s);
        }
    }
    std::vector<StrideChange> changes() {
        for (const auto& [seen, bouts] : bouts_) {
            for (const Known& k : kKnown) bout(*seen.gait, bouts, k.id);
        }
        for (const auto& [ridden, both] : reins_) {
            for (const Known& k : kKnown)
                add(Between::left_right, ridden.first, k.id, pooled(both[0], k.id), pooled(both[1], k.id));
        }
        for (const auto& [gait, both] : seats_) {
            for (const char* id : {"tempo_per_min", "speed"})
                add(Between::sitting_rising, gait, id, pooled(both[0], id), pooled(both[1], id));
        }
        correct();
        return std::move(out_);
    }

  private:
    static constexpr double kManyDegrees = 1e4;
    void bout(Gait gait, const std::vector<const RideStrides*>& bouts, const std::string& measure) {
        const StrideValues* first = values_in(*bouts.front(), measure);
        const StrideValues* last = values_in(*bouts.back(), measure);
        if (!first || !last) return;
        const std::span values(first->by_stride);
        if (bouts.size() > 1) {
            add(Between::first_last, gait, measure, sample_of(values, first->sd),
                sample_of(last->by_stride, last->sd));
        } else if (values.size() >= kLongBout) {  // one camera, one set of marks: what they miss is in both
            const std::size_t third = values.size() / 3;
            add(Between::first_last, gait, measure, sample_of(values.first(third), 0),
                sample_of(values.last(third), 0));
        }
    }
    void add(Between between, Gait gait, const std::string& measure, const Sampled& one,
             const Sampled& other) {
        if (one.n < kFewest || other.n < kFewest) return;
        const double common = one.common * one.common + other.common * other.common;
        StrideChange c{between,  measure,    gait,
                       one.mean, other.mean, std::sqrt(one.variance + other.variance + common),
                       one.n,    other.n};
        // Welch's t, with the strides' worth in place of their number; what is common to all is known.
        const auto part = [](const Sampled& s) {
            return s.variance * s.variance / std::max(1.0, s.worth - 1);
        };
        const double whole = c.sd * c.sd, parts = part(one) + part(other);
        const double df = parts > 0 ? whole * whole / parts : kManyDegrees;
        c.chance = c.sd > 0 ? t_two_sided(std::abs(c.one - c.other) / c.sd, std::min(df, kManyDegrees))
                            : (c.one == c.other ? 1 : 0);
        out_.push_back(std::move(c));
    }
    /// Holm 1979 (from memory): the smallest chance against the strictest level, and so on until one fails.
    void correct() {
        std::vector<StrideChange*> order;
        for (StrideChange& c : out_) order.push_back(&c);
        std::ranges::sort(order, {}, &StrideChange::chance);
        for (std::size_t i = 0; i < order.size(); ++i) {
            if (order[i]->chance > kFalseAlarms / static_cast<double>(order.size() - i)) return;
            order[i]->real = true;
        }
    }

    std::map<SeenIn, std::vector<const RideStrides*>> bouts_;
    using Both = std::array<std::vector<const RideStrides*>, 2>;
    std::map<std::pair<Gait, std::optional<Seat>>, Both> reins_;
    std::map<Gait, Both> seats_;
    std::vector<StrideChange> out_;
};

std::string change_words(const StrideChange& c, const SpokenAmounts& said) {
    const auto known = std::ranges::find(kKnown, c.measure, [](const Known& k) { return std::string(k.id); });
    if (known == kKnown.end()) return {};
    // Tempo and speed are numbers riders know; lengths and angles are said as amounts.
    const bool plain = *known->unit == '\0';
    const int digits = c.measure == "speed" ? 1 : 0;
    const auto number = [&](double v) {
        return plain ? fmt::format("{:.{}f}", v, digits) : said.of(c.measure, known->unit, v);
    };
    const std::string doubt = plain ? fmt::format("± {:.{}f}", c.sd, digits == 0 && c.sd < 1 ? 1 : digits)
                                    : said.doubt(c.measure, known->unit, c.sd);
    const std::string both[] = {number(c.one), number(c.other)},
                      off = doubt.empty() ? std::string() : " (" + doubt + ")";
    std::string out = fmt::format("{}: {} ", spoken(c.gait), known->spoken);
    switch (c.between) {
        case Between::first_last: {
            out += fmt::format("{} in the first bout, {} in the last{}", both[0], both[1], off);
            if (known->worse_when_more)
                out += c.other > c.one ? "; it goes with time: tired, rather than not learned"
                                       : "; it came with riding";
            break;
        }
        case Between::left_right:
            out += fmt::format("{} on the left rein, {} on the right{}", both[0], both[1], off);
            break;
        case Between::sitting_rising:
            out += fmt::format("{} sitting, {} rising{}", both[0], both[1], off);
            break;
    }
    out.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(out.front())));
    return out;
}

}  // namespace

std::vector<StrideChange> stride_changes(std::span<const RideStrides> strides) {
    return Comparing(strides).changes();
}

std::vector<std::string> in_words(const std::vector<StrideChange>& changes, const SpokenAmounts& amounts) {
    std::vector<std::string> out;
    bool bouts = false, told = false;
    for (const StrideChange& c : changes) {
        bouts |= c.between == Between::first_last;
        if (!c.real) continue;
        told |= c.between == Between::first_last;
        if (std::string line = change_words(c, amounts); !line.empty()) out.push_back(std::move(line));
    }
    if (bouts && !told) out.push_back("First bout and last: nothing differs beyond the error");
    return out;
}

}  // namespace aspen::core
