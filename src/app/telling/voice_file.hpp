#pragma once

#include <QFile>
#include <QString>
#include <cstdint>
#include <optional>
#include <vector>

namespace aspen::app {

/// A voice on the disk as WAV (one channel, 16 bits, 48,000 a second), whole after every piece that is added:
/// a machine that stops loses what was said in its last moment and nothing before.
class VoiceFile {
  public:
    /// Opens it to be written on, or begins it. Throws core::Refused when it cannot be written.
    explicit VoiceFile(const QString& file);
    void add(const std::vector<std::int16_t>& samples);
    double length_s() const;

  private:
    QFile file_;
    std::uint32_t bytes_ = 0;
};

/// All of it; nothing where it is not there or no such WAV. What a broken head hides is read by the file's
/// length.
std::optional<std::vector<std::int16_t>> read_voice(const QString& file);

}  // namespace aspen::app
