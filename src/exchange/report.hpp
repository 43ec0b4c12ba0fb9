#pragma once

#include <QImage>
#include <QString>
#include <QStringList>

#include "core/body/face.hpp"
#include "core/body/figure.hpp"
#include "core/judging/target.hpp"
#include "exchange/frame_marks_painter.hpp"

/// The one page that a rider takes home.
namespace aspen::exchange {

/// What is drawn on a frame beside the figure.
struct Annotated {
    std::vector<core::FrameMark> marks;
    std::optional<core::Figure> target;
    std::vector<Drawn> drawn;  ///< by the coach
};

struct RiderPage {
    QString rider, horse, date, coach;
    QStringList good;     ///< what is good or holds, most telling first
    QImage picture;       ///< the moment at full display size
    core::Figure figure;  ///< drawn on the picture
    Annotated annotated{};
    bool cover_face = false;
    QString focus, focus_says, why;
    QString measured;  ///< one line: value, error, band
    QString exercise, purpose, dose, step, caution, next_clip;
    QString first, needs;  ///< what stands first, who and what must be there
    QString rules;         ///< when to climb, when to come down
    QStringList ladder;    ///< all rungs, the easiest first
    QStringList cues;
};

/// Covers what lies inside the ellipse, display pixels.
void cover(QImage& picture, const core::Ellipse& face);

/// The picture with the figure drawn on it and what is found where it is, the face covered when asked.
QImage picture_with_figure(const QImage& picture, const core::Figure& figure, bool cover_face,
                           const Annotated& annotated = {});

/// Writes one A4 page as PDF; the text shrinks until it fits. The file gets its name when it is whole. Throws
/// core::Refused when it cannot be written.
void write_pdf(const RiderPage& page, const QString& file);

}  // namespace aspen::exchange
