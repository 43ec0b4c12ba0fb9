#include "ui/prescribe/prescribe_view.hpp"

#include <QAction>
#include <QDate>
#include <QFileDialog>
#include <QKeyEvent>
#include <QStandardPaths>
#include <algorithm>

#include "app/files/file_name.hpp"
#include "ui/prescribe/chain_link.hpp"
#include "ui/prescribe/ladder_view.hpp"
#include "ui/prescribe/plan_picture.hpp"
#include "ui/prescribe/practice_line.hpp"
#include "ui/prescribe/session_view.hpp"
#include "ui/prescribe/weeks_view.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

QString joined(const std::vector<std::string>& all) {
    QStringList out;
    for (const std::string& one : all) out << text(one);
    return out.join(", ");
}

QVBoxLayout* column(int spacing = 6) {
    auto* out = new QVBoxLayout;
    out->setContentsMargins(0, 0, 0, 0);
    out->setSpacing(spacing);
    return out;
}

/// The same exercise where this rider, saddle or place asks for another way.
QString other_way(const core::Exercise& e, const app::RidersPlan& plan) {
    QStringList out;
    const auto add = [&](bool when, const QString& where, const std::string& words) {
        if (when && !words.empty()) out << where + text(words);
    };
    add(plan.needs.saddle == "stock", QObject::tr("In a stock saddle: "), e.variants.stock);
    add(plan.needs.mechanical, QObject::tr("On the mechanical horse: "), e.variants.mechanical_horse);
    add(!plan.weeks.arena, QObject::tr("Without an arena: "), e.variants.no_arena);
    add(plan.needs.level == "beginner", QObject::tr("On the lunge: "), e.variants.lunge);
    for (const auto& [school, words] : e.school_notes) add(plan.rider.school == school, {}, words);
    return out.join("  ");
}

}  // namespace

