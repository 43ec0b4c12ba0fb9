#include "app/review/annotated.hpp"

#include "app/review/finding_row.hpp"
#include "app/yard/changes.hpp"
#include "core/body/face.hpp"

namespace aspen::app {

exchange::Annotated annotated(const core::FaultBook& faults, const core::Figure& figure,
                              const core::Setting& setting, const std::vector<core::Judged>& judged,
                              const std::vector<const core::Fault*>& named, const core::EyeAnswers& eye) {
    exchange::Annotated out;
    const auto observed = faults.observe(judged, setting, figure.view, eye).observations;
    out.marks = core::frame_marks(figure, judged, observed, named);
    if (!out.marks.empty()) out.target = core::target_figure(figure, judged);
    return out;
}

core::EyeAnswers eye_on(const std::vector<store::Answer>& answers, int slot, int frame) {
    core::EyeAnswers out;
    for (const store::Answer& a : answers) {
        if (a.frame == frame && a.slot == slot && a.said != core::CheckAnswer::Said::cannot_see)
            out[a.check] = a.said == core::CheckAnswer::Said::fault;
    }
    return out;
}

exchange::Annotated annotated_here(const BenchState& bench) {
    exchange::Annotated out;
    for (const store::Sketch& s : bench.review().sketches()) {
        if (s.frame == bench.deck().frame() && s.slot == bench.review().slot())
            out.drawn.push_back(
                {static_cast<exchange::Drawn::Kind>(s.kind), s.a, s.b, QString::fromStdString(s.words)});
    }
    const std::vector<core::Judged>& judged = bench.marking().judged();
    if (!bench.is_open() || judged.empty() || bench.marking().dragging()) return out;
    const core::Figure figure = bench.marking().figure();
    std::vector<const core::Fault*> named;
    for (const FindingRow& row : bench.findings().rows()) {
        // Drawn by the name the rule gives it here; a word of the coach's own is in the list beside it.
        if (row.said()) named.push_back(row.found.fault);
    }
    const auto drawn = std::move(out.drawn);
    out = annotated(bench.yard().knowledge().faults, figure, bench.review().setting(), judged, named,
                    eye_on(bench.review().answers(), bench.review().slot(), bench.deck().frame()));
    out.drawn = drawn;
    return out;
}

QString draw_here(Bench& bench, store::SketchKind kind, core::Point a, core::Point b, const QString& words) {
    if (!bench.is_open() || !bench.deck().ready()) return {};
    const auto face = core::face_ellipse(bench.marking().figure());
    const auto on_face = [&](core::Point p) {
        return face && core::distance(p, face->centre) < face->short_half;
    };
    // An arrow may start beside the face; nothing may lie on it.
    if (on_face(a) || (kind == store::SketchKind::arrow && on_face(b)))
        return QObject::tr("That lies on the face; draw beside it.");
    store::Sketch s;
    s.clip = bench.review().clip().id;
    s.slot = bench.review().slot();
    s.frame = bench.deck().frame();
    s.kind = kind;
    s.a = a;
    s.b = b;
    s.words = words.toStdString();
    add_sketch(bench.yard(), s);
    return {};
}

bool undraw_here(Bench& bench) {
    const auto& all = bench.review().sketches();
    for (auto s = all.rbegin(); s != all.rend(); ++s) {
        if (s->frame != bench.deck().frame() || s->slot != bench.review().slot()) continue;
        const store::Sketch gone = *s;
        remove_sketch(bench.yard(), gone);
        return true;
    }
    return false;
}

}  // namespace aspen::app
