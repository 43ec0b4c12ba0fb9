#include "app/review/clip_sound.hpp"

#include <cmath>

namespace aspen::app {

ClipSound::ClipSound(ClipDeck& deck, Player& player, Jobs& jobs, QObject* parent)
    : QObject(parent), deck_(deck), player_(player), jobs_(jobs) {
    connect(&player_, &Player::started, this, &ClipSound::follow);
    connect(&player_, &Player::stopped, this, [this] { speaker_.stop(); });
    connect(&deck_, &ClipDeck::closing, this, &ClipSound::forget);
}

void ClipSound::forget() {
    speaker_.stop();
    if (reading_) reading_->stop();
    samples_.reset();
    asked_ = false;
}

void ClipSound::read() {
    asked_ = true;
    struct Read {
        sound::Speaker::Samples samples;
        double start_s = 0;
    };
    const auto file = std::filesystem::path(deck_.file().toStdString());
    reading_ = jobs_.run_quietly(
        JobLane::sound, tr("Reading the sound"), this,
        [file](Job& job) {
            Read out;
            if (auto track = media::read_sound(file, {&job.stopped(), {}})) {
                out.start_s = track->start_s;
                out.samples = std::make_shared<const std::vector<std::int16_t>>(std::move(track->samples));
            }
            return out;
        },
        [this](const Outcome<Read>& read) {
            if (!read.value || !read.value->samples) return;  // a clip without sound is silent
            samples_ = read.value->samples;
            start_s_ = read.value->start_s;
            follow();
        });
}

void ClipSound::follow() {
    speaker_.stop();
    if (!asked_ && deck_.facts().has_sound) read();
    if (!samples_ || !player_.playing() || player_.direction() < 0 || player_.speed() != 1) return;
    speaker_.play(samples_, media::SoundTrack::kRate,
                  std::llround((player_.position_s() - start_s_) * media::SoundTrack::kRate));
}

}  // namespace aspen::app

#include "moc_clip_sound.cpp"