PrescribeView::PrescribeView(app::Bench& bench, QWidget* parent)
    : QWidget(parent), bench_(bench), desk_(bench), writer_(bench.yard()), model_(bench.yard()) {
    connect(&writer_, &app::PageMaker::failed, this, &PrescribeView::say);
    connect(&writer_, &app::PageMaker::made, this, [this](const app::MadePage& made) {
        const QString line = app::write_page(bench_.yard(), made, page_file_);
        emit say(line.isEmpty() ? tr("Saved: ") + page_file_ : line);
    });
    setFocusPolicy(Qt::StrongFocus);
    build_deeds();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 12, 20, 8);
    row->setSpacing(20);
    riders_ = new QListView(this);
    riders_->setFixedWidth(scaled_px(168));
    riders_->setStyleSheet(
        QString("QListView { font-family: Vollkorn; font-size: %1px; }").arg(scaled_px(18)));
    riders_->setAccessibleName(tr("Riders"));
    riders_->setModel(&model_);
    row->addWidget(riders_);
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
    connect(riders_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex& now) {
                if (now.isValid() && model_.rider_at(now.row()) != desk_.rider())
                    desk_.show(model_.rider_at(now.row()));
            });
    connect(&model_, &QAbstractItemModel::modelReset, this,
            [this] { riders_->setCurrentIndex(model_.index(model_.row_of(desk_.rider()), 0)); });
    connect(&desk_, &app::PlanDesk::changed, this, [this] {
        if (isVisible()) rebuild();
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

QString PrescribeView::ask_for_file(const QString& title, const QString& name, const QString& kind) {
    const QString start = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) + "/" +
                          app::as_file_name(first_name()) + "-" + name;
    return QFileDialog::getSaveFileName(this, title, start, kind);
}

QString PrescribeView::first_name() const {
    return desk_.plan() ? text(desk_.plan()->rider.name).section(' ', 0, 0) : QString();
}

void PrescribeView::build_left(QVBoxLayout& left) {
    name_ = heading_label({}, this, 26);
    about_ = quiet_label({}, this);
    left.addWidget(name_);
    left.addWidget(about_);
    left.addSpacing(8);
    chain_ = column(2);
    left.addLayout(chain_);
    left.addSpacing(8);
    picture_ = column(0);
    left.addLayout(picture_, 1);
}

void PrescribeView::build_middle(QVBoxLayout& middle) {
    exercise_ = column(4);
    middle.addLayout(exercise_);
    ladder_ = new LadderView(this);
    middle.addWidget(ladder_, 1);
    practice_ = new PracticeLine(this);
    practice_->hide();
    middle.addWidget(practice_);
    below_ = column(2);
    middle.addLayout(below_);
    auto* verbs = new QHBoxLayout;
    give_ = verb_button(tr("Give it"), "G", this, true);
    log_ = verb_button(tr("Write down a ride"), "L", this);
    page_ = verb_button(tr("Save the page"), "S", this);
    again_ = new QPushButton(this);
    again_->setObjectName("word");
    for (QPushButton* b : {give_, log_, page_, again_}) verbs->addWidget(b);
    verbs->addStretch(1);
    middle.addLayout(verbs);
    connect(give_, &QPushButton::clicked, this, &PrescribeView::give);
    connect(page_, &QPushButton::clicked, this, &PrescribeView::save_page);
    connect(log_, &QPushButton::clicked, this, &PrescribeView::write_down_ride);
    connect(again_, &QPushButton::clicked, &desk_, &app::PlanDesk::choose_again);
    connect(practice_, &PracticeLine::left, this, [this] {
        practice_->hide();
        setFocus();
    });
    connect(practice_, &PracticeLine::written, this, [this](const core::Practice& p) {
        practice_->hide();
        setFocus();
        told(desk_.write_down(p));
    });
    connect(ladder_, &LadderView::rung_pressed, this, [this] { write_down_ride(); });
}

void PrescribeView::build_right(QVBoxLayout& right) {
    right.addWidget(heading_label(tr("Weeks"), this));
    weeks_ = new WeeksView(this);
    right.addWidget(weeks_);
    right_ = column(4);
    right.addLayout(right_);
    right.addStretch(1);
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
    connect(session_, &SessionView::selected_changed, this, [this] {
        block_->setText(session_->selected_words());
        block_->setVisible(!block_->text().isEmpty());
    });
    connect(session_, &SessionView::moved, &desk_, &app::PlanDesk::move_block);
    connect(session_, &SessionView::longer, &desk_, &app::PlanDesk::change_block);
    connect(session_, &SessionView::dropped, &desk_, &app::PlanDesk::drop_block);
}

void PrescribeView::showEvent(QShowEvent*) { open(); }

void PrescribeView::open() {
    store::RiderId rider = desk_.rider();
    if (bench_.is_open() && bench_.review().rider()) rider = bench_.review().rider();
    if (!rider) rider = model_.rider_at(0);
    show_rider(rider);
    if (!practice_->isVisible()) setFocus();
}

void PrescribeView::show_rider(store::RiderId id) {
    desk_.show(id);
    riders_->setCurrentIndex(model_.index(model_.row_of(id), 0));
    rebuild();
}

void PrescribeView::rebuild() {
    for (QVBoxLayout* l : {chain_, picture_, exercise_, below_, right_}) clear(*l);
    const auto& plan = desk_.plan();
    const core::Exercise* e = desk_.exercise();
    for (QWidget* w : std::initializer_list<QWidget*>{ladder_, weeks_, session_, rules_})
        w->setVisible(plan.has_value());
    for (QPushButton* b : {give_, log_, page_, again_}) b->setVisible(plan && e);
    if (!plan) {
        name_->setText(tr("No rider yet"));
        about_->setText(tr("Add one in the yard; every rider has a plan here."));
        return;
    }
    name_->setText(text(plan->rider.name));
    QStringList about;
    if (plan->horse) about << tr("on %1").arg(text(plan->horse->name));
    if (!plan->rider.level.empty()) about << text(plan->rider.level);
    QStringList minded;
    for (const core::Limitation& l : plan->needs.limitations) minded << text(l.words);
    if (!minded.isEmpty()) about << tr("mind: ") + minded.join(", ");
    if (!plan->rider.goal.empty()) about << tr("wants: ") + text(plan->rider.goal);
    about_->setText(about.join(" · "));
    rebuild_chain(*plan);
    rebuild_picture();
    rebuild_exercise(*plan);
    rebuild_right(*plan);
    rebuild_session();
}

void PrescribeView::rebuild_chain(const app::RidersPlan& plan) {
    if (!plan.fault) {
        chain_->addWidget(text_label(tr("Nothing is in work."), this, 18, true));
        chain_->addWidget(quiet_label(tr("Review a ride of %1, keep one focus, and its exercise and weeks "
                                         "stand here. Until then the session "
                                         "below warms up, works on both reins and cools down.")
                                          .arg(first_name()),
                                      this));
        return;
    }
    const QString says = text(plan.fault->rider.empty() ? plan.fault->says : plan.fault->rider);
    chain_->addWidget(new ChainLink(text(plan.fault->name), sentence(says), 0, true, this));
    int shown = 0;
    for (const auto& [fault, because] : plan.drives) {
        if (++shown > 2) break;
        chain_->addWidget(new ChainLink(text(fault->name), text(because), 1, false, this));
    }
    if (desk_.from_review()) {
        chain_->addWidget(quiet_label(text(bench_.findings().focus()->why), this));
        QStringList good = bench_.findings().what_is_good().mid(0, 2);
        if (!good.isEmpty()) chain_->addWidget(text_label("✓  " + good.join(", "), this));
    }
}

void PrescribeView::rebuild_picture() {
    const auto& frame = desk_.picture().frame();
    if (!frame) return picture_->addStretch(1);
    auto* shown = new PlanPicture(this);
    shown->show_frame(*frame, desk_.picture().picture());
    picture_->addWidget(shown, 1);
}

void PrescribeView::rebuild_exercise(const app::RidersPlan& plan) {
    const core::Exercise* e = desk_.exercise();
    const bool given = desk_.is_given();
    ladder_->setVisible(e != nullptr);
    if (!e) {
        exercise_->addWidget(
            quiet_label(plan.fault ? tr("No exercise in the library answers this for this rider. [E] "
                                        "shows them all.")
                                         .remove('[')
                                         .remove(']')
                                   : QString(),
                        this));
        if (plan.fault) rebuild_choice(plan);
        below_->addStretch(1);
        return;
    }
    if (!given) rebuild_choice(plan);
    exercise_->addWidget(heading_label(text(e->name), this, given ? 26 : 18));
    exercise_->addWidget(text_label(text(e->purpose), this));
    exercise_->addWidget(
        quiet_label(QString::fromUtf8("“%1”   %2").arg(text(e->cue_picture), text(e->cue_plain)), this));
    QStringList waits;
    for (std::size_t i = 0; i < e->dose.ladder.size(); ++i)
        waits << text(
            bench_.yard().knowledge().exercises.rung_offer(*e, static_cast<int>(i), plan.needs).set_aside);
    const core::LadderPlace at = given ? plan.given->place : core::LadderPlace{};
    ladder_->show_ladder(*e, at.rung, at.good_in_a_row, at.done, waits);
    if (given && at.stopped)
        below_->addWidget(
            text_label(tr("<b>It hurt last time.</b> Nothing more of it until you take it up again."), this));
    if (given && at.done)
        below_->addWidget(text_label(tr("<b>Climbed.</b> Film it, and look whether it holds."), this));
    if (!e->before.empty())
        below_->addWidget(text_label(tr("<b>First stands:</b> ") + joined(e->before) + ".", this));
    QStringList needs;
    if (!e->people.empty()) needs << joined(e->people);
    if (!e->equipment.empty()) needs << joined(e->equipment);
    below_->addWidget(text_label(tr("<b>Safety.</b> ") + text(e->caution) +
                                     (needs.isEmpty() ? QString() : tr(" Needs: ") + needs.join(", ") + "."),
                                 this, 12));
    for (const std::string& what : e->equipment) {
        auto* b = new QPushButton(desk_.has_equipment(what) ? tr("We have no %1").arg(text(what))
                                                            : tr("We have %1 after all").arg(text(what)),
                                  this);
        b->setObjectName("word");
        connect(b, &QPushButton::clicked, this,
                [this, what] { desk_.set_equipment(what, !desk_.has_equipment(what)); });
        below_->addWidget(b, 0, Qt::AlignLeft);
    }
    if (const QString other = other_way(*e, plan); !other.isEmpty())
        below_->addWidget(quiet_label(other, this));
    for (const std::string& gate : desk_.gates()) {
        auto* b = new QPushButton(
            tr("Sign off on %1: %2").arg(text(plan.horse->name), text(core::spoken_gate(gate))), this);
        b->setObjectName("word");
        connect(b, &QPushButton::clicked, this, [this, gate] {
            const QString line = desk_.sign_off(gate);
            emit say(line.isEmpty()
                         ? tr("Signed off from today; it stands on the rider's card, [undo] takes it back.")
                         : line);
        });
        below_->addWidget(b, 0, Qt::AlignLeft);
    }
    give_->setVisible(!given);
    give_->setText(tr("Give it to ") + first_name() + "   G");
    log_->setVisible(given && !practice_->isVisible());
    log_->setObjectName(given ? "next" : "");
    log_->setStyleSheet(log_->styleSheet());
    page_->setVisible(desk_.plan() && desk_.plan()->fault);
    page_->setText(tr("Save the page") + "   S");
    again_->setVisible(plan.given.has_value());
    again_->setText(given ? tr("Another exercise   A") : tr("Back to what is given   A"));
}

/// Three to choose from, each with what speaks for it and the strongest reason against.
void PrescribeView::rebuild_choice(const app::RidersPlan& plan) {
    int n = 0;
    for (const core::Candidate& c : plan.candidates) {
        ++n;
        const bool chosen = c.exercise == desk_.exercise();
        auto* card = new CandidateCard(n, text(c.exercise->name), sentence(text(c.reason)) + ".",
                                       tr("Against it: ") + text(c.against) + ".", chosen, this);
        connect(card, &QPushButton::clicked, this, [this, n] { pick(n); });
        exercise_->addWidget(card);
    }
    QStringList aside;
    for (const core::Offer& o : plan.set_aside) {
        if (aside.size() == 3) break;
        aside << text(o.exercise->name).toLower() + " (" + text(o.set_aside) + ")";
    }
    if (!aside.isEmpty()) {
        const auto more = plan.set_aside.size() - static_cast<std::size_t>(aside.size());
        exercise_->addWidget(quiet_label(
            tr("Set aside: ") + aside.join(", ") + (more > 0 ? tr(" and %1 more.").arg(more) : QString(".")),
            this));
    }
    exercise_->addSpacing(4);
}

void PrescribeView::rebuild_right(const app::RidersPlan& plan) {
    weeks_->show_weeks(plan, bench_.yard().today().toString(Qt::ISODate));
    if (core::weekdays_in(plan.weeks.days).empty())
        right_->addWidget(
            quiet_label(tr("On which days does %1 ride? Click them above.").arg(first_name()), this));
    const auto word = [&](const QString& words, const QString& id) {
        auto* b = new QPushButton(words, this);
        b->setObjectName("word");
        if (QAction* a = deeds_.find(id)) connect(b, &QPushButton::clicked, a, &QAction::trigger);
        return b;
    };
    const auto row = [&](std::initializer_list<QWidget*> parts) {
        auto* out = new QHBoxLayout;
        out->setSpacing(0);
        for (QWidget* part : parts) out->addWidget(part);
        out->addStretch(1);
        right_->addLayout(out);
    };
    row({quiet_label(tr("Rides of %1 min").arg(plan.weeks.minutes), this),
         word(QString::fromUtf8("− ,"), "shorter_ride"), word("+ .", "longer_ride")});
    row({word(plan.weeks.arena ? tr("arena there  N") : tr("no arena  N"), "arena_there"),
         word(plan.weeks.helper ? tr("helper there  H") : tr("nobody there  H"), "helper_there")});
    const auto beside = [&](const std::string& id, const QString& whose, const QString& key,
                            const QString& deed) {
        const core::Exercise* e =
            id.empty() ? nullptr : bench_.yard().knowledge().exercises.find(id, plan.needs);
        const bool goes = std::ranges::find(plan.lines, id, &core::HomeworkLine::id) != plan.lines.end();
        QString words = e ? text(e->name) : tr("nothing");
        if (e && !goes) words += tr(", not now");
        row({word(QString("%1: %2  %3").arg(whose, words, key), deed)});
    };
    if (plan.horse && !plan.horse_lines.empty())
        beside(plan.weeks.for_horse, tr("for %1").arg(text(plan.horse->name)), "B", "line_for_horse");
    if (!plan.off_lines.empty())
        beside(plan.weeks.off_horse, tr("off the horse"), tr("⇧B"), "line_off_horse");
    if (plan.homework) {
        right_->addSpacing(4);
        const QDate on = QDate::fromString(text(plan.homework->clip_on), Qt::ISODate);
        const QString day = QLocale(QLocale::English).toString(on, "ddd d MMM");
        right_->addWidget(text_label(on < bench_.yard().today()
                                         ? tr("<b>Next clip, due since %1</b>").arg(day)
                                         : tr("<b>Next clip, %1</b>").arg(day),
                                     this));
        // What every clip needs stands on the page; here is what this one is for.
        if (!plan.homework->shots.empty())
            right_->addWidget(quiet_label(text(plan.homework->shots.front()), this));
        for (const std::string& s : plan.homework->notes) right_->addWidget(quiet_label(text(s) + ".", this));
    } else if (desk_.exercise()) {
        right_->addWidget(quiet_label(tr("Next clip: ") + text(desk_.exercise()->next_clip) + ".", this));
    }
    if (!plan.given) return;
    right_->addSpacing(4);
    const auto& log = plan.given->log;
    right_->addWidget(
        text_label(log.empty() ? tr("<b>No ride is written down yet.</b>") : tr("<b>Rides</b>"), this));
    for (std::size_t i = log.size(); i-- > 0 && i + 4 > log.size();) {
        const core::Practice& p = log[i];
        const auto& ladder = plan.given->exercise->dose.ladder;
        const auto rung =
            std::clamp<std::size_t>(static_cast<std::size_t>(std::max(0, p.rung)), 0, ladder.size() - 1);
        QString line = spoken_date(text(p.day)) + "  " + text(core::said_of(p, ladder[rung]));
        if (p.guess >= 0) line += tr(" (guessed %1)").arg(p.guess);
        right_->addWidget(quiet_label(line, this));
    }
    if (!plan.given->stalled.empty())
        right_->addWidget(text_label(tr("Stands still: ") + text(plan.given->stalled) + ".", this));
    if (const std::string far = core::toward_a_thousand(plan.attempts); !far.empty())
        right_->addWidget(quiet_label(text(far) + ".", this));
    auto* out = new QHBoxLayout;
    out->setSpacing(0);
    out->addWidget(word(tr("fridge  F"), "fridge_page"));
    out->addWidget(word(tr("phone  P"), "log_page"));
    out->addWidget(word(tr("calendar  C"), "calendar"));
    out->addWidget(word(tr("take in  I"), "take_in_log"));
    out->addStretch(1);
    right_->addLayout(out);
}

void PrescribeView::rebuild_session() {
    session_->show_session(desk_.session(), desk_.broken(), bench_.yard().knowledge().exercises);
    if (!desk_.no_session().isEmpty()) {
        rules_->setText(sentence(desk_.no_session()) + ".");
        return;
    }
    QString words;
    for (const core::Broken& b : desk_.broken()) words += (words.isEmpty() ? "" : "; ") + text(b.words);
    rules_->setText(!words.isEmpty()
                        ? tr("<b>Breaks:</b> %1.  [O] plans anew.").arg(words).remove('[').remove(']')
                    : desk_.own_session()
                        ? tr("Your own order; every rule holds.  O plans anew.")
                        : tr("Every rule holds. Drag a block, + and − make it longer, Del takes it out.  "
                             "T rides it as a lesson."));
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
            bench_.yard(), desk_.rider(), desk_.exercise(),
            desk_.from_review() && desk_.plan()->fault ? desk_.plan()->fault->id : std::string());
        const app::PermitOrLine asked = app::ask_for_page(bench_.yard(), desk_.rider(), draft);
        if (const auto* line = std::get_if<QString>(&asked)) return *line;
        page_file_ = file;
        return writer_.start(desk_.rider(), std::move(draft), std::get<app::Permit>(asked));
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

void PrescribeView::save_page() {
    const QString file =
        ask_for_file(tr("Save the page"), bench_.yard().today().toString(Qt::ISODate) + ".pdf",
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
