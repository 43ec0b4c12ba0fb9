#include "core/judging/schools.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <deque>
#include <mutex>
#include <set>

#include "core/judging/hip_band.hpp"
#include "core/measures/measures.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

constexpr int kDeepestChain = 8;  // more sections in a chain than any school can have: a ring

/// The section that judges: over the fence the phase decides, elsewhere the seat.
std::string section_of(const Setting& s) {
    const bool over = s.gait == Gait::jump && s.phase != "approach" && s.phase != "departure";
    return over ? "jump" : std::string(word(s.seat));
}

std::string needs_phase_words(const Setting& s) {
    if (!s.phase.empty()) return "no band for this phase";
    if (s.gait == Gait::jump) return "say first which part of the jump this is";
    return "say first whether this is the top or the bottom of the rise";
}

void set_half_width(Band& band) {
    if (band.lo && band.hi) band.half_width = (*band.hi - *band.lo) / 2;
}

}  // namespace

/// Years of rides are judged in a few settings: what was looked up once is not looked up a thousand times.
struct Schools::Memory {
    static constexpr std::size_t kSettings = 64;  // beyond it the oldest goes
    struct Here {
        Setting setting;
        std::map<std::string, BandHere, std::less<>> bands;
    };
    std::mutex guard;
    std::map<HipCell, HipBand> hips;
    std::deque<Here> settings;

    HipBand hip(const HipCell& cell) {
        const std::lock_guard lock(guard);
        const auto it = hips.find(cell);
        return it != hips.end() ? it->second : hips.emplace(cell, hip_band(cell)).first->second;
    }
    std::optional<BandHere> find(std::string_view measure, const Setting& setting) {
        const std::lock_guard lock(guard);
        const auto here = std::ranges::find(settings, setting, &Here::setting);
        if (here == settings.end()) return std::nullopt;
        const auto band = here->bands.find(measure);
        return band != here->bands.end() ? std::optional(band->second) : std::nullopt;
    }
    void keep(std::string_view measure, const Setting& setting, const BandHere& band) {
        const std::lock_guard lock(guard);
        auto here = std::ranges::find(settings, setting, &Here::setting);
        if (here == settings.end()) {
            if (settings.size() == kSettings) settings.pop_front();
            here = settings.insert(settings.end(), {setting, {}});
        }
        here->bands.insert_or_assign(std::string(measure), band);
    }
};

Schools::Schools() : memory_(std::make_shared<Memory>()) {}

Schools::Schools(std::vector<School> schools, Situations situations)
    : schools_(std::move(schools)), situations_(std::move(situations)), memory_(std::make_shared<Memory>()) {
    std::set<std::string, std::less<>> ids;
    for (const School& s : schools_) {
        if (!ids.insert(s.id).second)
            throw Refused(fmt::format("schools: \"{}\" stands twice; rename one", s.id));
    }
    for (const School& s : schools_) {
        const School* up = &s;
        for (int steps = 0; !up->inherits.empty(); ++steps) {
            const School* parent = find(up->inherits);
            if (!parent)
                throw Refused(
                    fmt::format("schools: {}: inherits \"{}\", which is not there", up->id, up->inherits));
            if (steps > kDeepestChain) throw Refused(fmt::format("schools: {}: inherits from itself", s.id));
            up = parent;
        }
    }
    for (const School& s : schools_) check(s);
}

/// What a section or a cell refers to has to be there, for this school and all it inherits.
void Schools::check(const School& school) const {
    const auto complain = [&](const std::string& section, const std::string& field, const std::string& what) {
        throw Refused(fmt::format("{}: section \"{}\": field \"{}\" {}",
                                  school.file.empty() ? "school " + school.id : school.file, section, field,
                                  what));
    };
    const auto known = [&](const std::string& section) {
        for (const School* s = &school; s; s = s->inherits.empty() ? nullptr : find(s->inherits)) {
            if (s->sections.contains(section)) return true;
        }
        return false;
    };
    for (const auto& [name, section] : school.sections) {
        if (!section.inherits.empty() && !known(section.inherits))
            complain(name, "inherits", fmt::format("names \"{}\", which no section is", section.inherits));
        std::string at = name;
        for (int steps = 0; !at.empty(); ++steps) {
            if (steps > kDeepestChain)
                complain(name, "inherits", "comes back to itself; take one of them out");
            at = inherited_section(school, at);
        }
        for (const auto& [key, cell] : section.bands) {
            const auto* relative = std::get_if<School::Relative>(&cell);
            if (!relative) continue;
            const std::string measure = key.substr(0, key.find_first_of("/@"));
            if (!known(relative->section) || !resolve(school, cell, measure, {}, 0))
                complain(name, key, fmt::format("is like \"{}\", which has no such band", relative->section));
        }
    }
}

