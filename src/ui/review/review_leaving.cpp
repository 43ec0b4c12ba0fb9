#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QSaveFile>
#include <QStandardPaths>
#include <utility>

#include "ui/review/review_view.hpp"
#include "ui/shared/word_line.hpp"

/// What leaves the bench: frames and stretches, with the face covered where that is asked.
namespace aspen::ui {

app::Cover ReviewView::cover_here() const {
    if (cover_clip_ != bench_.review().clip().id) return {};
    return cover_;
}

/// Where nobody marked the face the coach draws over it, and then what was asked for goes on.
bool ReviewView::ask_for_cover(const QString& trouble, const std::function<void()>& again) {
    cover_ = {};
    after_cover_ = again;
    emit say(trouble + tr(" Press in the middle of the face and let go at its edge."));
    picture_->draw_line(PictureView::Line::cover);
    return true;
}

void ReviewView::take_cover(core::Point middle, core::Point edge) {
    const double r = core::distance(middle, edge);
    if (r < 4) return emit say(tr("That is too small for a face; nothing was covered."));
    cover_ = {core::Ellipse{middle, 1.2 * r, 1.2 * r, 0}, false};
    cover_clip_ = bench_.review().clip().id;
    if (const auto again = std::exchange(after_cover_, nullptr)) again();
    cover_ = {};
}

void ReviewView::copy_frame(bool with_figure) {
    if (!bench_.is_open()) return;
    const app::FrameOut out = app::frame_out(bench_, with_figure, cover_here());
    if (out.wants_cover && ask_for_cover(out.trouble, [this, with_figure] { copy_frame(with_figure); }))
        return;
    if (out.trouble.isEmpty()) QGuiApplication::clipboard()->setImage(out.picture);
    emit say(out.trouble.isEmpty() ? tr("Frame %1 is on the clipboard%2.")
                                         .arg(bench_.deck().frame())
                                         .arg(with_figure ? tr(", with the figure") : "")
                                   : out.trouble);
}

void ReviewView::save_frame() {
    if (!bench_.is_open()) return;
    const app::FrameOut with = app::frame_out(bench_, true, cover_here()),
                        without = app::frame_out(bench_, false, cover_here());
    if (with.wants_cover && ask_for_cover(with.trouble, [this] { save_frame(); })) return;
    if (!with.trouble.isEmpty()) return emit say(with.trouble);
    const QString start = QStandardPaths::writableLocation(QStandardPaths::PicturesLocation) +
                          QString("/frame-%1.png").arg(bench_.deck().frame());
    QString kind;
    QString file = QFileDialog::getSaveFileName(
        this, tr("Save this frame"), start, tr("With the figure (*.png);;Without the figure (*.png)"), &kind);
    if (file.isEmpty()) return;
    if (!file.endsWith(".png", Qt::CaseInsensitive)) file += ".png";
    QSaveFile target(file);
    const bool written = target.open(QIODevice::WriteOnly) &&
                         (kind.startsWith("Without") ? without : with).picture.save(&target, "PNG") &&
                         target.commit();
    emit say(written ? tr("Saved: ") + file : file + tr(": cannot be written; choose another folder."));
}

void ReviewView::save_stretch() {
    if (stretch_.busy()) return stretch_.cancel();
    if (!player_.from() || !player_.to())
        return emit say(tr("Mark a stretch first: [ at its first frame, ] at its last."));
    const QString start = QStandardPaths::writableLocation(QStandardPaths::MoviesLocation) +
                          QString("/stretch-%1-%2.mp4").arg(*player_.from()).arg(*player_.to());
    QString file =
        QFileDialog::getSaveFileName(this, tr("Save the marked stretch"), start, tr("Clip (*.mp4)"));
    if (file.isEmpty()) return;
    if (!file.endsWith(".mp4", Qt::CaseInsensitive)) file += ".mp4";
    write_stretch(*player_.from(), *player_.to(), file, {});
}

void ReviewView::write_stretch(int from, int to, const QString& file, const app::Cover& cover) {
    const QString trouble = stretch_.start(from, to, file, cover);
    if (trouble.isEmpty()) return emit say(tr("Saving the stretch; the list above shows how far it is."));
    if (!stretch_.wants_cover() || cover.drawn) return emit say(trouble);
    ask_for_cover(trouble, [this, from, to, file] {
        const app::Cover drawn = cover_;
        line_->ask(tr("Does this cover hold the head in every frame of the stretch? Write yes"),
                   {"yes", "no"}, [this, from, to, file, drawn](const QString& words) {
                       if (words.trimmed().toLower() != "yes") return emit say(tr("Nothing was saved."));
                       write_stretch(from, to, file, {drawn.drawn, true});
                   });
    });
}

}  // namespace aspen::ui
