#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <utility>

#include "app/leaving/marks_exchange.hpp"
#include "app/review/pictures.hpp"
#include "core/ride/ride.hpp"
#include "ui/review/review_view.hpp"
#include "ui/shared/save_place.hpp"
#include "ui/shared/word_line.hpp"

/// What leaves the bench: frames and stretches, with the face covered where that is asked.
namespace aspen::ui {

/// Where nobody marked a face the coach sets an ellipse round it, and then what was asked for goes on.
void ReviewView::ask_for_face(const QString& trouble, const std::function<void()>& again) {
    face_of_other_ = false;
    after_face_ = again;
    if (!trouble.isEmpty())
        emit say(trouble + tr(" Press in the middle of the face and let go at its edge."));
    picture_->draw_line(PictureView::Line::cover);
}

void ReviewView::take_face(core::Point middle, core::Point edge) {
    const double r = core::distance(middle, edge);
    if (r < 4) return emit say(tr("That is too small for a face; nothing was set."));
    const int slot = face_of_other_ ? -1 : bench_.review().slot();
    const double room = 1.2 * r;
    app::set_face(bench_.yard(), bench_.review().clip().id, slot, bench_.deck().frame(),
                  {middle, room, room, 0});
    if (const auto again = std::exchange(after_face_, nullptr)) return again();
    emit say(face_of_other_ ? tr("This face is covered in all that leaves; it is followed from here.")
                            : tr("The face is followed from here when it is covered."));
}

void ReviewView::copy_frame(bool with_figure) {
    if (!bench_.is_open()) return;
    const app::FrameOut out = app::frame_out(bench_, with_figure);
    if (out.wants_face) return ask_for_face(out.trouble, [this, with_figure] { copy_frame(with_figure); });
    if (!out.permit) return emit say(out.trouble);
    const QString line =
        app::hand_over(bench_.yard(), *out.permit,
                       {"picture", app::about_clip(bench_, bench_.deck().frame()), tr("clipboard")},
                       [&] { QGuiApplication::clipboard()->setImage(out.picture); });
    emit say(line.isEmpty() ? tr("Frame %1 is on the clipboard%2.")
                                  .arg(bench_.deck().frame())
                                  .arg(with_figure ? tr(", with the figure") : "")
                            : line);
}

void ReviewView::save_frame() {
    if (!bench_.is_open()) return;
    const std::string about = app::about_clip(bench_, bench_.deck().frame());
    const app::FrameOut with = app::frame_out(bench_, true), without = app::frame_out(bench_, false);
    if (with.wants_face) return ask_for_face(with.trouble, [this] { save_frame(); });
    if (!with.permit) return emit say(with.trouble);
    const QString start = save_place(Kept::picture, QString("frame-%1.png").arg(bench_.deck().frame()));
    QString kind;
    QString file = QFileDialog::getSaveFileName(
        this, tr("Save this frame"), start, tr("With the figure (*.png);;Without the figure (*.png)"), &kind);
    if (file.isEmpty()) return;
    if (!file.endsWith(".png", Qt::CaseInsensitive)) file += ".png";
    const QImage& picture = (kind.startsWith("Without") ? without : with).picture;
    const QString line = app::leave(bench_.yard(), *with.permit, {"picture", about, file},
                                    [&](const QString& to) { return app::write_picture(picture, to); });
    emit say(line.isEmpty() ? tr("Saved: ") + file : line);
}

void ReviewView::save_stretch() {
    if (stretch_.busy()) return stretch_.cancel();
    if (!player_.from() || !player_.to())
        return emit say(tr("Mark a stretch first: [ at its first frame, ] at its last."));
    const QString start =
        save_place(Kept::film, QString("stretch-%1-%2.mp4").arg(*player_.from()).arg(*player_.to()));
    QString file =
        QFileDialog::getSaveFileName(this, tr("Save the marked stretch"), start, tr("Clip (*.mp4)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(".mp4", Qt::CaseInsensitive)) file += ".mp4";
    write_stretch(*player_.from(), *player_.to(), file, {});
}

void ReviewView::save_slowed() {
    if (stretch_.busy()) return stretch_.cancel();
    if (!player_.from() || !player_.to())
        return emit say(tr("Mark a stretch first: [ at its first frame, ] at its last."));
    const core::Focus* focus = bench_.findings().focus() ? &*bench_.findings().focus() : nullptr;
    const QString start =
        save_place(Kept::film, QString("slow-%1-%2.mp4").arg(*player_.from()).arg(*player_.to()));
    QString file = QFileDialog::getSaveFileName(this, tr("Save it slowed, with figure and curve"), start,
                                                tr("Clip (*.mp4)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(".mp4", Qt::CaseInsensitive)) file += ".mp4";
    constexpr double kSlow = 4;
    write_stretch(*player_.from(), *player_.to(), file,
                  {kSlow, true, focus ? std::string(core::leading_measure(*focus->fault)) : "trunk_lean"});
}

void ReviewView::write_stretch(int from, int to, const QString& file, const app::StretchLook& look) {
    const QString trouble = stretch_.start(from, to, file, look, &strides_);
    if (!trouble.isEmpty()) return emit say(trouble);
    again_with_face_ = [this, from, to, file, look] { write_stretch(from, to, file, look); };
    emit say(tr("Saving the stretch; the list above shows how far it is."));
}

}  // namespace aspen::ui
