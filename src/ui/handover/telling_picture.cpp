#include "ui/handover/telling_picture.hpp"

#include <QPainter>

#include "ui/shared/theme.hpp"

namespace aspen::ui {

TellingPicture::TellingPicture(app::TellingDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setAccessibleName(tr("The review as it will be seen"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    connect(&desk_, &app::TellingDesk::moved, this, qOverload<>(&QWidget::update));
    connect(&desk_, &app::TellingDesk::changed, this, qOverload<>(&QWidget::update));
}

void TellingPicture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().picture_ground);
    const QImage picture = desk_.picture(size());
    if (!picture.isNull()) {
        const QSize left = size() - picture.size();
        return p.drawImage(QPoint(left.width() / 2, left.height() / 2), picture);
    }
    p.setFont(text_font(14));
    p.setPen(kSoft);
    p.drawText(rect().adjusted(40, 0, -40, 0), Qt::AlignCenter | Qt::TextWordWrap,
               tr("The picture is coming …"));
}

}  // namespace aspen::ui

#include "moc_telling_picture.cpp"
