#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <memory>
#include <optional>

#include "app/review/bench.hpp"
#include "app/review/player.hpp"
#include "app/telling/voice_file.hpp"
#include "core/telling/telling.hpp"
#include "sound/microphone.hpp"

namespace aspen::app {

/// Records a spoken review: the voice, and everything the coach does on the bench, on one clock. Without a
/// microphone what is done is recorded all the same. Kept as it goes: a machine that stops loses seconds.
/// Interface thread only.
class Recorder : public QObject {
    Q_OBJECT
  public:
    Recorder(Bench& bench, Player& player, std::unique_ptr<sound::Microphone> microphone,
             QObject* parent = nullptr);
    ~Recorder() override;

    bool recording() const { return spoken_.has_value(); }
    bool hears() const { return hears_; }
    /// Of this take.
    double seconds() const;
    /// How loud it was in the last tenth of a second, 0 to 1.
    float level() const { return level_; }

    /// Begins a review of the open clip; gives the line that is said.
    QString start();
    /// Records on into one that is there: the take is told in place `index` of its parts.
    QString start_into(const store::Spoken& spoken, std::size_t index);
    /// Ends the take; gives what was recorded, or nothing when it was too short to be anything.
    std::optional<store::SpokenId> stop();

    // What the bench cannot tell by itself.
    void see(const core::SeenPart& part);
    void show_figure(bool on);
    /// What is spoken of from now on.
    void speak_of(const QString& title);
    /// Two pictures beside each other; nothing: the bench's alone again.
    void show_two(std::optional<std::pair<core::ShownFrame, core::ShownFrame>> two);

  signals:
    void changed();  ///< begun, ended
    void heard();    ///< some more
    void say(const QString& line);

  private:
    QString begin(std::size_t index);
    void hear(const std::vector<std::int16_t>& samples);
    void snapshot();
    void look();
    void draw();
    void add(core::Deed deed);
    void keep();
    double now_s() const;
    QString voice_name() const;

    Bench& bench_;
    Player& player_;
    std::unique_ptr<sound::Microphone> microphone_;
    std::unique_ptr<VoiceFile> voice_;
    std::optional<store::Spoken> spoken_;
    core::Telling telling_;
    std::size_t index_ = 0;
    double begun_at_s_ = 0;  ///< on the recording's clock
    bool hears_ = false, first_heard_ = false, fresh_ = false, begins_ = false, stopping_ = false;
    float level_ = 0;
    QElapsedTimer clock_;
    QTimer keep_;
    core::SeenPart part_;
    bool figure_ = true, two_ = false;
    QString title_;
    std::vector<core::Stroke> strokes_;
    std::optional<core::Deed> last_picture_;
};

}  // namespace aspen::app
