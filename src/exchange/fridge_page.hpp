#pragma once

#include <QPainter>
#include <QString>
#include <QStringList>
#include <vector>

#include "core/training/going_home.hpp"

/// The page for the fridge: what to do on Wednesday, how often, when it counts, when to stop, and boxes to
/// write it down in.
namespace aspen::exchange {

struct FridgePage {
    QString rider, horse, coach;
    core::GoingHome home;
    QStringList lines;  ///< for the horse, and off it
    std::vector<core::HomeworkWeek> weeks;
    QString clip_on;  ///< as a person says a day
    QStringList shots;
    QStringList words;  ///< day of the week's two letters, Monday first
};

/// "3 × 2 min", as the dose is said: no sum that one would have to take apart again.
QString dose_words(const core::HomeworkDay& day);

/// Writes one A4 page as PDF. The file gets its name when it is whole. Throws core::Refused when it cannot be
/// written.
void write_fridge_page(const FridgePage& page, const QString& file);

/// Where to stand for the next clip, seen from above: the track, the rider on a line and on a circle, and the
/// camera square on.
void draw_where_to_stand(QPainter& p, const QRectF& area, const QColor& ink, const QColor& mark);

}  // namespace aspen::exchange
