#include "core/training/session.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <numeric>
#include <utility>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

constexpr int kUnit = 30;  // s: nobody rides by less
constexpr int kRest = 60, kLongRest = 120;

int in_units(double seconds) { return static_cast<int>(seconds / kUnit) * kUnit; }

bool sits(const Exercise& e, const Rung& rung) {
    if (rung.work == Work::canter || rung.work == Work::running_walk) return true;
    return rung.words.find("sitting") != std::string::npos || e.id.find("sitting") != std::string::npos;
}

/// One work with how much of it is ridden.
struct Portion {
    SessionWork what;
    int bouts = 0, bout_s = 0, most = 0, rest_s = kRest;
    bool reined = true;
    const Rung& rung() const { return what.exercise->dose.ladder[static_cast<std::size_t>(what.rung)]; }
    int least() const { return reined ? 2 : 1; }
    int step() const { return reined ? 2 : 1; }
    int cost(int n) const { return n * (bout_s + rest_s); }
    bool fast() const { return core::fast(rung().work); }
    bool jumps() const { return rung().work == Work::jump; }
    bool cantered_to() const { return jumps() && !rung().from_trot; }
};

Portion portion_of(const SessionWork& w, const HorseLimits& limits) {
    Portion p;
    p.what = w;
    const Rung& r = p.rung();
    const auto& where = w.exercise->where;
    p.reined = r.work != Work::halt && std::ranges::find(where, "mechanical horse") == where.end();
    p.bout_s = 60 * r.minutes;
    p.most = r.bouts;
    if (p.most == 1) p.reined = false;  // one stretch is one stretch: the rein is changed within it
    if (p.reined) p.most -= p.most % 2;
    if (r.work == Work::canter) p.bout_s = std::min(p.bout_s, limits.canter_bout_s);
    if (r.work >= Work::canter) p.rest_s = kLongRest;
    return p;
}

bool is_cold(const RiderNeeds& rider) { return rider.cold_backed && !rider.mechanical; }

class Planner {
  public:
    Planner(const SessionAsk& ask, const ExerciseBook& book)
        : ask_(ask), book_(book), limits_(limits_of(ask)), total_(60 * ask.minutes) {
        cold_ = is_cold(ask.rider) || std::ranges::any_of(ask.with, is_cold);
        stiff_ = ask.stiff_side == "right" ? "right" : "left";
        if (ask.rider.school == "gaited" && !ask.rider.mechanical) trot_ = Work::running_walk;
        other_ = stiff_ == "left" ? "right" : "left";
    }

    Session plan() {
        choose();
        frame();
        fit();
        lay();
        return std::move(out_);
    }

  private:
    void leave_out(const Exercise& e, const std::string& why) {
        out_.left_out.push_back(fmt::format("{}: {}", e.name, why));
    }

    std::string shut_for_others(const SessionWork& w) const {
        for (const RiderNeeds& other : ask_.with) {
            Offer offer = book_.rung_offer(*w.exercise, w.rung, other);
            if (!offer.set_aside.empty()) return std::move(offer.set_aside);
        }
        return {};
    }

    /// What may be ridden at all, hardest first; of equals the foremost.
    void choose() {
        for (const SessionWork& w : ask_.works) {
            if (!w.exercise || w.rung < 0 || w.rung >= static_cast<int>(w.exercise->dose.ladder.size()))
                continue;
            const Offer offer = book_.rung_offer(*w.exercise, w.rung, ask_.rider);
            const Rung& r = offer.exercise->dose.ladder[static_cast<std::size_t>(w.rung)];
            const bool twice = std::ranges::any_of(
                portions_, [&](const Portion& p) { return p.what.exercise == offer.exercise; });
            const std::string others = shut_for_others(w);
            if (!offer.set_aside.empty())
                leave_out(*w.exercise, offer.set_aside);
            else if (!others.empty())
                leave_out(*w.exercise, "not for all who ride: " + others);
            else if (r.work == Work::unmounted)
                leave_out(*w.exercise, "it is done on foot, at home");
            else if (offer.exercise->on_mechanical_horse() && !ask_.rider.mechanical)
                leave_out(*w.exercise, "it is ridden on the mechanical horse");
            else if (!twice)
                portions_.push_back(portion_of({offer.exercise, w.rung}, limits_));
        }
    }

