#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <cstdint>
#include <memory>
#include <vector>

class QAudioSource;
class QIODevice;

namespace aspen::sound {

/// What hears a voice: one channel of 16-bit samples, 48,000 a second. Interface thread only.
class Microphone : public QObject {
    Q_OBJECT
  public:
    static constexpr int kRate = 48000;
    using QObject::QObject;
    /// False where it cannot be had.
    virtual bool start() = 0;
    virtual void stop() = 0;

  signals:
    void heard(const std::vector<std::int16_t>& samples);
};

/// The desktop's own. The device is looked for when it is started, not before.
class DesktopMicrophone : public Microphone {
    Q_OBJECT
  public:
    explicit DesktopMicrophone(QObject* parent = nullptr);
    ~DesktopMicrophone() override;
    bool start() override;
    void stop() override;

  private:
    void take();
    std::unique_ptr<QAudioSource> source_;
    QIODevice* stream_ = nullptr;
};

/// A stand-in that ships with the program for tests and the demo: a hum in syllables with a breath after
/// every sentence, in real time. `bang()` puts a short loud sound where it is now, so that a test can find
/// the instant again.
class SimulatedMicrophone : public Microphone {
    Q_OBJECT
  public:
    explicit SimulatedMicrophone(QObject* parent = nullptr);
    bool start() override;
    void stop() override;
    void bang() { bang_at_ = told_; }

    /// What it says in its first seconds.
    static std::vector<std::int16_t> speech(double seconds);

  private:
    void tell();
    QTimer timer_;
    QElapsedTimer clock_;
    std::int64_t told_ = 0, bang_at_ = -1;
};

/// The desktop's where there is one, else the stand-in: for the demo, which talks on any machine.
class DemoMicrophone : public Microphone {
    Q_OBJECT
  public:
    explicit DemoMicrophone(QObject* parent = nullptr);
    bool start() override;
    void stop() override;

  private:
    DesktopMicrophone own_;
    SimulatedMicrophone stand_in_;
    bool stands_in_ = false;
};

/// By ASPEN_MICROPHONE: "simulated", "demo", "none"; else the desktop's.
std::unique_ptr<Microphone> any_microphone();

}  // namespace aspen::sound
