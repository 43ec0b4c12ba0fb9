#pragma once

#include <QImage>
#include <QString>
#include <functional>
#include <optional>
#include <vector>

#include "core/body/face_cover.hpp"
#include "core/telling/telling.hpp"
#include "exchange/report.hpp"

/// One picture of a film that leaves: the clip's own with what the coach sees and does, faces covered.
namespace aspen::exchange {

/// Covers what lies in both of a cover's ellipses.
void cover(QImage& picture, const core::FaceCover& cover);

/// A clip's picture with what is drawn on it, display pixels.
struct FilmPicture {
    QImage picture;
    std::vector<core::FaceCover> covers;
    std::optional<core::Figure> figure;
    Annotated annotated;
};
struct FilmScene {
    FilmPicture main;
    std::optional<FilmPicture> beside;
    core::SeenPart part;
    QString chapter;  ///< shown in the corner; "" for none
    QString caption;  ///< read at the foot; "" for none
};

/// The scene in a picture of its own size, what fills nothing is dark. Faces first: nothing that is drawn
/// afterwards can uncover one.
QImage compose(FilmScene scene, QSize size);

/// The curve of a measure under a picture, up to now; `values` by frame, NaN where there is none.
struct CurveUnder {
    QString name;
    std::function<QString(double)> says;  ///< how much a value is
    std::vector<double> values;
    std::optional<double> lo, hi;  ///< the band
};
void draw_curve(QImage& picture, const CurveUnder& curve, std::size_t now);

/// Several pictures beside each other, each with a word under it: the phases of a stride, then and now.
QImage strip_of(const std::vector<QImage>& pictures, const QStringList& words, int height);

}  // namespace aspen::exchange