std::string Schools::family(const std::string& id) const {
    static constexpr std::array<std::string_view, 5> kShipped{"classical", "hunter", "jumper", "stock",
                                                              "gaited"};
    std::string at = id;
    for (std::size_t i = 0; i <= schools_.size(); ++i) {
        const School* school = find(at);
        if (!school || std::ranges::find(kShipped, at) != kShipped.end() || school->inherits.empty())
            return at;
        at = school->inherits;
    }
    return at;
}

const School* Schools::find(std::string_view wanted) const {
    const auto it = std::ranges::find(schools_, wanted, &School::id);
    return it == schools_.end() ? nullptr : &*it;
}

std::string Schools::inherited_section(const School& school, const std::string& section) const {
    for (const School* s = &school; s; s = s->inherits.empty() ? nullptr : find(s->inherits)) {
        const auto found = s->sections.find(section);
        if (found != s->sections.end() && !found->second.inherits.empty()) return found->second.inherits;
    }
    return {};
}

Schools::Hit Schools::look_up(const School& school, const std::string& section, std::string_view measure,
                              const Setting& setting, int depth) const {
    if (depth > kDeepestChain) return {};
    const std::string plain(measure), gait = fmt::format("{}/{}", measure, word(setting.gait));
    for (const School* s = &school; s; s = s->inherits.empty() ? nullptr : find(s->inherits)) {
        const auto found = s->sections.find(section);
        if (found == s->sections.end()) continue;
        const auto& bands = found->second.bands;
        const std::array<std::string, 4> keys{gait + "@" + setting.phase, plain + "@" + setting.phase, gait,
                                              plain};
        for (const std::string& key : keys) {
            if (const auto cell = bands.find(key); cell != bands.end()) return {&cell->second, s};
        }
        const bool by_phase = std::ranges::any_of(bands, [&](const auto& b) {
            return b.first.starts_with(plain + "@") || b.first.starts_with(gait + "@");
        });
        if (by_phase) return {nullptr, s, true};
    }
    const std::string next = inherited_section(school, section);
    return next.empty() ? Hit{} : look_up(school, next, measure, setting, depth + 1);
}

std::optional<School::Range> Schools::resolve(const School& school, const School::Cell& cell,
                                              std::string_view measure, const Setting& setting,
                                              int depth) const {
    if (const auto* range = std::get_if<School::Range>(&cell)) return *range;
    const auto* relative = std::get_if<School::Relative>(&cell);
    if (!relative || depth > kDeepestChain) return std::nullopt;
    const Hit base = look_up(school, relative->section, measure, setting, depth + 1);
    if (!base.cell) return std::nullopt;
    auto range = resolve(school, *base.cell, measure, setting, depth + 1);
    if (!range) return std::nullopt;
    if (range->lo) *range->lo += relative->lo_add;
    if (range->hi) *range->hi += relative->hi_add;
    return range;
}

const School* Schools::school_of(const Setting& setting) const {
    const School* school = find(setting.school);
    if (!school)
        throw Refused(fmt::format("school: \"{}\" is not known; use one of the ids that `schools` lists",
                                  setting.school));
    return school;
}

