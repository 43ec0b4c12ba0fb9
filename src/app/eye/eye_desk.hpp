#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <optional>

#include "app/eye/drill_maker.hpp"

namespace aspen::app {

/// A coach's drills: what is due, the questions of a round, the answers and what they say. Interface thread
/// only.
class EyeDesk : public QObject {
    Q_OBJECT
  public:
    explicit EyeDesk(Yard& yard, QObject* parent = nullptr);
    static constexpr int kOfRound = 8;     ///< questions: a few minutes
    static constexpr int kOwnOfRound = 3;  ///< of them from the coach's own clips, where there are some

    Yard& yard() { return yard_; }
    /// Another coach's initials; "" for the yard's own.
    void set_coach(const QString& initials);
    QString coach() const { return coach_; }

    struct Line {
        core::DrillKind kind;
        core::EyeSkill skill;
        int due_in_days = 0;
        std::vector<core::DrillDone> done;  ///< this coach's, oldest first
    };
    /// Every kind of drill, as it stands for this coach.
    std::vector<Line> lines() const;
    /// What this coach and the yard's own, or another, answered of the same things.
    std::optional<core::TwoCoaches> with_another(QString* who) const;
    /// The own error of marking joints, from frames marked twice; pixels where the shorter side is 1080.
    core::ClickError marking() const;
    /// A marked moment to be marked again without seeing it: the one longest not marked twice.
    std::optional<std::pair<store::ClipId, int>> to_mark_again() const;

    void start(core::DrillKind kind);
    void leave();
    bool running() const { return !round_.empty(); }
    int place() const { return place_; }
    int length() const { return static_cast<int>(round_.size()); }
    const DrillItem* item() const;
    bool answered() const { return answered_; }
    /// True when the last answer was right, or the number within its tolerance.
    bool was_right() const { return right_; }
    QString said() const { return said_; }

    void answer_number(double value);
    void answer_choice(int choice);
    /// For an order: the next in it; taken when all are named.
    void name_next(int choice);
    const std::vector<int>& named() const { return named_; }
    void next();

  signals:
    void changed();

  private:
    void take(const std::string& said, const std::string& truth, double off);
    Yard& yard_;
    QString coach_;
    std::vector<DrillItem> round_;
    int place_ = 0;
    bool answered_ = false, right_ = false;
    QString said_;
    std::vector<int> named_;
    QElapsedTimer clock_;
};

}  // namespace aspen::app
