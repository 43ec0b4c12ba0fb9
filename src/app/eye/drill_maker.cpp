#include "app/eye/drill_maker.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "app/files/text.hpp"
#include "app/following/comparison.hpp"
#include "core/measures/measures.hpp"

namespace aspen::app {
namespace {

using Kind = core::DrillKind;

constexpr int kTries = 40;
constexpr int kOwnToChoose = 40,
              kOwnLookedAt = 400;  // own moments: enough to choose from; at most so many read
constexpr double kClearly = 1.4;   // the gravest against the next, so that an eye can tell it

/// A fault that the simulator can draw, from hardly to plainly there.
struct Drawable {
    const char* fault;
    void (*set)(simulate::Ride& ride, double strength);  ///< 0 … 1
};
constexpr std::array<Drawable, 8> kDrawable{{
    {"lower_leg_back", [](simulate::Ride& r, double s) { r.leg_set_m = -0.05 - 0.11 * s; }},
    {"lower_leg_forward", [](simulate::Ride& r, double s) { r.leg_set_m = 0.06 + 0.12 * s; }},
    {"heel_up", [](simulate::Ride& r, double s) { r.heel_drop_deg = -3 - 17 * s; }},
    {"tipped_forward", [](simulate::Ride& r, double s) { r.trunk_lean_deg = 8 + 16 * s; }},
    {"leaning_back", [](simulate::Ride& r, double s) { r.trunk_lean_deg = -8 - 14 * s; }},
    {"looking_down", [](simulate::Ride& r, double s) { r.head_pitch_deg = -10 - 18 * s; }},
    {"head_poked", [](simulate::Ride& r, double s) { r.ear_ahead_pct = 14 + 26 * s; }},
    {"elbow_behind", [](simulate::Ride& r, double s) { r.upper_arm_deg = -4 - 22 * s; }},
}};
constexpr std::array<const char*, 5> kAngles{"trunk_lean", "lower_leg", "head_pitch", "heel_drop",
                                             "elbow_angle"};

core::Setting sitting_trot() {
    core::Setting s;
    s.school = "classical";
    s.gait = core::Gait::trot;
    s.seat = core::Seat::sitting;
    return s;
}

simulate::ClipPlan drill_plan(std::mt19937& random) {
    simulate::ClipPlan plan;
    plan.camera.width = 1040;
    plan.camera.height = 810;
    plan.camera.metres_high = 3.0;
    plan.camera.fps = 25;
    plan.camera.travel_left = random() % 2 == 0;
    plan.ride.gait = simulate::Gait::trot;
    plan.ride.seed = static_cast<unsigned>(random());
    const QColor coats[] = {QColor(0x8a, 0x5a, 0x34), QColor(0x4c, 0x38, 0x2a), QColor(0x9c, 0x9a, 0x94),
                            QColor(0xb8, 0x86, 0x4c)};
    plan.looks.coat = coats[random() % 4];
    plan.looks.texture = 0.7;
    return plan;
}

std::vector<core::Judged> judged_figure(const core::Figure& figure, const core::Knowledge& k) {
    return core::judge(figure, sitting_trot(), k.body, k.schools);
}

/// Severity of each fault that the moment certainly shows.
std::vector<std::pair<std::string, double>> certain(const core::Figure& figure, const core::Knowledge& k) {
    std::vector<std::pair<std::string, double>> out;
    const auto seen = k.faults.observe(judged_figure(figure, k), sitting_trot(), core::View::side);
    for (const core::Observation& o : seen.observations) {
        if (o.verdict == core::Verdict::outside) out.emplace_back(o.fault->id, o.severity);
    }
    std::ranges::stable_sort(out, std::greater{}, &std::pair<std::string, double>::second);
    return out;
}

QString fault_name(const std::string& fault, const core::Knowledge& k) {
    const core::Fault* f = k.faults.find(fault);
    return QString::fromStdString(f ? f->name : fault);
}

/// What is asked of an angle, with the way it is counted.
QString asks(std::string_view measure) {
    if (measure == "trunk_lean")
        return QObject::tr("How many degrees does the trunk lean forward? Back is minus.");
    if (measure == "lower_leg")
        return QObject::tr("How many degrees does the shin slant forward from the knee? Back is minus.");
    if (measure == "head_pitch") return QObject::tr("How many degrees is the chin up? Down is minus.");
    if (measure == "heel_drop")
        return QObject::tr("How many degrees does the heel lie below the toe? Above is minus.");
    if (measure == "elbow_angle") return QObject::tr("How many degrees is the elbow open? Straight is 180.");
    const core::MeasureInfo* info = core::find_measure(measure);
    return QObject::tr("How many degrees: %1?").arg(info ? text(info->spoken).toLower() : QString());
}

DrillItem angle_item(std::mt19937& random, const core::Knowledge& k) {
    DrillItem out;
    for (int i = 0; i < kTries && !out.drawn; ++i) {
        simulate::ClipPlan plan = drill_plan(random);
        std::uniform_real_distribution<double> unit(0, 1);
        plan.ride.trunk_lean_deg = -12 + 34 * unit(random);
        plan.ride.leg_set_m = -0.14 + 0.26 * unit(random);
        plan.ride.head_pitch_deg = -18 + 26 * unit(random);
        plan.ride.heel_drop_deg = -14 + 30 * unit(random);
        const char* id = kAngles[random() % kAngles.size()];
        auto drawn = std::make_shared<DrawnRide>(plan, 0.4 + unit(random));
        const core::Figure figure = drawn->figure();
        const auto judged = judged_figure(figure, k);
        const core::Judged* j = core::find(judged, id);
        if (!j || !j->measured.value) continue;
        out.about = id;
        out.number = *j->measured.value;
        out.unit = "°";
        out.drawn = std::move(drawn);
        out.figure = figure;
    }
    out.question = asks(out.about);
    out.starts_at = out.about == "elbow_angle" ? 120 : 0;
    return out;
}

/// Three others beside the right one, in an order of chance.
void offer(DrillItem& out, const std::string& right, const std::vector<std::string>& others,
           std::mt19937& random, const core::Knowledge& k) {
    std::vector<std::string> all{right};
    for (const std::string& o : others) {
        if (all.size() < 4 && o != right) all.push_back(o);
    }
    std::ranges::shuffle(all, random);
    for (const std::string& one : all) out.choices << fault_name(one, k);
    out.right = {static_cast<int>(std::ranges::find(all, right) - all.begin())};
}

DrillItem fault_item(std::mt19937& random, const core::Knowledge& k) {
    DrillItem out;
    out.question = QObject::tr("Which fault stands out?");
    for (int i = 0; i < kTries && !out.drawn; ++i) {
        simulate::ClipPlan plan = drill_plan(random);
        const Drawable& wanted = kDrawable[random() % kDrawable.size()];
        std::uniform_real_distribution<double> unit(0.3, 1);
        wanted.set(plan.ride, unit(random));
        auto drawn = std::make_shared<DrawnRide>(plan, 0.4 + unit(random));
        const core::Figure figure = drawn->figure();
        const auto seen = certain(figure, k);
        const bool told = !seen.empty() && seen[0].first == wanted.fault &&
                          (seen.size() < 2 || seen[0].second > kClearly * seen[1].second);
        if (!told) continue;
        out.about = wanted.fault;
        out.drawn = std::move(drawn);
        out.figure = figure;
        std::vector<std::string> others;
        for (const Drawable& d : kDrawable) {
            const bool there = std::ranges::any_of(seen, [&](const auto& s) { return s.first == d.fault; });
            if (!there) others.emplace_back(d.fault);
        }
        std::ranges::shuffle(others, random);
        offer(out, wanted.fault, others, random, k);
        const core::Fault* f = k.faults.find(wanted.fault);
        out.explained = f ? QString::fromStdString(f->says) : QString();
    }
    return out;
}

DrillItem order_item(std::mt19937& random, const core::Knowledge& k) {
    DrillItem out;
    out.question = QObject::tr("The gravest first: in which order?");
    for (int i = 0; i < 4 * kTries && !out.drawn; ++i) {
        simulate::ClipPlan plan = drill_plan(random);
        std::vector<const Drawable*> all;
        for (const Drawable& d : kDrawable) all.push_back(&d);
        std::ranges::shuffle(all, random);
        std::uniform_real_distribution<double> unit(0, 1);
        for (int n = 0; n < 3; ++n) all[static_cast<std::size_t>(n)]->set(plan.ride, unit(random));
        auto drawn = std::make_shared<DrawnRide>(plan, 0.4 + unit(random));
        const core::Figure figure = drawn->figure();
        auto seen = certain(figure, k);
        std::erase_if(seen, [](const auto& s) {
            return std::ranges::none_of(kDrawable, [&](const Drawable& d) { return s.first == d.fault; });
        });
        if (seen.size() < 3 || seen[0].second < kClearly * seen[1].second ||
            seen[1].second < kClearly * seen[2].second)
            continue;
        seen.resize(3);
        out.drawn = std::move(drawn);
        out.figure = figure;
        out.about = seen[0].first;
        std::vector<std::string> shuffled{seen[0].first, seen[1].first, seen[2].first};
        std::ranges::shuffle(shuffled, random);
        for (const std::string& one : shuffled) out.choices << fault_name(one, k);
        for (const auto& s : seen)
            out.right.push_back(static_cast<int>(std::ranges::find(shuffled, s.first) - shuffled.begin()));
    }
    return out;
}

DrillItem moving_item(Kind kind, std::mt19937& random) {
    DrillItem out;
    simulate::ClipPlan plan = drill_plan(random);
    plan.camera.width = 820;
    plan.camera.height = 640;
    plan.camera.metres_high = 3.2;
    out.moves = true;
    out.about = core::word(kind);
    if (kind == Kind::lead) {
        plan.ride.gait = simulate::Gait::canter;
        plan.ride.left_lead = random() % 2 == 0;
        out.question = QObject::tr("Which lead?");
        out.choices = QStringList{QObject::tr("left"), QObject::tr("right")};
        out.right = {plan.ride.left_lead ? 0 : 1};
        out.explained = QObject::tr("the leading foreleg lands last of the three beats and reaches furthest");
    } else {
        plan.ride.seat = simulate::Seat::rising;
        plan.ride.left_diagonal = random() % 2 == 0;
        if (kind == Kind::diagonal) {
            out.question = QObject::tr("With which shoulder does the seat rise?");
            out.choices = QStringList{QObject::tr("the left"), QObject::tr("the right")};
            out.right = {plan.ride.left_diagonal ? 0 : 1};
            out.explained = QObject::tr("the seat is up while that shoulder goes forward");
        } else {
            const int how = static_cast<int>(random() % 3);
            plan.ride.rise_late = how == 0 ? -0.11 : how == 2 ? 0.11 : 0.0;
            out.question = QObject::tr("The rise: early, with the horse, or late?");
            out.choices =
                QStringList{QObject::tr("early"), QObject::tr("with the horse"), QObject::tr("late")};
            out.right = {how};
            out.explained =
                QObject::tr("the highest point of the seat against the horse's own highest point");
        }
    }
    out.drawn = std::make_shared<DrawnRide>(plan, 0.2);
    return out;
}

DrillItem own_angle(const Subject& s, std::mt19937& random) {
    DrillItem out;
    std::vector<const core::Judged*> told;
    for (const core::Judged& j : s.judged) {
        if (j.measured.value && j.info().unit == "deg" &&
            std::ranges::find(kAngles, j.info().id) != kAngles.end())
            told.push_back(&j);
    }
    if (told.empty()) return out;
    const core::Judged& j = *told[random() % told.size()];
    out.kind = Kind::angle;
    out.about = j.info().id;
    out.number = *j.measured.value;
    out.unit = "°";
    out.question = asks(j.info().id);
    out.starts_at = out.about == "elbow_angle" ? 120 : 0;
    return out;
}

DrillItem own_fault(const Yard& yard, const Subject& s, std::mt19937& random) {
    DrillItem out;
    const core::Knowledge& k = yard.knowledge();
    const auto seen = k.faults.observe(s.judged, s.setting, s.moment.figure.view);
    std::vector<std::string> here;
    for (const core::Observation& o : seen.observations) {
        if (o.verdict == core::Verdict::outside) here.push_back(o.fault->id);
    }
    for (const store::Finding& f : yard.records().reviews.findings(s.ridden.ride.id)) {
        if (f.decision != core::Decision::accepted || std::ranges::find(here, f.fault) == here.end())
            continue;
        std::vector<std::string> others;
        for (const Drawable& d : kDrawable) {
            if (std::ranges::find(here, d.fault) == here.end()) others.emplace_back(d.fault);
        }
        std::ranges::shuffle(others, random);
        out.kind = Kind::fault;
        out.about = f.fault;
        out.question = QObject::tr("Which of these did you accept here?");
        offer(out, f.fault, others, random, k);
        return out;
    }
    return out;
}

}  // namespace

DrawnRide::DrawnRide(simulate::ClipPlan plan, double at_s)
    : plan_(std::move(plan)), ride_(plan_.ride), at_s_(at_s) {}

QImage DrawnRide::picture(double s) const {
    if (!arena_) arena_ = std::make_unique<simulate::ArenaPainter>(plan_.camera, plan_.ride.seed);
    return simulate::paint_frame(plan_, *arena_, simulate::projection_at(plan_, ride_, s), ride_.at(s));
}

core::Figure DrawnRide::figure() const {
    core::Figure out;
    out.travel = plan_.camera.travel_left ? core::Travel::left : core::Travel::right;
    for (const auto& [id, p] :
         simulate::true_points(ride_.at(at_s_), simulate::projection_at(plan_, ride_, at_s_))) {
        const auto l = core::landmark_from(id);
        if (!l) continue;
        out[*l].at = {p.x, p.y};
        out[*l].visibility = core::Visibility::seen;
        out[*l].sd_px = 0.5;
    }
    // The truth is known: nothing of it hangs on how the camera stood.
    out.camera.roll_marked = out.camera.yaw_marked = true;
    out.camera.roll_sd_deg = out.camera.yaw_sd_deg = 0.1;
    return out;
}

DrillItem drawn_item(Kind kind, unsigned number, const core::Knowledge& knowledge) {
    std::mt19937 random(number * 7919U + static_cast<unsigned>(kind) + 1);
    DrillItem out = kind == Kind::angle   ? angle_item(random, knowledge)
                    : kind == Kind::fault ? fault_item(random, knowledge)
                    : kind == Kind::order ? order_item(random, knowledge)
                                          : moving_item(kind, random);
    out.kind = kind;
    out.source = "drawn:" + std::string(core::word(kind)) + ":" + std::to_string(number);
    return out;
}

std::vector<DrillItem> own_items(Yard& yard, Kind kind, int most) {
    std::vector<DrillItem> out;
    if (kind != Kind::angle && kind != Kind::fault) return out;
    std::vector<std::string> asked;  // the last one asked last
    for (const store::DrillAnswer& d : yard.records().following.drills()) {
        std::erase(asked, d.source);
        asked.push_back(d.source);
    }
    // Years of a large yard are not read for three questions: other riders each time, until there is enough
    // to choose from.
    auto riders = yard.records().people.riders();
    if (!riders.empty())
        std::ranges::rotate(riders,
                            riders.begin() + static_cast<std::ptrdiff_t>(asked.size() % riders.size()));
    int looked_at = 0;
    for (const store::Rider& r : riders) {
        if (static_cast<int>(out.size()) >= kOwnToChoose || looked_at >= kOwnLookedAt) break;
        for (const Subject& s : subjects_of(yard, r.id)) {
            ++looked_at;
            if (s.moment.figure.view != core::View::side || s.setting.school.empty()) continue;
            std::mt19937 random(static_cast<unsigned>(s.moment.id.value) * 31U + static_cast<unsigned>(kind));
            DrillItem item = kind == Kind::angle ? own_angle(s, random) : own_fault(yard, s, random);
            if (item.about.empty()) continue;
            item.source = "own:" + std::string(core::word(kind)) + ":" + std::to_string(s.moment.id.value) +
                          ":" + item.about;
            item.clip = s.ridden.clip.id;
            item.frame = s.moment.frame;
            item.figure = s.moment.figure;
            item.explained = s.words();
            out.push_back(std::move(item));
        }
    }
    const auto age = [&](const DrillItem& i) {
        const auto at = std::ranges::find(asked, i.source);
        return at == asked.end() ? -1 : static_cast<int>(at - asked.begin());
    };
    std::ranges::stable_sort(out, {}, age);
    if (static_cast<int>(out.size()) > most) out.resize(static_cast<std::size_t>(most));
    return out;
}

}  // namespace aspen::app
