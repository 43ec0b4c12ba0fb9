#include "ui/files_in_out.hpp"
#include "ui/shared/save_place.hpp"

#include <QFileDialog>
#include <QFileInfo>
#include <QStandardPaths>

#include "app/leaving/events_exchange.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "app/leaving/tracks_exchange.hpp"
#include "app/review/taken_along.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"

namespace aspen::ui {

FilesInOut::FilesInOut(app::Yard& yard, app::Bench& bench, const app::StrideWork& strides, QWidget* over)
    : QObject(over), yard_(yard), bench_(bench), strides_(strides), over_(over) {}

void FilesInOut::say_outcome(const QString& trouble, const QString& done) {
    emit say(trouble.isEmpty() ? done : trouble);
}

void FilesInOut::take_marks() {
    const QString file =
        QFileDialog::getOpenFileName(over_, tr("Take in marks"), {}, tr("COCO key points (*.json)"));
    if (!file.isEmpty()) take_marks_from(file);
}

void FilesInOut::take_events() {
    const QString file = QFileDialog::getOpenFileName(over_, tr("Take in events"), {}, tr("Events (*.csv)"));
    if (!file.isEmpty()) take_events_from(file);
}

void FilesInOut::take_marks_from(const QString& file) {
    say_outcome(app::import_marks(bench_, file), tr("Marks taken in."));
}

void FilesInOut::take_events_from(const QString& file) {
    say_outcome(app::import_events(bench_, file), tr("Events taken in."));
}

void FilesInOut::save_marks() {
    if (!bench_.is_open()) return emit say(tr("Open a clip first; then its marks can be saved."));
    const QString file = QFileDialog::getSaveFileName(
        over_, tr("Save the marks"),
        save_place(Kept::paper,
                   QFileInfo(yard_.file_of(bench_.review().clip())).completeBaseName() + ".marks.json"),
        tr("COCO key points (*.json)"));
    if (!file.isEmpty()) say_outcome(app::export_marks(bench_, file), tr("Saved: ") + file);
}

void FilesInOut::save_events() {
    const QString file = QFileDialog::getSaveFileName(
        over_, tr("Save the events"), save_place(Kept::paper, "events.csv"), tr("Events (*.csv)"));
    if (!file.isEmpty()) say_outcome(app::export_events(bench_, file), tr("Saved: ") + file);
}

void FilesInOut::save_tracks() {
    const QString file = QFileDialog::getSaveFileName(
        over_, tr("Save the followed joints"), save_place(Kept::paper, "tracks.csv"), tr("Tracks (*.csv)"));
    if (!file.isEmpty()) say_outcome(app::export_tracks(bench_, strides_, file), tr("Saved: ") + file);
}

void FilesInOut::save_corrections() {
    const QString file = QFileDialog::getSaveFileName(over_, tr("Save what was corrected"),
                                                      save_place(Kept::paper, "reader-corrections.json"),
                                                      tr("Corrections of read joints (*.json)"));
    if (!file.isEmpty()) say_outcome(app::save_corrections(yard_, file), tr("Saved: ") + file);
}

void FilesInOut::take_corrections() {
    const QString file = QFileDialog::getOpenFileName(over_, tr("Take in another yard's corrections"), {},
                                                      tr("Corrections of read joints (*.json)"));
    if (!file.isEmpty()) take_corrections_from(file);
}

void FilesInOut::take_corrections_from(const QString& file) {
    say_outcome(app::take_corrections(yard_, file),
                tr("Taken in: figures that are read are moved by it from the next clip on."));
}

void FilesInOut::back_up() {
    const QString start =
        save_place(Kept::paper, "yard-" + yard_.today().toString(Qt::ISODate) + ".aspen-yard");
    const QString file = QFileDialog::getSaveFileName(over_, tr("Back up the yard's records"), start,
                                                      tr("Yard records (*.aspen-yard)"));
    if (file.isEmpty()) return;
    try {
        app::back_up(yard_, file);
        emit say(tr("Backed up: ") + file + tr(". The clips themselves are not in it."));
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

void FilesInOut::restore() {
    const QString file = QFileDialog::getOpenFileName(
        over_, tr("Restore a backup"), QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation),
        tr("Yard records (*.aspen-yard *.db *.before-*)"));
    if (file.isEmpty()) return;
    say_outcome(app::restore_at_start(yard_.folder().absolutePath(), file),
                tr("It takes the place of the records when the program is started again; today's stay beside "
                   "it."));
}

}  // namespace aspen::ui

#include "moc_files_in_out.cpp"
