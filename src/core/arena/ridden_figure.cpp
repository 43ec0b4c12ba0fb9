#include "core/arena/ridden_figure.hpp"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

constexpr double kNinety = 1.645;
constexpr double kSpeedWindowS = 0.5;     // to either side
constexpr std::size_t kFewestPlaces = 8;  // points of a figure
constexpr int kEighths = 8;
constexpr int kShape = 12;
constexpr int kQuick[] = {5, 6, 7,
                          9};  // of the radius' harmonics, the nearest; the eighth is the square's own

using WayPlaces = std::vector<Eigen::Vector2d>;
/// One over the standard deviation of each place away from the circle's middle: far from the camera a place
/// is known much worse along the look than across it.
using WayWeights = std::vector<double>;

struct Circle {
    Eigen::Vector2d centre{0, 0};
    double radius = 0;
};

/// Algebraic (Kåsa), then geometric by Gauss and Newton.
Circle fit_circle(const WayPlaces& at, const WayWeights& weights) {
    const auto n = static_cast<Eigen::Index>(at.size());
    Eigen::MatrixXd a(n, 3);
    Eigen::VectorXd b(n);
    Eigen::Vector2d middle = Eigen::Vector2d::Zero();
    for (const auto& p : at) middle += p / static_cast<double>(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const Eigen::Vector2d p = at[static_cast<std::size_t>(i)] - middle;
        a.row(i) << p.x(), p.y(), 1;
        b(i) = p.squaredNorm();
    }
    const Eigen::Vector3d s = a.colPivHouseholderQr().solve(b);
    Circle c{{s.x() / 2, s.y() / 2}, 0};
    c.radius = std::sqrt(std::max(0.0, s.z() + c.centre.squaredNorm()));
    for (int round = 0; round < 40; ++round) {
        Eigen::MatrixXd j(n, 3);
        Eigen::VectorXd r(n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const Eigen::Vector2d d = at[static_cast<std::size_t>(i)] - middle - c.centre;
            const double l = std::max(d.norm(), 1e-9);
            const double w = weights[static_cast<std::size_t>(i)];
            j.row(i) << -w * d.x() / l, -w * d.y() / l, -w;
            r(i) = w * (l - c.radius);
        }
        const Eigen::Vector3d step = j.colPivHouseholderQr().solve(-r);
        if (!step.allFinite()) break;
        c.centre += step.head<2>();
        c.radius += step.z();
        if (step.norm() < 1e-10) break;
    }
    c.centre += middle;
    return c;
}

/// Everything that is said of a circle: diameter, centre, the eighths' deviations, the square.
struct CircleSaid {
    Circle circle;
    std::array<std::optional<double>, kEighths> eighths{};
    double square_c = 0, square_s = 0;  ///< of cos 4θ and sin 4θ
    double each2 = 0;  ///< variance of a mean over the whole figure, by the error of following
};
CircleSaid say_circle(const WayPlaces& at, const WayWeights& weights, const AskedFigure& asked) {
    CircleSaid out{fit_circle(at, weights), {}, 0, 0, 0};
    Circle against = out.circle;
    if (asked.centre && asked.diameter_m)
        against = {{asked.centre->x, asked.centre->y}, *asked.diameter_m / 2};
    std::array<double, kEighths> sum{};
    std::array<int, kEighths> count{};
    const auto n = static_cast<Eigen::Index>(at.size());
    Eigen::MatrixXd a(n, 5);
    Eigen::VectorXd b(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const Eigen::Vector2d& p = at[static_cast<std::size_t>(i)];
        const Eigen::Vector2d off = p - against.centre, own = p - out.circle.centre;
        const double turn = std::atan2(off.y(), off.x()) / (2 * std::numbers::pi);
        const auto k = static_cast<std::size_t>(std::floor((turn - std::floor(turn)) * kEighths)) % kEighths;
        sum[k] += off.norm() - against.radius;
        ++count[k];
        const double t = std::atan2(own.y(), own.x());
        a.row(i) << 1, std::cos(t), std::sin(t), std::cos(4 * t), std::sin(4 * t);
        b(i) = own.norm() - out.circle.radius;
    }
    for (std::size_t k = 0; k < kEighths; ++k) {
        if (count[k] > 0) out.eighths[k] = sum[k] / count[k];
    }
    const Eigen::Map<const Eigen::VectorXd> w(weights.data(), n);
    const Eigen::VectorXd s = (w.asDiagonal() * a).colPivHouseholderQr().solve(w.cwiseProduct(b));
    out.square_c = s(3);
    out.square_s = s(4);
    // A horse rides slow harmonics; what stands in the quick ones is the error of following, and the slow
    // ones hold as much of it (an error that lasts is louder there: the nearest quick ones count).
    Eigen::MatrixXd shape(n, 1 + 2 * kShape);
    for (Eigen::Index i = 0; i < n; ++i) {
        const double t = std::atan2(a(i, 2), a(i, 1));
        shape(i, 0) = 1;
        for (int k = 1; k <= kShape; ++k)
            shape(i, 2 * k - 1) = std::cos(k * t), shape(i, 2 * k) = std::sin(k * t);
    }
    const Eigen::VectorXd waves = (w.asDiagonal() * shape).colPivHouseholderQr().solve(w.cwiseProduct(b)),
                          left = b - shape * waves;
    double quick = 0;
    for (const int k : kQuick)
        quick +=
            (waves(2 * k - 1) * waves(2 * k - 1) + waves(2 * k) * waves(2 * k)) / (4.0 * std::size(kQuick));
    const double rest = left.squaredNorm() / std::max<double>(1, static_cast<double>(n - shape.cols()));
    out.each2 = std::max(quick, rest / static_cast<double>(n));
    return out;
}