    void frame() {
        const bool fast = std::ranges::any_of(portions_, &Portion::fast);
        const bool canter =
            std::ranges::any_of(portions_, [](const Portion& p) { return p.rung().work >= Work::canter; });
        // Fences are cantered before, unless they are trotted to.
        warm_canter_ = std::ranges::any_of(portions_, &Portion::cantered_to) ? 120 : 0;
        cool_ = std::clamp(in_units(total_ * 0.1), 180, 600);
        warm_walk_ = std::clamp(in_units(total_ * 0.12), 300, 600);
        warm_walk_ -= warm_walk_ % (2 * kUnit);
        warm_trot_ = !fast ? 0 : canter ? 240 : total_ >= 1800 ? 240 : 120;
        // A cold-backed horse is not sat on in the first ten minutes.
        if (cold_) warm_walk_ = std::max(warm_walk_, 600 - (trot_ == Work::trot ? warm_trot_ : 0));
        opener_ = ask_.strange_horse && !ask_.rider.mechanical ? 120 : 0;
        finish_ = total_ >= 1800 ? 180 : 120;
        left_ = total_ - cool_ - warm_walk_ - warm_trot_ - warm_canter_ - opener_ - finish_;
        // A cold back's ten minutes leave a short session little: it trots less, and looks at no stiff side.
        if (left_ < 0 && warm_trot_ > 120) left_ += std::exchange(warm_trot_, 120) - 120;
        if (left_ < 0) left_ += std::exchange(opener_, 0);
        if (left_ >= 0 || warm_canter_ == 0) return;
        // A short session has no room to canter before fences: then nothing is cantered to.
        left_ += std::exchange(warm_canter_, 0);
        for (const Portion& p : portions_) {
            if (p.cantered_to()) leave_out(*p.what.exercise, "no time for a canter before it");
        }
        std::erase_if(portions_, [](const Portion& p) { return p.cantered_to(); });
    }

    bool fits(std::size_t changed, int bouts) const {
        int cost = 0, fast = warm_trot_ + warm_canter_, canter = warm_canter_, jump = 0;
        for (std::size_t i = 0; i < portions_.size(); ++i) {
            const Portion& p = portions_[i];
            const int n = i == changed ? bouts : p.bouts;
            cost += p.cost(n);
            if (p.fast()) fast += n * p.bout_s;
            if (p.rung().work == Work::canter) canter += n * p.bout_s;
            if (p.rung().work == Work::jump) jump += n * p.bout_s;
        }
        return cost <= left_ && fast + finish_ <= 60 * limits_.fast_min &&
               canter <= 60 * limits_.canter_min && jump <= jump_left_s(ask_, limits_);
    }

    /// Everybody its least, foremost first; then more, in turn.
    void fit() {
        for (std::size_t i = 0; i < portions_.size(); ++i) {
            if (fits(i, portions_[i].least()))
                portions_[i].bouts = portions_[i].least();
            else
                leave_out(*portions_[i].what.exercise, "no time or no strength left for it");
        }
        for (bool grown = true; grown;) {
            grown = false;
            for (std::size_t i = 0; i < portions_.size(); ++i) {
                Portion& p = portions_[i];
                const int more = p.bouts + p.step();
                if (p.bouts == 0 || more > p.most || !fits(i, more)) continue;
                p.bouts = more;
                grown = true;
            }
        }
        std::erase_if(portions_, [](const Portion& p) { return p.bouts == 0; });
        order();
        for (const Portion& p : portions_) left_ -= p.cost(p.bouts);
        if (warm_canter_ > 0 && std::ranges::none_of(portions_, &Portion::cantered_to))
            left_ += std::exchange(warm_canter_, 0);
    }

    /// The hardest first, while horse and rider are fresh; with fences in it, what is faster than a walk
    /// rises to them and the rest falls after.
    void order() {
        const auto load = [](const Portion& p) { return load_per_min(block(p, {})); };
        std::ranges::stable_sort(portions_, std::greater{}, load);
        if (std::ranges::none_of(portions_, &Portion::jumps)) return;
        const auto slow = std::ranges::find_if(portions_, [](const Portion& p) { return !p.fast(); });
        std::stable_sort(portions_.begin(), slow,
                         [&](const Portion& a, const Portion& b) { return load(a) < load(b); });
    }

