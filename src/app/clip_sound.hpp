#pragma once

#include <QObject>
#include <atomic>
#include <memory>
#include <thread>

#include "app/player.hpp"
#include "media/sound_track.hpp"
#include "sound/speaker.hpp"

namespace aspen::app {

/// Lets the open clip be heard while it plays forwards at its own speed; read in the background when it is
/// first played. Follows the player's clock and starts anew at every jump.
class ClipSound : public QObject {
    Q_OBJECT
  public:
    ClipSound(Bench& bench, Player& player, QObject* parent = nullptr);
    ~ClipSound() override;

  private:
    void follow();
    void read();
    void forget();
    Bench& bench_;
    Player& player_;
    sound::Speaker speaker_;
    sound::Speaker::Samples samples_;
    double start_s_ = 0;
    bool asked_ = false;
    int generation_ = 0;
    std::atomic<bool> cancel_{false};
    std::thread thread_;
};

}  // namespace aspen::app
