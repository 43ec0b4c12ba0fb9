#include "app/rides/answers_by_events.hpp"

#include <algorithm>
#include <cmath>
#include <string>

#include "core/motion/happenings.hpp"
#include "core/motion/hooves.hpp"

namespace aspen::app {
namespace {

constexpr double kBelongsWithinS = 5;

int frame_of(const store::Clip& clip, const store::Event& e) {
    const double share = clip.duration_s > 0 ? e.time_s / clip.duration_s : 0;
    return std::clamp(static_cast<int>(std::lround(share * clip.frames)), 0, std::max(0, clip.frames - 1));
}

class Answering {
  public:
    Answering(const store::Clip& clip, int slot) : clip_(clip), slot_(slot) {}

    void take(const store::Event& e) {
        if (const std::string rein = rein_of(e); !rein.empty()) rein_ = rein;
        if (e.event == "aid") {
            asked_ = core::detail_of(e.detail, "lead");
            asked_at_s_ = e.time_s;
        } else if (e.event == "lead_left" || e.event == "lead_right") {
            settle();
            lead_ = &e;
            lead_wrong_ = wrong(e);
        } else if (e.event == "wrong_lead") {
            if (lead_ && e.time_s - lead_->time_s <= kBelongsWithinS)
                lead_wrong_ = true;
            else
                add(e, "wrong_lead", core::CheckAnswer::Said::fault);
            settle();
        } else if (e.event == "wrong_diagonal") {
            if (diagonal_ && e.time_s - diagonal_->time_s <= kBelongsWithinS) diagonal_ = nullptr;
            add(e, "wrong_diagonal", core::CheckAnswer::Said::fault);
        } else if (e.event.starts_with("diagonal_")) {
            settle_diagonal();
            diagonal_ = &e;
        }
    }
    std::vector<store::Answer> take_all() {
        settle();
        settle_diagonal();
        return std::move(out_);
    }

  private:
    static std::string rein_of(const store::Event& e) {
        if (e.event == "rein_left" || e.event == "rein_right") return e.event.substr(5);
        return core::detail_of(e.detail, "rein");
    }
    std::optional<bool> wrong(const store::Event& e) const {
        const bool asked = !asked_.empty() && e.time_s - asked_at_s_ <= kBelongsWithinS;
        const std::string wanted = asked ? asked_ : core::lead_on(rein_, e.detail);
        if (wanted != "left" && wanted != "right") return std::nullopt;
        return e.event != "lead_" + wanted;
    }
    void settle() {
        using Said = core::CheckAnswer::Said;
        if (lead_ && lead_wrong_) add(*lead_, "wrong_lead", *lead_wrong_ ? Said::fault : Said::good);
        lead_ = nullptr;
    }
    void settle_diagonal() {
        if (diagonal_) add(*diagonal_, "wrong_diagonal", core::CheckAnswer::Said::good);
        diagonal_ = nullptr;
    }
    void add(const store::Event& e, const char* check, core::CheckAnswer::Said said) {
        store::Answer out;
        out.clip = clip_.id;
        out.slot = slot_;
        out.frame = frame_of(clip_, e);
        out.check = check;
        out.said = said;
        out_.push_back(std::move(out));
    }

    const store::Clip& clip_;
    int slot_;
    std::string rein_, asked_;
    double asked_at_s_ = 0;
    const store::Event *lead_ = nullptr, *diagonal_ = nullptr;  ///< not settled yet
    std::optional<bool> lead_wrong_;                            ///< empty: nobody said which one was wanted
    std::vector<store::Answer> out_;
};

/// What hooves logged by key say of lead and diagonal, as if it had been logged; what was stands.
void add_by_hooves(std::vector<store::Event>& events) {
    std::vector<core::Happening> all;
    std::vector<double> sits;
    for (const store::Event& e : events) {
        all.push_back({e.time_s, e.event, e.detail});
        if (e.event == "sit") sits.push_back(e.time_s);
    }
    const auto said = [&](const char* what) {
        return std::ranges::any_of(
            events, [&](const store::Event& e) { return e.event.find(what) != std::string::npos; });
    };
    const auto falls = core::footfalls_of(all);
    if (falls.empty()) return;
    const auto add = [&](std::string event) {
        store::Event e = *std::ranges::find(events, std::string("hoof_on"), &store::Event::event);
        e.event = std::move(event);
        e.detail.clear();
        const auto at = std::ranges::upper_bound(events, e.time_s, {}, &store::Event::time_s);
        events.insert(at, std::move(e));
    };
    const auto gait = core::gait_by_hooves(falls);
    if (gait && gait->left_lead && !said("lead")) add(*gait->left_lead ? "lead_left" : "lead_right");
    const auto fore = core::sits_on(falls, sits);
    if (fore && !said("diagonal")) {
        // Up with the outside fore, down as it lands; the rein is the last one said before.
        std::string rein;
        for (const store::Event& e : events) {
            if (e.event == "rein_left" || e.event == "rein_right") rein = e.event.substr(5);
            if (const std::string in = core::detail_of(e.detail, "rein"); !in.empty()) rein = in;
        }
        const bool left = core::is_left(*fore);
        if (rein == "left" || rein == "right")
            add(left == (rein == "left") ? "wrong_diagonal" : left ? "diagonal_left" : "diagonal_right");
    }
}

}  // namespace

std::vector<store::Answer> answers_by_events(const store::Clip& clip, int slot,
                                             const core::Stretches& stretches,
                                             std::vector<store::Event> events) {
    std::erase_if(events, [&](const store::Event& e) { return e.clip != clip.id || e.slot != slot; });
    std::ranges::stable_sort(events, {}, &store::Event::time_s);
    add_by_hooves(events);
    Answering answering(clip, slot);
    for (store::Event& e : events)
        e.detail = core::detail_in(e.detail, core::ridden_at(stretches, frame_of(clip, e)));
    for (const store::Event& e : events) answering.take(e);
    return answering.take_all();
}

}  // namespace aspen::app