/// How many of the points say something of their own: errors of following last, and how long they do is read
/// from what is left itself (the lag-one autocorrelation of an autoregressive error).
double independent_of(const std::vector<double>& left) {
    double all = 0, next = 0;
    for (std::size_t i = 0; i < left.size(); ++i) {
        all += left[i] * left[i];
        if (i > 0) next += left[i] * left[i - 1];
    }
    const double alike = all > 0 ? std::clamp(next / all, 0.0, 0.98) : 0;
    const auto n = static_cast<double>(left.size());
    return std::clamp(n * (1 - alike) / (1 + alike), 3.0, n);
}

struct LineSaid {
    double off = 0, sway = 0, scatter = 0;
    std::size_t worst = 0;
    Eigen::Vector2d across{0, 1};
    std::vector<double> sideways{};
};
LineSaid say_line(const WayPlaces& at, const AskedFigure& asked, const ArenaFrame& arena) {
    LineSaid out;
    Eigen::Vector2d middle = Eigen::Vector2d::Zero();
    for (const auto& p : at) middle += p / static_cast<double>(at.size());
    Eigen::Matrix2d spread = Eigen::Matrix2d::Zero();
    for (const auto& p : at) spread += (p - middle) * (p - middle).transpose();
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> eigen(spread);
    const Eigen::Vector2d across = eigen.eigenvectors().col(0);
    out.across = across;
    double squares = 0, rough = 0;
    std::vector<double>& sideways = out.sideways;
    for (const auto& p : at) sideways.push_back((p - middle).dot(across));
    for (const double s : sideways) squares += s * s;
    // What jumps from one point to the next is noise, what wanders is sway.
    for (std::size_t i = 1; i < sideways.size(); ++i)
        rough += (sideways[i] - sideways[i - 1]) * (sideways[i] - sideways[i - 1]);
    const auto n = static_cast<double>(sideways.size());
    const double noise = rough / (2 * std::max(1.0, n - 1));
    out.scatter = std::sqrt(squares / n);
    out.sway = 2 * std::sqrt(2.0) * std::sqrt(std::max(0.0, squares / n - noise));
    const double wall = asked.side == "right" ? -arena.width_m() / 2 : arena.width_m() / 2;
    if (asked.kind == FigureKind::wall) out.off = std::abs(wall - middle.y());
    if (asked.kind == FigureKind::centre_line) out.off = middle.y();
    if (asked.kind == FigureKind::diagonal && asked.from && asked.until) {
        const Eigen::Vector2d from(asked.from->x, asked.from->y),
            along = (Eigen::Vector2d(asked.until->x, asked.until->y) - from).normalized();
        out.off = along.x() * (middle.y() - from.y()) - along.y() * (middle.x() - from.x());
    }
    for (std::size_t i = 1; i < sideways.size(); ++i) {
        if (std::abs(sideways[i]) > std::abs(sideways[out.worst])) out.worst = i;
    }
    return out;
}

