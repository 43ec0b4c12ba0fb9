#include "core/arena/ground_reading.hpp"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <ostream>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;

/// A carried mark is less exact by so much a frame, as a walk at random (from memory).
constexpr double kDriftPx = 0.25;
constexpr double kClickSdPx = 2, kFollowedSdPx = 3;
constexpr int kMostFrames = 2'000'000;

double number_or(const Entry& e, const char* field, double otherwise) {
    return e.has(field) ? e.number(field) : otherwise;
}
double positive_or(const Entry& e, const char* field, double otherwise) {
    const double v = number_or(e, field, otherwise);
    if (!(v > 0)) e.complain(field, "must be over 0");
    return v;
}
int frame_of(const Entry& e) {
    const int frame = e.whole_or("frame", -1);
    if (frame < 0 || frame > kMostFrames) e.complain("frame", "is missing or no frame");
    return frame;
}
GroundPoint pair_of(const Entry& e, const Json& value, const char* field) {
    if (!value.is_array() || value.size() != 2 || !value[0].is_number() || !value[1].is_number())
        e.complain(field, "must be two numbers, metres");
    return {value[0].get<double>(), value[1].get<double>()};
}

ArenaFrame arena_of(const Entry& all, const std::string& file) {
    const Entry e(all.object("arena"), file, "arena");
    std::map<std::string, GroundPoint> own;
    if (e.has("letters")) {
        for (const auto& [name, at] : e.object("letters").items()) own[name] = pair_of(e, at, "letters");
    }
    return {e.number("length"), number_or(e, "width", Arena::kWidthM), std::move(own)};
}

void read_marks(GroundAsk& ask, const Entry& all, const std::string& file) {
    int n = 0;
    for (const Json& value : all.array("marks")) {
        const std::string where = fmt::format("marks[{}]", n++);
        const Entry e(value, file, where);
        GroundAsk::Marked& marked = ask.marks[e.has("frame") ? frame_of(e) : 0];
        for (const Json& point : e.array("points")) {
            const Entry p(point, file, fmt::format("{} points[{}]", where, marked.points.size()));
            GroundMark m;
            m.at =
                p.has("name") ? ask.arena.at(p.text("name")) : GroundPoint{p.number("x_m"), p.number("y_m")};
            m.x = p.number("x"), m.y = p.number("y");
            m.sd_px = positive_or(p, "sd_px", kClickSdPx);
            marked.points.push_back(m);
        }
        if (!e.has("lengths")) continue;
        for (const Json& length : e.array("lengths")) {
            const Entry l(length, file, fmt::format("{} lengths[{}]", where, marked.lengths.size()));
            marked.lengths.push_back({l.number("x1"), l.number("y1"), l.number("x2"), l.number("y2"),
                                      l.number("length_m"), positive_or(l, "sd_px", kClickSdPx)});
            if (!(marked.lengths.back().length_m > 0)) l.complain("length_m", "must be over 0");
        }
    }
    if (ask.marks.empty()) all.complain("marks", "is empty: nothing says where the ground lies");
}

void read_motion(GroundAsk& ask, const Entry& all, const std::string& file) {
    if (!all.has("motion")) return;
    for (const Json& value : all.array("motion")) {
        const Entry e(value, file, fmt::format("motion[{}]", ask.motion.size()));
        const Json& h = e.array("h");
        if (h.size() != 9) e.complain("h", "must be nine numbers, row by row");
        Eigen::Matrix3d m;
        for (std::size_t i = 0; i < 9; ++i) {
            if (!h[i].is_number()) e.complain("h", "must be nine numbers, row by row");
            m(static_cast<Eigen::Index>(i / 3), static_cast<Eigen::Index>(i % 3)) = h[i].get<double>();
        }
        if (std::abs(m.determinant()) < 1e-12) e.complain("h", "is no homography: it cannot be turned back");
        ask.motion[frame_of(e)] = m;
    }
}

