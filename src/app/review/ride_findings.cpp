#include "app/review/ride_findings.hpp"

#include <algorithm>
#include <map>
#include <tuple>
#include <utility>

#include "app/review/finding_row.hpp"
#include "app/rides/ride_data_builder.hpp"
#include "app/yard/changes.hpp"
#include "core/following/following.hpp"
#include "core/judging/sides.hpp"

namespace aspen::app {
namespace {

/// The moments of a ride, without what was decided and worked on.
core::RideData moments_of(const Yard& yard, const store::Ride& ride) {
    const RiddenIn ridden(yard.records(), yard.knowledge(), ride);
    RideDataBuilder builder(ridden);
    for (const store::Clip& c : yard.records().rides.clips_of(ride.id)) {
        std::vector<int> places;
        for (const store::Slot& s : yard.records().rides.places(c.id)) {
            if (s.ride == ride.id) places.push_back(s.slot);
        }
        builder.add_clip(yard.records(), c, places);
    }
    return std::move(builder.data);
}

/// Marks whose last ride before this one was inside: the newest first, until each was shown.
void look_at_rides_before(const Yard& yard, const store::Ride& ride, std::vector<core::InWork>& in_work) {
    constexpr std::size_t kRidesLookedAt = 4;
    std::vector<store::Ride> before = yard.records().rides.rides_of(ride.rider);
    std::erase_if(before, [&](const store::Ride& r) {
        return r.id == ride.id || r.horse != ride.horse ||
               std::tie(r.day, r.id.value) > std::tie(ride.day, ride.id.value);
    });
    std::vector<core::InWork*> open;
    for (core::InWork& w : in_work) open.push_back(&w);
    const core::Knowledge& knowledge = yard.knowledge();
    for (std::size_t i = 0; i < std::min(before.size(), kRidesLookedAt) && !open.empty(); ++i) {
        const core::RideData then = moments_of(yard, before[i]);
        const auto judged = core::assess_ride(then, knowledge).judged;
        std::erase_if(open, [&](core::InWork* w) {
            const auto says =
                core::verdict_on(w->fault, {w->gait, w->seat, w->side}, then, judged, knowledge);
            w->inside_before = says.verdict == core::RideVerdict::inside;
            return says.verdict != core::RideVerdict::not_judged;
        });
    }
}

std::vector<core::InWork> faults_in_work(const Yard& yard, const store::Ride& ride) {
    std::vector<core::InWork> out;
    if (!ride.rider) return out;
    for (const store::Correction& c : yard.records().work.corrections(ride.rider)) {
        if (c.focus && c.horse == ride.horse)
            out.emplace_back(c.fault, c.seen.gait, c.seen.seat, c.seen.side);
    }
    if (!out.empty()) look_at_rides_before(yard, ride, out);
    return out;
}

}  // namespace

std::string FindingRow::key() const {
    return found.fault->id + "|" + (seen.gait ? std::string(core::word(*seen.gait)) : "") + "|" +
           (seen.seat ? std::string(core::word(*seen.seat)) : "") + "|" + seen.side;
}

core::Decided to_core(const store::Finding& f) {
    return {f.fault, f.seen, f.decision, f.changed_to, f.measured_severity};
}

core::RideData ride_data(const Yard& yard, const store::Ride& ride) {
    core::RideData data = moments_of(yard, ride);
    for (const store::Finding& f : yard.records().reviews.findings(ride.id))
        data.decided.push_back(to_core(f));
    data.in_work = faults_in_work(yard, ride);
    data.level = ride.level;
    return data;
}

struct RideFindings::Found {
    core::RideAssessment assessment;
    std::vector<FindingRow> rows;
};

RideFindings::RideFindings(Review& review, Marking& marking, QObject* parent)
    : QObject(parent), review_(review), marking_(marking), found_(std::make_unique<Found>()) {}

void RideFindings::follow(const store::Touched& t) {
    if (!review_.is_open() || !t.corrections.contains(review_.rider())) return;
    learned_of_.reset();
    review_.news().add(BenchPart::decided);
}

RideFindings::~RideFindings() = default;

const std::vector<FindingRow>& RideFindings::rows() const { return found_->rows; }
const core::RideAssessment& RideFindings::assessment() const { return found_->assessment; }
const std::optional<core::Focus>& RideFindings::focus() const { return found_->assessment.focus; }
const std::vector<core::CheckWanted>& RideFindings::wanted() const { return found_->assessment.wanted; }
const std::vector<core::Cause>& RideFindings::causes() const { return found_->assessment.causes; }

void RideFindings::assess() {
    core::RideData data;
    if (review_.is_open()) {
        // The rides before are read for what is in work: not at every joint.
        const store::Ride& now = review_.ride();
        const LearnedOf of{now.id, now.rider, now.horse, now.day};
        if (learned_of_ != of) in_work_ = faults_in_work(review_.yard(), now);
        learned_of_ = of;
        data = review_.gathered(marking_.dragging() ? std::optional(marking_.figure()) : std::nullopt);
        for (const store::Finding& f : review_.decided()) data.decided.push_back(to_core(f));
        data.in_work = in_work_;
        data.level = review_.ride().level;
    }
    knowledge_ = review_.yard().shared_knowledge();
    found_->assessment = core::assess_ride(data, *knowledge_);
    found_->rows.clear();
    for (const core::RideFinding& f : found_->assessment.findings) {
        FindingRow row{f};
        const auto said = std::ranges::find_if(review_.decided(), [&](const store::Finding& d) {
            return d.fault == f.found.fault->id && core::seen_for(*f.found.fault, d.seen) == f.seen;
        });
        if (said != review_.decided().end()) {
            row.frame = said->frame;
            row.clip = said->clip;
        }
        found_->rows.push_back(std::move(row));
    }
}

const FindingRow* RideFindings::find(const std::string& key) const {
    const auto it = std::ranges::find_if(
        found_->rows, [&](const FindingRow& r) { return r.key() == key || r.found.fault->id == key; });
    return it == found_->rows.end() ? nullptr : &*it;
}

void RideFindings::write_decision(const FindingRow& row, store::Decision decision, const std::string& to,
                                  int frame) {
    store::Finding f;
    f.ride = review_.ride().id;
    f.fault = row.found.fault->id;
    f.seen = row.seen;
    f.measured_verdict = std::string(core::word(row.found.verdict));
    f.measured_severity = row.found.severity;
    f.decision = decision;
    f.changed_to = to;
    f.decided_on = review_.yard().today_iso();
    f.frame = frame;
    if (frame >= 0) f.clip = frame == row.frame ? row.clip : review_.clip().id;
    app::decide(review_.yard(), f);
}

void RideFindings::decide(const std::string& key, store::Decision decision, const std::string& to) {
    const FindingRow* row = find(key);
    if (!review_.is_open() || !row) return;
    const bool again = row->decision == decision && decision != store::Decision::changed;
    write_decision(FindingRow(*row), again ? store::Decision::open : decision, to, row->frame);
}

std::vector<Accepted> RideFindings::accepted() const {
    std::vector<Accepted> out;
    for (const FindingRow& row : found_->rows) {
        if (row.decision == store::Decision::accepted || row.decision == store::Decision::changed)
            out.push_back({row.said()->id, row.seen});
    }
    return out;
}

std::optional<Accepted> RideFindings::focus_seen() const {
    if (!focus()) return std::nullopt;
    const FindingRow* best = nullptr;  // where it weighs most
    for (const FindingRow& row : found_->rows) {
        if (row.said() != focus()->fault) continue;
        if (!best || row.found.severity * row.found.share > best->found.severity * best->found.share)
            best = &row;
    }
    return best ? std::optional(Accepted{focus()->fault->id, best->seen}) : std::nullopt;
}

void RideFindings::attach_moment(const std::string& key) {
    const FindingRow* row = find(key);
    if (!review_.is_open() || !row || !review_.moment()) return;
    const int here = review_.deck().frame();
    const bool mine = row->clip == review_.clip().id && row->frame == here;
    FindingRow now = *row;
    now.frame = -1;  // the new one lies in this clip
    write_decision(now, row->decision, row->changed_to ? row->changed_to->id : std::string(),
                   mine ? -1 : here);
}

void RideFindings::add_remark(store::RemarkKind kind, core::BodyPart part, const QString& words) {
    const QString text = words.trimmed();
    if (!review_.is_open() || !review_.deck().ready() || text.isEmpty()) return;
    store::Remark r;
    r.ride = review_.ride().id;
    r.kind = kind;
    r.part = std::string(core::word(part));
    r.words = text.toStdString();
    r.clip = review_.clip().id;
    r.frame = review_.deck().frame();
    app::add_remark(review_.yard(), r);
}

QStringList RideFindings::what_is_good() const {
    QStringList out;
    for (const store::Remark& r : review_.remarks()) {  // what the coach named comes first
        if (r.kind == store::RemarkKind::strength) out << QString::fromStdString(r.words);
    }
    for (const core::Strength& s : found_->assessment.good) out << QString::fromStdString(s.words);
    out.removeDuplicates();
    return out;
}

}  // namespace aspen::app

#include "moc_ride_findings.cpp"
