#pragma once

#include <QObject>
#include <QStringList>
#include <optional>
#include <vector>

#include "app/review/clip_deck.hpp"
#include "app/rides/ridden_in.hpp"
#include "app/yard/yard.hpp"
#include "core/following/comparing.hpp"
#include "core/motion/motion.hpp"

namespace aspen::app {

/// A marked moment with all that decides how it is judged and shown.
struct Subject {
    store::RiddenClip ridden;
    store::Moment moment;
    core::Stretch stretch;
    std::size_t place = 0;  ///< of the stretch in its clip
    core::Setting setting;
    std::vector<core::Judged> judged;
    QString rider, horse;
    core::Shown shown() const;
    /// "3 Sep 2025, Fig, trot rising, left rein, top of the rise"
    QString words() const;
};
/// All marked moments of a rider, newest ride first.
std::vector<Subject> subjects_of(Yard& yard, store::RiderId rider);

/// Two to four moments held against each other, the first as what the others are held against; each with a
/// deck of its own on its clip. Knows no widgets. Interface thread only.
class Comparison : public QObject {
    Q_OBJECT
  public:
    explicit Comparison(Yard& yard, QObject* parent = nullptr);
    ~Comparison() override;

    static constexpr std::size_t kMost = 4;

    struct Side {
        Subject subject;
        std::unique_ptr<ClipDeck> deck;
        std::optional<core::MotionReport> strides;  ///< of its stretch, where it was followed
        bool asked_strides = false;
    };
    Yard& yard() { return yard_; }
    store::RiderId rider() const { return rider_; }
    std::size_t count() const { return sides_.size(); }
    const Side& side(std::size_t i) const { return *sides_[i]; }
    ClipDeck& deck(std::size_t i) { return *sides_[i]->deck; }
    /// What the strides of a side say; reads the cache once.
    const core::MotionReport* strides(std::size_t i);
    bool with_target() const { return with_target_; }

    // What is held against what; each gives the line that says why not, "" where it was done.
    /// A rider's moments: the newest, against the earliest like it.
    QString show_rider(store::RiderId rider);
    /// A moment on the bench, against the earliest like it.
    QString show(store::ClipId clip, int frame);
    QString show(store::ClipId then, int then_frame, store::ClipId now, int now_frame);
    QString then_and_now();
    QString two_reins();
    QString two_horses();
    /// The rider against the school's own range.
    QString against_target();
    /// Against another rider of the yard in the same gait and seat; asked again, the next one.
    QString two_riders();
    /// Another moment on a side: earlier or later among those like it.
    QString other(std::size_t side, int by);
    QString more();
    QString less(std::size_t side);

    /// Follows the joints of every side's stretch that was not followed yet, in the background: then the
    /// sides play by the stride. Gives the line that is said.
    QString follow_strides();
    bool following() const { return waiting_ > 0; }
    /// Sides whose strides are not known.
    int without_strides();

    /// What differs between the first side and another.
    std::vector<core::MeasureDifference> differences(std::size_t with) const;
    /// Whether the first side and another are of different rides.
    bool on_two_days(std::size_t with) const;
    /// The measure of the correction that is in work; nullptr where none is or the eye alone judges it.
    const core::MeasureInfo* in_work() const;
    /// Why what is in work cannot be compared on this side; "" where it can, or nothing is in work.
    QString why_not_in_work(std::size_t with) const;
    /// "two fingers", "6°".
    QString amount_of(std::string_view measure, std::string_view unit, double value) const;
    /// In riding words: "heel half a hand further forward".
    QString words_of(const core::MeasureDifference& d) const;
    /// What spoils it, the worst first.
    QStringList spoilers(std::size_t with) const;
    /// More than one rider is shown: it leaves only with the consent of all.
    bool of_several() const;
    std::vector<store::RideId> rides() const;

  signals:
    void changed();          ///< who is held against whom
    void picture_changed();  ///< of any deck
    void strides_changed();

  private:
    void take(std::vector<Subject> subjects);
    std::unique_ptr<Side> side_of(Subject subject);
    QString pair_with(const std::function<bool(const Subject& one, const Subject& first)>& fits,
                      const QString& none, bool oldest);
    const Subject* first() const { return sides_.empty() ? nullptr : &sides_.front()->subject; }
    void read();
    void take_rider_of(store::ClipId clip);
    Yard& yard_;
    store::RiderId rider_;
    std::vector<Subject> all_;  ///< of the rider
    std::vector<std::unique_ptr<Side>> sides_;
    bool with_target_ = false, reins_apart_ = false;
    std::size_t other_rider_ = 0;
    int waiting_ = 0;  ///< stretches that are being followed
};

}  // namespace aspen::app
