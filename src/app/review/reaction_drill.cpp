#include "app/review/reaction_drill.hpp"

#include <algorithm>

namespace aspen::app {
namespace {

constexpr int kTooEarlyMs = 80;  // faster than anyone sees: it was guessed
constexpr int kTooLateMs = 800;  // from memory: the light was not waited for
constexpr int kGivenUpMs = 1200;

}  // namespace

ReactionDrill::ReactionDrill(QObject* parent, int shortest_ms, int longest_ms, int lights)
    : QObject(parent),
      shortest_ms_(shortest_ms),
      longest_ms_(longest_ms),
      lights_(lights),
      engine_(std::random_device{}()) {
    timer_.setSingleShot(true);
    connect(&timer_, &QTimer::timeout, this, [this] { lit_ ? next() : light(); });
}

void ReactionDrill::start() {
    took_ms_.clear();
    shown_ = 0;
    running_ = true;
    next();
}

void ReactionDrill::stop() {
    running_ = lit_ = false;
    timer_.stop();
    emit changed();
}

/// The light goes out; the next one comes when it comes, or the drill is over.
void ReactionDrill::next() {
    lit_ = false;
    if (shown_ < lights_) {
        timer_.start(std::uniform_int_distribution<int>(shortest_ms_, longest_ms_)(engine_));
        emit changed();
        return;
    }
    stop();
    if (2 * took_ms_.size() <= static_cast<std::size_t>(lights_)) return emit failed();
    std::ranges::sort(took_ms_);
    emit measured(took_ms_[took_ms_.size() / 2]);
}

void ReactionDrill::light() {
    ++shown_;
    lit_ = true;
    clock_.start();
    timer_.start(kGivenUpMs);
    emit changed();
}

void ReactionDrill::press() {
    if (!running_ || !lit_) return;
    const int ms = static_cast<int>(clock_.elapsed());
    if (ms < kTooEarlyMs) return;
    if (ms <= kTooLateMs) took_ms_.push_back(ms);
    next();
}

}  // namespace aspen::app

#include "moc_reaction_drill.cpp"
