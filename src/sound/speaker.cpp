#include "sound/speaker.hpp"

#include <QAudioDevice>
#include <QAudioFormat>
#include <QAudioSink>
#include <QIODevice>
#include <QMediaDevices>
#include <algorithm>
#include <cstring>

namespace aspen::sound {
namespace {

/// The samples as the device reads them, and silence after the end.
class Source : public QIODevice {
  public:
    Source(Speaker::Samples samples, std::int64_t from)
        : samples_(std::move(samples)), at_(std::max<std::int64_t>(0, from) * 4) {
        open(QIODevice::ReadOnly);
    }
    bool isSequential() const override { return true; }
    qint64 bytesAvailable() const override { return left() + QIODevice::bytesAvailable(); }

  protected:
    qint64 readData(char* to, qint64 most) override {
        const qint64 there = std::clamp<qint64>(left(), 0, most);
        std::memcpy(to, reinterpret_cast<const char*>(samples_->data()) + at_,
                    static_cast<std::size_t>(there));
        std::memset(to + there, 0, static_cast<std::size_t>(most - there));
        at_ += there;
        return most;
    }
    qint64 writeData(const char*, qint64) override { return -1; }

  private:
    qint64 left() const { return static_cast<qint64>(samples_->size() * 2) - at_; }
    Speaker::Samples samples_;
    qint64 at_;
};

}  // namespace

Speaker::Speaker(QObject* parent) : QObject(parent) {}
Speaker::~Speaker() { stop(); }

bool Speaker::play(Samples samples, int rate_hz, std::int64_t from) {
    stop();
    const QAudioDevice device = QMediaDevices::defaultAudioOutput();
    if (device.isNull() || !samples) return false;
    QAudioFormat format;
    format.setSampleRate(rate_hz);
    format.setChannelCount(2);
    format.setSampleFormat(QAudioFormat::Int16);
    if (!device.isFormatSupported(format)) return false;
    source_ = std::make_unique<Source>(std::move(samples), from);
    sink_ = std::make_unique<QAudioSink>(device, format);
    sink_->start(source_.get());
    if (sink_->error() == QAudio::NoError) return true;
    stop();
    return false;
}

void Speaker::stop() {
    if (sink_) sink_->stop();
    sink_.reset();
    source_.reset();
}

}  // namespace aspen::sound

#include "moc_speaker.cpp"
