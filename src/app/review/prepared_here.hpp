#pragma once

#include <QObject>
#include <map>
#include <optional>
#include <vector>

#include "app/review/bench.hpp"
#include "app/review/prepared.hpp"
#include "core/proposal/reader_offset.hpp"

namespace aspen::app {

/// What was prepared for the open clip, as proposals on the bench: what it seems to be, and the moments worth
/// marking. Taking one is a step like any other; nothing else of it counts. Interface thread only.
class PreparedHere : public QObject {
    Q_OBJECT
  public:
    explicit PreparedHere(Bench& bench, QObject* parent = nullptr);

    /// Proposals that are still open: frames of telling moments that nobody marked.
    std::vector<PreparedMoment> open_moments() const;
    /// Whether gait, seat, travel or the upright are proposed where they were not said.
    bool can_take() const;
    /// Says them, as one step.
    void take();
    /// To the next open moment in a direction, with the figure that was read there offered; false where there
    /// is none.
    bool go(int direction);
    /// The whole figure as it was read on a frame: joints that were seen, moved by what corrections taught,
    /// with their error and that of the reader, not confirmed; what was not seen surely, and the foot, laid
    /// from the limbs. Nothing where too little was seen.
    std::optional<core::Figure> figure_on(int frame) const;
    /// The rider alone as read on a frame, to be looked at: joints that were seen, without the ends of limbs
    /// unlike any rider's.
    std::optional<core::Figure> seen_on(int frame) const;
    /// Marks the frame one is at with it, not confirmed; says why not.
    void mark_here();
    const std::optional<Prepared>& prepared() const { return prepared_; }
    /// The clip was looked through and nobody was found in it.
    bool found_nobody() const { return found_nobody_; }
    /// The coach marked moments in it.
    bool has_moments() const;
    /// Joints as they were followed through the whole clip; nullptr where nothing was.
    const core::Tracks* tracks() const;
    /// Reads it anew: it may have come meanwhile.
    void reload();

  signals:
    void changed();
    void say(const QString& line);

  private:
    void begin();
    std::string phase_on(int frame) const;
    /// What corrections teach of the reader's places, of this rider and others.
    const std::map<core::Landmark, core::ReaderOffset>& learned() const;
    Bench& bench_;
    bool begun_ = false;  ///< the first moment of this clip was gone to, or need not be
    std::optional<Prepared> prepared_;
    bool found_nobody_ = false;
    mutable std::optional<core::Tracks> tracks_;
    mutable std::optional<std::map<core::Landmark, core::ReaderOffset>> offsets_;
};

}  // namespace aspen::app
