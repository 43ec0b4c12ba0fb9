#pragma once

#include <QObject>
#include <cstdint>
#include <memory>
#include <vector>

class QAudioSink;
class QIODevice;

namespace aspen::sound {

/// Plays samples on the desktop's sound device. Where there is none everything is silent and nothing is
/// wrong. The device is looked for at the first sound, not before. Interface thread only.
class Speaker : public QObject {
    Q_OBJECT
  public:
    using Samples = std::shared_ptr<const std::vector<std::int16_t>>;  ///< two channels, interleaved

    explicit Speaker(QObject* parent = nullptr);
    ~Speaker() override;
    /// Plays from this sample (counted in pairs) on; what played before stops. False where no device takes
    /// it.
    bool play(Samples samples, int rate_hz, std::int64_t from);
    void stop();
    bool playing() const { return sink_ != nullptr; }

  private:
    std::unique_ptr<QIODevice> source_;
    std::unique_ptr<QAudioSink> sink_;
};

}  // namespace aspen::sound
