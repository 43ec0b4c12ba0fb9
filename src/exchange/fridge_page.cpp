#include "exchange/fridge_page.hpp"

#include <QDate>
#include <QImage>
#include <QLocale>
#include <algorithm>

#include "core/reading/refused.hpp"
#include "exchange/pdf_file.hpp"

namespace aspen::exchange {
namespace {

const QColor kSheetInk(0x22, 0x30, 0x2b), kSheetQuiet(0x55, 0x62, 0x5b), kSheetSky(0x2f, 0x5d, 0x8a),
    kSheetLine(0xc8, 0xc4, 0xb8);

QString from(const std::string& s) { return QString::fromStdString(s); }

class Sheet {
  public:
    Sheet(QPainter& p, QSizeF size) : p_(p), size_(size) {}
    double y = 0;

    void words(const QString& text, double px, const QColor& colour, bool strong = false,
               const char* family = "Lato", double left = 0, double right = 0) {
        QFont f(family);
        f.setPixelSize(static_cast<int>(px));
        f.setBold(strong);
        // With ligatures "ti" would be one glyph that cannot be searched or read aloud.
        f.setLetterSpacing(QFont::AbsoluteSpacing, 0.05);
        p_.setFont(f);
        p_.setPen(colour);
        QRectF used;
        p_.drawText(QRectF(left, y, size_.width() - left - right, 2000), Qt::TextWordWrap, text, &used);
        y += used.height() + 3;
    }
    QPainter& painter() { return p_; }
    double width() const { return size_.width(); }
    double height() const { return size_.height(); }

