#include <QKeyEvent>

#include "ui/review/findings_panel.hpp"
#include "ui/review/ground_column.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/record_line.hpp"
#include "ui/review/review_view.hpp"

/// Talking over a clip, and faces.
namespace aspen::ui {
namespace {

constexpr double kHeld_s = 0.7;  // a key that is held longer stops when it is let go

}  // namespace

void ReviewView::bind_telling() {
    does("record", [this] { record(); });
    does("hand_over", [this] { emit wants_hand_over(); });
    connect(picture_, &PictureView::part_seen, &recorder_, &app::Recorder::see);
    connect(&findings(), &FindingsPanel::current_changed, &recorder_, [this](const QString& title) {
        if (recorder_.recording()) recorder_.speak_of(title);
    });
    connect(&recorder_, &app::Recorder::changed, this, &ReviewView::quiet_down);
    connect(&recorder_, &app::Recorder::say, this, &ReviewView::say);
}

/// Nothing is asked for while hands or ears are at something else.
void ReviewView::quiet_down() {
    picture_->be_quiet(player_.playing() || log_.on() || shows_strides() || ground_->is_on() ||
                       recorder_.recording());
}

void ReviewView::record() {
    if (!recorder_.recording()) {
        recorder_.speak_of({});
        recorder_.show_figure(picture_->shows_marks());
        return emit say(recorder_.start());
    }
    const auto spoken = recorder_.stop();
    if (spoken) return emit recorded(*spoken);
    emit say(tr("That was too short to be a review; nothing was kept."));
}

void ReviewView::keyReleaseEvent(QKeyEvent* e) {
    const bool its_key = keys_.action_of(*e) == "record";
    if (its_key && !e->isAutoRepeat() && recorder_.recording() && recorder_.seconds() > kHeld_s &&
        held_record_) {
        record();
        return e->accept();
    }
    if (its_key && !e->isAutoRepeat()) held_record_ = false;
    QWidget::keyReleaseEvent(e);
}

void ReviewView::bind_faces() {
    does("set_face", [this] { ask_for_face(tr("The face is followed from here."), {}); });
    does("set_other_face", [this] {
        ask_for_face({}, {});
        face_of_other_ = true;
        emit say(tr("Ring the face of somebody else: press in its middle, let go at its edge."));
    });
    does("face_gone", [this] {
        app::set_face_gone(bench_.yard(), bench_.review().clip().id, bench_.review().slot(),
                           bench_.deck().frame());
        emit say(tr("From this frame on the face counts as out of the picture, until it is marked again."));
    });
    does("unset_face", [this] {
        const bool there = app::unset_faces(bench_.yard(), bench_.review().clip().id, bench_.deck().frame());
        emit say(there ? tr("Taken away.") : tr("No ellipse was set on this frame."));
    });
}

}  // namespace aspen::ui
