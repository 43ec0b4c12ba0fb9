#include "simulate/clip_maker.hpp"

#include <array>
#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>

#include "core/reading/refused.hpp"
#include "media/writing/video_writer.hpp"

namespace aspen::simulate {
namespace {

using Json = nlohmann::json;

/// How a hand that holds a camera wanders, about -1..1: slow sway and a small tremor (amplitudes from
/// memory).
double hand(double t, double seed) {
    double sum = 0;
    const std::pair<double, double> waves[] = {
        {0.43, 0.55}, {1.1, 0.3}, {2.3, 0.15}, {6.1, 0.05}};  // Hz, share
    for (const auto& [hz, share] : waves)
        sum += share * std::sin(2 * 3.141592653589793 * hz * t + 1.7 * seed * (1 + hz));
    return sum;
}

double tenth(double v) { return std::round(v * 1000) / 1000; }

Json truth_head(const ClipPlan& plan, const Simulation& s) {
    const Ride& r = plan.ride;
    Json head;
    head["width"] = plan.camera.width;
    head["height"] = plan.camera.height;
    head["view"] = plan.camera.from == From::side    ? "side"
                   : plan.camera.from == From::front ? "front"
                                                     : "rear";
    head["travel"] = plan.camera.travel_left ? "left" : "right";
    head["camera_roll_deg"] = plan.camera.roll_deg;
    head["view_yaw_deg"] = plan.camera.yaw_deg;
    head["strides_s"] = s.stride_starts(plan.duration_s);
    head["footfalls"] = Json::array();
    static const char* limbs[] = {"left_hind", "left_fore", "right_hind", "right_fore"};
    for (const Footfall& f : s.footfalls(plan.duration_s))
        head["footfalls"].push_back({{"limb", limbs[f.limb]}, {"time_s", f.time_s}});
    head["flights"] = Json::array();
    for (const Flight& f : s.flights(plan.duration_s))
        head["flights"].push_back(
            {{"take_off_s", f.take_off_s}, {"top_s", f.top_s}, {"landing_s", f.landing_s}});
    head["parameters"] = {
        {"knee_deg", r.knee_deg},           {"trunk_lean_deg", r.trunk_lean_deg}, {"leg_set_m", r.leg_set_m},
        {"leg_swing_deg", r.leg_swing_deg}, {"heel_drop_deg", r.heel_drop_deg},   {"rise_m", r.rise_m},
        {"rise_late", r.rise_late},         {"hand_up_m", r.hand_up_m},           {"seed", r.seed}};
    return head;
}

Json truth_of_frame(const Instant& now, const std::map<std::string, TruePoint>& points) {
    Json frame{{"time_s", now.time_s}, {"phase", now.phase}};
    for (const auto& [name, p] : points)
        frame["landmarks"][name] = {tenth(p.x), tenth(p.y), p.hidden ? 1 : 2};
    for (const auto& [name, a] : now.angles) frame["angles_deg"][name] = a;
    return frame;
}

/// Squeezes and turns a display picture into how it is stored.
QImage stored(const ClipPlan& plan, QImage shown) {
    if (plan.rotation_deg != 0) shown = shown.transformed(QTransform().rotate(-plan.rotation_deg));
    if (plan.shape_num != plan.shape_den) {
        const int width = static_cast<int>(std::lround(shown.width() * static_cast<double>(plan.shape_den) /
                                                       plan.shape_num / 2)) *
                          2;
        shown = shown.scaled(width, shown.height(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    }
    return shown.convertToFormat(QImage::Format_RGB32);
}

void write_truth(const Json& truth, const std::filesystem::path& file) {
    std::ofstream out(file);
    out << truth.dump();
    if (!out.flush())
        throw core::Refused(file.string() + ": cannot be written; check the folder and the free space");
}

}  // namespace

QColor dot_colour(int index) {
    // Hues a golden ratio apart and alternating lightness: neighbours in the list are far apart in colour.
    const double hue = std::fmod(index * 0.61803398875, 1.0);
    return QColor::fromHsvF(static_cast<float>(hue), 1.0f, index % 2 ? 1.0f : 0.75f);
}

std::map<std::string, TruePoint> true_points(const Instant& now, const Projection& view) {
    std::map<std::string, TruePoint> out;
    const auto put = [&](const std::string& name, const Vec3& p, bool hidden = false) {
        const QPointF q = view.display(p);
        out[name] = {q.x(), q.y(), hidden};
    };
    if (view.camera().from == From::side) {
        const auto& near = view.near_side() > 0 ? now.rider_right : now.rider_left;
        for (const auto& [name, p] : near) {
            if (name != "crown") put(name, p);
        }
        Vec3 bit = now.horse.at("bit"), girth = now.horse.at("girth");
        bit.z *= view.near_side();
        girth.z *= view.near_side();
        put("bit", bit);
        put("girth", girth);
        for (const char* name : {"poll", "withers", "cantle", "croup"}) put(name, now.horse.at(name));
        return out;
    }
    for (const char* name : {"shoulder", "elbow", "knuckle", "hip", "knee", "ankle", "heel", "toe", "iron"}) {
        const std::string_view n = name;
        const bool hidden = view.camera().from == From::behind && (n == "knuckle" || n == "toe");
        put("left_" + std::string(name), now.rider_left.at(name), hidden);
        put("right_" + std::string(name), now.rider_right.at(name), hidden);
    }
    const bool behind = view.camera().from == From::behind;
    put("chin", now.rider_right.at("chin"), behind);
    put("horse_mid", now.horse.at(behind ? "dock" : "withers"));
    put("saddle_mid", now.horse.at(behind ? "saddle_mid" : "withers"));
    Vec3 ears = now.horse.at("poll");
    put("ears_mid", ears);
    const Vec3 &a = now.legs[behind ? 0 : 1][3], &b = now.legs[behind ? 2 : 3][3];
    put("ground_mid", {(a.x + b.x) / 2, 0, (a.z + b.z) / 2});
    return out;
}

Projection projection_at(const ClipPlan& plan, const Simulation& simulation, double time_s) {
    const double t = plan.camera.pan ? time_s : plan.duration_s / 2;
    Camera camera = plan.camera;
    camera.yaw_deg += camera.yaw_rate_deg_s * time_s;
    if (camera.zoom != 0) camera.metres_high /= 1 + camera.zoom * time_s / plan.duration_s;
    if (camera.shake > 0) {
        const double size = camera.shake * camera.height, seed = plan.ride.seed;
        camera.shift_x = size * hand(time_s, seed);
        camera.shift_y = size * hand(time_s, seed + 11);
        camera.roll_deg += 50 * camera.shake * hand(time_s, seed + 23);
    }
    return Projection(camera, simulation.stride_length_m() * simulation.phase(t) + 0.12);
}

namespace {

/// What a phone makes of a clean picture: grain that is new in every picture, and the beat of the lamps.
void spoil(QImage& image, const Camera& camera, unsigned seed, int number) {
    if (camera.grain <= 0 && camera.flicker <= 0) return;
    std::mt19937 engine(seed * 7919 + static_cast<unsigned>(number));
    // Drawn once and read from a new place in every row: a million normal draws a picture would be slow.
    std::array<int, 4096> grain{};
    std::normal_distribution<double> normal(0, camera.grain);
    for (int& g : grain) g = static_cast<int>(std::lround(camera.grain > 0 ? normal(engine) : 0));
    const double light = 1 + camera.flicker * std::sin(2 * 3.141592653589793 * 0.37 * number);
    for (int y = 0; y < image.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(image.scanLine(y));
        std::size_t at = engine() % grain.size();
        for (int x = 0; x < image.width(); ++x) {
            const auto dirty = [&](int v) {
                at = at + 1 == grain.size() ? 0 : at + 1;
                return std::clamp(static_cast<int>(v * light) + grain[at], 0, 255);
            };
            row[x] = qRgb(dirty(qRed(row[x])), dirty(qGreen(row[x])), dirty(qBlue(row[x])));
        }
    }
}

/// The mean of pictures taken while the shutter is open.
QImage mean_of(const std::vector<QImage>& parts) {
    if (parts.size() == 1) return parts.front();
    QImage out(parts.front().size(), QImage::Format_RGB32);
    const int n = static_cast<int>(parts.size());
    for (int y = 0; y < out.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(out.scanLine(y));
        for (int x = 0; x < out.width(); ++x) {
            int r = 0, g = 0, b = 0;
            for (const QImage& part : parts) {
                const QRgb v = reinterpret_cast<const QRgb*>(part.constScanLine(y))[x];
                r += qRed(v), g += qGreen(v), b += qBlue(v);
            }
            row[x] = qRgb(r / n, g / n, b / n);
        }
    }
    return out;
}

constexpr int kPartsOfShutter = 4;

/// The picture at an instant with what the camera adds to it. The truth is the middle of its shutter time.
QImage taken(const ClipPlan& plan, const ArenaPainter& arena, const Simulation& simulation, double t,
             int number) {
    std::vector<QImage> parts;
    const int n = plan.camera.shutter > 0 ? kPartsOfShutter : 1;
    for (int i = 0; i < n; ++i) {
        const double at = t + plan.camera.shutter / plan.camera.fps * ((i + 0.5) / n - 0.5);
        parts.push_back(paint_frame(plan, arena, projection_at(plan, simulation, std::max(0.0, at)),
                                    simulation.at(std::max(0.0, at))));
    }
    QImage out = mean_of(parts);
    spoil(out, plan.camera, plan.ride.seed, number);
    return out;
}

}  // namespace

QImage paint_frame(const ClipPlan& plan, const ArenaPainter& arena, const Projection& view,
                   const Instant& now) {
    QImage image(plan.camera.width, plan.camera.height, QImage::Format_RGB32);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    p.translate(plan.camera.width / 2.0 + view.camera().shift_x,
                plan.camera.height / 2.0 + view.camera().shift_y);
    p.rotate(view.camera().roll_deg);
    p.setRenderHint(QPainter::SmoothPixmapTransform, view.camera().roll_deg != 0);
    p.save();
    if (plan.camera.zoom != 0) p.scale(view.scale() / arena.scale(), view.scale() / arena.scale());
    arena.paint(p, view);
    p.restore();
    if (plan.camera.from == From::side) paint_fences(p, view, plan.ride.fences_m);
    if (plan.camera.from == From::side) {
        paint_horse_far(p, view, now, plan.looks);
        paint_rider_far(p, view, now, plan.looks);
        paint_horse_near(p, view, now, plan.looks);
        paint_rider_near(p, view, now, plan.looks);
    } else {
        plan.camera.from == From::front ? paint_from_front(p, view, now, plan.looks)
                                        : paint_from_behind(p, view, now, plan.looks);
    }
    if (plan.dots) {
        p.resetTransform();
        p.setPen(Qt::NoPen);
        int i = 0;
        for (const auto& [name, point] : true_points(now, view)) {
            p.setBrush(Qt::black);
            p.drawEllipse(QPointF(point.x, point.y), 9.0, 9.0);
            p.setBrush(dot_colour(i++));
            p.drawEllipse(QPointF(point.x, point.y), 6.0, 6.0);
        }
    }
    return image;
}

bool make_clip(const ClipPlan& plan, const std::filesystem::path& file,
               const std::function<void(double)>& progress, const std::atomic<bool>* cancel) {
    const Simulation simulation(plan.ride);
    const ArenaPainter arena(plan.camera, plan.ride.seed);
    const int frames = std::max(1, static_cast<int>(std::lround(plan.duration_s * plan.camera.fps)));
    std::unique_ptr<media::VideoWriter> writer;
    Json truth = truth_head(plan, simulation);
    truth["frames"] = Json::array();
    for (int n = 0; n < frames; ++n) {
        if (cancel && *cancel) return false;
        const double t = n / plan.camera.fps;
        const Instant now = simulation.at(t);
        const Projection view = projection_at(plan, simulation, t);
        const QImage picture = stored(plan, taken(plan, arena, simulation, t, n));
        if (!writer) {
            media::WriterOptions o;
            o.width = picture.width();
            o.height = picture.height();
            o.fps = plan.camera.fps;
            o.rotation_deg = plan.rotation_deg;
            o.shape_num = plan.shape_num;
            o.shape_den = plan.shape_den;
            o.quality_crf = plan.quality_crf;
            writer = std::make_unique<media::VideoWriter>(file, o);
        }
        writer->add(picture.constBits(), static_cast<int>(picture.bytesPerLine()), t);
        truth["frames"].push_back(truth_of_frame(now, true_points(now, view)));
        if (progress) progress((n + 1.0) / frames);
    }
    auto truth_file = file;
    write_truth(truth, truth_file.replace_extension(".truth.json"));
    writer->finish();
    return true;
}

}  // namespace aspen::simulate
