#include "ui/prescribe/plan_picture.hpp"

#include <QPainter>
#include <algorithm>

#include "exchange/frame_marks_painter.hpp"
#include "ui/shared/picture_stage.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {

PlanPicture::PlanPicture(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(scaled_px(150));
    setAccessibleName(tr("The moment that shows it, with its mark"));
}

void PlanPicture::show_frame(const app::FocusFrame& frame, const QImage& picture) {
    frame_ = frame;
    picture_ = picture;
    around_ = {};
    for (const core::Landmark l : core::landmarks_of(frame.figure.view)) {
        if (frame.figure[l].visibility != core::Visibility::absent)
            around_ |= QRectF(frame.figure[l].at.x - 1, frame.figure[l].at.y - 1, 2, 2);
    }
    around_ = around_.isNull() ? QRectF(picture.rect()) : around_.adjusted(-60, -70, 60, 40);
    update();
}

void PlanPicture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().picture_ground);
    if (picture_.isNull()) return;
    PictureStage stage;
    stage.set_picture(picture_, {});
    stage.add_layer(figure_layer([this] { return frame_.figure; }, 0, false));
    stage.add_layer([this](QPainter& painter, const PictureStage::Place& place) {
        const exchange::MarksLook look{[&](core::Point q) { return place.map(q); }, 1, text_font(14, true)};
        exchange::paint_frame_marks(painter, frame_.figure, frame_.annotated.marks, frame_.annotated.target,
                                    look);
    });
    // As wide as the widget is for its height, and whole inside the picture.
    QRectF shown = around_;
    const double wanted = static_cast<double>(width()) / std::max(1, height());
    if (shown.width() < wanted * shown.height())
        shown.adjust(-(wanted * shown.height() - shown.width()) / 2, 0,
                     (wanted * shown.height() - shown.width()) / 2, 0);
    else
        shown.adjust(0, -(shown.width() / wanted - shown.height()) / 2, 0,
                     (shown.width() / wanted - shown.height()) / 2);
    const QRectF all(picture_.rect());
    shown.moveLeft(std::clamp(shown.left(), all.left(), std::max(all.left(), all.right() - shown.width())));
    shown.moveTop(std::clamp(shown.top(), all.top(), std::max(all.top(), all.bottom() - shown.height())));
    stage.paint(p, PictureStage::framed(shown & all, QRectF(rect())));
}

}  // namespace aspen::ui