AskedFigure figure_of(const Entry& e, const ArenaFrame& arena) {
    AskedFigure out;
    const std::string kind = e.text("kind");
    const auto it = std::ranges::find(kFigureKinds, kind, [](FigureKind k) { return std::string(word(k)); });
    if (it == std::end(kFigureKinds))
        e.complain("kind", "must be circle, line, wall, centre_line, diagonal, corner or serpentine");
    out.kind = *it;
    out.from_s = e.number("from_s");
    out.to_s = e.number("to_s");
    if (!(out.to_s > out.from_s)) e.complain("to_s", "must be after from_s");
    if (e.has("diameter_m")) out.diameter_m = positive_or(e, "diameter_m", 1);
    if (e.has("centre")) out.centre = pair_of(e, e.raw()["centre"], "centre");
    out.side = e.text_or("side", "");
    if (out.kind == FigureKind::wall && out.side != "left" && out.side != "right")
        e.complain("side", "of a wall must be left or right, as one looks from A to C");
    if (out.kind == FigureKind::diagonal) {
        out.from = arena.at(e.text("from"));
        out.until = arena.at(e.text("to"));
    }
    if (out.kind == FigureKind::corner) out.from = arena.at(e.text("corner"));
    return out;
}

/// From one frame's pixels to another's, and how many frames lie between; nothing where the motion has a gap.
std::optional<Eigen::Matrix3d> between(const GroundAsk& ask, int from, int to) {
    Eigen::Matrix3d out = Eigen::Matrix3d::Identity();
    for (int k = from; k > to; --k) {
        const auto it = ask.motion.find(k);
        if (it == ask.motion.end()) return std::nullopt;
        out = it->second * out;
    }
    for (int k = from + 1; k <= to; ++k) {
        const auto it = ask.motion.find(k);
        if (it == ask.motion.end()) return std::nullopt;
        out = it->second.inverse() * out;
    }
    return out;
}
Eigen::Vector2d carried(const Eigen::Matrix3d& h, double x, double y) {
    const Eigen::Vector3d p = h * Eigen::Vector3d(x, y, 1);
    return p.head<2>() / p.z();
}
double drifted(double sd_px, int frames) { return std::hypot(sd_px, kDriftPx * std::sqrt(std::abs(frames))); }

/// All marks in the pixels of one frame.
GroundAsk::Marked gathered(const GroundAsk& ask, int frame) {
    GroundAsk::Marked out;
    for (const auto& [at, marked] : ask.marks) {
        const auto way =
            ask.still ? std::optional(Eigen::Matrix3d(Eigen::Matrix3d::Identity())) : between(ask, at, frame);
        if (!way) continue;
        const int frames = ask.still ? 0 : at - frame;
        for (GroundMark m : marked.points) {
            const Eigen::Vector2d p = carried(*way, m.x, m.y);
            m.x = p.x(), m.y = p.y(), m.sd_px = drifted(m.sd_px, frames);
            out.points.push_back(m);
        }
        for (GroundLength l : marked.lengths) {
            const Eigen::Vector2d a = carried(*way, l.x1, l.y1), b = carried(*way, l.x2, l.y2);
            out.lengths.push_back({a.x(), a.y(), b.x(), b.y(), l.length_m, drifted(l.sd_px, frames)});
        }
    }
    return out;
}

}  // namespace

GroundAsk read_ground(std::istream& in, const std::string& file) {
    const Json json = reading::parse(in, file);
    const Entry all(json, file, "ground");
    GroundAsk ask;
    ask.arena = arena_of(all, file);
    const std::string camera = all.text("camera");
    if (camera != "still" && camera != "moving") all.complain("camera", "must be still or moving");
    ask.still = camera == "still";
    read_marks(ask, all, file);
    read_motion(ask, all, file);
    if (all.has("path")) {
        for (const Json& value : all.array("path")) {
            const Entry e(value, file, fmt::format("path[{}]", ask.path.size()));
            ask.path.push_back({e.has("frame") ? frame_of(e) : 0, e.number("time_s"), e.number("x"),
                                e.number("y"), positive_or(e, "sd_px", kFollowedSdPx),
                                number_or(e, "height_m", 0)});
        }
    }
    if (all.has("figures")) {
        for (const Json& value : all.array("figures"))
            ask.figures.push_back(
                figure_of(Entry(value, file, fmt::format("figures[{}]", ask.figures.size())), ask.arena));
    }
    return ask;
}

