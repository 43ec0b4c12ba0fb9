#include "app/clip_sound.hpp"

#include <cmath>

namespace aspen::app {

ClipSound::ClipSound(Bench& bench, Player& player, QObject* parent)
    : QObject(parent), bench_(bench), player_(player) {
    connect(&player_, &Player::started, this, &ClipSound::follow);
    connect(&player_, &Player::stopped, this, [this] { speaker_.stop(); });
    connect(&bench_, &Bench::closing, this, &ClipSound::forget);
}

ClipSound::~ClipSound() { forget(); }

void ClipSound::forget() {
    speaker_.stop();
    ++generation_;
    cancel_ = true;
    if (thread_.joinable()) thread_.join();
    samples_.reset();
    asked_ = false;
}

void ClipSound::read() {
    asked_ = true;
    cancel_ = false;
    const auto file = std::filesystem::path(bench_.yard().file_of(bench_.clip()).toStdString());
    thread_ = std::thread([this, file, generation = generation_] {
        try {
            auto track = media::read_sound(file, {&cancel_, {}});
            if (!track) return;
            const double start = track->start_s;
            const auto samples = std::make_shared<const std::vector<std::int16_t>>(std::move(track->samples));
            QMetaObject::invokeMethod(this, [this, generation, samples, start] {
                if (generation != generation_) return;
                samples_ = samples;
                start_s_ = start;
                follow();
            });
        } catch (const media::ReadCancelled&) {  // another clip was opened
        }
    });
}

void ClipSound::follow() {
    speaker_.stop();
    if (!asked_ && bench_.facts().has_sound) read();
    if (!samples_ || !player_.playing() || player_.direction() < 0 || player_.speed() != 1) return;
    speaker_.play(samples_, media::SoundTrack::kRate,
                  std::llround((player_.position_s() - start_s_) * media::SoundTrack::kRate));
}

}  // namespace aspen::app
