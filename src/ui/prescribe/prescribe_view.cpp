#include "ui/prescribe/prescribe_view.hpp"

#include <QAction>
#include <QDate>
#include <QFileDialog>
#include <QKeyEvent>
#include <QMenu>
#include <QStandardPaths>
#include <algorithm>

#include "app/files/file_name.hpp"
#include "ui/prescribe/chain_link.hpp"
#include "ui/prescribe/ladder_view.hpp"
#include "ui/prescribe/plan_picture.hpp"
#include "ui/prescribe/practice_line.hpp"
#include "ui/prescribe/session_view.hpp"
#include "ui/prescribe/weeks_view.hpp"
#include "ui/shared/save_place.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

QVBoxLayout* column(int spacing = 6) {
    auto* out = new QVBoxLayout;
    out->setContentsMargins(0, 0, 0, 0);
    out->setSpacing(spacing);
    return out;
}

}  // namespace

PrescribeView::PrescribeView(app::Bench& bench, QWidget* parent)
    : View(parent), yard_(bench.yard()), now_(bench.state()), desk_(bench), writer_(bench.yard()) {
    connect(&writer_, &app::PageMaker::failed, this, &PrescribeView::say);
    connect(&writer_, &app::PageMaker::made, this, [this](const app::MadePage& made) {
        const QString line = app::write_page(yard_, made, page_file_);
        emit say(line.isEmpty() ? tr("Saved: ") + page_file_ : line);
        if (line.isEmpty()) paged_ = made.rider;
        refresh();
    });
    setFocusPolicy(Qt::StrongFocus);
    build_deeds();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 12, 20, 8);
    row->setSpacing(20);
    auto* page = column(10);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(28);
    auto *left = column(2), *middle = column(4), *right = column(6);
    build_left(*left);
    build_middle(*middle);
    build_right(*right);
    columns->addLayout(left, 30);
    columns->addLayout(middle, 46);
    columns->addLayout(right, 26);
    page->addLayout(columns, 1);
    build_session(*page);
    row->addLayout(page, 1);
    connect(&desk_, &app::PlanDesk::changed, this, [this] {
        if (isVisible()) refresh();
    });
}

void PrescribeView::build_deeds() {
    const auto deed = [this](const QString& id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, std::move(act));
    };
    deed("give", tr("Give the exercise"), [this] { give(); });
    deed("page", tr("Save the rider's page"), [this] { save_page(); });
    for (int i = 1; i <= 3; ++i)
        deed(QString("pick_%1").arg(i), tr("Choose candidate %1").arg(i), [this, i] { pick(i); });
    deed("choose_again", tr("Choose another exercise"), [this] { desk_.choose_again(); });
    deed("write_down", tr("Write down a ride"), [this] { write_down_ride(); });
    deed("take_back_ride", tr("Take the last ride written down back"),
         [this] { told(desk_.take_back_last()); });
    deed("take_away", tr("Take the exercise away"), [this] { told(desk_.take_away()); });
    deed("take_in_log", tr("Take in a rider's log (CSV)"), [this] {
        const QString file = QFileDialog::getOpenFileName(
            this, tr("The rider's log"), QStandardPaths::writableLocation(QStandardPaths::DownloadLocation),
            tr("Practice log (*.csv)"));
        if (!file.isEmpty()) told(desk_.take_in_log(file));
    });
    deed("log_page", tr("Save the log page for the rider's phone"), [this] {
        const QString file = ask_for_file(tr("Save the log page"), "practice.html", tr("One page (*.html)"));
        if (!file.isEmpty()) told(desk_.save_log_page(file));
    });
    deed("calendar", tr("Save the weeks as a calendar"), [this] {
        const QString file = ask_for_file(tr("Save the weeks"), "weeks.ics", tr("Calendar (*.ics)"));
        if (!file.isEmpty()) told(desk_.save_calendar(file));
    });
    deed("fridge_page", tr("Save the page for the fridge"), [this] {
        const QString file = ask_for_file(tr("Save the page for the fridge"), "weeks.pdf", tr("PDF (*.pdf)"));
        if (!file.isEmpty()) told(desk_.save_fridge_page(file));
    });
    deed("shorter_ride", tr("Shorter rides, by five minutes"),
         [this] { desk_.set_minutes(desk_.plan() ? desk_.plan()->weeks.minutes - 5 : 45); });
    deed("longer_ride", tr("Longer rides, by five minutes"),
         [this] { desk_.set_minutes(desk_.plan() ? desk_.plan()->weeks.minutes + 5 : 45); });
    deed("plan_again", tr("Plan the session anew"), [this] { desk_.plan_session_again(); });
    deed("arena_there", tr("An arena is there, or not"),
         [this] { desk_.set_arena(desk_.plan() && !desk_.plan()->weeks.arena); });
    deed("helper_there", tr("A helper is there, or not"),
         [this] { desk_.set_helper(desk_.plan() && !desk_.plan()->weeks.helper); });
    deed("line_for_horse", tr("Another line for the horse beside the focus, or none"),
         [this] { desk_.next_line(true); });
    deed("line_off_horse", tr("Another line off the horse beside the focus, or none"),
         [this] { desk_.next_line(false); });
    deed("ride_lesson", tr("Ride it as a lesson"), [this] { emit wants_lesson(desk_.rider()); });
    deed("exercises", tr("All exercises"), [this] { emit wants_exercises(); });
}