GroundSaid say_ground(const GroundAsk& ask) {
    GroundSaid out;
    std::vector<LaidGround> grounds;
    std::vector<int> laid_at;
    for (const auto& [frame, marked] : ask.marks) {
        if (ask.still && !grounds.empty()) break;  // one camera, one ground
        const GroundAsk::Marked all = gathered(ask, frame);
        grounds.emplace_back(all.points, all.lengths);
        laid_at.push_back(frame);
        out.camera.push_back({frame, grounds.back().points(), grounds.back().residual_px()});
    }
    for (const GroundAsk::Seen& seen : ask.path) {
        WayPoint p;
        p.time_s = seen.time_s;
        p.x = seen.x, p.y = seen.y, p.sd_px = seen.sd_px, p.height_m = seen.height_m;
        if (!ask.still) {
            for (std::size_t g = 1; g < laid_at.size(); ++g) {
                if (std::abs(laid_at[g] - seen.frame) < std::abs(laid_at[p.under] - seen.frame)) p.under = g;
            }
            const auto way = between(ask, seen.frame, laid_at[p.under]);
            if (!way)
                throw Refused(fmt::format("motion: has no way from frame {} to the marks of frame {}",
                                          seen.frame, laid_at[p.under]));
            const Eigen::Vector2d there = carried(*way, seen.x, seen.y);
            p.x = there.x(), p.y = there.y();
            p.sd_px = drifted(seen.sd_px, seen.frame - laid_at[p.under]);
        }
        p.place = grounds[p.under].place(p.x, p.y, p.sd_px, p.height_m, kHoofHeightSd);
        out.path.push_back(p);
    }
    add_speeds(out.path);
    for (const AskedFigure& figure : ask.figures)
        out.figures.push_back(hold_against(figure, out.path, grounds, ask.arena));
    return out;
}

void write_ground(const GroundSaid& said, std::ostream& out) {
    using Ordered = nlohmann::ordered_json;
    const auto or_null = [](const std::optional<double>& v) { return v ? Ordered(*v) : Ordered(nullptr); };
    Ordered json{{"camera", Ordered::array()}, {"path", Ordered::array()}, {"figures", Ordered::array()}};
    for (const auto& c : said.camera)
        json["camera"].push_back({{"frame", c.frame}, {"points", c.points}, {"residual_px", c.residual_px}});
    for (const WayPoint& p : said.path)
        json["path"].push_back({{"time_s", p.time_s},
                                {"x_m", p.place.at.x},
                                {"y_m", p.place.at.y},
                                {"sd_m", p.place.sd_m},
                                {"speed_m_per_s", or_null(p.speed_m_per_s)}});
    for (const RiddenFigure& f : said.figures) {
        Ordered figure{{"kind", word(f.kind)}, {"points", f.points}};
        const auto put = [&](const char* name, const std::optional<double>& v) {
            if (v) figure[name] = *v;
        };
        put("diameter_m", f.diameter_m);
        put("diameter_sd_m", f.diameter_sd_m);
        if (f.centre) figure["centre"] = {f.centre->x, f.centre->y};
        for (const Eighth& e : f.eighths)
            figure["eighths"].push_back({{"from_deg", e.from_deg},
                                         {"deviation_m", e.deviation_m},
                                         {"sd_m", e.sd_m},
                                         {"certain", e.certain}});
        put("square_m", f.square_m);
        put("square_sd_m", f.square_sd_m);
        put("off_m", f.off_m);
        put("off_sd_m", f.off_sd_m);
        put("sway_m", f.sway_m);
        for (const RiddenFigure::Loop& l : f.loops)
            figure["loops"].push_back(
                {{"x_m", l.x_m}, {"depth_m", l.depth_m}, {"sd_m", l.sd_m}, {"time_s", l.time_s}});
        json["figures"].push_back(std::move(figure));
    }
    out << json.dump(1) << '\n';
}

}  // namespace aspen::core
