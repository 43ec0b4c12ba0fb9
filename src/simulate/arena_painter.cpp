#include <algorithm>
#include <cmath>
#include <random>

#include "simulate/painting.hpp"

namespace aspen::simulate {
namespace {

constexpr double kFarShare = 0.62;   // things at the fence move slower than the horse's track
constexpr double kFarMetres = 44;    // width of the painted backdrop, metres at the fence
constexpr double kHorizonUp = 1.02;  // metres above the ground, in scene coordinates

double noise(std::mt19937& engine) { return static_cast<double>(engine()) / 4294967296.0; }

void paint_tree(QPainter& p, double x, double foot, double height, std::mt19937& engine) {
    const QColor leaf =
        QColor::fromHsl(static_cast<int>(44 + 26 * noise(engine)), static_cast<int>(70 + 45 * noise(engine)),
                        static_cast<int>(132 + 34 * noise(engine)));
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(0xd9, 0xd2, 0xc2));
    const double w = height * 0.035;
    p.drawRect(QRectF(x - w / 2, foot - height * 0.75, w, height * 0.75));
    p.setBrush(QColor(0x6b, 0x64, 0x58, 150));
    for (int i = 0; i < 5; ++i)
        p.drawRect(QRectF(x - w / 2, foot - height * (0.12 + 0.12 * i + 0.05 * noise(engine)),
                          w * (0.4 + 0.4 * noise(engine)), 1.5));
    for (int i = 0; i < 9; ++i) {
        QColor c = leaf.lighter(static_cast<int>(92 + 20 * noise(engine)));
        c.setAlpha(205);
        p.setBrush(c);
        const double r = height * (0.11 + 0.09 * noise(engine));
        p.drawEllipse(QPointF(x + height * 0.20 * (noise(engine) - 0.5) * 2,
                              foot - height * (0.52 + 0.40 * noise(engine))),
                      r, r * 1.15);
    }
}

}  // namespace

QPainterPath smooth(const std::vector<QPointF>& pts, bool closed) {
    QPainterPath path;
    const int n = static_cast<int>(pts.size());
    const auto at = [&](int i) {
        return closed ? pts[static_cast<std::size_t>((i % n + n) % n)]
                      : pts[static_cast<std::size_t>(std::clamp(i, 0, n - 1))];
    };
    path.moveTo(at(0));
    for (int i = 0; i < (closed ? n : n - 1); ++i) {
        const QPointF a = at(i) + (at(i + 1) - at(i - 1)) / 6, b = at(i + 1) - (at(i + 2) - at(i)) / 6;
        path.cubicTo(a, b, at(i + 1));
    }
    if (closed) path.closeSubpath();
    return path;
}

QPainterPath limb(QPointF a, QPointF b, double wa, double wb) {
    const QPointF d = b - a;
    const double l = std::max(1e-6, std::hypot(d.x(), d.y()));
    const QPointF n(d.y() / l,
                    -d.x() / l);  // this way round the outline turns as the ellipses at its ends do
    const QPointF mid = (a + b) / 2;
    const double wm = (wa + wb) / 2;
    QPainterPath path;
    path.moveTo(a + n * wa / 2);
    path.quadTo(mid + n * wm * 0.56, b + n * wb / 2);
    path.lineTo(b - n * wb / 2);
    path.quadTo(mid - n * wm * 0.56, a - n * wa / 2);
    path.closeSubpath();
    path.setFillRule(Qt::WindingFill);
    path.addEllipse(a, wa / 2, wa / 2);
    path.addEllipse(b, wb / 2, wb / 2);
    return path;
}

void texture(QPainter& p, const QPainterPath& inside, QPointF a, QPointF b, double width, double amount,
             unsigned seed) {
    if (amount <= 0) return;
    const QPointF along = b - a;
    const double l = std::max(1e-6, std::hypot(along.x(), along.y()));
    const QPointF across(along.y() / l, -along.x() / l);
    std::mt19937 engine(seed);
    p.save();
    p.setClipPath(inside, Qt::IntersectClip);
    p.setBrush(Qt::NoBrush);
    const int n = std::clamp(static_cast<int>(3.5 * l / std::max(1.0, width)) + 9, 9, 60);
    for (int i = 0; i < n; ++i) {
        const QPointF at = a + along * (1.3 * noise(engine) - 0.15) + across * width * (noise(engine) - 0.5);
        const bool dark = noise(engine) < 0.6;
        const QColor tone = dark
                                ? QColor(0, 0, 0, static_cast<int>(amount * (40 + 70 * noise(engine))))
                                : QColor(255, 255, 255, static_cast<int>(amount * (35 + 50 * noise(engine))));
        p.setPen(QPen(tone, width * (0.05 + 0.07 * noise(engine)), Qt::SolidLine, Qt::RoundCap));
        const QPointF fold =
            across * width * (0.1 + 0.35 * noise(engine)) + along / l * width * (0.5 * noise(engine) - 0.25);
        p.drawLine(at - fold / 2, at + fold / 2);
    }
    p.restore();
}