/// A column of lines that stand as long as what they say.
QVBoxLayout* PrescribeView::standing(std::unique_ptr<StandingLines>& lines, int spacing) {
    QVBoxLayout* box = column(spacing);
    lines = std::make_unique<StandingLines>(*box);
    return box;
}

QString PrescribeView::ask_for_file(const QString& title, const QString& name, const QString& kind) {
    const QString start = save_place(Kept::paper, app::as_file_name(first_name()) + "-" + name);
    return QFileDialog::getSaveFileName(this, title, start, kind);
}

QString PrescribeView::first_name() const {
    return desk_.plan() ? text(desk_.plan()->rider.name).section(' ', 0, 0) : QString();
}

void PrescribeView::build_left(QVBoxLayout& left) {
    about_ = quiet_label({}, this);
    left.addWidget(about_);
    left.addSpacing(8);
    left.addLayout(standing(chain_, 2));
    left.addSpacing(8);
    picture_ = new PlanPicture(this);
    left.addWidget(picture_, 1);
    left.addStretch(0);
}

void PrescribeView::build_middle(QVBoxLayout& middle) {
    middle.addLayout(standing(exercise_, 4));
    ladder_ = new LadderView(this);
    middle.addWidget(ladder_, 1);
    middle.addLayout(standing(below_, 2));
    auto* verbs = new QHBoxLayout;
    give_ = verb_button(tr("Give it"), "G", this, true);
    log_ = verb_button(tr("Write down a ride"), "L", this);
    page_ = verb_button(tr("Save the page"), "S", this);
    again_ = new QPushButton(this);
    again_->setObjectName("word");
    // Without a birth year nothing leaves: it is asked for where it is missed, without a keyboard.
    born_ = new QPushButton(this);
    auto* years = new QMenu(born_);
    born_->setMenu(years);
    connect(years, &QMenu::aboutToShow, this, [this, years] { fill_years(*years); });
    agreed_ = new QPushButton(this);
    connect(agreed_, &QPushButton::clicked, this, [this] { emit wants_consents(desk_.rider()); });
    for (QPushButton* b : {give_, log_, born_, agreed_, page_, again_}) verbs->addWidget(b);
    verbs->addStretch(1);
    middle.addLayout(verbs);
    connect(give_, &QPushButton::clicked, this, &PrescribeView::give);
    connect(page_, &QPushButton::clicked, this, &PrescribeView::save_page);
    connect(log_, &QPushButton::clicked, this, &PrescribeView::write_down_ride);
    connect(again_, &QPushButton::clicked, &desk_, &app::PlanDesk::choose_again);
    connect(ladder_, &LadderView::rung_pressed, this, [this] { write_down_ride(); });
}

/// Decades, and in each its years.
void PrescribeView::fill_years(QMenu& menu) {
    menu.clear();
    constexpr int kYoungest = 4, kOldest = 90, kDecade = 10;
    const int last = yard_.today().year() - kYoungest, first = yard_.today().year() - kOldest;
    for (int decade = last / kDecade * kDecade; decade + kDecade > first; decade -= kDecade) {
        QMenu* years = menu.addMenu(tr("%1 to %2").arg(decade).arg(std::min(last, decade + kDecade - 1)));
        for (int year = decade; year <= std::min(last, decade + kDecade - 1); ++year) {
            connect(years->addAction(QString::number(year)), &QAction::triggered, this, [this, year] {
                const auto rider = yard_.records().people.rider(desk_.rider());
                if (!rider) return;
                store::Rider told = *rider;
                told.birth_year = year;
                app::change_rider(yard_, told);
            });
        }
    }
}

