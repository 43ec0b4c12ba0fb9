#include "ui/handover/storyboard.hpp"

#include <QPainter>
#include <QPainterPath>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr int kBoardWide = 272, kPicture = 153, kBoardWords = 64, kBoardGap = 20;

}  // namespace

Storyboard::Storyboard(app::Thumbs& thumbs, QWidget* parent) : QWidget(parent), thumbs_(thumbs) {
    connect(&thumbs_, &app::Thumbs::changed, this, qOverload<>(&QWidget::update));
}

void Storyboard::show_cards(std::vector<Card> cards) {
    cards_ = std::move(cards);
    QStringList said;
    for (const Card& c : cards_) said << c.time + " " + c.title + ": " + c.words;
    setAccessibleName(said.join("; "));
    resizeEvent(nullptr);
    update();
}

QRect Storyboard::area(std::size_t card) const {
    const int wide = scaled_px(kBoardWide), high = scaled_px(kPicture + kBoardWords), gap = kBoardGap;
    const int columns = std::max(1, (width() + gap) / (wide + gap)), n = static_cast<int>(card);
    return {n % columns * (wide + gap), n / columns * (high + gap), wide, high};
}

void Storyboard::resizeEvent(QResizeEvent*) {
    setMinimumHeight(cards_.empty() ? 0 : area(cards_.size() - 1).bottom() + 1);
}

void Storyboard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const Theme& t = theme();
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        const Card& c = cards_[i];
        const QRect all = area(i), frame(all.topLeft(), QSize(all.width(), scaled_px(kPicture)));
        QPainterPath round;
        round.addRoundedRect(frame, 8, 8);
        p.save();
        p.setClipPath(round);
        p.fillRect(frame, t.line);
        const QImage picture = thumbs_.of(c.clip, c.frame);
        if (!picture.isNull()) {
            const QSizeF size = QSizeF(picture.size()).scaled(frame.size(), Qt::KeepAspectRatioByExpanding);
            p.drawImage(QRectF(QRectF(frame).center() - QPointF(size.width(), size.height()) / 2, size),
                        picture);
        }
        p.restore();
        QRect words(all.left(), frame.bottom() + 6, all.width(), scaled_px(kBoardWords) - 6);
        QFont strong = text_font(14);
        strong.setWeight(QFont::DemiBold);
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        const int clock = QFontMetrics(text_font(12)).horizontalAdvance(c.time) + 8;
        const int line = QFontMetrics(strong).height();
        p.drawText(QRect(words.left(), words.top(), clock, line), Qt::AlignLeft | Qt::AlignVCenter, c.time);
        p.setFont(strong);
        p.setPen(t.ink);
        p.drawText(QRect(words.left() + clock, words.top(), words.width() - clock, line),
                   Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(c.title, Qt::ElideRight, words.width() - clock));
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(words.adjusted(0, line + 2, 0, 0), Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignTop,
                   c.words);
    }
}

}  // namespace aspen::ui

#include "moc_storyboard.cpp"
