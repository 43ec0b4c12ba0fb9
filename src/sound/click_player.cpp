#include "sound/click_player.hpp"

#include <QUrl>
#include <algorithm>
#include <cmath>
#include <sstream>

namespace aspen::sound {

double ClickPlayer::seamless_s(const core::ClickWish& w) {
    const int cycle = w.pattern == core::ClickPattern::strides           ? w.beats
                      : w.pattern == core::ClickPattern::two_up_one_down ? 3
                                                                         : w.beats * w.count;
    const double seconds = 60.0 * cycle / (w.tempo_per_min * w.beats);
    return seconds * std::max(1.0, std::round(30 / seconds));
}

bool ClickPlayer::play(core::ClickWish wish) {
    stop();
    wish.seconds = seamless_s(wish);
    std::ostringstream wav;
    core::write_wav(wav, core::click_samples(wish));
    const std::string bytes = wav.str();
    file_ = std::make_unique<QTemporaryFile>();
    file_->setFileTemplate(file_->fileTemplate() + ".wav");
    if (!file_->open() || file_->write(bytes.data(), static_cast<qint64>(bytes.size())) < 0 ||
        !file_->flush())
        return false;
    effect_ = std::make_unique<QSoundEffect>();
    effect_->setLoopCount(QSoundEffect::Infinite);
    effect_->setSource(QUrl::fromLocalFile(file_->fileName()));
    effect_->play();
    playing_ = true;
    return true;
}

void ClickPlayer::stop() {
    playing_ = false;
    effect_.reset();
    file_.reset();
}

}  // namespace aspen::sound

#include "moc_click_player.cpp"
