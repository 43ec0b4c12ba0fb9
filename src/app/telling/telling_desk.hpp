#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>

#include "app/leaving/film_plan.hpp"
#include "app/review/clip_deck.hpp"
#include "core/telling/voice.hpp"
#include "sound/speaker.hpp"

namespace aspen::app {

/// A spoken review on the desk: played back as it will be told, and cut by its sound wave. Every cut is one
/// step that can be taken back; nothing that was recorded goes. Interface thread only.
class TellingDesk : public QObject {
    Q_OBJECT
  public:
    explicit TellingDesk(Yard& yard, QObject* parent = nullptr);
    ~TellingDesk() override;

    /// Gives one line when it cannot be shown. An empty number clears the desk.
    QString open(store::SpokenId id);
    bool is_open() const { return plan_.has_value(); }
    const store::Spoken& spoken() const { return spoken_; }
    const core::Telling& telling() const { return plan_->telling; }
    /// The voice as it is told, and how high its wave is in each of so many parts.
    const core::Voice& voice() const { return told_; }
    std::vector<float> wave(std::size_t parts) const { return core::peaks(told_, parts); }
    bool has_voice() const { return has_voice_; }
    /// What is read while it is told.
    const std::vector<core::Caption>& captions() const { return captions_; }

    double at_s() const { return at_s_; }
    void go_to(double told_s);
    bool playing() const { return timer_.isActive(); }
    void play();
    void pause();

    /// A part of what is told that is chosen, seconds; empty for none.
    std::optional<core::Cut> chosen() const { return chosen_; }
    void choose(std::optional<core::Cut> part);

    // Each gives the line that is said.
    QString leave_out();      ///< what is chosen
    QString begin_here();     ///< what comes before the place is left out
    QString end_here();       ///< what comes after it
    QString shorten_pause();  ///< the one at the place, or the next
    QString shorten_all_pauses();
    /// The review without what comes after the place, or without the chapter there, and where a new take of
    /// it goes. Nothing is written: the take and the room for it are one step.
    struct Room {
        store::Spoken spoken;
        std::size_t place = 0;
    };
    std::optional<Room> make_room(bool chapter_only);
    void remove();

    /// True once faces are covered in what is shown here as they will be in the film.
    bool covered() const { return covers_.has_value(); }

    /// The picture of where it stands, as large as is asked; null until the clip's picture has come.
    QImage picture(QSize size) const;

  signals:
    void changed();  ///< what is told, or which
    void moved();    ///< where it stands, or its picture
    void say(const QString& line);

  private:
    /// A clip in its place: alone or on the left, or beside it. The same clip twice has two decks.
    using Place = std::pair<std::int64_t, bool>;
    struct Shown {
        std::unique_ptr<ClipDeck> deck;
        int wanted = 0;
    };
    void read();
    void tick();
    void show();
    void cover();
    void keep(const QString& what, const core::Telling& telling);
    ClipDeck& deck(const Place& place);
    QImage picture_of(const core::ShownFrame& at, bool beside) const;
    Yard& yard_;
    store::Spoken spoken_;
    std::optional<FilmPlan> plan_;
    core::Voice recorded_, told_;
    QString recorded_from_;
    qint64 recorded_bytes_ = -1;
    bool has_voice_ = false;
    std::vector<core::Caption> captions_;
    std::map<Place, Shown> decks_;
    sound::Speaker speaker_;
    QTimer timer_;
    QElapsedTimer clock_;
    double at_s_ = 0, played_from_s_ = 0;
    std::optional<std::map<std::int64_t, FaceCovers>>
        covers_;  ///< none: not followed yet, or nothing may leave
    JobHandle covering_;
    std::size_t covered_deeds_ = 0;
    std::optional<core::Cut> chosen_;
    bool writing_ = false;
};

}  // namespace aspen::app