/// The figure's places as they are, and as each common error would have them.
class Alternatives {
  public:
    Alternatives(std::vector<const WayPoint*> points, const std::vector<LaidGround>& grounds)
        : points_(std::move(points)), grounds_(grounds) {}
    WayPlaces as_they_are() const {
        WayPlaces out;
        for (const WayPoint* p : points_) out.emplace_back(p->place.at.x, p->place.at.y);
        return out;
    }
    WayWeights weights(const Eigen::Vector2d& middle) const {
        constexpr double kLeastSd = 0.02;  // metres: no hoof is known better
        WayWeights out;
        for (const WayPoint* p : points_) {
            const Eigen::Vector2d away =
                (Eigen::Vector2d(p->place.at.x, p->place.at.y) - middle).normalized();
            out.push_back(1 / std::max(kLeastSd, std::sqrt(away.dot(p->place.covariance * away))));
        }
        return out;
    }
    /// Calls with the places moved by one standard deviation of each common error in turn.
    template <typename With>
    void each(const With& with) const {
        const WayPlaces now = as_they_are();
        for (std::size_t g = 0; g < grounds_.size(); ++g) {
            for (int k = 0; k < LaidGround::kDirections; ++k) {
                constexpr double kPart = 0.1;  // of a standard deviation: the way is straight there
                WayPlaces moved = now;
                for (std::size_t i = 0; i < points_.size(); ++i) {
                    if (points_[i]->under != g) continue;
                    const GroundPoint a = grounds_[g].place_moved(points_[i]->x, points_[i]->y, k, kPart),
                                      b = grounds_[g].place_moved(points_[i]->x, points_[i]->y, k, -kPart);
                    moved[i] += Eigen::Vector2d(a.x - b.x, a.y - b.y) / (2 * kPart);
                }
                with(moved);
            }
        }
        WayPlaces lifted = now;
        bool any = false;
        for (std::size_t i = 0; i < points_.size(); ++i) {
            const auto& camera = grounds_[points_[i]->under].camera();
            if (!camera) continue;
            any = true;
            lifted[i] += (now[i] - camera->head<2>()) * points_[i]->height_sd_m / std::max(camera->z(), 0.5);
        }
        if (any) with(lifted);
    }

  private:
    std::vector<const WayPoint*> points_;
    const std::vector<LaidGround>& grounds_;
};

RiddenFigure ridden_circle(const AskedFigure& asked, const Alternatives& places) {
    RiddenFigure out;
    const WayPlaces now = places.as_they_are();
    const WayWeights weights = places.weights(fit_circle(now, WayWeights(now.size(), 1.0)).centre);
    const CircleSaid said = say_circle(now, weights, asked);
    double turned = 0;
    for (std::size_t i = 1; i < now.size(); ++i) {
        const Eigen::Vector2d a = now[i - 1] - said.circle.centre, b = now[i] - said.circle.centre;
        turned += std::atan2(a.x() * b.y() - a.y() * b.x(), a.dot(b));
    }
    constexpr double kLeastTurn = std::numbers::pi / 2;
    if (std::abs(turned) < kLeastTurn)
        throw Refused("circle: less than a quarter of it was ridden in that time; say a longer one");
    out.diameter_m = 2 * said.circle.radius;
    out.centre = GroundPoint{said.circle.centre.x(), said.circle.centre.y()};
    const double amplitude = std::hypot(said.square_c, said.square_s);
    const double laps = std::max(0.25, std::abs(turned) / (2 * std::numbers::pi));
    double diameter2 = 0, square2 = 0;
    std::array<double, kEighths> eighth2{};
    places.each([&](const WayPlaces& moved) {
        const CircleSaid m = say_circle(moved, weights, asked);
        diameter2 += 4 * (m.circle.radius - said.circle.radius) * (m.circle.radius - said.circle.radius);
        const double dc = m.square_c - said.square_c, ds = m.square_s - said.square_s;
        square2 += 4 * (dc * dc + ds * ds);
        for (std::size_t k = 0; k < kEighths; ++k) {
            if (!m.eighths[k] || !said.eighths[k]) continue;
            eighth2[k] += (*m.eighths[k] - *said.eighths[k]) * (*m.eighths[k] - *said.eighths[k]);
        }
    });
    const double each2 = said.each2;
    // An arc tells its circle the worse the shorter it is: the sagitta grows with the square of the turn.
    const double arc = laps >= 1 ? 1 : 1 / (laps * laps);
    out.diameter_sd_m = std::sqrt(diameter2 + 4 * each2 * arc * arc);
    out.square_m = 2 * std::sqrt(std::max(0.0, amplitude * amplitude - 2 * each2));
    out.square_sd_m = std::sqrt(square2 + 8 * each2 * arc);
    for (std::size_t k = 0; k < kEighths; ++k) {
        if (!said.eighths[k]) continue;
        Eighth e{45.0 * static_cast<double>(k), *said.eighths[k],
                 std::sqrt(eighth2[k] + each2 * kEighths / std::max(laps, 1.0)), false};
        e.certain = std::abs(e.deviation_m) > kNinety * e.sd_m;
        out.eighths.push_back(e);
    }
    return out;
}

