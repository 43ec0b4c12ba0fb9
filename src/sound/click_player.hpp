#pragma once

#include <QObject>
#include <QSoundEffect>
#include <QTemporaryFile>
#include <memory>

#include "core/arena/click.hpp"

namespace aspen::sound {

/// Plays a click track over and over until it is stopped. Interface thread only.
class ClickPlayer : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    /// Starts anew with this wish; false where the track could not be written. Throws core::Refused for a
    /// wish that is out of range.
    bool play(core::ClickWish wish);
    void stop();
    bool playing() const { return playing_; }

    /// So many whole cycles of the accents that the track can follow itself without a gap in the beat, about
    /// half a minute, seconds.
    static double seamless_s(const core::ClickWish& wish);

  private:
    std::unique_ptr<QTemporaryFile> file_;
    std::unique_ptr<QSoundEffect> effect_;  ///< looked for at the first sound, not before
    bool playing_ = false;
};

}  // namespace aspen::sound
