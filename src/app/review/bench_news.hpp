#pragma once

#include <QFlags>
#include <functional>
#include <utility>

namespace aspen::app {

/// What of the bench is no longer as it was.
enum class BenchPart : unsigned {
    clip = 1U << 0U,      ///< another clip was opened, or none is
    rider = 1U << 1U,     ///< another rider's figure is shown
    records = 1U << 2U,   ///< moments, stretches, who rides, what was said
    notes = 1U << 3U,     ///< of this clip
    events = 1U << 4U,    ///< what was logged, and what is marked on the ground
    decided = 1U << 5U,   ///< what the coach decided of this ride, or has in work with this rider
    figure = 1U << 6U,    ///< joints, which is asked for or held, and what they say
    findings = 1U << 7U,  ///< what the ride says
    knowledge = 1U << 8U  ///< what it is judged by
};
Q_DECLARE_FLAGS(BenchParts, BenchPart)
Q_DECLARE_OPERATORS_FOR_FLAGS(BenchParts)

/// Gathers what a step or a hand changed on the bench, and says it once when the outermost of what belongs
/// together has ended. Interface thread only.
class BenchNews {
  public:
    void on_settled(std::function<void(BenchParts)> tell) { tell_ = std::move(tell); }
    void add(BenchParts parts);
    /// What changes inside is said once, at the end; also where `work` throws.
    template <typename Work>
    void together(Work&& work) {
        ++held_;
        try {
            std::forward<Work>(work)();
        } catch (...) {
            --held_;
            settle();
            throw;
        }
        --held_;
        settle();
    }
    /// What is waiting to be said, for who is about to say it.
    BenchParts take() { return std::exchange(waiting_, {}); }

  private:
    void settle();
    std::function<void(BenchParts)> tell_;
    BenchParts waiting_;
    int held_ = 0;
};

}  // namespace aspen::app