    static Block block(const Portion& p, const std::string& rein) {
        const Rung& r = p.rung();
        const bool through = r.work > Work::halt && p.most == 1;
        return {BlockKind::work,
                r.work,
                rein,
                p.bout_s,
                p.what.exercise->id,
                p.what.rung,
                r.stirrups,
                sits(*p.what.exercise, r),
                r.words + (through ? ", the rein changed half-way" : "")};
    }

    void add(BlockKind kind, Work work, const std::string& rein, int seconds, const std::string& words) {
        if (seconds <= 0) return;
        Block b;
        b.kind = kind;
        b.work = work;
        b.rein = rein;
        b.seconds = seconds;
        b.words = words;
        b.full_seat = work == Work::running_walk || work == Work::canter;
        out_.blocks.push_back(std::move(b));
    }

    std::string easy_trot() const {
        return trot_ == Work::trot ? "rising trot, large lines"
                                   : "running walk, large lines, below where it breaks";
    }

    /// On one rein and then the other, the stiff one first unless said.
    void pair(BlockKind kind, Work work, int seconds_both, const std::string& words,
              bool stiff_first = true) {
        const int half = in_units(seconds_both / 2.0);
        add(kind, work, stiff_first ? stiff_ : other_, half, words);
        add(kind, work, stiff_first ? other_ : stiff_, half, words);
    }

    void lay() {
        const bool mechanical = ask_.rider.mechanical;
        int spare = left_, fast = warm_trot_ + warm_canter_;
        for (const Portion& p : portions_) fast += p.fast() ? p.bouts * p.bout_s : 0;
        // What is left over makes the beginning and the end longer first, up to ten minutes each.
        const int cool = std::min(spare, 600 - cool_) / kUnit * kUnit;
        cool_ += cool;
        spare -= cool;
        pair(BlockKind::warm_up, Work::walk, warm_walk_, "walk, feet in the irons, long rein, then taken up");
        if (opener_ > 0)
            pair(BlockKind::opener, Work::walk, opener_,
                 "a circle each way: which side is rounder? one step from each leg");
        pair(BlockKind::warm_up, trot_, warm_trot_, easy_trot());
        pair(BlockKind::warm_up, Work::canter, warm_canter_, "easy canter, large lines");
        for (const Portion& p : portions_) {
            for (int i = 0; i < p.bouts; ++i) {
                out_.blocks.push_back(block(p, !p.reined ? "" : i % 2 == 0 ? stiff_ : other_));
                add(BlockKind::rest, Work::walk, "", p.rest_s, "rest: walk on a long rein");
            }
        }
        // A horse that stood for the last work may walk after it.
        const Work last = portions_.empty() ? Work::walk : portions_.back().rung().work;
        const Work finish = core::fast(last) && !mechanical ? trot_ : Work::walk;
        spare = ease(spare, finish, fast);
        end(finish, spare);
    }

    /// Easy riding on both reins, never harder than what went before; gives what is still left.
    int ease(int spare, Work low, int fast) {
        while (spare >= 300) {
            const bool trot = core::fast(low) && fast + 240 + finish_ <= 60 * limits_.fast_min;
            if (core::fast(low) && !trot && !walking_) walking_ = true;
            const Work work = trot && !walking_ ? trot_ : Work::walk;
            if (core::fast(work)) fast += 240;
            pair(BlockKind::easy, work, 240,
                 core::fast(work) ? "easy " + easy_trot() : std::string("walk, lines and loops"));
            add(BlockKind::rest, Work::walk, "", kRest, "rest: walk on a long rein");
            spare -= 300;
        }
        return spare;
    }

    void end(Work low, int spare) {
        const Work work = walking_ && core::fast(low) ? Work::walk : low;
        const std::string words = portions_.empty()
                                      ? "something that works"
                                      : "something that works: one rung lower, or what went best";
        pair(BlockKind::finish, work, finish_, words, false);
        if (finish_ / 2 % kUnit != 0) spare += finish_ - 2 * in_units(finish_ / 2.0);
        add(BlockKind::cool_down, Work::walk, "", cool_ + spare,
            "cool down: walk on a long rein, girth a hole looser; look after the legs");
    }