ArenaPainter::ArenaPainter(const Camera& camera, unsigned seed) : scale_(Projection(camera, 0).scale()) {
    const double width = kFarMetres * scale_;
    const double height = std::hypot(camera.width, camera.height) + 40;
    far_ = QImage(static_cast<int>(width), static_cast<int>(height), QImage::Format_RGB32);
    QPainter p(&far_);
    p.setRenderHint(QPainter::Antialiasing);
    paint_backdrop(p, width, height, scale_, seed);
    far_origin_x_ = width / 2;

    std::mt19937 engine(seed + 7);
    ground_ = QImage(512, std::max(64, static_cast<int>(height * 0.5)), QImage::Format_RGB32);
    for (int y = 0; y < ground_.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(ground_.scanLine(y));
        const double near = static_cast<double>(y) / ground_.height();
        for (int x = 0; x < ground_.width(); ++x) {
            const double grain = (noise(engine) - 0.5) * (10 + 22 * near);
            row[x] = qRgb(static_cast<int>(std::clamp(205 - 20 * near + grain, 0.0, 255.0)),
                          static_cast<int>(std::clamp(186 - 22 * near + grain, 0.0, 255.0)),
                          static_cast<int>(std::clamp(150 - 22 * near + grain * 0.9, 0.0, 255.0)));
        }
    }
    QPainter g(&ground_);  // hoof-worn patches, so that the surface has something to follow
    g.setRenderHint(QPainter::Antialiasing);
    g.setPen(Qt::NoPen);
    for (int i = 0; i < 90; ++i) {
        const double y = noise(engine) * ground_.height();
        const double s = 2 + 9 * y / ground_.height();
        g.setBrush(QColor(120, 98, 66, static_cast<int>(24 + 40 * noise(engine))));
        g.drawEllipse(QPointF(20 + noise(engine) * 472, y), s * 1.8, s * 0.5);
    }
}

void ArenaPainter::paint_backdrop(QPainter& p, double width, double height, double scale, unsigned seed) {
    std::mt19937 engine(seed + 3);
    const double horizon = height / 2 + (1.33 - kHorizonUp) * scale;
    QLinearGradient sky(0, 0, 0, horizon);
    sky.setColorAt(0, QColor(0xa9, 0xc6, 0xd8));
    sky.setColorAt(1, QColor(0xee, 0xe6, 0xd2));
    p.fillRect(QRectF(0, 0, width, horizon + 2), sky);
    p.setPen(Qt::NoPen);
    for (int band = 0; band < 2; ++band) {  // hills in flat washes
        std::vector<QPointF> hill{{-50, horizon + 4}};
        for (double x = -50; x < width + 100; x += scale * 1.4)
            hill.emplace_back(x, horizon - scale * (0.75 - 0.3 * band) * (0.6 + 0.5 * noise(engine)));
        hill.emplace_back(width + 100, horizon + 4);
        p.setBrush(band == 0 ? QColor(0xb7, 0xc3, 0xb4) : QColor(0x9b, 0xad, 0x96));
        p.drawPath(smooth(hill, false));
    }
    for (double x = 0; x < width; x += scale * (0.22 + 0.5 * noise(engine)))
        paint_tree(p, x, horizon + 3, scale * (0.9 + 0.75 * noise(engine)), engine);
    QLinearGradient grass(0, horizon, 0, horizon + scale * 0.3);
    grass.setColorAt(0, QColor(0x93, 0xa6, 0x72));
    grass.setColorAt(1, QColor(0xa9, 0xb0, 0x7c));
    p.fillRect(QRectF(0, horizon, width, scale * 0.34), grass);
    p.fillRect(QRectF(0, horizon + scale * 0.33, width, height), QColor(0xcd, 0xba, 0x96));
    const double top = horizon - scale * 0.22, foot = horizon + scale * 0.36;
    p.setPen(Qt::NoPen);
    for (double x = 0; x < width; x += scale * 1.25) {  // fence
        p.setBrush(QColor(0xe9, 0xe3, 0xd4));
        p.drawRoundedRect(QRectF(x, top, scale * 0.075, foot - top), 2, 2);
        p.setBrush(QColor(0xb9, 0xb1, 0x9f));
        p.drawRect(QRectF(x + scale * 0.05, top, scale * 0.025, foot - top));
    }
    for (const double at : {0.10, 0.30}) {
        p.setBrush(QColor(0xf2, 0xed, 0xe0));
        p.drawRect(QRectF(0, top + scale * at, width, scale * 0.065));
        p.setBrush(QColor(0xc3, 0xbb, 0xa9));
        p.drawRect(QRectF(0, top + scale * (at + 0.05), width, scale * 0.02));
    }
    static const char* letters[] = {"K", "E", "H", "C", "M", "B", "F", "A"};
    int i = static_cast<int>(seed % 8);
    for (double x = scale * 2.1; x < width; x += scale * 5, ++i) {
        const QRectF board(x, foot - scale * 0.34, scale * 0.30, scale * 0.34);
        p.setBrush(QColor(0xfb, 0xf8, 0xf0));
        p.setPen(QPen(QColor(0x8c, 0x84, 0x74), 1.2));
        p.drawRoundedRect(board, 3, 3);
        QFont font("Vollkorn");
        font.setPixelSize(static_cast<int>(scale * 0.25));
        font.setBold(true);
        p.setFont(font);
        p.setPen(QColor(0x2c, 0x38, 0x33));
        p.drawText(board, Qt::AlignCenter, letters[i % 8]);
        p.setPen(Qt::NoPen);
    }
}

