#include "app/review/player.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace aspen::app {
namespace {

constexpr int kTickMs = 5;  // finer than any screen: the clock decides, not the timer

}  // namespace

Player::Player(ClipDeck& deck, QObject* parent) : QObject(parent), deck_(deck) {
    timer_.setTimerType(Qt::PreciseTimer);
    timer_.setInterval(kTickMs);
    connect(&timer_, &QTimer::timeout, this, &Player::tick);
    connect(&deck_, &ClipDeck::opened, this, [this] {
        pause();
        clear_marks();
    });
    connect(&deck_, &ClipDeck::closing, this, &Player::pause);
    connect(&deck_, &ClipDeck::frame_changed, this, [this](int frame) {
        if (playing() && frame != shown_) pause();  // the hand went elsewhere
    });
    connect(&deck_, &ClipDeck::picture_changed, this, [this] {
        if (!playing() || deck_.picture_kind() != media::ShownPicture::Kind::exact) return;
        if (deck_.picture_frame() == shown_) --left_out_;
    });
}

int Player::frame_at(double stream_s) const {
    const auto& pts = deck_.facts().pts_s;
    const auto after = std::upper_bound(pts.begin(), pts.end(), stream_s + 1e-9);
    return std::clamp(static_cast<int>(after - pts.begin()) - 1, 0, deck_.facts().frames - 1);
}

void Player::start_at(int frame) {
    const auto& pts = deck_.facts().pts_s;
    position_s_ = pts[static_cast<std::size_t>(frame)];
    // Backwards the clock starts at the frame's end, so that it is seen as long as the others.
    if (direction_ < 0)
        position_s_ = frame + 1 < deck_.facts().frames ? pts[static_cast<std::size_t>(frame) + 1] - 1e-6
                                                       : pts.front() + deck_.facts().duration_s - 1e-6;
    clock_.start();
    emit started();
}

void Player::play(int direction) {
    if (!deck_.ready() || deck_.facts().frames < 2) return;
    direction_ = direction < 0 ? -1 : 1;
    int start = deck_.frame();
    if (start < first() || start > last() || start == (direction_ > 0 ? last() : first()))
        start = direction_ > 0 ? first() : last();
    shown_ = start;
    left_out_ = 0;
    deck_.go_to(start, direction_ > 0 ? media::Motion::forward : media::Motion::backward);
    timer_.start();
    start_at(start);
    emit changed();
}

void Player::pause() {
    if (!playing()) return;
    timer_.stop();
    emit stopped();
    deck_.rest();
    emit changed();
}

void Player::toggle() {
    if (playing())
        pause();
    else
        play(direction_);
}

void Player::change_speed(int by) {
    speed_ = std::clamp(speed_ + by, 0, static_cast<int>(std::size(kSpeeds)) - 1);
    if (playing()) emit started();
    emit changed();
}

void Player::mark_from(int frame) {
    from_ = frame;
    if (to_ && *to_ <= frame) to_.reset();
    emit changed();
}

void Player::mark_to(int frame) {
    to_ = frame;
    if (from_ && *from_ >= frame) from_.reset();
    loops_ = true;
    emit changed();
}

void Player::clear_marks() {
    from_.reset();
    to_.reset();
    loops_ = false;
    emit changed();
}

void Player::set_loops(bool on) {
    loops_ = on;
    emit changed();
}

void Player::tick() {
    position_s_ += direction_ * speed() * static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
    clock_.start();
    const auto& pts = deck_.facts().pts_s;
    const double begin = pts[static_cast<std::size_t>(first())];
    const double end = last() + 1 < deck_.facts().frames ? pts[static_cast<std::size_t>(last()) + 1]
                                                         : pts.front() + deck_.facts().duration_s;
    const bool over = direction_ > 0 ? position_s_ >= end : position_s_ < begin;
    if (over && !loops_) {
        shown_ = direction_ > 0 ? last() : first();
        deck_.go_to(shown_);
        return pause();
    }
    if (over) {
        position_s_ = direction_ > 0 ? begin + std::fmod(position_s_ - end, end - begin)
                                     : end - std::fmod(begin - position_s_, end - begin) - 1e-6;
        emit started();
    }
    const int frame = frame_at(position_s_);
    if (frame == shown_) return;
    left_out_ += over ? 1 : std::abs(frame - shown_);  // taken back when its picture comes in time
    shown_ = frame;
    deck_.go_to(frame, direction_ > 0 ? media::Motion::forward : media::Motion::backward);
    emit changed();
}

}  // namespace aspen::app

#include "moc_player.cpp"