/// The middle of the eighth that is farthest off for certain, else of the farthest one.
void say_worst_of_circle(RiddenFigure& out, const AskedFigure& asked,
                         const std::vector<const WayPoint*>& points) {
    const Eighth* worst = nullptr;
    for (const Eighth& e : out.eighths) {
        const bool more = !worst || std::abs(e.deviation_m) > std::abs(worst->deviation_m);
        if (!worst || (e.certain && !worst->certain) || (e.certain == worst->certain && more)) worst = &e;
    }
    if (!worst || !out.centre) return;
    out.worst_m = worst->deviation_m;
    const GroundPoint centre = asked.centre && asked.diameter_m ? *asked.centre : *out.centre;
    const double wanted = (worst->from_deg + 22.5) * std::numbers::pi / 180;
    double least = 10;
    for (const WayPoint* p : points) {
        const double a = std::atan2(p->place.at.y - centre.y, p->place.at.x - centre.x) - wanted;
        const double off = std::abs(std::atan2(std::sin(a), std::cos(a)));
        if (off < least) least = off, out.worst_s = p->time_s;
    }
}

/// The place nearest to a corner; how near it is.
struct CornerSaid {
    std::size_t nearest = 0;
    double deep = 0;
};
CornerSaid say_corner(const WayPlaces& at, GroundPoint corner) {
    CornerSaid out{0, (at.front() - Eigen::Vector2d(corner.x, corner.y)).norm()};
    for (std::size_t i = 1; i < at.size(); ++i) {
        const double away = (at[i] - Eigen::Vector2d(corner.x, corner.y)).norm();
        if (away < out.deep) out = {i, away};
    }
    return out;
}

/// Between two crossings of the centre line the way goes out to one side and comes back: a loop.
std::vector<std::size_t> loops_of(const WayPlaces& at) {
    constexpr double kLeastLoopM = 1.5;
    std::vector<std::size_t> out;
    std::size_t farthest = 0;
    for (std::size_t i = 1; i <= at.size(); ++i) {
        const bool over = i == at.size() || at[i].y() * at[i - 1].y() < 0;
        if (!over) {
            if (std::abs(at[i].y()) > std::abs(at[farthest].y())) farthest = i;
            continue;
        }
        if (std::abs(at[farthest].y()) > kLeastLoopM) out.push_back(farthest);
        if (i < at.size()) farthest = i;
    }
    return out;
}

void say_loops(RiddenFigure& out, const std::vector<const WayPoint*>& points, const Alternatives& places) {
    const WayPlaces now = places.as_they_are();
    const auto loops = loops_of(now);
    std::vector<double> squares(loops.size(), 0);
    places.each([&](const WayPlaces& moved) {
        for (std::size_t k = 0; k < loops.size(); ++k) {
            const double by = moved[loops[k]].y() - now[loops[k]].y();
            squares[k] += by * by;
        }
    });
    for (std::size_t k = 0; k < loops.size(); ++k) {
        const WayPoint& p = *points[loops[k]];
        out.loops.push_back({now[loops[k]].x(), now[loops[k]].y(),
                             std::sqrt(squares[k] + p.place.covariance(1, 1)), p.time_s});
    }
}

RiddenFigure ridden_corner(const AskedFigure& asked, const std::vector<const WayPoint*>& points,
                           const Alternatives& places) {
    if (!asked.from) throw Refused("corner: say which one, AK, AF, CH or CM");
    RiddenFigure out;
    const CornerSaid said = say_corner(places.as_they_are(), *asked.from);
    double common2 = 0;
    places.each([&](const WayPlaces& moved) {
        const double by = say_corner(moved, *asked.from).deep - said.deep;
        common2 += by * by;
    });
    out.off_m = said.deep;
    const double own = points[said.nearest]->place.sd_m;
    out.off_sd_m = std::sqrt(common2 + own * own);
    out.worst_s = points[said.nearest]->time_s;
    out.worst_m = said.deep;
    return out;
}

}  // namespace

