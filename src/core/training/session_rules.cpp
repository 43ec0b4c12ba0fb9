#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/training/session.hpp"

/// The rules of a session, each on its own, so that a block the coach drags is held against every one.
namespace aspen::core {
namespace {

struct Checked {
    const Session& session;
    const SessionAsk& ask;
    const ExerciseBook& book;
    std::vector<Broken>& out;

    void complain(const char* rule, int block, std::string words) const {
        out.push_back({rule, block, std::move(words)});
    }
    const std::vector<Block>& blocks() const { return session.blocks; }
    int size() const { return static_cast<int>(blocks().size()); }
    const Block& at(int i) const { return blocks()[static_cast<std::size_t>(i)]; }
    /// The rung that a block rides, as this rider rides it.
    const Rung* rung_of(const Block& b) const {
        const Exercise* e = b.exercise.empty() ? nullptr : book.find(b.exercise, ask.rider);
        const bool there = e && b.rung >= 0 && b.rung < static_cast<int>(e->dose.ladder.size());
        return there ? &e->dose.ladder[static_cast<std::size_t>(b.rung)] : nullptr;
    }
    bool from_trot(const Block& b) const {
        const Rung* r = rung_of(b);
        return r && r->from_trot;
    }
};

void check_ends(const Checked& c) {
    if (const int s = c.session.seconds(); s != 60 * c.ask.minutes)
        c.complain("total", -1, fmt::format("it takes {:g} minutes of {}", s / 60.0, c.ask.minutes));
    int walked = 0;
    for (int i = 0; i < c.size() && walked < 300; ++i) {
        const Block& b = c.at(i);
        if (!b.stirrups) return c.complain("warm_up", i, "the first five minutes are ridden with stirrups");
        if (walked < 180 && fast(b.work)) return c.complain("warm_up", i, "begin with some minutes of walk");
        walked += b.seconds;
    }
    if (c.blocks().empty() || c.blocks().back().kind != BlockKind::cool_down ||
        c.blocks().back().work != Work::walk || c.blocks().back().seconds < 180)
        c.complain("cool_down", c.size() - 1, "end with three minutes of walk at least");
}

void check_order(const Checked& c) {
    int walk = 0, trot = 0, canter = 0;
    const bool gaited = c.ask.rider.school == "gaited" && !c.ask.rider.mechanical;
    for (int i = 0; i < c.size(); ++i) {
        const Block& b = c.at(i);
        if (b.work == Work::trot && gaited)
            return c.complain("order", i, "for a gaited horse a trot is a break: running walk instead");
        if (fast(b.work) && walk < 180) return c.complain("order", i, "walk comes before trot");
        if (b.work >= Work::canter && trot < 120)
            return c.complain("order", i, "trot comes before canter and fences");
        if (b.work == Work::jump && canter < 60 && !c.from_trot(b))
            return c.complain("order", i, "canter comes before fences that are not trotted to");
        if (b.work == Work::walk) walk += b.seconds;
        if (b.work == Work::running_walk || b.work == Work::trot) trot += b.seconds;
        if (b.work == Work::canter) canter += b.seconds;
    }
}

void check_reins(const Checked& c) {
    const int left = seconds_on(c.session, "left"), right = seconds_on(c.session, "right");
    if (3 * std::max(left, right) > 4 * std::min(left, right))
        c.complain("reins", -1,
                   fmt::format("{:g} minutes left, {:g} right: none more than a third longer", left / 60.0,
                               right / 60.0));
    if (c.ask.stiff_side.empty()) return;
    int first = -1, last = -1;
    for (int i = 0; i < c.size(); ++i) {
        if (c.at(i).rein.empty()) continue;
        if (first < 0) first = i;
        last = i;
    }
    for (const int i : {first, last}) {
        if (i >= 0 && c.at(i).rein != c.ask.stiff_side)
            c.complain("stiff_first", i,
                       fmt::format("the stiff {} rein comes first and last", c.ask.stiff_side));
    }
}

/// What an exercise, a rung and a horse allow.
void check_doses(const Checked& c) {
    std::map<std::string, int> seconds;
    const HorseLimits limits = limits_of(c.ask);
    for (int i = 0; i < c.size(); ++i) {
        const Block& b = c.at(i);
        const bool two_point =
            b.exercise.starts_with("two_point") || b.words.find("two-point") != std::string::npos;
        if (two_point && b.seconds > limits.two_point_bout_s)
            c.complain("dose", i, "two-point is held five minutes at a time, no longer");
        if (b.work == Work::canter && b.seconds > limits.canter_bout_s)
            c.complain("dose", i,
                       fmt::format("this horse canters {} minutes at a time", limits.canter_bout_s / 60));
        for (const RiderNeeds& other : c.ask.with) {
            if (const std::string why = block_shut(b, c.book, other); !why.empty()) {
                c.complain("gate", i, fmt::format("not for all who ride: {}", why));
                break;
            }
        }
        if (b.exercise.empty()) {
            if (const std::string why = block_shut(b, c.book, c.ask.rider); !why.empty())
                c.complain("gate", i, why);
            continue;
        }
        const Exercise* e = c.book.find(b.exercise, c.ask.rider);
        const Rung* rung = c.rung_of(b);
        if (!rung) {
            c.complain("gate", i, fmt::format("\"{}\" is not in the book", b.exercise));
            continue;
        }
        const Rung& r = *rung;
        if (const Offer o = c.book.rung_offer(*e, b.rung, c.ask.rider); !o.set_aside.empty())
            c.complain("gate", i, fmt::format("{}: {}", e->name, o.set_aside));
        if ((seconds[e->id] += b.seconds) > r.seconds())
            c.complain("dose", i,
                       fmt::format("{}: {:g} minutes a ride, no more", e->name, r.seconds() / 60.0));
        if (e->on_mechanical_horse() && !c.ask.rider.mechanical)
            c.complain("gate", i, fmt::format("{}: it is ridden on the mechanical horse", e->name));
        if (b.seconds > 60 * r.minutes)
            c.complain("dose", i, fmt::format("{}: a bout is {} minutes", e->name, r.minutes));
    }
}

void check_horse(const Checked& c) {
    const HorseLimits limits = limits_of(c.ask);
    const DayLeft left = day_left(c.ask);
    int quick = 0, canter = 0, jump = 0;
    for (int i = 0; i < c.size(); ++i) {
        const Block& b = c.at(i);
        if (fast(b.work)) quick += b.seconds;
        if (b.work == Work::canter) canter += b.seconds;
        if (b.work == Work::jump) jump += b.seconds;
        if (quick > 60 * limits.fast_min || canter > 60 * limits.canter_min || jump > 60 * limits.jump_min)
            return c.complain("horse", i, "the horse has done enough for one session");
        if (jump > jump_left_s(c.ask, limits))
            return c.complain("horse", i,
                              fmt::format("the horse has jumped {} fences today", left.done_fences));
    }
    if (c.session.seconds() / 60 > left.minutes)
        c.complain("horse", -1, fmt::format("the horse has done {} minutes today", left.done_minutes));
    int ridden = 0;
    const auto is_cold = [](const RiderNeeds& r) { return r.cold_backed && !r.mechanical; };
    const bool cold = is_cold(c.ask.rider) || std::ranges::any_of(c.ask.with, is_cold);
    for (int i = 0; i < c.size() && ridden < 600 && cold; ++i) {
        if (c.at(i).full_seat)
            return c.complain("back", i, "a cold-backed horse is not sat on in the first ten minutes");
        ridden += c.at(i).seconds;
    }
}

/// A rest after each bout, a load that rises and then falls, and something that works at the end.
void check_run(const Checked& c) {
    double load = 0;
    bool fallen = false;
    int last_real = -1;
    for (int i = 0; i < c.size(); ++i) {
        const Block& b = c.at(i);
        if (b.kind == BlockKind::work && (i + 1 == c.size() || (c.at(i + 1).kind != BlockKind::rest &&
                                                                c.at(i + 1).kind != BlockKind::cool_down)))
            c.complain("rest", i, "a rest comes after each bout");
        if (b.kind != BlockKind::work && b.kind != BlockKind::easy && b.kind != BlockKind::finish) continue;
        last_real = i;
        if (fallen && load_per_min(b) > load + 1e-9)
            c.complain("load", i, "the load rises once and then falls: the harder comes earlier");
        fallen |= load_per_min(b) < load - 1e-9;
        load = load_per_min(b);
    }
    if (last_real < 0 || c.at(last_real).kind != BlockKind::finish)
        c.complain("finish", last_real, "finish on something that works");
}

}  // namespace

std::vector<Broken> broken_rules(const Session& session, const SessionAsk& ask, const ExerciseBook& book) {
    std::vector<Broken> out;
    const Checked c{session, ask, book, out};
    check_ends(c);
    check_order(c);
    check_reins(c);
    check_doses(c);
    check_horse(c);
    check_run(c);
    return out;
}

}  // namespace aspen::core
