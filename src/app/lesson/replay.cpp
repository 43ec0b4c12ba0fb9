#include "app/lesson/replay.hpp"

#include <QBuffer>
#include <algorithm>

#include "core/reading/refused.hpp"
#include "media/writing/video_writer.hpp"

namespace aspen::app {
namespace {

constexpr int kReplayQuality = 80;

}  // namespace

void Replay::push(const QImage& picture, qint64 at_ms) {
    Kept kept{at_ms, {}};
    QBuffer out(&kept.jpeg);
    out.open(QIODevice::WriteOnly);
    if (!picture.save(&out, "JPG", kReplayQuality)) return;
    bytes_ += kept.jpeg.size();
    kept_.push_back(std::move(kept));
    while (!kept_.empty() && (bytes_ > kMostBytes || at_ms - kept_.front().at_ms > kLongestMs)) {
        bytes_ -= kept_.front().jpeg.size();
        kept_.pop_front();
    }
}

const Replay::Kept* Replay::kept_before(int delay_s) const {
    if (kept_.empty()) return nullptr;
    const qint64 wanted = kept_.back().at_ms - 1000LL * delay_s;
    if (kept_.front().at_ms > wanted) return nullptr;
    return &*std::prev(std::ranges::upper_bound(kept_, wanted, {}, &Kept::at_ms));
}

QImage Replay::delayed(int delay_s) const {
    const Kept* k = kept_before(delay_s);
    return k ? QImage::fromData(k->jpeg, "JPG") : QImage();
}

std::optional<qint64> Replay::delayed_at(int delay_s) const {
    const Kept* k = kept_before(delay_s);
    return k ? std::optional(k->at_ms) : std::nullopt;
}

double Replay::seconds() const {
    return kept_.empty() ? 0 : static_cast<double>(kept_.back().at_ms - kept_.front().at_ms) / 1000;
}

std::vector<Replay::Kept> Replay::last(double seconds) const {
    std::vector<Kept> out;
    if (kept_.empty()) return out;
    const qint64 from = kept_.back().at_ms - static_cast<qint64>(seconds * 1000);
    for (const Kept& k : kept_) {
        if (k.at_ms >= from) out.push_back(k);
    }
    return out;
}

void Replay::clear() {
    kept_.clear();
    bytes_ = 0;
}

bool write_replay(const std::vector<Replay::Kept>& pictures, const std::string& file, Job& job) {
    if (pictures.size() < 2)
        throw core::Refused("camera: has shown nothing yet; start it and wait some seconds");
    const QImage first = QImage::fromData(pictures.front().jpeg, "JPG");
    media::WriterOptions options;
    options.width = first.width() / 2 * 2;
    options.height = first.height() / 2 * 2;
    const double span = static_cast<double>(pictures.back().at_ms - pictures.front().at_ms) / 1000;
    options.fps = static_cast<double>(pictures.size() - 1) / span;
    media::VideoWriter writer(file, options);
    for (std::size_t i = 0; i < pictures.size(); ++i) {
        if (job.stopped()) return false;
        const QImage one = QImage::fromData(pictures[i].jpeg, "JPG")
                               .convertToFormat(QImage::Format_RGB32)
                               .copy(0, 0, options.width, options.height);
        writer.add(one.constBits(), static_cast<int>(one.bytesPerLine()),
                   static_cast<double>(pictures[i].at_ms - pictures.front().at_ms) / 1000);
        job.progress(static_cast<double>(i) / static_cast<double>(pictures.size()));
    }
    writer.finish();
    return true;
}

}  // namespace aspen::app
