#pragma once

#include <QImage>
#include <QList>
#include <QPainter>
#include <QString>
#include <QStringList>

#include "core/body/landmarks.hpp"

/// The page that a rider takes home: a PDF to pin up, one HTML file with everything inside, a message to
/// paste. The same content, in riding words; numbers only where a rider can use them.
namespace aspen::exchange {

struct HandedPage {
    QString rider, horse, date, coach;
    bool child = false;  ///< larger, shorter, one picture in words instead of reasons

    QStringList good;  ///< by evidence, the most telling first

    QImage picture;         ///< the moment with its mark, faces covered
    QString picture_words;  ///< what it shows, for those who do not see it
    QImage then;            ///< the same earlier; null for none
    QString then_day, now_day;
    QString change;  ///< beyond what measuring could be wrong by; "" for none

    QString focus, says, why;  ///< the one thing, in the rider's words; what it means to the horse
    QString cue;               ///< one image to ride with

    QString exercise, purpose, dose, caution;
    QStringList ladder;  ///< all rungs, the easiest first
    int rung = 0;
    QString up, down, good_ride;
    QStringList first, people, things;  ///< what stands first; who, and what, must be there
    QStringList ways;                   ///< what is otherwise for this rider: saddle, place, school
    QStringList lines;                  ///< beside the focus: for the horse, off it
    QString stop;

    struct Day {
        QString name, minutes;  ///< "Tue", "3 × 2 min"; "" for a free day
    };
    QList<Day> week;
    QString clip_on;
    QStringList shots;
    core::View stand = core::View::side;  ///< from where to film
};

/// One A4 page, or two where it must; text in reading order. Writes nothing half; throws core::Refused.
void write_page_pdf(const HandedPage& page, const QString& file);
/// Paints the page at 96 dpi into so wide a picture, for looking at.
QImage page_picture(const HandedPage& page, int width);
/// Paints it in points of 1/96 inch; gives how high it became.
double paint_page(QPainter& p, const HandedPage& page, double wide, double size);

/// One file: styles and pictures inside, nothing points outside it (docs/formats.md).
QString page_html(const HandedPage& page);
void write_page_html(const HandedPage& page, const QString& file);

/// Good first; with everything that says what may be done.
QString message_text(const HandedPage& page);

/// Where to stand to film, from above: the horse's line, the camera and what it sees.
void paint_where_to_stand(QPainter& p, const QRectF& area, core::View from);

}  // namespace aspen::exchange
