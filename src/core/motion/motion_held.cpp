#include <algorithm>
#include <cmath>

#include "core/motion/motion_parts.hpp"

namespace aspen::core::detail {
namespace {

using Stand = EvenTracks::Stand;
constexpr double kSameInstantS = 1e-6;

/// A measure that is watched: its mean in every stride, and the error that the camera gives all of them.
struct Watched {
    std::string id;
    std::vector<std::optional<double>> by_stride;
    double sd = 0;
    Band band;

    /// How far outside in a stride, half widths of the band; 0 inside, borderline or not followed.
    double outside(std::size_t stride) const {
        const auto& v = by_stride[stride];
        if (!v || verdict_of(*v, sd, band) != Verdict::outside) return 0;
        const double past = band.hi && *v > *band.hi ? *v - *band.hi : *band.lo - *v;
        return past / band.half_width;
    }
};

std::vector<std::string> watched_ids(const MotionParts& p) {
    if (!p.in.hold.empty()) return p.in.hold;
    const School* at = p.schools.find(p.in.setting.school);
    while (at && at->base_measures.empty() && !at->inherits.empty()) at = p.schools.find(at->inherits);
    return at ? at->base_measures : std::vector<std::string>{};
}

std::vector<std::optional<double>> means(const MotionParts& p, const Formula& formula, const Stand& stand) {
    const auto x = p.even.measured(formula, stand);
    std::vector<std::optional<double>> out;
    for (const StrideSpan& span : p.report.strides) {
        const auto part = part_of(p.even, x, span);
        out.push_back(part && !part->values.empty() ? std::optional(mean_of(part->values)) : std::nullopt);
    }
    return out;
}

std::optional<Watched> watch(const MotionParts& p, const std::string& id) {
    const auto formulas = side_formulas();
    const auto f = std::ranges::find_if(formulas, [&](const Formula& x) { return x.info.id == id; });
    if (f == formulas.end() || !missing(p.in, p.even, f->info.needs).empty()) return std::nullopt;
    const BandHere here = p.schools.here(id, p.in.setting);
    const auto* band = std::get_if<Band>(&here.band);
    if (!band || !here.suspended.empty()) return std::nullopt;
    const Stand nominal = p.even.nominal();
    Watched w{id, means(p, *f, nominal), 0, *band};
    const auto& camera = p.in.camera;
    for (const Stand moved : {Stand{nominal.roll_deg + camera.roll_sd_deg, nominal.yaw_deg},
                              Stand{nominal.roll_deg, nominal.yaw_deg + camera.yaw_sd_deg}}) {
        const auto there = means(p, *f, moved);
        for (std::size_t i = 0; i < there.size(); ++i) {
            if (!there[i] || !w.by_stride[i]) continue;
            w.sd += std::pow(*there[i] - *w.by_stride[i], 2);
            break;
        }
    }
    w.sd = std::sqrt(w.sd);
    return w;
}

}  // namespace

MotionMeasure strides_held(const MotionParts& p) {
    MotionMeasure m;
    m.id = "strides_held";
    m.unit = "strides";
    std::vector<Watched> all;
    if (p.in.view != View::side)
        m.reason = "seen from the side only";
    else if (p.in.setting.school.empty())
        m.reason = "no school was said";
    else if (p.report.strides.size() < kFewestStrides)
        m.reason = "fewer than three whole strides";
    else
        for (const std::string& id : watched_ids(p))
            if (auto w = watch(p, id)) all.push_back(*std::move(w));
    if (m.reason.empty() && all.empty()) m.reason = "nothing that is watched has a band and was followed";
    if (!m.reason.empty()) return m;
    int run = 0, longest = 0;
    std::string lets_go;  // what ended the longest run; where none held, what was furthest out first
    std::string lost;     // what of it was lost when the longest run ended: it held at least so long
    for (std::size_t i = 0; i < p.report.strides.size(); ++i) {
        const auto gone = std::ranges::find_if(all, [&](const Watched& w) { return !w.by_stride[i]; });
        const bool hole =
            i > 0 && p.report.strides[i].start_s - p.report.strides[i - 1].end_s > kSameInstantS;
        if (gone != all.end() || hole) {
            if (run > 0 && run == longest && lets_go.empty())
                lost = gone != all.end() ? gone->id : std::string("stride");
            run = 0;
            if (gone != all.end()) continue;
        }
        const auto worst = std::ranges::max_element(all, {}, [&](const Watched& w) { return w.outside(i); });
        const bool in = worst->outside(i) == 0;
        if (in && ++run > longest) {
            longest = run;
            lets_go.clear();
            lost.clear();
        }
        if (in) continue;
        if (lets_go.empty() && lost.empty() && (longest == run || longest == 0)) lets_go = worst->id;
        run = 0;
    }
    m.value = longest;
    m.strides = static_cast<int>(p.report.strides.size());
    m.verdict = Verdict::no_band;
    m.reason = "no band";
    if (!lets_go.empty()) m.words["lets_go_first"] = lets_go;
    if (!lost.empty() && longest > 0) m.words["at_least"] = lost;
    return m;
}

}  // namespace aspen::core::detail
