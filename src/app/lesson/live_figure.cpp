#include "app/lesson/live_figure.hpp"

#include <algorithm>
#include <iterator>
#include <utility>

#include "app/lesson/replay.hpp"
#include "app/review/figure_maker.hpp"
#include "app/review/pictures.hpp"
#include "core/reading/refused.hpp"
#include "media/pose/live_reader.hpp"

namespace aspen::app {
namespace {

/// Between readings further apart the way is not known.
constexpr qint64 kFurthestApartMs = 400;
constexpr qint64 kCountedMs = 3000;

/// A share of the way from one figure to another; joints that both have.
core::Figure between(const core::Figure& a, const core::Figure& b, double share) {
    core::Figure out = a;
    for (const core::Landmark l : core::landmarks_of(a.view)) {
        if (a[l].visibility != core::Visibility::seen) continue;
        if (b[l].visibility != core::Visibility::seen) {
            out[l] = {};
            continue;
        }
        out[l].at = {std::lerp(a[l].at.x, b[l].at.x, share), std::lerp(a[l].at.y, b[l].at.y, share)};
    }
    return out;
}

}  // namespace

/// The network with who was seen last; one thread at a time.
struct LiveFigure::Reader {
    media::PoseNetwork network{FigureMaker::model_file().toStdString()};
    media::LiveReader rider{network};
};

LiveFigure::LiveFigure(QObject* parent) : QObject(parent) {
    pool_.setMaxThreadCount(1);
    pool_.setThreadPriority(QThread::LowPriority);
}

LiveFigure::~LiveFigure() {
    stop_ = true;
    pool_.waitForDone();
}

void LiveFigure::push(const QImage& picture, qint64 at_ms) {
    if (busy_ || broken_) return;
    busy_ = true;
    if (first_ms_ < 0) first_ms_ = at_ms;
    pool_.start([this, picture, at_ms, reader = reader_, generation = generation_]() mutable {
        std::optional<core::Figure> figure;
        QString line;
        try {
            if (!reader) reader = std::make_shared<Reader>();
            figure = reader->rider.read(to_picture(picture), &stop_);
        } catch (const core::Refused& e) {
            line = QString::fromUtf8(e.what());
        }
        mail_.post([this, at_ms, generation, line, figure = std::move(figure), reader = std::move(reader)] {
            busy_ = false;
            if (!line.isEmpty()) {
                broken_ = true;
                emit trouble(line);
                return;
            }
            if (generation == generation_) reader_ = reader;
            take(at_ms, figure, generation);
        });
    });
}

void LiveFigure::take(qint64 at_ms, std::optional<core::Figure> figure, int generation) {
    if (generation != generation_) return;
    read_[at_ms] = std::move(figure);
    read_.erase(read_.begin(), read_.lower_bound(at_ms - Replay::kLongestMs));
    emit read(at_ms);
}

std::optional<core::Figure> LiveFigure::at(qint64 at_ms) const {
    // A reading that saw nobody between two that did is the network's, not the rider's.
    const auto saw = [](const auto& reading) { return reading.second.has_value(); };
    const auto here = read_.lower_bound(at_ms);
    const auto after = std::find_if(here, read_.end(), saw);
    if (after == read_.end()) return std::nullopt;
    if (after->first == at_ms) return after->second;
    const auto before = std::find_if(std::make_reverse_iterator(here), read_.rend(), saw);
    if (before == read_.rend() || after->first - before->first > kFurthestApartMs ||
        before->second->travel != after->second->travel)
        return std::nullopt;
    const double share =
        static_cast<double>(at_ms - before->first) / static_cast<double>(after->first - before->first);
    return between(*before->second, *after->second, share);
}

double LiveFigure::per_second() const {
    if (read_.empty()) return 0;
    const qint64 newest = read_.rbegin()->first, from = std::max(first_ms_, newest - kCountedMs);
    if (newest <= from) return 0;
    const auto counted = std::distance(read_.upper_bound(from), read_.end());
    return 1000.0 * static_cast<double>(counted) / static_cast<double>(newest - from);
}

bool LiveFigure::keeps_up() const {
    return read_.empty() || read_.rbegin()->first - first_ms_ < kCountedMs ||
           per_second() >= kFewestPerSecond;
}

void LiveFigure::clear() {
    ++generation_;
    reader_.reset();
    read_.clear();
    first_ms_ = -1;
}

}  // namespace aspen::app

#include "moc_live_figure.cpp"
