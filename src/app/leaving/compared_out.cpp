#include "app/leaving/compared_out.hpp"

#include "app/leaving/face_plan.hpp"

namespace aspen::app {

PermitOrLine ask_for_compared(Yard& yard, const Comparison& comparison) {
    Going going{use_of(yard, comparison.rides()), {}, comparison.rides(), {}};
    for (std::size_t i = 0; i < comparison.count(); ++i)
        going.clips.push_back(comparison.side(i).subject.ridden.clip.id);
    return ask(yard, going);
}

tl::expected<ComparedCovers, QString> covers_in(Yard& yard, const Comparison& comparison,
                                                const Permit& permit) {
    ComparedCovers out;
    for (std::size_t i = 0; i < comparison.count(); ++i) {
        const Comparison::Side& side = comparison.side(i);
        const int frame = side.subject.moment.frame;
        const auto faces = faces_to_cover(yard, side.subject.ridden.clip, permit);
        const FaceCovers covers = faces_known_at(faces, frame);
        if (!covers.trouble.isEmpty()) return tl::unexpected(covers.trouble);
        if (!faces.empty() && side.deck->picture_frame() != frame)
            return tl::unexpected(QObject::tr(
                "A face in it cannot be covered where it stands: go back to the marked moments first."));
        out.push_back(covers.at(frame));
    }
    return out;
}

}  // namespace aspen::app
