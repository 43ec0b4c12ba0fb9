#include "ui/prescribe/plate_view.hpp"

#include <QPainter>

#include "app/files/data_files.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

simulate::PlateTones tones_now() { return {theme().ink, theme().quiet, theme().panel}; }

}  // namespace

simulate::Plate plate_of(const core::Exercise& exercise) {
    static const simulate::PlateBook book(app::shipped_text("exercise_plates.json"), "exercise_plates.json");
    if (const simulate::Plate* drawn = book.find(exercise.id)) return *drawn;
    simulate::Plate out;
    out.ride.wander = out.ride.tempo_wander_pct = 0;
    if (exercise.dose.ladder.empty()) return out;
    const core::Rung& rung = exercise.dose.ladder.front();
    switch (rung.work) {
        case core::Work::walk:
        case core::Work::running_walk:
            out.ride.gait = simulate::Gait::walk;
            break;
        case core::Work::trot:
            out.ride.gait = simulate::Gait::trot;
            break;
        case core::Work::canter:
        case core::Work::jump:
            out.ride.gait = simulate::Gait::canter;
            break;
        default:
            out.ride.gait = simulate::Gait::halt;
    }
    out.irons = rung.stirrups;
    if (!rung.stirrups) out.ride.knee_deg = 144;
    if (rung.reins == "none") out.hands = "strap";
    if (rung.reins == "one") out.hands = "one";
    return out;
}

QPixmap small_plate(const core::Exercise& exercise, QSize size, double pixel_ratio) {
    QPixmap out(size * pixel_ratio);
    out.setDevicePixelRatio(pixel_ratio);
    out.fill(theme().panel);
    simulate::Plate plate = plate_of(exercise);
    plate.way.clear();  // too small to be read there
    plate.marks.clear();
    plate.lines.clear();
    QPainter p(&out);
    simulate::paint_plate(p, QRectF(QPointF(0, 0), size), plate, tones_now());
    return out;
}

PlateView::PlateView(QWidget* parent) : QWidget(parent) {
    QSizePolicy grows(QSizePolicy::Expanding, QSizePolicy::Fixed);
    grows.setHeightForWidth(true);
    setSizePolicy(grows);
}

/// As wide as its column; in a large window it grows with it, up to what leaves the ladder its place.
int PlateView::heightForWidth(int width) const {
    return std::clamp(width * 63 / 100, scaled_px(200), scaled_px(460));
}

void PlateView::show_plate(const core::Exercise& exercise) {
    plate_ = plate_of(exercise);
    setAccessibleName(tr("Drawing of %1: %2").arg(text(exercise.name), text(exercise.cue_plain)));
    update();
}

QSize PlateView::sizeHint() const { return {scaled_px(400), scaled_px(264)}; }

void PlateView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().panel);
    p.drawRoundedRect(rect(), 8, 8);
    simulate::paint_plate(p, QRectF(rect()).adjusted(10, 8, -10, -8), plate_, tones_now());
}

}  // namespace aspen::ui

#include "moc_plate_view.cpp"
