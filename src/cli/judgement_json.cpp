#include "cli/judgement_json.hpp"

#include "core/ride/summary.hpp"

namespace aspen::cli {
namespace {

Json word_or_null(const std::string& w) { return w.empty() ? Json(nullptr) : Json(w); }
template <typename Enum>
Json word_or_null(const std::optional<Enum>& e) {
    return e ? Json(core::word(*e)) : Json(nullptr);
}

/// The side of the body; from front and rear where the finding tends, to the rider's right where the value is
/// positive.
Json side_of(const core::RideFinding& f) {
    if (!f.seen.side.empty()) return f.seen.side;
    const core::MeasureInfo* info = core::find_measure(core::leading_measure(*f.found.fault));
    if (!info || !core::says_side(*info) || f.found.toward == core::Beyond::neither) return nullptr;
    return f.found.toward == core::Beyond::above ? "right" : "left";
}

/// What no moment could judge, why, and the view that would; then what the eye could still settle.
Json not_judged_json(const core::RideAssessment& a, const core::RideData& ride,
                     const core::Knowledge& knowledge) {
    Json out = Json::array();
    for (const core::NotJudged& n : core::not_judged(a, ride, knowledge))
        out.push_back({{"what", n.what}, {"why", n.why}, {"view_that_would", word_or_null(n.view)}});
    return out;
}

Json when_json(const std::vector<core::Condition>& when) {
    static const char* sides[] = {"below", "above", "either", "inside", "inward"};
    Json out = Json::array();
    for (const core::Condition& c : when) {
        Json one;
        if (!c.any.empty())
            one = {{"any", when_json(c.any)}};
        else if (!c.all.empty())
            one = {{"all", when_json(c.all)}};
        else if (!c.check.empty())
            one = {{"check", c.check}, {"answer", c.answered_good ? "good" : "fault"}};
        else
            one = {{"measure", c.measure}, {"side", sides[static_cast<int>(c.side)]}};
        for (const core::View v : c.views) one["views"].push_back(core::word(v));
        out.push_back(std::move(one));
    }
    return out;
}

template <typename Enum>
Json words_json(const std::vector<Enum>& all) {
    Json out = Json::array();
    for (const Enum& e : all) out.push_back(core::word(e));
    return out;
}

Json fault_json(const core::Fault& f) {
    return {{"id", f.id},
            {"name", f.name},
            {"says", f.says},
            {"rider", f.rider},
            {"horse", f.horse},
            {"look_alike", f.look_alike},
            {"letters", f.letters},
            {"part", core::word(f.part)},
            {"group", core::word(f.group)},
            {"when", when_json(f.when)},
            {"views", words_json(f.where.views)},
            {"seats", words_json(f.where.seats)},
            {"gaits", words_json(f.where.gaits)},
            {"phases", f.where.phases},
            {"not_phases", f.where.not_phases},
            {"movements", f.where.movements},
            {"covers", f.covers},
            {"by_eye", f.by_eye},
            {"needs_stride", f.needs_stride}};
}

/// The bands of one seat or of the jump, in every phase in which one of them is another.
void add_bands(Json& bands, const core::Knowledge& knowledge, const core::Setting& setting, bool jump) {
    for (const auto measures : {core::measures_of(core::View::side), core::measures_of(core::View::rear),
                                core::measures_of_strides()}) {
        for (const core::MeasureInfo& info : measures) {
            const core::BandOrReason found = knowledge.schools.band(info.id, setting);
            const auto* b = std::get_if<core::Band>(&found);
            if (!b) continue;
            bands.push_back({{"seat", jump ? Json(nullptr) : Json(core::word(setting.seat))},
                             {"gait", jump ? Json("jump") : Json(nullptr)},
                             {"phase", word_or_null(setting.phase)},
                             {"measure", info.id},
                             {"lo", optional(b->lo)},
                             {"hi", optional(b->hi)},
                             {"source", b->source},
                             {"why", b->why}});
        }
    }
}

}  // namespace

Json optional(const std::optional<double>& v) { return v ? Json(*v) : Json(nullptr); }

Json measures_json(const std::vector<core::Judged>& judged) {
    Json out = Json::array();
    for (const core::Judged& j : judged) {
        out.push_back({{"id", j.info().id},
                       {"value", optional(j.measured.value)},
                       {"unit", j.info().unit},
                       {"sd", j.measured.value ? Json(j.measured.sd) : Json(nullptr)},
                       {"lo", j.band ? optional(j.band->lo) : Json(nullptr)},
                       {"hi", j.band ? optional(j.band->hi) : Json(nullptr)},
                       {"verdict", core::word(j.verdict)},
                       {"reason", j.reason}});
    }
    return out;
}

Json assessment_json(const core::RideAssessment& a, const core::RideData& ride,
                     const core::Knowledge& knowledge) {
    Json faults = Json::array(), causes = Json::array(), good = Json::array(), states = Json::array();
    for (const core::RideFinding& f : a.findings) {
        faults.push_back({{"id", f.found.fault->id},
                          {"side", side_of(f)},
                          {"gait", word_or_null(f.seen.gait)},
                          {"seat", word_or_null(f.seen.seat)},
                          {"phase", word_or_null(f.found.phase)},
                          {"severity", f.found.severity},
                          {"share", f.found.share},
                          {"seen_once", f.found.seen_once},
                          {"evidence", f.found.evidence},
                          {"verdict", core::word(f.found.verdict)},
                          {"class", core::word(f.found.group())}});
    }
    for (const core::Cause& c : a.causes)
        causes.push_back(
            {{"from", c.from}, {"to", c.to}, {"gait", word_or_null(c.gait)}, {"seat", word_or_null(c.seat)}});
    for (const core::Strength& s : a.good)
        good.push_back({{"id", s.id}, {"measure", word_or_null(s.measure)}, {"words", s.words}});
    static const char* kinds[] = {"fault", "state", "answer", "good_answer"};
    for (const core::NamedState& s : a.states)
        states.push_back({{"id", s.state->id}, {"kind", kinds[static_cast<int>(s.state->kind)]}});
    Json focus = nullptr;
    if (a.focus) {
        Json runners = Json::array();
        for (const core::Focus::RunnerUp& r : a.focus->runners_up)
            runners.push_back({{"id", r.fault->id}, {"why_not", r.why_not}});
        focus = {{"id", a.focus->fault->id},
                 {"gait", word_or_null(a.focus->gait)},
                 {"seat", word_or_null(a.focus->seat)},
                 {"why", a.focus->why},
                 {"runners_up", runners}};
    }
    return {{"faults", faults},  {"causes", causes}, {"focus", focus},
            {"strengths", good}, {"states", states}, {"not_judged", not_judged_json(a, ride, knowledge)}};
}

Json schools_json(const core::Knowledge& knowledge) {
    Json all = Json::array();
    for (const core::School& s : knowledge.schools.all()) {
        Json bands = Json::array(), differs = Json::array(), disputed = Json::array();
        for (const core::Seat seat : core::kSeats) {
            core::Setting setting;
            setting.school = s.id;
            setting.gait = core::Gait::trot;
            setting.seat = seat;
            const std::vector<std::string> phases = seat == core::Seat::rising
                                                        ? std::vector<std::string>{"rise_top", "rise_bottom"}
                                                        : std::vector<std::string>{""};
            for (const std::string& phase : phases) {
                setting.phase = phase;
                add_bands(bands, knowledge, setting, false);
            }
        }
        for (const char* phase : {"take_off", "top", "landing"}) {
            core::Setting setting;
            setting.school = s.id;
            setting.gait = core::Gait::jump;
            setting.seat = core::Seat::two_point;
            setting.phase = phase;
            add_bands(bands, knowledge, setting, true);
        }
        for (const core::School::Difference& d : s.differs) differs.push_back({{"on", d.on}, {"why", d.why}});
        for (const core::School::Difference& d : s.disputed)
            disputed.push_back({{"on", d.on}, {"why", d.why}});
        all.push_back({{"id", s.id},
                       {"name", s.name},
                       {"about", s.about},
                       {"source", s.source},
                       {"inherits", s.inherits},
                       {"differs", differs},
                       {"disputed", disputed},
                       {"bands", bands}});
    }
    return {{"schools", all}};
}

Json faults_json(const core::Knowledge& knowledge) {
    const core::FaultBook& book = knowledge.faults;
    Json all = Json::array(), causes = Json::array(), states = Json::array(), unread = Json::array();
    for (const core::Fault& f : book.faults()) all.push_back(fault_json(f));
    static const char* kinds[] = {"fault", "state", "answer", "good_answer"};
    for (const core::Fault& f : book.states())
        states.push_back({{"id", f.id}, {"name", f.name}, {"kind", kinds[static_cast<int>(f.kind)]}});
    for (const core::Cause& c : book.causes())
        causes.push_back({{"from", c.from}, {"to", c.to}, {"because", c.because}});
    for (const core::Unread& u : book.unread()) unread.push_back({{"measure", u.measure}, {"why", u.why}});
    Json checks = Json::array(), strengths = Json::array();
    for (const core::Check& c : knowledge.checks.all())
        checks.push_back({{"id", c.id}, {"asks", c.asks}, {"good", c.good}, {"fault", c.fault}});
    for (const core::StrengthRule& s : knowledge.strengths.all())
        strengths.push_back(
            {{"id", s.id}, {"name", s.name}, {"when", when_json(s.when)}, {"by_eye", s.by_eye}});
    return {{"faults", all},    {"causes", causes},       {"states", states},
            {"checks", checks}, {"strengths", strengths}, {"unread", unread}};
}

}  // namespace aspen::cli