  private:
    QPainter& p_;
    QSizeF size_;
};

/// Rungs as lines one under the other, the hardest on top, the one that is ridden now marked.
void draw_ladder(Sheet& s, const FridgePage& page) {
    const auto& ladder = page.home.steps;
    QPainter& p = s.painter();
    double y_of = s.y;
    const double top = s.y;
    for (std::size_t i = 0; i < ladder.size(); ++i) {
        const auto rung = ladder.size() - 1 - i;
        const bool here = static_cast<int>(rung) == page.home.here,
                   climbed = static_cast<int>(rung) < page.home.here;
        const double y = y_of + 12.5;
        p.setPen(QPen(here ? kSheetSky : climbed ? kSheetInk : kSheetLine, here || climbed ? 4 : 2));
        p.drawLine(QPointF(3, y), QPointF(37, y));
        s.y = y - 9;
        s.words(from(ladder[rung].spoken()) + (here ? QObject::tr("   — you are here") : QString()),
                here ? 15 : 13, here || climbed ? kSheetInk : kSheetQuiet, here, "Lato", 48);
        y_of = std::max(y_of + 25, s.y + 4);  // what must stand first may take a second line
    }
    p.setPen(QPen(kSheetQuiet, 2.5));
    for (const double x : {3.0, 37.0}) p.drawLine(QPointF(x, top), QPointF(x, y_of));
    s.y = y_of + 8;
}

/// A row a week; a box a ridden day with its minutes, and room for "3 of 4".
void draw_weeks(Sheet& s, const FridgePage& page) {
    QPainter& p = s.painter();
    const double label = 74, cell = (s.width() - label) / 7, row = 42;
    QFont f("Lato");
    f.setPixelSize(12);
    p.setFont(f);
    p.setPen(kSheetQuiet);
    for (int d = 0; d < 7; ++d)
        p.drawText(QRectF(label + d * cell, s.y, cell, 16), Qt::AlignCenter, page.words.value(d));
    s.y += 18;
    for (const core::HomeworkWeek& w : page.weeks) {
        p.setPen(kSheetQuiet);
        p.drawText(
            QRectF(0, s.y, label, row), Qt::AlignVCenter | Qt::AlignLeft,
            QLocale(QLocale::English).toString(QDate::fromString(from(w.starts), Qt::ISODate), "d MMM"));
        for (const core::HomeworkDay& d : w.days) {
            const QRectF box(label + core::weekday_of(d.day) * cell + 3, s.y + 2, cell - 6, row - 4);
            p.setPen(QPen(kSheetInk, 1.2));
            p.setBrush(Qt::NoBrush);
            p.drawRoundedRect(box, 4, 4);
            p.setPen(kSheetQuiet);
            p.drawText(box.adjusted(5, 3, -5, 0), Qt::AlignLeft | Qt::AlignTop, dose_words(d));
            p.drawText(box.adjusted(5, 0, -5, -4), Qt::AlignRight | Qt::AlignBottom, QObject::tr("__ of __"));
        }
        s.y += row;
    }
    s.y += 6;
}

/// Gives the height that was used.
double lay_out(Sheet& s, const FridgePage& page) {
    const core::GoingHome& e = page.home;
    s.words(page.rider, 30, kSheetInk, true, "Vollkorn");
    s.words(page.horse.isEmpty() ? page.coach : QObject::tr("on %1 · from %2").arg(page.horse, page.coach),
            13, kSheetQuiet);
    s.y += 4;
    s.words(from(e.name), 21, kSheetSky, true, "Vollkorn");
    s.words(QString::fromUtf8("“%1”  %2").arg(from(e.cue_picture), from(e.cue_plain)), 14, kSheetInk);
    QString dose = from(e.dose);
    dose[0] = dose[0].toUpper();
    s.words(dose + QObject::tr(". A good ride: ") + from(e.good_ride) + ".", 15, kSheetInk, true);
    s.words(QObject::tr("Up: ") + from(e.up) + QObject::tr(". Down: ") + from(e.down) + ".", 13, kSheetQuiet);
    s.y += 4;
    draw_ladder(s, page);
    const auto rules = e.rules();
    for (std::size_t i = 0; i < rules.size(); ++i)
        s.words(from(rules[i]), 13, kSheetInk, i + 2 >= rules.size());  // caution and stop are the last two
    if (!page.lines.isEmpty()) s.y += 4;
    for (const QString& line : page.lines) s.words(line, 13, kSheetInk);
    s.y += 4;
    draw_weeks(s, page);
    const double top = s.y, drawing = 210;
    s.words(QObject::tr("Next clip: ") + page.clip_on, 15, kSheetInk, true, "Lato", 0, drawing + 16);
    for (const QString& shot : page.shots)
        s.words(QString::fromUtf8("· ") + shot, 13, kSheetInk, false, "Lato", 0, drawing + 16);
    draw_where_to_stand(s.painter(), {s.width() - drawing, top, drawing, 130}, kSheetInk, kSheetSky);
    s.y = std::max(s.y, top + 134);
    s.words(QObject::tr("Your instructor's judgement and your venue's rules come before this page."), 12,
            kSheetQuiet);
    return s.y;
}

}  // namespace

QString dose_words(const core::HomeworkDay& day) {
    const QString minutes = QObject::tr("%1 min").arg(day.bout_s() / 60.0, 0, 'g', 3);
    return day.bouts > 1 ? QString::fromUtf8("%1 × %2").arg(day.bouts).arg(minutes) : minutes;
}

void draw_where_to_stand(QPainter& p, const QRectF& area, const QColor& ink, const QColor& mark) {
    // A wide track, the camera in the middle of a long side, square on to the line it looks across.
    const QRectF track = area.adjusted(8, 8, -8, -30);
    p.setPen(QPen(ink, 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawRect(track);
    const double far = track.top() + track.height() * 0.16;
    p.drawLine(QPointF(track.left() + 14, far), QPointF(track.right() - 14, far));
    p.drawLine(QPointF(track.right() - 14, far), QPointF(track.right() - 21, far - 4));
    p.drawLine(QPointF(track.right() - 14, far), QPointF(track.right() - 21, far + 4));
    p.drawEllipse(QPointF(track.right() - track.height() * 0.42, track.bottom() - track.height() * 0.36),
                  track.height() * 0.3, track.height() * 0.3);
    const QPointF camera(track.center().x() - track.width() * 0.12, track.bottom() + 12);
    p.setPen(QPen(mark, 1.6));
    p.setBrush(mark);
    p.drawRoundedRect(QRectF(camera - QPointF(8, 5), QSizeF(16, 10)), 2, 2);
    p.setPen(QPen(mark, 1.2, Qt::DashLine));
    p.drawLine(camera - QPointF(0, 6), QPointF(camera.x(), far));
    const QPointF corner(camera.x(), far);
    p.setPen(QPen(mark, 1.2));
    p.drawLine(corner + QPointF(0, 7), corner + QPointF(7, 7));
    p.drawLine(corner + QPointF(7, 7), corner + QPointF(7, 0));
}

void write_fridge_page(const FridgePage& page, const QString& file) {
    write_a4(file, page.rider, 96, QMarginsF(16, 14, 16, 12), [&](QPdfWriter& writer) {
        QPainter p(&writer);
        p.setRenderHint(QPainter::Antialiasing);
        // As large as it fits: it is read from across a kitchen.
        const QSizeF paper(writer.width(), writer.height());
        double scale = 1.5;
        for (; scale > 0.7; scale -= 0.05) {
            QImage trial(8, 8, QImage::Format_RGB32);
            QPainter measure(&trial);
            Sheet sheet(measure, paper / scale);
            if (lay_out(sheet, page) * scale <= paper.height()) break;
        }
        p.scale(scale, scale);
        Sheet sheet(p, paper / scale);
        lay_out(sheet, page);
    });
}

}  // namespace aspen::exchange
