#include "app/following/in_step.hpp"

#include <algorithm>
#include <cmath>

#include "app/review/real_time.hpp"
#include "core/motion/motion_curves.hpp"

namespace aspen::app {
namespace {

constexpr int kStepTickMs = 20;
constexpr double kAround = 1.2;  // seconds before and after the moments, where no strides are known

/// The curve of both reports that says best where the stride begins.
const core::MotionCurve* curve(const core::MotionReport& r, std::string_view id) {
    const auto at = std::ranges::find(r.curves, id, &core::MotionCurve::id);
    return at == r.curves.end() ? nullptr : &*at;
}

/// Without a known diagonal either of two beats may have been taken for the first.
bool other_beat(const core::MotionReport& a, const core::MotionReport& b) {
    if (a.parity != "unknown" && b.parity != "unknown") return false;
    for (const char* id : {"seat_height", "lower_leg", "trunk_lean"}) {
        const core::MotionCurve *x = curve(a, id), *y = curve(b, id);
        if (x && y) return core::half_a_stride_apart(core::lay_over(a, *x), core::lay_over(b, *y));
    }
    return false;
}

}  // namespace

InStep::InStep(Comparison& comparison, QObject* parent) : QObject(parent), comparison_(comparison) {
    timer_.setInterval(kStepTickMs);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &InStep::tick);
    connect(&comparison_, &Comparison::changed, this, [this] {
        pause();
        ways_.clear();
    });
    connect(&comparison_, &Comparison::strides_changed, this, [this] {
        pause();
        ways_.clear();
        position_ = 0;
        emit changed();
    });
}

void InStep::lay_ways() {
    ways_.clear();
    const std::size_t n = comparison_.count();
    by_stride_ = n > 0;
    for (std::size_t i = 0; i < n; ++i) by_stride_ = by_stride_ && comparison_.strides(i);
    for (std::size_t i = 0; i < n; ++i) {
        Way way;
        const ClipDeck& deck = comparison_.deck(i);
        for (int f = 0; f < deck.facts().frames; ++f) way.real_s.push_back(deck.real_s(f));
        if (!way.real_s.empty()) {
            const int at = std::clamp(comparison_.side(i).subject.moment.frame, 0, deck.facts().frames - 1);
            way.moment_s = way.real_s[static_cast<std::size_t>(at)];
        }
        if (by_stride_) {
            way.strides = comparison_.strides(i)->strides;
            if (i > 0 && other_beat(*comparison_.strides(0), *comparison_.strides(i))) way.begun_later = 0.5;
        }
        ways_.push_back(std::move(way));
    }
    first_ = by_stride_ ? 0 : -kAround;
    last_ = by_stride_ ? 1e9 : kAround;
    if (by_stride_) {
        for (const Way& w : ways_)
            last_ = std::min(last_, static_cast<double>(w.strides.size()) - w.begun_later);
        const auto& spans = ways_.front().strides;
        a_stride_s_ = (spans.back().end_s - spans.front().start_s) / static_cast<double>(spans.size());
    }
    position_ = std::clamp(position_, first_, last_);
}

int InStep::frame_at(const Way& way, double position) const {
    if (way.real_s.empty()) return 0;
    double t = way.moment_s + position;
    if (by_stride_) {
        const double at =
            std::clamp(position + way.begun_later, 0.0, static_cast<double>(way.strides.size()) - 1e-6);
        const core::StrideSpan& s = way.strides[static_cast<std::size_t>(at)];
        t = s.start_s + (at - std::floor(at)) * (s.end_s - s.start_s);
    }
    return nearest_frame(way.real_s, t);
}

void InStep::show_at(double position, media::Motion motion) {
    position_ = position;
    for (std::size_t i = 0; i < ways_.size(); ++i)
        comparison_.deck(i).go_to(frame_at(ways_[i], position), motion);
}

void InStep::toggle() {
    if (playing()) return pause();
    if (ways_.empty()) lay_ways();
    if (ways_.empty() || std::ranges::any_of(ways_, [](const Way& w) { return w.real_s.empty(); })) return;
    shown_.assign(ways_.size(), 0);
    for (std::size_t i = 0; i < ways_.size(); ++i) {
        connect(&comparison_.deck(i), &ClipDeck::picture_changed, &timer_, [this, i] {
            if (i < shown_.size()) ++shown_[i];
        });
    }
    begun_at_ = position_;
    clock_.start();
    second_.start();
    timer_.start();
    emit changed();
}

void InStep::pause() {
    if (!playing()) return;
    timer_.stop();
    for (std::size_t i = 0; i < comparison_.count(); ++i) {
        disconnect(&comparison_.deck(i), nullptr, &timer_, nullptr);
        comparison_.deck(i).rest();
    }
    shown_per_s_ = 0;
    emit changed();
}

void InStep::change_speed(int by) {
    speed_ = std::clamp(speed_ + by, 0, static_cast<int>(std::size(kSpeeds)) - 1);
    begun_at_ = position_;
    clock_.restart();
    emit changed();
}

void InStep::tick() {
    const double seconds = static_cast<double>(clock_.elapsed()) / 1000 * speed();
    double position = begun_at_ + (by_stride_ ? seconds / a_stride_s_ : seconds);
    if (position >= last_) {
        position = begun_at_ = first_;
        clock_.restart();
    }
    show_at(position, media::Motion::forward);
    if (second_.elapsed() < 1000) return;
    const int fewest = shown_.empty() ? 0 : *std::ranges::min_element(shown_);
    shown_per_s_ = 1000.0 * fewest / static_cast<double>(second_.restart());
    std::ranges::fill(shown_, 0);
    emit changed();
}

void InStep::go_to_phase(double phase) {
    pause();
    if (ways_.empty()) lay_ways();
    if (!by_stride_) return;
    show_at(std::clamp(std::floor(position_) + phase, first_, last_), media::Motion::scrub);
    emit changed();
}

void InStep::back_to_moments() {
    pause();
    for (std::size_t i = 0; i < comparison_.count(); ++i)
        comparison_.deck(i).go_to(comparison_.side(i).subject.moment.frame);
    emit changed();
}

QString InStep::words() const {
    const QString speeds[] = {tr("an eighth of the speed"), tr("a quarter of the speed"),
                              tr("half the speed"), tr("full speed")};
    QStringList out{by_stride_ ? tr("in step by the stride")
                               : tr("by time from the marked moments: not all strides are followed"),
                    speeds[speed_]};
    if (shown_per_s_ > 0) out << tr("%1 pictures a second").arg(shown_per_s_, 0, 'f', 0);
    return out.join(" · ");
}

}  // namespace aspen::app

#include "moc_in_step.cpp"
