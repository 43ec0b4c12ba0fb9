#pragma once

#include <QObject>
#include <memory>

#include "app/jobs/jobs.hpp"
#include "app/review/player.hpp"
#include "media/reading/sound_track.hpp"
#include "sound/speaker.hpp"

namespace aspen::app {

/// Lets the open clip be heard while it plays forwards at its own speed; read in the background when it is
/// first played. Follows the player's clock and starts anew at every jump.
class ClipSound : public QObject {
    Q_OBJECT
  public:
    ClipSound(ClipDeck& deck, Player& player, Jobs& jobs, QObject* parent = nullptr);

  private:
    void follow();
    void read();
    void forget();
    ClipDeck& deck_;
    Player& player_;
    Jobs& jobs_;
    sound::Speaker speaker_;
    sound::Speaker::Samples samples_;
    double start_s_ = 0;
    bool asked_ = false;
    JobHandle reading_;
};

}  // namespace aspen::app
