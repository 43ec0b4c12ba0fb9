// Every fault that a still can show, planted in riders of varied build, under every school, both ways round
// and from side, front and rear: what is named, what is missed, what is named beside it. The table stands in
// docs/judgement.md; ASPEN_KEEP_DRAWINGS=1 writes it anew.

#include <gmock/gmock.h>

#include <deque>
#include <set>

#include "core/core_support.hpp"
#include "core/ride/ride.hpp"

namespace aspen::core {
namespace {

using L = Landmark;
using test::knowledge;
using Values = std::map<std::string, double, std::less<>>;

constexpr double kPx = 400;  // of a metre
constexpr double kClickSd = 1.3;
constexpr double kSideTurnDeg = 15, kFrontalTurnDeg = 6;
constexpr double kWeights[] = {0.2, 0.6, 1.2};

struct Build {
    double trunk = 0.50, thigh = 0.43, shank = 0.42, upper = 0.30, fore = 0.27;
};
Build any_build(std::mt19937& engine) {
    std::uniform_real_distribution<double> share(0.92, 1.08);
    Build b;
    for (double* l : {&b.trunk, &b.thigh, &b.shank, &b.upper, &b.fore}) *l *= share(engine);
    return b;
}

/// A rider seen from the side whose measures are these, metres turned to pixels.
std::optional<Figure> side_rider(const Values& v, const Build& b, Travel travel, double yaw_deg) {
    const auto of = [&](const char* id) { return v.find(id)->second; };
    std::map<L, PlanePoint> at;
    const auto add = [](PlanePoint a, double length, double deg_forward_of_up) {
        const double r = radians(deg_forward_of_up);
        return PlanePoint{a.f + length * std::sin(r), a.u + length * std::cos(r)};
    };
    at[L::hip] = {0, 0};
    at[L::shoulder] = add(at[L::hip], b.trunk, of("trunk_lean"));
    at[L::ear] = {at[L::shoulder].f + of("ear_offset") / 100 * b.trunk, at[L::shoulder].u + 0.2};
    at[L::elbow] = add(at[L::shoulder], b.upper, 180 - of("upper_arm"));
    at[L::wrist] = add(at[L::elbow], b.fore, of("elbow_angle") - of("upper_arm"));
    at[L::knuckle] = add(at[L::elbow], b.fore + 0.08, of("elbow_angle") - of("upper_arm"));
    // The leg: the knee's angle, and the heel so far from the hip.
    const double knee = radians(of("knee_angle")), drop = radians(of("heel_drop"));
    const double reach =
        std::sqrt(b.thigh * b.thigh + b.shank * b.shank - 2 * b.thigh * b.shank * std::cos(knee));
    const PlanePoint to_heel{-0.05 * std::cos(drop) + 0.07 * std::sin(drop),
                             -0.05 * std::sin(drop) - 0.07 * std::cos(drop)};
    const double ankle_f = of("heel_offset") / 100 * (b.thigh + b.shank) - to_heel.f;
    if (std::abs(ankle_f) >= reach) return std::nullopt;
    at[L::ankle] = {ankle_f, -std::sqrt(reach * reach - ankle_f * ankle_f)};
    const double at_hip = (b.thigh * b.thigh + reach * reach - b.shank * b.shank) / (2 * b.thigh * reach);
    const double forward = std::asin(ankle_f / reach) + std::acos(at_hip);
    at[L::knee] = {b.thigh * std::sin(forward), -b.thigh * std::cos(forward)};
    at[L::heel] = {at[L::ankle].f + to_heel.f, at[L::ankle].u + to_heel.u};
    at[L::toe] = {at[L::heel].f + 0.25 * std::cos(drop), at[L::heel].u + 0.25 * std::sin(drop)};
    // The horse where hand and seat say it is.
    const PlanePoint hand = at[L::knuckle];
    const double line = std::atan2(hand.u - at[L::elbow].u, hand.f - at[L::elbow].f) -
                        radians(v.contains("hand_line") ? of("hand_line") : 0);
    at[L::bit] = {hand.f + 0.9 * std::cos(line), hand.u + 0.9 * std::sin(line)};
    at[L::withers] = {hand.f - of("hand_ahead") / 100 * b.trunk, hand.u - of("hand_height") / 100 * b.trunk};
    const double s = of("seat_place") / 100;
    at[L::cantle] = {-s * at[L::withers].f / (1 - s), 0.05};
    Figure f;
    f.travel = travel;
    f.camera = {0, 0.3, yaw_deg, 2, true, true};
    const double sign = travel == Travel::left ? -1 : 1, yaw = radians(yaw_deg);
    // A turned camera moves each point by its depth, counted in the trunk as it is seen before that is known.
    const auto seen = [&](L l, double trunk0) {
        return at[l].f * std::cos(yaw) + knowledge().body.depth[index(l)] * trunk0 * std::sin(yaw);
    };
    double trunk0 = b.trunk;
    for (int pass = 0; pass < 12; ++pass)
        trunk0 = std::hypot((seen(L::shoulder, trunk0) - seen(L::hip, trunk0)) / std::cos(yaw),
                            at[L::shoulder].u - at[L::hip].u);
    for (const auto& [l, p] : at)
        f[l] = {{900 + sign * kPx * seen(l, trunk0), 500 - kPx * p.u}, Visibility::seen, kClickSd};
    return f;
}

/// A rider seen from front or rear.
Figure frontal_rider(const Values& v, View view, double yaw_deg, double lean_band_deg) {
    const auto of = [&](const char* id) { return v.find(id)->second; };
    const double right = view == View::rear ? 1 : -1;  // towards the picture's right
    Figure f;
    f.view = view;
    f.camera = {0, 0.2, yaw_deg, 0.4, true, true};
    const double hips = 0.34, trunk = 0.50, lean = radians(of("lateral_lean"));
    const double mid_hip = (of("saddle_offset") + of("seat_on_saddle")) / 100 * hips;
    std::map<L, std::pair<double, double>> at;
    const auto put = [&](L l, double y, double u) { at[l] = {y, u}; };
    const auto pair = [&](L a, L b, double y, double u, double wide, double tilt_deg) {
        const double half = wide / 2, rise = half * std::tan(radians(tilt_deg));
        put(a, y - half, u + rise);
        put(b, y + half, u - rise);
    };
    const double sh_y = mid_hip + trunk * std::sin(lean), sh_u = trunk * std::cos(lean);
    pair(L::left_hip, L::right_hip, mid_hip, 0, hips, of("hip_tilt"));
    pair(L::left_shoulder, L::right_shoulder, sh_y, sh_u, 0.40, of("shoulder_tilt"));
    pair(L::left_knuckle, L::right_knuckle, mid_hip, 0.2, of("hands_width") / 100 * 0.40, of("hands_tilt"));
    pair(L::left_knee, L::right_knee, mid_hip, -0.3, 0.6, 0);
    pair(L::left_heel, L::right_heel, mid_hip, -0.75, 0.62, of("heels_tilt"));
    pair(L::left_iron, L::right_iron, mid_hip, -0.72, 0.60,
         degrees(std::atan(of("stirrup_difference") / 100 * hips / 0.60)));
    put(L::chin, of("chin_offset") / 100 * hips, 0.62);
    put(L::saddle_mid, of("saddle_offset") / 100 * hips, -0.05);
    put(L::horse_mid, 0, -0.15);
    // Towards the rider's right as a camera sees it that stands off the horse's long axis.
    const double yaw = radians(yaw_deg);
    const auto seen = [&](L l, double trunk0) {
        const Body& body = knowledge().body;
        double along = (view == View::front ? body.along_front : body.along_rear)[index(l)];
        if (l == L::left_shoulder || l == L::right_shoulder || l == L::chin)
            along += std::sin(radians(lean_band_deg));
        return at[l].first * std::cos(yaw) + along * trunk0 * std::sin(yaw);
    };
    double trunk0 = trunk;
    for (int pass = 0; pass < 12; ++pass)
        trunk0 = std::hypot((seen(L::left_shoulder, trunk0) + seen(L::right_shoulder, trunk0) -
                             seen(L::left_hip, trunk0) - seen(L::right_hip, trunk0)) /
                                2,
                            (at[L::left_shoulder].second + at[L::right_shoulder].second -
                             at[L::left_hip].second - at[L::right_hip].second) /
                                2);
    for (const auto& [l, p] : at)
        f[l] = {{900 + right * kPx * seen(l, trunk0), 500 - kPx * p.second}, Visibility::seen, kClickSd};
    return f;
}

struct Planted {
    std::string fault;
    std::vector<std::pair<const char*, int>> out;  ///< measures and the side they go past
    Seat seat = Seat::sitting;
    Gait gait = Gait::trot;
    const char* phase = "";
    View view = View::side;
    EyeAnswers eye{};
    std::string movement{};
};

/// Faults that only an eye can see, each where it is asked, on a rider who is clean otherwise.
void add_seen_by_eye(std::vector<Planted>& all) {
    for (const Fault& f : knowledge().faults.faults()) {
        if (!f.by_eye || f.needs_stride) continue;
        Planted p{f.id, {}};
        if (!f.where.seats.empty()) p.seat = f.where.seats.front();
        if (!f.where.gaits.empty()) p.gait = f.where.gaits.front();
        if (p.gait == Gait::jump) p.seat = Seat::two_point;
        static std::deque<std::string> kept;  // the phase is a plain word
        if (!f.where.phases.empty()) p.phase = kept.emplace_back(f.where.phases.front()).c_str();
        if (p.gait == Gait::jump && f.where.phases.empty()) p.phase = "take_off";
        if (!f.where.views.empty()) p.view = f.where.views.front();
        if (!f.where.movements.empty()) p.movement = f.where.movements.front();
        p.eye = {{f.id, true}};
        all.push_back(p);
    }
}

std::vector<Planted> all_planted() {
    std::vector<Planted> all{
        {"lower_leg_back", {{"heel_offset", -1}}},
        {"lower_leg_forward", {{"heel_offset", 1}}},
        {"chair_seat", {{"heel_offset", 1}, {"seat_place", -1}}},
        {"heel_up", {{"heel_drop", -1}}},
        {"jammed_heel",
         {{"heel_drop", 1}},
         Seat::sitting,
         Gait::trot,
         "",
         View::side,
         {{"ankle_stiff", true}}},
        {"stirrup_too_long",
         {{"knee_angle", 1}},
         Seat::sitting,
         Gait::walk,
         "",
         View::side,
         {{"tread_too_low", true}}},
        {"stirrup_too_short",
         {{"knee_angle", -1}},
         Seat::sitting,
         Gait::walk,
         "",
         View::side,
         {{"tread_too_high", true}}},
        {"leg_drawn_up",
         {{"knee_angle", -1}},
         Seat::sitting,
         Gait::walk,
         "",
         View::side,
         {{"tread_too_high", false}}},
        {"standing_too_high_in_the_rise", {{"knee_angle", 1}}, Seat::rising, Gait::trot, "rise_top"},
        {"tipped_forward", {{"trunk_lean", 1}}},
        {"leaning_back", {{"trunk_lean", -1}}},
        {"folding_further_over_the_fence", {{"trunk_lean", 1}}, Seat::two_point, Gait::jump, "top"},
        {"head_poked", {{"ear_offset", 1}}},
        {"elbow_behind", {{"upper_arm", -1}}},
        {"straight_arms", {{"elbow_angle", 1}}},
        {"line_broken_above", {{"hand_line", 1}}},
        {"line_broken_below", {{"hand_line", -1}}},
        {"hands_high", {{"hand_height", 1}}},
        {"hands_pushed_down", {{"hand_height", -1}}},
        {"dropped_shoulder", {{"shoulder_tilt", 1}}, Seat::sitting, Gait::trot, "", View::rear},
        {"collapsed_side",
         {{"shoulder_tilt", 1}, {"hip_tilt", -1}},
         Seat::sitting,
         Gait::trot,
         "",
         View::rear},
        {"leaning_to_a_side", {{"lateral_lean", -1}}, Seat::sitting, Gait::trot, "", View::rear},
        {"off_centre", {{"seat_on_saddle", 1}}, Seat::sitting, Gait::trot, "", View::rear},
        {"saddle_slipped", {{"saddle_offset", -1}}, Seat::sitting, Gait::trot, "", View::rear},
        {"uneven_irons", {{"stirrup_difference", 1}}, Seat::sitting, Gait::trot, "", View::rear},
        {"hands_uneven", {{"hands_tilt", 1}}, Seat::sitting, Gait::trot, "", View::front},
        {"hands_too_wide", {{"hands_width", 1}}, Seat::sitting, Gait::trot, "", View::front},
        {"hands_too_close", {{"hands_width", -1}}, Seat::sitting, Gait::trot, "", View::front}};
    add_seen_by_eye(all);
    return all;
}
const std::vector<Planted>& planted() {
    static const std::vector<Planted> all = all_planted();
    return all;
}

Setting planted_setting(const Planted& p, const std::string& school) {
    Setting s;
    s.school = school;
    s.gait = p.gait;
    s.seat = p.seat;
    s.phase = p.phase;
    s.movement = p.movement;
    return s;
}

/// Inside every band, then with what is planted so many half band-widths past what its error reaches.
std::optional<std::vector<Judged>> judged_rider(const Planted& p, double severity, const std::string& school,
                                                Travel travel, double turned, std::mt19937& engine) {
    const Setting s = planted_setting(p, school);
    const Build build = any_build(engine);
    Values v;
    const View kind = p.view == View::side ? View::side : View::rear;
    for (const MeasureInfo& info : measures_of(kind)) {
        const auto found = knowledge().schools.band(info.id, s);
        const auto* b = std::get_if<Band>(&found);
        const double lo = b && b->lo ? *b->lo : -4, hi = b && b->hi ? *b->hi : 4;
        std::uniform_real_distribution<double> middle(lo + 0.4 * (hi - lo), hi - 0.4 * (hi - lo));
        v[std::string(info.id)] = middle(engine);
    }
    if (p.view != View::side) v["centre_offset"] = v["saddle_offset"] + v["seat_on_saddle"];
    const auto figure = [&]() -> std::optional<Figure> {
        if (p.view == View::side) return side_rider(v, build, travel, turned * kSideTurnDeg);
        const auto lean = knowledge().schools.band("trunk_lean", s);
        const auto* b = std::get_if<Band>(&lean);
        return frontal_rider(v, p.view, turned * kFrontalTurnDeg, b ? (*b->lo + *b->hi) / 2 : 0);
    };
    auto f = figure();
    if (!f) return std::nullopt;
    auto judged = judge(*f, s, knowledge().body, knowledge().schools);
    for (int pass = 0; pass < 3; ++pass) {  // the error is another one where the joint has gone
        for (const auto& [id, side] : p.out) {
            const Judged* j = find(judged, id);
            if (!j || !j->band || !j->measured.value) return std::nullopt;  // not held in this school
            const double past = kNinetyPercent * 1.1 * j->measured.sd + severity * j->band->half_width;
            v[id] = side > 0 ? *j->band->hi + past : *j->band->lo - past;
            if (std::string_view(id) == "knee_angle" && v[id] > 178) return std::nullopt;  // no knee bends so
        }
        f = figure();
        if (!f) return std::nullopt;
        judged = judge(*f, s, knowledge().body, knowledge().schools);
    }
    return judged;
}

struct Count {
    int riders = 0, found = 0;
    std::map<double, std::pair<int, int>> by_weight;  ///< found, planted
    std::map<double, std::pair<int, int>> by_turn;    ///< of the camera: square on, and the two turned ways
    std::map<std::string, int> beside;
};

std::string shares(const std::map<double, std::pair<int, int>>& of) {
    std::string out;
    for (const auto& [key, n] : of)
        out += (out.empty() ? "" : " · ") + std::to_string(n.first) + "/" + std::to_string(n.second);
    return out;
}

std::vector<std::pair<double, double>> seen_ways() {
    std::vector<std::pair<double, double>> out;
    for (const double weight : kWeights) {
        for (const double turned : {-1.0, 0.0, 1.0}) out.emplace_back(weight, turned);
    }
    return out;
}

TEST(Confusion, EveryPlantedFaultIsFoundAndCleanRidersHaveNone) {
    std::mt19937 engine(20261126);
    std::map<std::string, Count> table;
    Count clean;
    for (const Planted& p : planted()) {
        for (const School& school : knowledge().schools.all()) {
            for (const Travel travel : {Travel::right, Travel::left}) {
                for (const auto& [severity, turned] : seen_ways()) {
                    const auto judged = judged_rider(p, severity, school.id, travel, turned, engine);
                    if (!judged) continue;
                    Count& c = table[p.fault];
                    ++c.riders;
                    ++c.by_weight[severity].second;
                    ++c.by_turn[turned].second;
                    const Setting s = planted_setting(p, school.id);
                    const auto merged =
                        knowledge().faults.merge({knowledge().faults.observe(*judged, s, p.view, p.eye)});
                    for (const FoundFault& f : merged.found) {
                        if (f.verdict != Verdict::outside) continue;
                        if (f.fault->id != p.fault) {
                            ++c.beside[f.fault->id];
                            continue;
                        }
                        ++c.found;
                        ++c.by_weight[severity].first;
                        ++c.by_turn[turned].first;
                    }
                }
                Planted nothing = p;
                nothing.out.clear();
                for (const double turned : {-1.0, 0.0, 1.0}) {
                    const auto judged = judged_rider(nothing, 0, school.id, travel, turned, engine);
                    if (!judged) continue;
                    ++clean.riders;
                    const auto observed = knowledge()
                                              .faults.observe(*judged, planted_setting(p, school.id), p.view)
                                              .observations;
                    for (const Observation& o : observed)
                        clean.beside[o.fault->id] += o.verdict == Verdict::outside;
                }
            }
        }
    }
    std::erase_if(clean.beside, [](const auto& b) { return b.second == 0; });
    EXPECT_TRUE(clean.beside.empty())
        << "a clean rider has no certain fault: " << clean.beside.begin()->first;
    EXPECT_GT(clean.riders, 600);
    std::ostringstream out;
    out << "| planted | riders | mild · plain · severe | turned one way · square · the other | named beside "
           "it |\n|---|---:|---|---|---|\n";
    for (const Planted& p : planted()) {
        const Count& c = table[p.fault];
        EXPECT_GE(c.riders, 50) << p.fault;
        EXPECT_EQ(c.found, c.riders) << p.fault << " is missed";
        out << "| " << knowledge().faults.find(p.fault)->name << " | " << c.riders << " | "
            << shares(c.by_weight) << " | " << shares(c.by_turn) << " | ";
        bool first = true;
        for (const auto& [id, n] : c.beside) {
            out << (first ? "" : ", ") << knowledge().faults.find(id)->name << " " << n;
            first = false;
        }
        out << " |\n";
    }
    out << "| nothing (clean) | " << clean.riders << " | | | |\n";
    const std::string file = ASPEN_SOURCE_DIR "/docs/judgement.md", mark = "<!-- table -->\n";
    std::ifstream in(file);
    std::string doc((std::istreambuf_iterator<char>(in)), {});
    const auto at = doc.find(mark);
    ASSERT_NE(at, std::string::npos);
    const std::string now = doc.substr(0, at + mark.size()) + out.str();
    if (std::getenv("ASPEN_KEEP_DRAWINGS")) std::ofstream(file) << now;
    EXPECT_TRUE(doc == now || std::getenv("ASPEN_KEEP_DRAWINGS"))
        << "the table in docs/judgement.md is another";
}

}  // namespace
}  // namespace aspen::core
