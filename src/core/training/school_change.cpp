#include "core/training/school_change.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/measures/measures.hpp"

namespace aspen::core {
namespace {

AttentionGroup group_of(BodyPart part) {
    switch (part) {
        case BodyPart::trunk:
            return AttentionGroup::trunk;
        case BodyPart::head:
            return AttentionGroup::head;
        case BodyPart::shoulder:
        case BodyPart::elbow:
        case BodyPart::hand:
            return AttentionGroup::arms;
        default:
            return AttentionGroup::base;
    }
}

std::string spoken(const Band& b, std::string_view unit) {
    const auto end = [](const std::optional<double>& v) {
        return v ? fmt::format("{:g}", *v) : std::string("open");
    };
    return fmt::format("{} to {}{}", end(b.lo), end(b.hi), unit == "deg" ? "°" : " %");
}

/// By how much the band moved: its middle, or the one end that both have; nothing where they cannot be
/// compared.
std::optional<double> shift_of(const Band& a, const Band& b) {
    if (a.lo && a.hi && b.lo && b.hi) return (*b.lo + *b.hi - *a.lo - *a.hi) / 2;
    if (a.lo && b.lo) return *b.lo - *a.lo;
    if (a.hi && b.hi) return *b.hi - *a.hi;
    return std::nullopt;
}

/// The fault that the old habit is in the new school.
const Fault* fault_of(const FaultBook& faults, const std::string& measure, bool below) {
    for (const Fault& f : faults.faults()) {
        if (f.when.empty() || f.when.front().measure != measure) continue;
        const Condition::Side side = f.when.front().side;
        if (side == Condition::Side::either ||
            side == (below ? Condition::Side::below : Condition::Side::above))
            return &f;
    }
    return nullptr;
}

/// What takes the measure the way the new school wants it; nothing where the data says nothing of it, or
/// nothing of it fits.
const Exercise* toward(const std::string& measure, bool more, const ExerciseBook& book,
                       const RiderNeeds& rider) {
    for (const std::string& id : book.for_school_change(measure, more)) {
        const Exercise* e = book.find(id, rider);
        if (e && !e->hidden && book.offer(*e, rider).set_aside.empty()) return e;
    }
    return nullptr;
}

}  // namespace

std::vector<SchoolStep> school_change(const Schools& schools, const FaultBook& faults,
                                      const ExerciseBook& book, const std::string& from,
                                      const std::string& to, const Setting& setting,
                                      const RiderNeeds& rider) {
    std::vector<SchoolStep> out;
    Setting here = setting, there = setting;
    here.school = from;
    there.school = to;
    for (const MeasureInfo& m : measures_of(View::side)) {
        if (m.id == "hip_angle") continue;  // follows from the others, never an opinion
        const BandOrReason a = schools.band(m.id, here), b = schools.band(m.id, there);
        const Band *one = std::get_if<Band>(&a), *other = std::get_if<Band>(&b);
        if (!one || !other) continue;
        const auto shift = shift_of(*one, *other);
        if (!shift || std::abs(*shift) <= 1) continue;
        SchoolStep step;
        step.group = group_of(m.part);
        step.measure = m.id;
        step.spoken = m.spoken;
        step.unit = m.unit;
        step.from = *one;
        step.to = *other;
        step.shift = *shift;
        step.words =
            fmt::format("{}: {} now, {} there", m.spoken, spoken(*one, m.unit), spoken(*other, m.unit));
        step.exercise = toward(step.measure, *shift > 0, book, rider);
        const Fault* f = step.exercise ? nullptr : fault_of(faults, step.measure, *shift > 0);
        if (f) {
            const auto offers = book.offers(f->id, rider);
            const auto fits =
                std::ranges::find_if(offers, [](const Offer& o) { return o.set_aside.empty(); });
            if (fits != offers.end()) step.exercise = fits->exercise;
        }
        if (step.exercise) step.clip = step.exercise->next_clip;
        out.push_back(std::move(step));
    }
    std::ranges::stable_sort(out, [](const SchoolStep& a, const SchoolStep& b) {
        if (a.group != b.group) return a.group < b.group;
        const double wa = std::abs(a.shift) / std::max(1e-9, a.to.half_width),
                     wb = std::abs(b.shift) / std::max(1e-9, b.to.half_width);
        return wa > wb;
    });
    return out;
}

}  // namespace aspen::core
