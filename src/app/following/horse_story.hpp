#pragma once

#include <QDate>
#include <QString>
#include <QStringList>
#include <optional>
#include <vector>

#include "app/yard/yard.hpp"

namespace aspen::app {

/// A horse over all its riders.
struct HorseStory {
    store::Horse horse;
    struct Rider {
        QString name, last_day;
        int rides = 0, open = 0;  ///< open: corrections kept on this horse
        std::vector<QDate> days;  ///< of the rides, rising
    };
    std::vector<Rider> riders;  ///< the most rides first
    /// What is being corrected on it, the focus of each rider first.
    struct Work {
        QString fault, rider, since;
        bool focus = false;
    };
    std::vector<Work> work;
    /// The latest clip it is seen in.
    struct Seen {
        store::Clip clip;
        QString day, rider;
    };
    std::optional<Seen> last;
    struct Named {
        QString what;
        int rides = 0;
        bool good = false;
    };
    std::vector<Named> answers;  ///< of the horse, as they were named
    /// Faults noticed with two riders at least: the horse's part before the riders'.
    struct Shared {
        QString fault;
        std::vector<QString> riders;
    };
    std::vector<Shared> shared;
    struct Day {
        QString day;
        int minutes = 0, fences = 0;
        QStringList riders;
    };
    std::vector<Day> load;  ///< days it worked in lessons, newest first
    QString leads;          ///< taken and missed, in words; "" for none logged
    std::vector<store::Milestone> notes;
};
/// Nothing where there is no such horse.
std::optional<HorseStory> story_of(Yard& yard, store::HorseId horse);

}  // namespace aspen::app
