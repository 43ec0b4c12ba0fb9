#include "simulate/gallery.hpp"

#include <QFont>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>
#include <vector>

#include "core/reading/refused.hpp"
#include "media/writing/video_writer.hpp"

namespace aspen::simulate {
namespace {

constexpr double kPiHere = std::numbers::pi, kNearestM = 0.4, kBoardM = 0.5, kPanelM = 2;

Vec3 minus(const Vec3& a, const Vec3& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
double dot(const Vec3& a, const Vec3& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
Vec3 cross(const Vec3& a, const Vec3& b) {
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
Vec3 unit_of(const Vec3& a) {
    const double l = std::max(1e-12, std::sqrt(dot(a, a)));
    return {a.x / l, a.y / l, a.z / l};
}

/// Radius at an angle, with what is said of it.
double radius_at(const GalleryFigure& f, double angle) {
    double r = f.diameter_m / 2 + f.square_m / 2 * std::cos(4 * angle);
    double into = angle - rad(f.falls_in_from_deg);
    into -= 2 * kPiHere * std::floor(into / (2 * kPiHere));
    if (f.falls_in_m != 0 && into < kPiHere / 2) r -= f.falls_in_m * std::sin(2 * into);
    return r;
}

/// The angle after so many seconds: the speed along the circle is the said one, faster in the half towards C.
double angle_after(const GalleryFigure& f, double time_s) {
    const double sense = f.left_rein ? 1 : -1;
    if (f.faster_in_turn == 0) return sense * f.speed_mps * time_s / (f.diameter_m / 2);
    double angle = 0;
    constexpr double kStep = 0.02;
    for (double t = 0; t < time_s; t += kStep) {
        const double step = std::min(kStep, time_s - t);
        const double faster = 1 + f.faster_in_turn * std::max(0.0, std::cos(angle));
        angle += sense * f.speed_mps * faster * step / (f.diameter_m / 2);
    }
    return angle;
}

}  // namespace

OnGround ridden_at(const GalleryFigure& f, double time_s) {
    const auto place = [&](double t) {
        if (f.kind == GalleryFigure::Kind::circle) {
            const double a = angle_after(f, t), r = radius_at(f, a);
            return Vec2{f.centre_x + r * std::cos(a), f.centre_y + r * std::sin(a)};
        }
        const double x = f.begins_at_m + f.speed_mps * t;
        const double sway = f.sways_m / 2 * std::sin(2 * kPiHere * (x - f.begins_at_m) / f.sways_over_m);
        if (f.kind == GalleryFigure::Kind::centre_line) return Vec2{x, sway};
        const double wall = f.left_wall ? 10 - f.off_wall_m : -10 + f.off_wall_m;
        return Vec2{x, wall + sway};
    };
    constexpr double kAhead = 0.02;
    const Vec2 now = place(time_s), next = place(time_s + kAhead);
    return {now.x, now.y, std::atan2(next.y - now.y, next.x - now.x)};
}

GalleryView::GalleryView(const GalleryPlan& plan, double time_s) : at_(plan.camera.at) {
    Vec3 look = plan.camera.looks_at;
    if (plan.camera.pans) {
        const OnGround rider = ridden_at(plan.figure, time_s);
        look = {rider.x, rider.y, 1};
    }
    forward_ = unit_of(minus(look, at_));
    right_ = unit_of(cross(forward_, {0, 0, 1}));
    down_ = cross(forward_, right_);
    focal_ = plan.camera.width / 2.0 / std::tan(rad(plan.camera.wide_deg / 2));
    middle_x_ = plan.camera.width / 2.0;
    middle_y_ = plan.camera.height / 2.0;
}

std::optional<QPointF> GalleryView::see(const Vec3& metres) const {
    const Vec3 d = minus(metres, at_);
    const double deep = dot(d, forward_);
    if (deep < kNearestM) return std::nullopt;
    return QPointF(middle_x_ + focal_ * dot(d, right_) / deep, middle_y_ + focal_ * dot(d, down_) / deep);
}

double GalleryView::scale(const Vec3& metres) const {
    return focal_ / std::max(kNearestM, dot(minus(metres, at_), forward_));
}

std::array<double, 9> GalleryView::homography() const {
    std::array<double, 9> h{};
    const std::array<Vec3, 3> rows{right_, down_, forward_};
    std::array<std::array<double, 3>, 3> bare{};
    for (std::size_t i = 0; i < 3; ++i) bare[i] = {rows[i].x, rows[i].y, -dot(rows[i], at_)};
    for (std::size_t k = 0; k < 3; ++k) {
        h[k] = focal_ * bare[0][k] + middle_x_ * bare[2][k];
        h[3 + k] = focal_ * bare[1][k] + middle_y_ * bare[2][k];
        h[6 + k] = bare[2][k];
    }
    return h;
}

namespace {

/// A polygon of the world in the picture, cut off where it comes too near.
class World {
  public:
    World(QPainter& p, const GalleryView& view) : p_(p), view_(view) {}
    void polygon(std::vector<Vec3> corners, const QColor& colour) const {
        QPolygonF out;
        for (std::size_t i = 0; i < corners.size(); ++i) {
            const Vec3 &a = corners[i], &b = corners[(i + 1) % corners.size()];
            const auto here = view_.see(a), there = view_.see(b);
            if (here) out << *here;
            if (here.has_value() == there.has_value()) continue;
            Vec3 seen = here ? a : b, hidden = here ? b : a;  // the last place that can be seen
            for (int k = 0; k < 30; ++k) {
                const Vec3 middle{(seen.x + hidden.x) / 2, (seen.y + hidden.y) / 2, (seen.z + hidden.z) / 2};
                (view_.see(middle) ? seen : hidden) = middle;
            }
            if (const auto edge = view_.see(seen)) out << *edge;
        }
        if (out.size() < 3) return;
        p_.setPen(Qt::NoPen);
        p_.setBrush(colour);
        p_.drawPolygon(out);
    }

  private:
    QPainter& p_;
    const GalleryView& view_;
};

/// Hoof prints all over the sand, the same ones from every side.
void paint_prints(const World& world, double length, double half_width, unsigned seed) {
    std::mt19937 engine(seed);
    std::uniform_real_distribution<double> along(0.3, length - 0.3),
        across(-half_width + 0.3, half_width - 0.3), size(0.08, 0.3), shade(-14, 10);
    const int prints = static_cast<int>(length * half_width * 3);
    for (int i = 0; i < prints; ++i) {
        const double x = along(engine), y = across(engine), s = size(engine);
        const int by = static_cast<int>(shade(engine));
        world.polygon(
            {{x - s, y - s / 2, 0}, {x + s, y - s, 0}, {x + s, y + s / 2, 0}, {x - s / 2, y + s, 0}},
            {0xd4 + by, 0xc0 + by, 0x97 + by});
    }
}

/// Trees round about: far and near, so that wherever the camera turns it has something to hold on to.
void paint_trees(QPainter& p, const GalleryPlan& plan, const GalleryView& view) {
    struct Tree {
        Vec3 foot;
        double high, shade;
    };
    std::mt19937 engine(plan.seed + 7);
    std::uniform_real_distribution<double> turn(0, 2 * kPiHere), away(34, 90), high(4, 11), shade(0, 40);
    std::vector<Tree> trees;
    for (int i = 0; i < 130; ++i) {
        const double a = turn(engine), r = away(engine);
        trees.push_back(
            {{plan.length_m / 2 + r * std::cos(a), r * std::sin(a), 0}, high(engine), shade(engine)});
    }
    std::ranges::sort(trees,
                      [&](const Tree& a, const Tree& b) { return view.scale(a.foot) < view.scale(b.foot); });
    p.setPen(Qt::NoPen);
    for (const Tree& t : trees) {
        const auto foot = view.see(t.foot);
        if (!foot) continue;
        const double m = view.scale(t.foot);
        constexpr double kCloseM = 14;  // nobody films through a tree
        if (std::hypot(t.foot.x - plan.camera.at.x, t.foot.y - plan.camera.at.y) < kCloseM) continue;
        const int by = static_cast<int>(t.shade);
        p.setBrush(QColor(0xa9 + by, 0xa4 + by, 0x92 + by));
        p.drawRect(QRectF(foot->x() - 0.15 * m, foot->y() - 0.5 * t.high * m, 0.3 * m, 0.5 * t.high * m));
        p.setBrush(QColor(0x8a + by, 0xa0 + by / 2, 0x5c + by));
        p.drawEllipse(QPointF(foot->x(), foot->y() - 0.65 * t.high * m), 0.28 * t.high * m,
                      0.36 * t.high * m);
    }
}

void paint_ring(QPainter& p, const GalleryPlan& plan, const GalleryView& view) {
    const double l = plan.length_m, w = plan.width_m / 2;
    const World world(p, view);
    world.polygon({{-200, -200, 0}, {l + 200, -200, 0}, {l + 200, 200, 0}, {-200, 200, 0}},
                  {0x8f, 0xa8, 0x72});
    paint_trees(p, plan, view);
    world.polygon({{0, -w, 0}, {l, -w, 0}, {l, w, 0}, {0, w, 0}}, {0xd8, 0xc4, 0x9b});
    // The track: darker sand along the wall, and raked stripes that flow can hold on to.
    for (int i = 0; i < static_cast<int>(l); i += 2)
        world.polygon({{i + 0.0, -w, 0}, {i + 1.0, -w, 0}, {i + 1.0, w, 0}, {i + 0.0, w, 0}},
                      {0xd2, 0xbd, 0x93});
    paint_prints(world, l, w, plan.seed);
    const auto boards = [&](Vec3 from, Vec3 to) {
        const double long_m = std::hypot(to.x - from.x, to.y - from.y);
        const int n = static_cast<int>(std::lround(long_m / kPanelM));
        for (int i = 0; i < n; ++i) {
            const auto at = [&](int k, double z) {
                return Vec3{from.x + (to.x - from.x) * k / n, from.y + (to.y - from.y) * k / n, z};
            };
            world.polygon({at(i, 0), at(i + 1, 0), at(i + 1, kBoardM), at(i, kBoardM)},
                          i % 2 ? QColor(0xf2, 0xee, 0xe4) : QColor(0xe4, 0xde, 0xd0));
        }
    };
    boards({l, -w, 0}, {l, w, 0});
    boards({0, w, 0}, {l, w, 0});
    boards({0, -w, 0}, {0, w, 0});
    boards({0, -w, 0}, {l, -w, 0});
    const bool large = l > 50;
    const std::string left = large ? "KVESH" : "KEH", right = large ? "FPBRM" : "FBM";
    const auto letter = [&](char c, double x, double y) {
        const auto foot = view.see({x, y, 0});
        if (!foot) return;
        const double m = view.scale({x, y, 0});
        const QRectF board(foot->x() - 0.35 * m, foot->y() - (kBoardM + 0.8) * m, 0.7 * m, 0.8 * m);
        p.setPen(QPen(QColor(0x55, 0x4a, 0x3c), std::max(0.5, 0.02 * m)));
        p.setBrush(QColor(0xfa, 0xf8, 0xf2));
        p.drawRect(board);
        QFont font(QStringLiteral("Lato"));
        font.setBold(true);
        font.setPixelSize(std::max(4, static_cast<int>(0.7 * m)));
        p.setFont(font);
        p.setPen(QColor(0x22, 0x22, 0x22));
        p.drawText(board, Qt::AlignCenter, QString(QChar::fromLatin1(c)));
    };
    for (std::size_t i = 0; i < left.size(); ++i) {
        const double x = 6 + (large ? 12.0 : 14.0) * static_cast<double>(i);
        letter(left[i], x, w);
        letter(right[i], x, -w);
    }
    letter('A', 0, 0);
    letter('C', l, 0);
}

/// The pair turned as it goes: from the side where it is seen from there, else from behind or in front.
void paint_rider_on(QPainter& p, const GalleryPlan& plan, const GalleryView& view, double time_s) {
    const OnGround on = ridden_at(plan.figure, time_s);
    const Vec3 foot{on.x, on.y, 0}, travel{std::cos(on.heading), std::sin(on.heading), 0};
    const auto at = view.see(foot);
    if (!at) return;
    const Vec3 flat = unit_of({view.forward().x, view.forward().y, 0});
    const double across = dot(travel, view.right()), away = dot(travel, flat);
    Ride ride;
    ride.gait = Gait::trot;
    ride.seat = Seat::rising;
    ride.seed = plan.seed;
    ride.tempo_wander_pct = 0;
    const double stride = Simulation(ride).stride_length_m();
    ride.tempo_per_min = 60 * plan.figure.speed_mps / stride;  // so that a loaded hoof stands still
    const Simulation simulation(ride);
    const Instant now = simulation.at(time_s);
    Camera camera;
    constexpr double kSideOn = 0.5;
    const bool side = std::abs(across) >= kSideOn;
    camera.from = side ? From::side : away > 0 ? From::behind : From::front;
    camera.travel_left = side && across < 0;
    camera.yaw_deg = side ? std::asin(std::clamp(away, -1.0, 1.0)) * 180 / kPiHere
                          : std::asin(std::clamp(across, -1.0, 1.0)) * 180 / kPiHere;
    camera.width = camera.height = 1000;
    camera.metres_high = 1000 / view.scale(foot);
    const Projection drawn(camera, now.horse.at("centre").x);
    p.save();
    p.translate(at->x(), at->y() - drawn.scene({drawn.look_x_m(), 0, 0}).y());
    if (side) {
        paint_horse_far(p, drawn, now, plan.looks);
        paint_rider_far(p, drawn, now, plan.looks);
        paint_horse_near(p, drawn, now, plan.looks);
        paint_rider_near(p, drawn, now, plan.looks);
    } else {
        camera.from == From::front ? paint_from_front(p, drawn, now, plan.looks)
                                   : paint_from_behind(p, drawn, now, plan.looks);
    }
    p.restore();
}

}  // namespace

QImage paint_gallery(const GalleryPlan& plan, double time_s) {
    const GalleryView view(plan, time_s);
    QImage image(plan.camera.width, plan.camera.height, QImage::Format_RGB32);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    QLinearGradient sky(0, 0, 0, image.height());
    sky.setColorAt(0, QColor(0xbf, 0xcf, 0xd4));
    sky.setColorAt(1, QColor(0xe6, 0xe8, 0xdf));
    p.fillRect(image.rect(), sky);
    paint_ring(p, plan, view);
    paint_rider_on(p, plan, view, time_s);
    return image;
}

bool make_gallery_clip(const GalleryPlan& plan, const std::filesystem::path& file,
                       const std::atomic<bool>* cancel) {
    const int frames = std::max(1, static_cast<int>(std::lround(plan.duration_s * plan.camera.fps)));
    media::WriterOptions o;
    o.width = plan.camera.width;
    o.height = plan.camera.height;
    o.fps = plan.camera.fps;
    media::VideoWriter writer(file, o);
    nlohmann::json truth{{"width", o.width}, {"height", o.height}, {"frames", nlohmann::json::array()}};
    for (int n = 0; n < frames; ++n) {
        if (cancel && *cancel) return false;
        const double t = n / plan.camera.fps;
        const QImage picture = paint_gallery(plan, t);
        writer.add(picture.constBits(), static_cast<int>(picture.bytesPerLine()), t);
        const GalleryView view(plan, t);
        const OnGround on = ridden_at(plan.figure, t);
        nlohmann::json frame{{"time_s", t}, {"ground", {on.x, on.y}}, {"homography", view.homography()}};
        if (const auto at = view.see({on.x, on.y, 0})) frame["at"] = {at->x(), at->y()};
        truth["frames"].push_back(std::move(frame));
    }
    std::filesystem::path beside = file;
    std::ofstream out(beside.replace_extension(".truth.json"));
    out << truth.dump();
    if (!out.flush())
        throw core::Refused(beside.string() + ": cannot be written; check the folder and the free space");
    writer.finish();
    return true;
}

}  // namespace aspen::simulate