    const SessionAsk& ask_;
    const ExerciseBook& book_;
    HorseLimits limits_;
    std::string stiff_, other_;
    Work trot_ = Work::trot;  ///< or what takes its place
    std::vector<Portion> portions_;
    Session out_;
    int total_, cool_ = 0, warm_walk_ = 0, warm_trot_ = 0, warm_canter_ = 0, opener_ = 0, finish_ = 0,
                left_ = 0;
    bool cold_ = false;     ///< one of the horses is cold-backed
    bool walking_ = false;  ///< the horse's trot is used up
};

}  // namespace

std::string_view word(BlockKind kind) {
    static constexpr std::array<std::string_view, 7> kWords{"warm up", "open",   "work",     "rest",
                                                            "easy",    "finish", "cool down"};
    return kWords[static_cast<std::size_t>(kind)];
}

double load_per_min(const Block& b) {
    static constexpr std::array<double, 7> kLoads{0, 1, 1, 3, 3, 5, 6};
    return kLoads[static_cast<std::size_t>(b.work)] * (b.stirrups ? 1 : 1.1);
}

int Session::seconds() const {
    return std::accumulate(blocks.begin(), blocks.end(), 0,
                           [](int sum, const Block& b) { return sum + b.seconds; });
}

int seconds_on(const Session& session, std::string_view rein) {
    int sum = 0;
    for (const Block& b : session.blocks) sum += b.rein == rein ? b.seconds : 0;
    return sum;
}

HorseLimits limits_of(const RiderNeeds& rider) {
    HorseLimits out;
    if (rider.mechanical) return {90, 30, 0, 1440, 300, 300, 0};
    if (rider.horse_stage == "green") out = {20, 6, 4, 45, 180, 300, 20};
    return out;
}

HorseLimits limits_of(const SessionAsk& ask) {
    HorseLimits out = limits_of(ask.rider);
    for (const RiderNeeds& other : ask.with) {
        const HorseLimits more = limits_of(other);
        for (int HorseLimits::*least :
             {&HorseLimits::fast_min, &HorseLimits::canter_min, &HorseLimits::jump_min, &HorseLimits::day_min,
              &HorseLimits::canter_bout_s, &HorseLimits::two_point_bout_s, &HorseLimits::day_fences})
            out.*least = std::min(out.*least, more.*least);
    }
    return out;
}

std::string block_shut(const Block& block, const ExerciseBook& book, const RiderNeeds& rider) {
    const Exercise* e = block.exercise.empty() ? nullptr : book.find(block.exercise);
    return e ? book.rung_offer(*e, block.rung, rider).set_aside
             : book.work_offer(block.work, block.stirrups, rider).set_aside;
}

DayLeft day_left(const SessionAsk& ask) {
    const HorseLimits first = limits_of(ask.rider);
    DayLeft out{first.day_min - ask.horse_minutes_today, first.day_fences - ask.horse_fences_today,
                ask.horse_minutes_today, ask.horse_fences_today};
    for (const Companion& other : ask.with) {
        const HorseLimits limits = limits_of(other);
        if (const int left = limits.day_min - other.horse_minutes_today; left < out.minutes) {
            out.minutes = left;
            out.done_minutes = other.horse_minutes_today;
        }
        if (const int left = limits.day_fences - other.horse_fences_today; left < out.fences) {
            out.fences = left;
            out.done_fences = other.horse_fences_today;
        }
    }
    out.fences = std::max(0, out.fences);
    return out;
}

int jump_left_s(const SessionAsk& ask, const HorseLimits& limits) {
    return std::min(60 * limits.jump_min, 60 * day_left(ask).fences / kFencesPerMinute);
}

Session plan_session(const SessionAsk& ask, const ExerciseBook& book) {
    if (ask.minutes < 20 || ask.minutes > 90)
        throw Refused(fmt::format("session of {} minutes: must be 20 to 90", ask.minutes));
    const DayLeft left = day_left(ask);
    if (ask.minutes > left.minutes)
        throw Refused(fmt::format("{} has done {} minutes today: {}",
                                  ask.with.empty() ? "the horse" : "a horse of the lesson", left.done_minutes,
                                  left.minutes >= 20 ? fmt::format("{} are left, plan no more", left.minutes)
                                                     : std::string("let it rest and take another")));
    if (const std::string held = held_by(ask.rider); !held.empty()) return {{}, {held}};
    return Planner(ask, book).plan();
}

}  // namespace aspen::core
