#pragma once

#include <QObject>
#include <QStringList>
#include <memory>

#include "app/review/marking.hpp"
#include "app/yard/changes.hpp"
#include "core/judging/focus.hpp"
#include "core/judging/said.hpp"

namespace aspen::core {
struct RideAssessment;
struct RideData;
}  // namespace aspen::core

namespace aspen::app {

struct FindingRow;

core::Decided to_core(const store::Finding& finding);
/// The whole ride as core judges it, read from the records.
core::RideData ride_data(const Yard& yard, const store::Ride& ride);

/// What the ride says: its faults with the coach's word, causes, the focus, and what is good. Interface
/// thread only.
class RideFindings : public QObject {
    Q_OBJECT
  public:
    RideFindings(Review& review, Marking& marking, QObject* parent = nullptr);

    ~RideFindings() override;

    const std::vector<FindingRow>& rows() const;
    /// By the row's key; a fault's id alone names its first row.
    const FindingRow* find(const std::string& key) const;
    /// The coach's word on it; the same again takes it back. `to`: what it is instead, for `changed`. Asked
    /// back ("did you ask for that?") waits for the rider's answer and is no fault meanwhile.
    void decide(const std::string& key, store::Decision decision, const std::string& to = {});
    /// Attaches the moment here to a finding, or takes it off again.
    void attach_moment(const std::string& key);
    /// A finding or a strength of the coach's own at a part of the body, seen at this frame.
    void add_remark(store::RemarkKind kind, core::BodyPart part, const QString& words);

    /// Focus among what the coach accepted; while nothing is decided, among what was found.
    const std::optional<core::Focus>& focus() const;
    /// What the coach accepted or changed, by the name the coach gives it.
    std::vector<Accepted> accepted() const;
    /// The focus with what it was seen in.
    std::optional<Accepted> focus_seen() const;
    const core::RideAssessment& assessment() const;
    /// What the eye could still settle.
    const std::vector<core::CheckWanted>& wanted() const;
    const std::vector<core::Cause>& causes() const;
    /// What the coach named as good, then measures that are inside their band wherever they could be judged.
    QStringList what_is_good() const;

    /// Judges the ride anew.
    void assess();
    /// What a step touched of what is in work.
    void follow(const store::Touched& touched);

  private:
    void write_decision(const FindingRow& row, store::Decision decision, const std::string& to, int frame);
    Review& review_;
    Marking& marking_;
    std::shared_ptr<const core::Knowledge> knowledge_;  ///< what the assessment points into
    struct Found;  ///< what was found: whoever asks for it includes finding_row.hpp
    std::unique_ptr<Found> found_;
    std::vector<core::InWork> in_work_;
    struct LearnedOf {
        store::RideId ride;
        store::RiderId rider;
        store::HorseId horse;
        std::string day;
        bool operator==(const LearnedOf&) const = default;
    };
    std::optional<LearnedOf> learned_of_;  ///< what `in_work_` was read for
};

}  // namespace aspen::app