BandOrReason Schools::stated(std::string_view measure, const Setting& setting) const {
    const School* school = school_of(setting);
    const Hit hit = look_up(*school, section_of(setting), measure, setting);
    if (hit.needs_phase) return needs_phase_words(setting);
    if (!hit.cell) return std::string("no band for this seat");
    if (std::holds_alternative<std::monostate>(*hit.cell)) return std::string("not held in this school");
    const auto range = resolve(*school, *hit.cell, measure, setting, 0);
    if (!range) return std::string("no band for this seat");
    Band band{range->lo, range->hi, 1, {}, hit.school->source};
    band.school = hit.school->id;
    set_half_width(band);
    bool scaled = range->lo && range->hi;
    for (const School* s = school; s; s = s->inherits.empty() ? nullptr : find(s->inherits)) {
        if (const auto scale = s->scales.find(measure); !scaled && scale != s->scales.end()) {
            band.half_width = scale->second;
            scaled = true;
        }
        if (const auto why = s->why.find(measure); band.why.empty() && why != s->why.end())
            band.why = why->second;
    }
    return band;
}

/// What the other bands of the cell leave to the hip.
BandOrReason Schools::hip(const BandOf& of) const {
    const auto both = [&](std::string_view measure) -> std::variant<HipCell::Limits, std::string> {
        const BandOrReason b = of(measure);
        if (const auto* why = std::get_if<std::string>(&b)) return *why;
        const Band& band = std::get<Band>(b);
        if (!band.lo || !band.hi) return std::string("follows from bands of which one is open");
        return HipCell::Limits{*band.lo, *band.hi};
    };
    HipCell cell;
    for (const auto& [measure, limits] :
         {std::pair{"trunk_lean", &cell.trunk_lean}, std::pair{"heel_offset", &cell.heel_offset},
          std::pair{"knee_angle", &cell.knee_angle}, std::pair{"heel_drop", &cell.heel_drop}}) {
        const auto found = both(measure);
        if (const auto* why = std::get_if<std::string>(&found)) return *why;
        *limits = std::get<HipCell::Limits>(found);
    }
    const BandOrReason past = of("shoulder_past_knee");
    if (const Band* b = std::get_if<Band>(&past)) cell.shoulder_past_knee = b->hi;
    const HipBand hip = memory_->hip(cell);
    if (hip.stay < kFewestStay)
        return std::string("trunk, leg and shoulder past the knee contradict each other in this school");
    Band out{hip.lo, hip.hi, (hip.hi - hip.lo) / 2, {}, "computed from the other bands of the cell"};
    out.why = "Follows from trunk, heel, knee and heel drop; it opens and closes with the horse.";
    return out;
}

BandOrReason Schools::band(std::string_view measure, const Setting& setting) const {
    if (setting.school.empty()) return std::string("school, gait or seat not said");
    if (measure != "hip_angle") return stated(measure, setting);
    return hip([&](std::string_view m) { return stated(m, setting); });
}

BandHere Schools::here(std::string_view measure, const Setting& said) const {
    if (auto known = memory_->find(measure, said)) return *std::move(known);
    BandHere band = look_up_here(measure, said);
    memory_->keep(measure, said, band);
    return band;
}

BandHere Schools::look_up_here(std::string_view measure, const Setting& said) const {
    const auto suspended = situations_.apply(measure, said, nullptr).suspended;
    if (said.school.empty()) return {std::string("school, gait or seat not said"), suspended};
    const Situations::SeatHere seat = situations_.seat(said);
    Setting setting = said;
    setting.seat = seat.seat;
    const auto moved = [&](std::string_view m) {
        BandOrReason out = stated(m, setting);
        if (Band* b = std::get_if<Band>(&out)) {
            const std::string note = situations_.apply(m, setting, b).note;
            set_half_width(*b);
            b->note = seat.note;
            if (!note.empty()) b->note += (b->note.empty() ? "" : "; ") + note;
        }
        return out;
    };
    if (measure != "hip_angle") return {moved(measure), suspended};
    BandOrReason out = hip(moved);
    if (Band* b = std::get_if<Band>(&out)) {
        // A consequence moves with what it follows from, for the same reason.
        for (const char* m : {"trunk_lean", "heel_offset", "knee_angle", "heel_drop"}) {
            const BandOrReason free = moved(m);
            if (const Band* f = std::get_if<Band>(&free); f && b->note.empty()) b->note = f->note;
        }
    }
    return {std::move(out), suspended};
}

}  // namespace aspen::core
