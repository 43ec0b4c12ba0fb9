#include "sound/microphone.hpp"

#include <QAudioDevice>
#include <QAudioFormat>
#include <QAudioSource>
#include <QIODevice>
#include <QMediaDevices>
#include <cmath>
#include <cstring>
#include <numbers>

namespace aspen::sound {
namespace {

constexpr int kTick_ms = 20;
constexpr double kSentence_s = 2.6, kBreath_s = 0.9, kSyllable_s = 0.22;
constexpr double kBang_s = 0.01;

/// A voiced hum, louder and softer with every syllable; silent between sentences.
std::int16_t said_at(std::int64_t sample) {
    const double t = static_cast<double>(sample) / Microphone::kRate;
    const double in = std::fmod(t, kSentence_s + kBreath_s);
    if (in > kSentence_s) return static_cast<std::int16_t>(std::lround(12 * std::sin(t * 5000)));
    const double open = std::pow(std::sin(std::numbers::pi * std::fmod(in, kSyllable_s) / kSyllable_s), 2);
    const double pitch = 2 * std::numbers::pi * (150 + 20 * std::sin(t * 2));
    double v = 0;
    for (int h = 1; h <= 5; ++h) v += std::sin(h * pitch * t) / h;
    return static_cast<std::int16_t>(std::lround(5000 * open * v));
}

std::int16_t banged(std::int64_t since) {
    return static_cast<std::int16_t>(std::lround(30000 * std::sin(static_cast<double>(since) * 0.3)));
}

}  // namespace

DesktopMicrophone::DesktopMicrophone(QObject* parent) : Microphone(parent) {}
DesktopMicrophone::~DesktopMicrophone() { stop(); }

bool DesktopMicrophone::start() {
    const QAudioDevice device = QMediaDevices::defaultAudioInput();
    QAudioFormat format;
    format.setSampleRate(kRate);
    format.setChannelCount(1);
    format.setSampleFormat(QAudioFormat::Int16);
    if (device.isNull() || !device.isFormatSupported(format)) return false;
    source_ = std::make_unique<QAudioSource>(device, format);
    stream_ = source_->start();
    if (!stream_ || source_->error() != QAudio::NoError) {
        stop();
        return false;
    }
    connect(stream_, &QIODevice::readyRead, this, &DesktopMicrophone::take);
    return true;
}

void DesktopMicrophone::take() {
    const QByteArray bytes = stream_->readAll();
    std::vector<std::int16_t> samples(static_cast<std::size_t>(bytes.size()) / sizeof(std::int16_t));
    std::memcpy(samples.data(), bytes.constData(), samples.size() * sizeof(std::int16_t));
    if (!samples.empty()) emit heard(samples);
}

void DesktopMicrophone::stop() {
    if (stream_) take();  // what it still holds belongs to the take
    if (source_) source_->stop();
    stream_ = nullptr;
    source_.reset();
}

SimulatedMicrophone::SimulatedMicrophone(QObject* parent) : Microphone(parent) {
    timer_.setInterval(kTick_ms);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &SimulatedMicrophone::tell);
}

bool SimulatedMicrophone::start() {
    told_ = 0;
    bang_at_ = -1;
    clock_.start();
    timer_.start();
    return true;
}

void SimulatedMicrophone::tell() {
    const auto until = static_cast<std::int64_t>(static_cast<double>(clock_.nsecsElapsed()) * 1e-9 * kRate);
    std::vector<std::int16_t> out;
    for (; told_ < until; ++told_) {
        const bool bangs =
            bang_at_ >= 0 && told_ >= bang_at_ && told_ < bang_at_ + static_cast<int>(kBang_s * kRate);
        out.push_back(bangs ? banged(told_ - bang_at_) : said_at(told_));
    }
    if (!out.empty()) emit heard(out);
}

void SimulatedMicrophone::stop() {
    if (!timer_.isActive()) return;
    tell();
    timer_.stop();
}

std::vector<std::int16_t> SimulatedMicrophone::speech(double seconds) {
    std::vector<std::int16_t> out;
    for (std::int64_t i = 0; i < static_cast<std::int64_t>(seconds * kRate); ++i) out.push_back(said_at(i));
    return out;
}

DemoMicrophone::DemoMicrophone(QObject* parent) : Microphone(parent) {
    for (Microphone* m : {static_cast<Microphone*>(&own_), static_cast<Microphone*>(&stand_in_)})
        connect(m, &Microphone::heard, this, &Microphone::heard);
}
bool DemoMicrophone::start() {
    stands_in_ = !own_.start();
    return !stands_in_ || stand_in_.start();
}
void DemoMicrophone::stop() { stands_in_ ? stand_in_.stop() : own_.stop(); }

std::unique_ptr<Microphone> any_microphone() {
    const QByteArray which = qgetenv("ASPEN_MICROPHONE");
    if (which == "none") return nullptr;
    if (which == "demo") return std::make_unique<DemoMicrophone>();
    if (which == "simulated") return std::make_unique<SimulatedMicrophone>();
    return std::make_unique<DesktopMicrophone>();
}

}  // namespace aspen::sound

#include "moc_microphone.cpp"
