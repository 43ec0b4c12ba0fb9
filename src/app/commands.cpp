#include "app/commands.hpp"

namespace aspen::app {

PutMark::PutMark(Yard& yard, const store::Moment& moment, core::Landmark landmark, core::Mark before,
                 core::Mark after, int gesture)
    : yard_(yard),
      moment_(moment.id),
      clip_(moment.clip),
      landmark_(landmark),
      before_(before),
      after_(after),
      gesture_(gesture) {
    const QString name = QString::fromUtf8(core::spoken(landmark).data());
    setText(after.visibility == core::Visibility::absent    ? "Take away " + name
            : before.visibility == core::Visibility::absent ? "Place " + name
                                                            : "Move " + name);
}

bool PutMark::mergeWith(const QUndoCommand* next) {
    const auto* other = static_cast<const PutMark*>(next);
    if (other->moment_ != moment_ || other->landmark_ != landmark_ || other->gesture_ != gesture_)
        return false;
    after_ = other->after_;
    return true;
}

void PutMark::write(const core::Mark& mark) {
    yard_.records().put(moment_, landmark_, mark);
    emit yard_.marks_changed(clip_);
}

PutFigure::PutFigure(Yard& yard, const store::Moment& moment, State after, const QString& text, int gesture)
    : QUndoCommand(text),
      yard_(yard),
      moment_(moment.id),
      clip_(moment.clip),
      before_{moment.figure, moment.head_top},
      after_(std::move(after)),
      gesture_(gesture) {}

bool PutFigure::mergeWith(const QUndoCommand* next) {
    const auto* other = static_cast<const PutFigure*>(next);
    if (other->moment_ != moment_ || other->gesture_ != gesture_) return false;
    after_ = other->after_;
    return true;
}

void PutFigure::write(const State& from, const State& to) {
    yard_.records().within([&] {
        for (std::size_t i = 0; i < core::kLandmarkCount; ++i) {
            if (from.figure.marks[i] != to.figure.marks[i])
                yard_.records().put(moment_, static_cast<core::Landmark>(i), to.figure.marks[i]);
        }
        if (from.head_top != to.head_top) yard_.records().set_head_top(moment_, to.head_top);
    });
    emit yard_.marks_changed(clip_);
}

}  // namespace aspen::app
