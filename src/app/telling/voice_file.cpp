#include "app/telling/voice_file.hpp"

#include <QtEndian>
#include <algorithm>
#include <cstring>

#include "core/reading/refused.hpp"
#include "sound/microphone.hpp"

namespace aspen::app {
namespace {

constexpr int kHead = 44;
constexpr qint64 kLongest = qint64{3} * 3600 * sound::Microphone::kRate * 2;

/// The head of Microsoft's and IBM's RIFF WAVE, PCM: sizes where they are known so far.
QByteArray head(std::uint32_t bytes) {
    QByteArray out("RIFF\0\0\0\0WAVEfmt \20\0\0\0\1\0\1\0\0\0\0\0\0\0\0\0\2\0\20\0data\0\0\0\0", kHead);
    const auto put = [&](int at, std::uint32_t v) { qToLittleEndian(v, out.data() + at); };
    put(4, bytes + kHead - 8);
    put(24, sound::Microphone::kRate);
    put(28, sound::Microphone::kRate * 2);
    put(40, bytes);
    return out;
}

}  // namespace

VoiceFile::VoiceFile(const QString& file) : file_(file) {
    const bool there = file_.exists();
    if (!file_.open(QIODevice::ReadWrite))
        throw core::Refused((file + ": cannot be written; make room there").toStdString());
    if (there && file_.size() >= kHead)
        bytes_ = static_cast<std::uint32_t>((file_.size() - kHead) / 2 * 2);
    else
        file_.write(head(0));
}

void VoiceFile::add(const std::vector<std::int16_t>& samples) {
    std::vector<std::int16_t> little(samples.size());
    qToLittleEndian<std::int16_t>(samples.data(), static_cast<qsizetype>(samples.size()), little.data());
    const auto n = static_cast<qint64>(little.size() * sizeof(std::int16_t));
    const bool written = file_.seek(kHead + bytes_) &&
                         file_.write(reinterpret_cast<const char*>(little.data()), n) == n && file_.seek(0) &&
                         file_.write(head(bytes_ + static_cast<std::uint32_t>(n))) == kHead && file_.flush();
    if (!written)
        throw core::Refused(
            (file_.fileName() + ": cannot be written on; make room and record on").toStdString());
    bytes_ += static_cast<std::uint32_t>(n);
}

double VoiceFile::length_s() const { return bytes_ / 2.0 / sound::Microphone::kRate; }

std::optional<std::vector<std::int16_t>> read_voice(const QString& name) {
    QFile file(name);
    if (!file.open(QIODevice::ReadOnly) || file.size() < kHead || file.size() > kLongest) return std::nullopt;
    const QByteArray bytes = file.readAll();
    if (!bytes.startsWith("RIFF") || bytes.mid(8, 4) != "WAVE") return std::nullopt;
    std::vector<std::int16_t> out(static_cast<std::size_t>(bytes.size() - kHead) / 2);
    qFromLittleEndian<std::int16_t>(bytes.constData() + kHead, static_cast<qsizetype>(out.size()),
                                    out.data());
    return out;
}

}  // namespace aspen::app
