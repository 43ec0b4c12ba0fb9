#pragma once

#include "app/rides/lanes.hpp"
#include "core/motion/small_numbers.hpp"

namespace aspen::app {

/// A fault over all riders of a yard.
struct FaultInCommon {
    const core::Fault* fault = nullptr;
    struct Who {
        QString rider;
        core::Stage stage = core::Stage::noticed;  ///< the least settled of this rider's
        int horses = 0;
    };
    std::vector<Who> riders;
};
/// What became of a fault after an exercise was given for it. A share never stands without its n and its
/// interval, and the order is that of n, not of the share.
struct ExerciseAgainst {
    QString exercise;
    const core::Fault* fault = nullptr;
    core::Moved moved;
    std::optional<core::Share> held;  ///< of those that could be judged; Wilson, 90 %
};

/// What a yard's riders have in common, put together rider by rider.
class YardWide {
  public:
    explicit YardWide(const core::Knowledge& knowledge) : knowledge_(knowledge) {}
    void add(const QString& rider, const std::vector<Lane>& lanes);
    int riders() const { return riders_; }
    /// Of two riders at least, the most riders first.
    std::vector<FaultInCommon> in_common() const;
    /// Corrections that stand still, with why.
    struct Still {
        QString rider, why;
        const core::Fault* fault = nullptr;
    };
    const std::vector<Still>& still() const { return still_; }
    /// By how often it was given, then by name.
    std::vector<ExerciseAgainst> exercises() const;

    /// Days after an exercise's term in which its last clip may still come in.
    static constexpr int kGraceDays = 7;

  private:
    const core::Knowledge& knowledge_;
    std::map<std::string, FaultInCommon> faults_;
    std::map<std::pair<std::string, std::string>, core::Moved> moved_;  ///< exercise, fault
    std::vector<Still> still_;
    int riders_ = 0;
};

}  // namespace aspen::app
