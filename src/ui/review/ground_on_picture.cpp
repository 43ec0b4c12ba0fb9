#include "ui/review/ground_on_picture.hpp"

#include <Eigen/Dense>
#include <QPen>
#include <cmath>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

const QColor kGridUnder(20, 26, 24, 110), kGridOver(255, 253, 248, 150), kEdgeOver(255, 253, 248, 230);

class OverPicture {
  public:
    OverPicture(QPainter& p, const PictureStage::Place& place, const app::RiddenGround& ground,
                const Eigen::Matrix3d& to_laid)
        : p_(p), place_(place), ground_(ground), turn_(to_laid) {}

    void line(core::GroundPoint a, core::GroundPoint b, const QColor& colour, double wide) const {
        constexpr double kStepM = 1;
        const int n = std::max(1, static_cast<int>(std::ceil(core::distance(a, b) / kStepM)));
        std::vector<core::GroundPoint> all;
        for (int i = 0; i <= n; ++i) all.push_back({a.x + (b.x - a.x) * i / n, a.y + (b.y - a.y) * i / n});
        way(all, colour, wide);
    }
    void way(const std::vector<core::GroundPoint>& all, const QColor& colour, double wide) const {
        QPolygonF part;
        const auto flush = [&] {
            if (part.size() > 1) {
                p_.setPen(QPen(kGridUnder, wide + 1.6));
                p_.drawPolyline(part);
                p_.setPen(QPen(colour, wide));
                p_.drawPolyline(part);
            }
            part.clear();
        };
        for (const core::GroundPoint& g : all) {
            const auto at = seen_on(ground_, turn_, g);
            if (!at) {
                flush();
                continue;
            }
            part << place_.map({at->x(), at->y()});
        }
        flush();
    }

  private:
    QPainter& p_;
    const PictureStage::Place& place_;
    const app::RiddenGround& ground_;
    const Eigen::Matrix3d& turn_;
};

void paint_named(QPainter& p, QPointF at, const QString& name, bool clicked) {
    p.setBrush(Qt::NoBrush);
    if (clicked) {
        p.setPen(QPen(QColor(20, 26, 24, 190), 4));
        p.drawEllipse(at, 5, 5);
        p.setPen(QPen(kPictureSky, 2));
        p.drawEllipse(at, 5, 5);
    }
    p.setFont(text_font(12, true));
    const QRectF pill(at + QPointF(-11, 7), QSizeF(p.fontMetrics().horizontalAdvance(name) + 12.0, 17));
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(20, 26, 24, clicked ? 210 : 130));
    p.drawRoundedRect(pill, 8, 8);
    p.setPen(kBone);
    p.drawText(pill, Qt::AlignCenter, name);
}

void paint_grid(const OverPicture& over, const core::ArenaFrame& arena) {
    constexpr double kGridM = 5;
    const double half = arena.width_m() / 2, length = arena.length_m();
    for (double x = kGridM; x < length - 0.5; x += kGridM) over.line({x, -half}, {x, half}, kGridOver, 0.8);
    for (double y = kGridM - half; y < half - 0.5; y += kGridM)
        over.line({0, y}, {length, y}, kGridOver, 0.8);
    for (const auto& [a, b] : {std::pair(core::GroundPoint{0, half}, core::GroundPoint{length, half}),
                               {{length, half}, {length, -half}},
                               {{length, -half}, {0, -half}},
                               {{0, -half}, {0, half}}})
        over.line(a, b, kEdgeOver, 1.6);
}

}  // namespace

std::optional<QPointF> seen_on(const app::RiddenGround& ground, const Eigen::Matrix3d& to_laid,
                               core::GroundPoint at) {
    const Eigen::Matrix3d h = to_laid.inverse() * ground.laid->homography();
    const Eigen::Vector3d p = h * Eigen::Vector3d(at.x, at.y, 1);
    if (p.z() * ground.depth_sign <= 1e-9) return std::nullopt;
    return QPointF(p.x() / p.z(), p.y() / p.z());
}

void paint_ground_over(QPainter& p, const PictureStage::Place& place, const app::WayWork& work,
                       const app::BenchState& now, std::optional<core::Point> waiting) {
    const app::RiddenGround* ground = work.ground();
    const int frame = now.deck().frame();
    p.setRenderHint(QPainter::Antialiasing);
    const QSizeF size(now.deck().display_size());
    p.save();
    p.setClipRect(QRectF(place.map({0, 0}), place.map({size.width(), size.height()})), Qt::IntersectClip);
    const auto turn = ground && ground->laid ? ground->to_laid(frame) : std::nullopt;
    if (turn) {
        const OverPicture over(p, place, *ground, *turn);
        paint_grid(over, ground->arena);
        std::vector<core::GroundPoint> way;
        for (const core::WayPoint& w : ground->way) way.push_back(w.place.at);
        over.way(way, kPictureSky, 2);
        for (const auto& [name, at] : ground->arena.places()) {
            const auto seen = seen_on(*ground, *turn, at);
            const bool inside = seen && QRectF({0, 0}, QSizeF(now.deck().display_size())).contains(*seen);
            if (inside && !ground->arena.is_corner(name))
                paint_named(p, place.map({seen->x(), seen->y()}), QString::fromStdString(name), false);
        }
    }
    for (const store::ArenaMark& m : work.marks().marks) {
        const bool still = !ground || ground->still;
        if (m.kind == store::ArenaMarkKind::horse ? m.frame != frame : !still && m.frame != frame) continue;
        if (m.kind == store::ArenaMarkKind::length) {
            p.setPen(QPen(kPictureSky, 2));
            p.drawLine(place.map(m.a), place.map(m.b));
            continue;
        }
        paint_named(
            p, place.map(m.a),
            m.kind == store::ArenaMarkKind::horse ? QString::fromUtf8("∩") : QString::fromStdString(m.name),
            true);
    }
    if (waiting) paint_named(p, place.map(*waiting), "?", true);
    p.restore();
}

}  // namespace aspen::ui
