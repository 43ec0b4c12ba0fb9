#pragma once

#include <QPainter>
#include <QString>
#include <utility>

#include "ui/shared/picture_stage.hpp"

namespace aspen::ui {

/// Something that takes the clicks on the picture for a while, says what the next one is for, and paints over
/// it.
class PictureTool {
  public:
    virtual ~PictureTool() = default;
    virtual bool takes_clicks() const = 0;
    /// What is asked for, strong and plain; see HintLine.
    virtual std::pair<QString, QString> prompt() const = 0;
    /// Display pixels; `zoom` as the picture's.
    virtual void click(core::Point at, double zoom) = 0;
    virtual void paint(QPainter& p, const PictureStage::Place& place) const = 0;
};

}  // namespace aspen::ui