std::string_view word(FigureKind kind) {
    constexpr std::string_view kWords[] = {"circle",   "line",   "wall",      "centre_line",
                                           "diagonal", "corner", "serpentine"};
    return kWords[static_cast<std::size_t>(kind)];
}

std::vector<WayPoint> smoothed(std::vector<WayPoint> way) {
    constexpr double kReachS = 0.34;
    const std::vector<WayPoint> as_it_was = way;
    for (WayPoint& p : way) {
        Eigen::Matrix3d a = Eigen::Matrix3d::Zero();
        Eigen::Matrix<double, 3, 2> b = Eigen::Matrix<double, 3, 2>::Zero();
        int n = 0;
        for (const WayPoint& q : as_it_was) {
            const double t = q.time_s - p.time_s;
            if (std::abs(t) > kReachS) continue;
            const Eigen::Vector3d row(1, t, t * t);
            a += row * row.transpose();
            b += row * Eigen::RowVector2d(q.place.at.x, q.place.at.y);
            ++n;
        }
        constexpr int kFewestPoints = 4;
        if (n < kFewestPoints) continue;
        const Eigen::Matrix<double, 3, 2> s = a.ldlt().solve(b);
        if (s.allFinite()) p.place.at = {s(0, 0), s(0, 1)};
    }
    add_speeds(way);
    return way;
}

void add_speeds(std::vector<WayPoint>& way) {
    for (WayPoint& p : way) {
        double n = 0, t = 0, tt = 0;
        Eigen::Vector2d s = Eigen::Vector2d::Zero(), ts = Eigen::Vector2d::Zero();
        for (const WayPoint& q : way) {
            const double dt = q.time_s - p.time_s;
            if (std::abs(dt) > kSpeedWindowS + 1e-9) continue;
            const Eigen::Vector2d at(q.place.at.x, q.place.at.y);
            n += 1, t += dt, tt += dt * dt, s += at, ts += dt * at;
        }
        const double below = n * tt - t * t;
        p.speed_m_per_s.reset();
        if (n >= 3 && below > 1e-12) p.speed_m_per_s = ((n * ts - t * s) / below).norm();
    }
}

RiddenFigure hold_against(const AskedFigure& asked, const std::vector<WayPoint>& way,
                          const std::vector<LaidGround>& grounds, const ArenaFrame& arena) {
    std::vector<const WayPoint*> points;
    for (const WayPoint& p : way) {
        if (p.time_s >= asked.from_s - 1e-9 && p.time_s <= asked.to_s + 1e-9) points.push_back(&p);
    }
    if (points.size() < kFewestPlaces)
        throw Refused(fmt::format("{}: {} places between {:g} and {:g} s; at least {} are needed",
                                  word(asked.kind), points.size(), asked.from_s, asked.to_s, kFewestPlaces));
    const std::size_t count = points.size();
    const Alternatives places(points, grounds);
    RiddenFigure out;
    if (asked.kind == FigureKind::circle) {
        out = ridden_circle(asked, places);
        say_worst_of_circle(out, asked, points);
    } else if (asked.kind == FigureKind::corner) {
        out = ridden_corner(asked, points, places);
    } else if (asked.kind == FigureKind::serpentine) {
        say_loops(out, points, places);
    } else {
        const LineSaid said = say_line(places.as_they_are(), asked, arena);
        out.sway_m = said.sway;
        out.worst_s = points[said.worst]->time_s;
        out.worst_m = said.sideways[said.worst];
        double common2 = 0, sway2 = 0;
        for (const WayPoint* p : points)  // the worst place may be the one that sways
            sway2 = std::max(sway2, said.across.dot(p->place.covariance * said.across));
        places.each([&](const WayPlaces& moved) {
            const LineSaid m = say_line(moved, asked, arena);
            common2 += (m.off - said.off) * (m.off - said.off);
            sway2 += (m.sway - said.sway) * (m.sway - said.sway);
        });
        out.sway_sd_m = std::sqrt(sway2);
        if (asked.kind != FigureKind::line) {
            out.off_m = said.off;
            out.off_sd_m = std::sqrt(common2 + said.scatter * said.scatter / independent_of(said.sideways));
        }
    }
    out.kind = asked.kind;
    out.points = count;
    return out;
}

}  // namespace aspen::core