void ArenaPainter::paint(QPainter& p, const Projection& view) const {
    const double direction = view.near_side();
    const bool behind = view.camera().from != From::side;
    const double far_shift = behind ? 0 : -direction * view.look_x_m() * kFarShare * scale_ * 0.5;
    const double origin =
        std::round(std::fmod(far_shift, far_.width() / 2.0));  // whole pixels: a plain copy, no resampling
    p.drawImage(QPointF(-far_origin_x_ + origin, -far_.height() / 2.0), far_);
    if (origin > far_origin_x_ - view.camera().width)
        p.drawImage(QPointF(-far_origin_x_ + origin - far_.width(), -far_.height() / 2.0), far_);
    if (origin < -(far_origin_x_ - view.camera().width))
        p.drawImage(QPointF(-far_origin_x_ + origin + far_.width(), -far_.height() / 2.0), far_);
    const double top = std::round((1.33 - 0.52) * scale_);
    const double shift = behind ? 0 : std::round(std::fmod(-direction * view.look_x_m() * scale_, 512.0));
    const double half = std::hypot(view.camera().width, view.camera().height) / 2 + 20;
    for (double x = -std::ceil((half + 512) / 512) * 512 + shift; x < half; x += 512)
        p.drawImage(QPointF(x, top), ground_);
    QLinearGradient edge(0, top - 2, 0, top + scale_ * 0.12);
    edge.setColorAt(0, QColor(0xcd, 0xba, 0x96));
    edge.setColorAt(1, QColor(0xcd, 0xba, 0x96, 0));
    p.fillRect(QRectF(-half, top - 2, 2 * half, scale_ * 0.12), edge);
}

void paint_fences(QPainter& p, const Projection& view, const std::vector<double>& at_m) {
    constexpr double kHigh = 0.60, kPost = 1.05, kWide = 0.09;
    for (const double x : at_m) {
        const auto at = [&](double up, double z) { return view.scene({x, up, z}); };
        const double scale = view.scale();
        for (const double z : {-1.6, 1.6}) {  // the posts on either side
            const QPointF foot = at(0, z * view.near_side()), top = at(kPost, z * view.near_side());
            p.setPen(QPen(QColor(0x8c, 0x84, 0x74), 1));
            p.setBrush(z < 0 ? QColor(0xd8, 0xd1, 0xc0) : QColor(0xee, 0xe9, 0xdc));
            p.drawRect(QRectF(top - QPointF(kWide * scale / 2, 0), foot + QPointF(kWide * scale / 2, 0)));
        }
        p.setPen(QPen(QColor(0x5b, 0x3a, 0x2a), 1));
        for (const double up : {kHigh, kHigh / 2}) {  // the poles, seen from their ends
            p.setBrush(up == kHigh ? QColor(0xc4, 0x63, 0x4a) : QColor(0xf3, 0xee, 0xe2));
            p.drawEllipse(at(up, 0), 0.055 * scale, 0.055 * scale);
        }
    }
}

}  // namespace aspen::simulate
