#include <QFileDialog>
#include <QLabel>
#include <QPlainTextEdit>
#include <QStandardPaths>

#include "app/files/file_name.hpp"
#include "app/files/private_folder.hpp"
#include "app/files/whole_file.hpp"
#include "app/leaving/outbox.hpp"
#include "app/leaving/tables.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/handover/hand_over_view.hpp"
#include "ui/shared/save_place.hpp"

/// How it leaves: as a file, or by the outbox.
namespace aspen::ui {

QString HandOverView::rider_name() const {
    const auto rider = yard_.records().people.rider(rider_);
    return rider ? text(rider->name) : QString();
}

QString HandOverView::ask_for_file() {
    const QString first = app::as_file_name(rider_name().section(' ', 0, 0));
    const QString day = yard_.today().toString(Qt::ISODate);
    const bool film = thing() == Thing::review;
    const QString base = save_place(film ? Kept::film : Kept::paper, first + "-" + day);
    if (film) {
        const QString file =
            QFileDialog::getSaveFileName(this, tr("Write the film"), base + ".mp4", tr("Film (*.mp4)"));
        return file.isEmpty() || file.endsWith(".mp4", Qt::CaseInsensitive) ? file : file + ".mp4";
    }
    if (thing() == Thing::tables)
        return QFileDialog::getExistingDirectory(
            this, tr("Write the tables into a folder"),
            QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation));
    if (thing() == Thing::bundle)
        return QFileDialog::getSaveFileName(this, tr("Write the bundle"), base + ".zip",
                                            tr("Bundle (*.zip)"));
    if (thing() == Thing::message)
        return QFileDialog::getSaveFileName(this, tr("Save the message"), base + ".txt", tr("Text (*.txt)"));
    return QFileDialog::getSaveFileName(this, tr("Save the page"), base + ".pdf",
                                        tr("To print (*.pdf);;One web page (*.html)"));
}

QString HandOverView::write(const QString& file) {
    if (thing() == Thing::review && desk_.is_open()) {
        desk_.pause();
        const QString line = writer_.start(desk_.spoken(), file, wish_);
        if (line.isEmpty()) emit say(tr("Writing the film; the list above shows how far it is."));
        return line;
    }
    if (thing() == Thing::bundle) return bundles_.write(app::rides_with_clips(yard_, rider_), file);
    if (thing() == Thing::tables) return write_tables(file);
    if (thing() == Thing::new_review) return tr("There is nothing to write yet: talk over the clip first.");
    if (!page_) return page_trouble_.isEmpty() ? tr("The page is still being made.") : page_trouble_;
    const QString line =
        thing() == Thing::page
            ? app::write_page(yard_, *page_, file)
            : app::leave(yard_, page_->permit, {"message", tr("the message").toStdString(), file, false},
                         [this](const QString& to) {
                             return app::write_whole(to, message_->toPlainText().toUtf8());
                         });
    return line.isEmpty() ? tr("Saved: ") + file : line;
}

QString HandOverView::write_tables(const QString& folder) {
    const auto asked = app::ask_for_rider(yard_, rider_, app::Use::page);
    if (!asked) return asked.error();
    // Named after rider and day: neither another rider's tables nor last month's are written over.
    const QString name = app::as_file_name(rider_name()) + "-" + yard_.today().toString(Qt::ISODate);
    for (const app::Table t : app::kAllTables) {
        const QString file =
            QDir(folder).filePath(name + "-" + QString::fromStdString(app::word(t)) + ".csv");
        if (const QString line = app::write_table(yard_, *asked, t, file); !line.isEmpty()) return line;
    }
    return tr("Five tables are in %1.").arg(folder);
}

app::PermitOrLine HandOverView::ask() const {
    switch (thing()) {
        case Thing::review:
            return app::ask_to_leave(yard_, desk_.telling());
        case Thing::bundle:
            return app::ask_for_bundle(yard_, app::rides_with_clips(yard_, rider_));
        default:
            if (!page_) return tl::unexpected(page_trouble_);
            if (const QString line = app::why_no_longer(yard_, page_->permit); !line.isEmpty())
                return tl::unexpected(line);
            return page_->permit;
    }
}

store::Outgoing HandOverView::outgoing() const {
    store::Outgoing o;
    o.rider = rider_;
    o.kind = thing() == Thing::page     ? "page"
             : thing() == Thing::review ? "clip"
             : thing() == Thing::bundle ? "bundle"
                                        : "message";
    o.made_at = app::now_iso(yard_);
    o.to = rider_name().toStdString();
    o.subject =
        page_ ? tr("Your one thing: %1").arg(page_->page.focus).toStdString() : tr("Your ride").toStdString();
    const QString words = message_->toPlainText().trimmed();
    o.words =
        (words.isEmpty() ? tr("Hello %1, this is for you.").arg(rider_name().section(' ', 0, 0)) : words)
            .toStdString() +
        "\n";
    o.state = "waiting";
    const app::PermitOrLine asked = ask();
    if (!asked) throw core::Refused(asked.error().toStdString());
    app::waits_with(o, *asked);
    const char* ending = thing() == Thing::page ? "pdf" : thing() == Thing::review ? "mp4" : "zip";
    if (thing() != Thing::message)
        o.attached = "leaving/" + o.kind + "-" + QString::fromStdString(o.made_at).remove(':').toStdString() +
                     "." + ending;
    return o;
}

/// What is a file first goes into the outbox when it is whole.
void HandOverView::put_waiting(bool written) {
    const auto o = std::exchange(waits_, std::nullopt);
    if (o && written) {
        app::put_in_outbox(yard_, *o);
        emit say(tr("In the outbox; the yard shows it, and writes it when you say so."));
    }
    tell_keys();
}

void HandOverView::to_outbox() {
    if (thing() == Thing::new_review || thing() == Thing::tables) return;
    if (waits_) return emit say(tr("Something else is still being made for the outbox; wait for it."));
    if ((thing() == Thing::page || thing() == Thing::message) && !page_)
        return emit say(page_trouble_.isEmpty() ? tr("The page is still being made.") : page_trouble_);
    try {
        waits_ = outgoing();
    } catch (const core::Refused& e) {
        return emit say(QString::fromUtf8(e.what()));
    }
    app::make_private_folder(yard_.folder().filePath("leaving"));
    const QString file = yard_.folder().filePath(QString::fromStdString(waits_->attached));
    if (thing() == Thing::message) return put_waiting(true);
    if (thing() == Thing::page) {
        try {
            exchange::write_page_pdf(page_->page, file);
            return put_waiting(true);
        } catch (const core::Refused& e) {
            emit say(QString::fromUtf8(e.what()));
            return put_waiting(false);
        }
    }
    const QString line = thing() == Thing::bundle ? bundles_.write(app::rides_with_clips(yard_, rider_), file)
                                                  : writer_.start(desk_.spoken(), file, wish_);
    if (line.isEmpty()) return;
    emit say(line);
    waits_.reset();
}

}  // namespace aspen::ui
