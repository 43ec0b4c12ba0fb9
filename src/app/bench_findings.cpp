#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "app/bench.hpp"
#include "app/review_setting.hpp"

/// What the bench's moments say, and what the coach says of it.
namespace aspen::app {
namespace {

constexpr int kFirstJointsForJudgement = 3;  // the column comes alive from the third joint

}  // namespace

void Bench::judge() {
    judge_here();
    find_faults();
}

void Bench::judge_here() {
    const core::Figure f = figure();
    judged_.clear();
    if (f.marked() >= kFirstJointsForJudgement) judged_ = judge_figure(f, setting(), frame_);
}

void Bench::find_faults() {
    const core::Figure f = figure();
    std::vector<std::vector<core::FoundFault>> each;
    const core::FaultBook& book = yard_.knowledge().faults;
    for (const store::Moment& m : moments_) {
        if (m.slot != slot_) continue;
        const core::Setting s = setting_of(m.frame, m.phase);
        const core::Figure figure_there = m.frame == frame_ ? f : m.figure;
        if (figure_there.marked() < kFirstJointsForJudgement) continue;
        each.push_back(book.look_for(judge_figure(figure_there, s, m.frame), s, figure_there.view));
    }
    findings_.clear();
    const auto decided = clip_ ? yard_.records().findings(clip_->id) : std::vector<store::Finding>{};
    if (!each.empty()) {
        for (core::FoundFault& found : book.merge(each))
            findings_.push_back({std::move(found), store::Decision::open, nullptr, -1});
    }
    for (const store::Finding& d : decided) {
        if (d.slot != slot_) continue;
        auto row = std::ranges::find_if(findings_,
                                        [&](const FindingRow& r) { return r.found.fault->id == d.fault; });
        if (row == findings_.end()) {
            // The coach's word stays, whatever a later computation finds.
            const core::Fault* fault = book.find(d.fault);
            if (!fault || each.empty()) continue;
            findings_.push_back({core::FoundFault{fault, core::Verdict::no_band, d.measured_severity, 0, {}},
                                 d.decision, book.find(d.changed_to), d.frame});
            continue;
        }
        row->decision = d.decision;
        row->frame = d.frame;
        row->changed_to = d.decision == store::Decision::changed ? book.find(d.changed_to) : nullptr;
    }
    // Base before what it carries: the list stands in the order of attention.
    std::ranges::stable_sort(findings_, [](const FindingRow& a, const FindingRow& b) {
        return a.found.fault->group < b.found.fault->group;
    });
    remarks_.clear();
    for (store::Remark& r : clip_ ? yard_.records().remarks(clip_->id) : std::vector<store::Remark>{}) {
        if (r.slot == slot_) remarks_.push_back(std::move(r));
    }
    emit findings_changed();
}

/// Measures and holds against the bands; in a stretch that the view cannot judge every measure says so.
std::vector<core::Judged> Bench::judge_figure(const core::Figure& figure, const core::Setting& setting,
                                              int frame) const {
    auto out = core::judge(figure, setting, yard_.knowledge().body, yard_.knowledge().schools);
    if (judged_at(stretches_, frame)) return out;
    for (core::Judged& j : out) {
        j.measured.value.reset();
        j.verdict = core::Verdict::not_judged;
        j.beyond = core::Beyond::neither;
        j.severity = 0;
        j.reason = "this stretch cannot be judged from here";
    }
    return out;
}

void Bench::write_decision(const std::string& fault, store::Decision decision, const std::string& to) {
    const auto row =
        std::ranges::find_if(findings_, [&](const FindingRow& r) { return r.found.fault->id == fault; });
    if (!clip_ || row == findings_.end()) return;
    const bool again = row->decision == decision && decision != store::Decision::changed;
    yard_.decide({clip_->id, fault, std::string(core::word(row->found.verdict)), row->found.severity,
                  again ? store::Decision::open : decision, to,
                  yard_.today().toString(Qt::ISODate).toStdString(), slot_, row->frame});
}

void Bench::attach_moment(const std::string& fault) {
    const auto row =
        std::ranges::find_if(findings_, [&](const FindingRow& r) { return r.found.fault->id == fault; });
    if (!clip_ || row == findings_.end() || !moment()) return;
    const int frame = row->frame == frame_ ? -1 : frame_;
    yard_.decide({clip_->id, fault, std::string(core::word(row->found.verdict)), row->found.severity,
                  row->decision, row->changed_to ? row->changed_to->id : std::string(),
                  yard_.today().toString(Qt::ISODate).toStdString(), slot_, frame});
}

void Bench::add_remark(store::RemarkKind kind, core::BodyPart part, const QString& words) {
    const QString text = words.trimmed();
    if (!clip_ || !ready() || text.isEmpty()) return;
    yard_.add_remark({{}, clip_->id, kind, std::string(core::word(part)), text.toStdString(), frame_, slot_});
}
void Bench::accept(const std::string& fault) { write_decision(fault, store::Decision::accepted, {}); }
void Bench::ask_back(const std::string& fault) { write_decision(fault, store::Decision::asked_back, {}); }
void Bench::reject(const std::string& fault) { write_decision(fault, store::Decision::rejected, {}); }
void Bench::change(const std::string& fault, const std::string& to) {
    write_decision(fault, store::Decision::changed, to);
}

std::vector<core::FoundFault> Bench::said_faults() const {
    const bool decided = std::ranges::any_of(findings_, [](const FindingRow& r) {
        return r.decision == store::Decision::accepted || r.decision == store::Decision::changed;
    });
    std::vector<core::FoundFault> out;
    for (const FindingRow& row : findings_) {
        const core::Fault* said = row.said();
        // What waits for the rider's answer is not called a fault meanwhile.
        if (!said || row.decision == store::Decision::asked_back ||
            (decided && row.decision == store::Decision::open))
            continue;
        core::FoundFault f = row.found;
        f.fault = said;
        // What the coach accepts counts as certain, even where the number alone was borderline.
        if (row.decision != store::Decision::open) f.verdict = core::Verdict::outside;
        f.share = std::max(f.share, 1e-6);
        out.push_back(std::move(f));
    }
    return out;
}

std::vector<core::Cause> Bench::causes() const {
    return yard_.knowledge().faults.causes_among(said_faults());
}

std::optional<core::Focus> Bench::focus() const {
    if (!clip_) return std::nullopt;
    std::vector<std::string> in_work;
    if (rider()) {
        for (const store::Correction& c : yard_.records().corrections(rider())) {
            if (c.focus && c.horse == horse()) in_work.push_back(c.fault);
        }
    }
    return core::choose_focus(said_faults(), causes(), in_work);
}

QStringList Bench::what_is_good() const {
    struct Tally {
        int inside = 0, other = 0;
        double margin = 0;
    };
    std::map<std::string_view, Tally> tallies;
    for (const store::Moment& m : moments_) {
        if (m.slot != slot_) continue;
        for (const core::Judged& j : judge_figure(m.figure, setting_of(m.frame, m.phase), m.frame)) {
            if (j.verdict == core::Verdict::inside) {
                ++tallies[j.info().id].inside;
                const double middle =
                    j.band->lo && j.band->hi ? (*j.band->lo + *j.band->hi) / 2 : *j.measured.value;
                tallies[j.info().id].margin += 1 - std::abs(*j.measured.value - middle) / j.band->half_width;
            } else if (j.verdict == core::Verdict::outside || j.verdict == core::Verdict::borderline) {
                ++tallies[j.info().id].other;
            }
        }
    }
    std::vector<std::pair<double, QString>> ranked;
    std::set<std::string> named;
    for (const core::Fault& fault : yard_.knowledge().faults.faults()) {
        if (fault.good.empty() || named.contains(fault.good) || fault.when.size() != 1) continue;
        const auto it = tallies.find(core::leading_measure(fault));
        if (it == tallies.end() || it->second.inside == 0 || it->second.other > 0) continue;
        named.insert(fault.good);
        QString text = QString::fromStdString(fault.good);
        text[0] = text[0].toUpper();
        ranked.emplace_back(-it->second.margin / it->second.inside, text);
    }
    std::ranges::stable_sort(ranked, {}, &std::pair<double, QString>::first);
    QStringList out;
    for (const store::Remark& r : remarks_) {  // what the coach named comes first
        if (r.kind == store::RemarkKind::strength) out << QString::fromStdString(r.words);
    }
    for (const auto& [rank, text] : ranked) out << text;
    return out;
}

}  // namespace aspen::app