void PrescribeView::build_right(QVBoxLayout& right) {
    weeks_head_ = heading_label(tr("Weeks"), this);
    right.addWidget(weeks_head_);
    weeks_ = new WeeksView(this);
    right.addWidget(weeks_);
    auto* under = new QWidget(this);
    auto* lines = new QVBoxLayout(under);
    lines->setContentsMargins(0, 0, 4, 0);
    lines->addLayout(standing(right_, 4));
    lines->addStretch(1);
    right.addWidget(scrolled(under, this), 1);
    connect(weeks_, &WeeksView::day_pressed, &desk_, &app::PlanDesk::toggle_day);
}

void PrescribeView::build_session(QVBoxLayout& page) {
    session_ = new SessionView(this);
    page.addWidget(session_);
    block_ = quiet_label({}, this);
    rules_ = text_label({}, this);
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    row->addWidget(rules_, 1);
    row->addWidget(block_, 1);
    page.addLayout(row);
    // What is written down lies where the session's words were: nothing else moves.
    practice_ = new PracticeLine(this);
    practice_->hide();
    page.addWidget(practice_);
    const auto close = [this] {
        practice_->hide();
        rules_->show();
        setFocus();
    };
    connect(practice_, &PracticeLine::left, this, [this, close] {
        close();
        refresh();
    });
    connect(practice_, &PracticeLine::written, this, [this, close](const core::Practice& p) {
        close();
        told(desk_.write_down(p));
    });
    connect(session_, &SessionView::selected_changed, this, [this] {
        block_->setText(session_->selected_words());
        block_->setVisible(!block_->text().isEmpty());
    });
    connect(session_, &SessionView::moved, &desk_, &app::PlanDesk::move_block);
    connect(session_, &SessionView::longer, &desk_, &app::PlanDesk::change_block);
    connect(session_, &SessionView::dropped, &desk_, &app::PlanDesk::drop_block);
}

void PrescribeView::open() {
    show_rider(desk_.rider());
    if (!practice_->isVisible()) setFocus();
}

void PrescribeView::show_rider(store::RiderId id) {
    // What is being written down belongs to the rider it was begun for.
    if (id != desk_.rider()) practice_->hide();
    desk_.show(id);
    refresh();
}

void PrescribeView::pick(int number) {
    if (desk_.is_given() || !desk_.plan()) return;
    const auto& all = desk_.plan()->candidates;
    if (number >= 1 && number <= static_cast<int>(all.size()))
        desk_.choose(all[static_cast<std::size_t>(number - 1)].exercise);
}

void PrescribeView::write_down_ride() {
    if (!desk_.is_given()) return told(tr("Give an exercise first; then its rides are written down here."));
    const auto& g = *desk_.plan()->given;
    practice_->begin(g.exercise->dose.ladder[static_cast<std::size_t>(g.place.rung)]);
    rules_->hide();
    block_->hide();
    practice_->show();
    log_->hide();
    practice_->good().setFocus();
}

void PrescribeView::give() {
    if (desk_.is_given() || !desk_.exercise()) return;
    if (const QString line = desk_.give(); !line.isEmpty()) return told(line);
    emit given(desk_.rider());
}

QString PrescribeView::write_page(const QString& file) {
    desk_.refresh();
    if (const QString line = desk_.beyond(); !line.isEmpty()) return line;
    if (writer_.busy()) return tr("A page is being written; wait for it.");
    try {
        app::PageDraft draft = app::page_of(
            yard_, desk_.rider(), desk_.exercise(),
            desk_.from_review() && desk_.plan()->fault ? desk_.plan()->fault->id : std::string());
        const app::PermitOrLine asked = app::ask_for_page(yard_, desk_.rider(), draft);
        if (!asked) return asked.error();
        page_file_ = file;
        return writer_.start(desk_.rider(), std::move(draft), *asked);
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

void PrescribeView::save_page() {
    const QString file = ask_for_file(tr("Save the page"), yard_.today().toString(Qt::ISODate) + ".pdf",
                                      tr("PDF (*.pdf);;One web page (*.html)"));
    if (file.isEmpty()) return;
    if (const QString trouble = write_page(file); !trouble.isEmpty()) emit say(trouble);
}

void PrescribeView::keyPressEvent(QKeyEvent* e) {
    if (deeds_.take(*e)) return;
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_prescribe_view.cpp"
