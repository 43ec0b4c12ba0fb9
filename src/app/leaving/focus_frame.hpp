#pragma once

#include <QImage>
#include <QObject>
#include <optional>

#include "app/yard/yard.hpp"
#include "exchange/report.hpp"

namespace aspen::app {

/// The frame that shows a fault best: the newest ride's moment in which its measure lies furthest out.
struct FocusFrame {
    store::Clip clip;
    int frame = 0;
    core::Figure figure;
    exchange::Annotated annotated;  ///< the mark of this fault alone, and the limbs laid into the bands
};
/// Of this rider on this horse; nothing where no moment of the last ten rides shows it.
std::optional<FocusFrame> focus_frame(Yard& yard, store::RiderId rider, store::HorseId horse,
                                      const core::Fault& fault);

/// Reads the picture of such a frame in the background. Interface thread only.
class FocusPicture : public QObject {
    Q_OBJECT
  public:
    explicit FocusPicture(Yard& yard, QObject* parent = nullptr) : QObject(parent), yard_(yard) {}
    /// Shows another one, or none; what was read already stays.
    void show(const std::optional<FocusFrame>& frame);
    const std::optional<FocusFrame>& frame() const { return frame_; }
    /// Null until it is read.
    const QImage& picture() const { return picture_; }

  signals:
    void changed();

  private:
    Yard& yard_;
    std::optional<FocusFrame> frame_;
    QImage picture_;
    JobHandle job_;
};

}  // namespace aspen::app
