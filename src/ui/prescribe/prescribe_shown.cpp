#include <QDate>
#include <QHBoxLayout>
#include <QLocale>
#include <QMenu>
#include <QPushButton>
#include <algorithm>

#include "app/leaving/gate.hpp"
#include "ui/prescribe/chain_link.hpp"
#include "ui/prescribe/ladder_view.hpp"
#include "ui/prescribe/plan_picture.hpp"
#include "ui/prescribe/practice_line.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/prescribe/session_view.hpp"
#include "ui/prescribe/weeks_view.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

/// What the plan's page shows: every line stands as long as what it says does.
namespace aspen::ui {
namespace {

QString joined(const std::vector<std::string>& all) {
    QStringList out;
    for (const std::string& one : all) out << text(one);
    return out.join(", ");
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

void PrescribeView::say_in(StandingLines& to, const QString& words, int px) {
    to.add(QString("%1 %2").arg(px).arg(words), [&] { return text_label(words, this, px); });
}

void PrescribeView::say_quietly(StandingLines& to, const QString& words) {
    to.add("quiet " + words, [&] { return quiet_label(words, this); });
}

void PrescribeView::leave_room(StandingLines& to) {
    to.add("room", [this] {
        auto* room = new QWidget(this);
        room->setFixedHeight(4);
        return room;
    });
}

/// Words that do something, beside each other: each with the id of its deed, or "" for words alone.
void PrescribeView::put_row(StandingLines& to, const std::vector<std::pair<QString, QString>>& parts) {
    QString says;
    for (const auto& [words, id] : parts) says += id + "\n" + words + "\n";
    to.add(says, [&] {
        auto* line = new QWidget(this);
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(0);
        for (const auto& [words, id] : parts) {
            if (id.isEmpty()) {
                row->addWidget(quiet_label(words, line));
                continue;
            }
            auto* b = new QPushButton(words, line);
            b->setObjectName("word");
            if (QAction* a = deeds_.find(id)) connect(b, &QPushButton::clicked, a, &QAction::trigger);
            row->addWidget(b);
        }
        row->addStretch(1);
        return line;
    });
}

void PrescribeView::refresh() {
    const auto& plan = desk_.plan();
    const core::Exercise* e = desk_.exercise();
    for (StandingLines* l : {chain_.get(), exercise_.get(), below_.get(), right_.get()}) l->begin();
    for (QWidget* w : std::initializer_list<QWidget*>{ladder_, weeks_, weeks_head_, session_})
        w->setVisible(plan.has_value());
    rules_->setVisible(plan.has_value() && !practice_->isVisible());
    for (QPushButton* b : {give_, log_, page_, again_}) b->setVisible(plan && e);
    for (QPushButton* b : {born_, agreed_}) b->hide();  // shown again where they are asked for
    picture_->setVisible(plan && desk_.picture().frame());
    if (plan) {
        about_->setText(about(*plan));
        refresh_chain(*plan);
        if (const auto& frame = desk_.picture().frame())
            picture_->show_frame(*frame, desk_.picture().picture());
        refresh_exercise(*plan);
        refresh_right(*plan);
        refresh_session();
    } else {
        about_->setText(tr("No rider yet. Add one in the yard; every rider has a plan here."));
    }
    for (StandingLines* l : {chain_.get(), exercise_.get(), below_.get(), right_.get()}) l->end();
}

QString PrescribeView::about(const app::RidersPlan& plan) const {
    QStringList about, minded;
    if (plan.horse) about << tr("on %1").arg(text(plan.horse->name));
    if (!plan.rider.level.empty()) about << text(plan.rider.level);
    for (const core::Limitation& l : plan.needs.limitations) minded << text(l.words);
    if (!minded.isEmpty()) about << tr("mind: ") + minded.join(", ");
    if (!plan.rider.goal.empty()) about << tr("wants: ") + text(plan.rider.goal);
    return about.join(" · ");
}

void PrescribeView::refresh_chain(const app::RidersPlan& plan) {
    if (!plan.fault) {
        chain_->add("nothing", [this] { return text_label(tr("Nothing is in work."), this, 18, true); });
        say_quietly(*chain_, tr("Review a ride of %1, keep one focus, and its exercise and weeks "
                                "stand here. Until then the session "
                                "below warms up, works on both reins and cools down.")
                                 .arg(first_name()));
        return;
    }
    const auto link = [this](const core::Fault& fault, const QString& words, int depth) {
        const QString name = text(fault.name);
        chain_->add(QString("%1 %2\n%3").arg(depth).arg(name, words),
                    [&] { return new ChainLink(name, words, depth, depth == 0, this); });
    };
    link(*plan.fault, sentence(text(plan.fault->rider.empty() ? plan.fault->says : plan.fault->rider)), 0);
    int shown = 0;
    for (const auto& [fault, because] : plan.drives) {
        if (++shown > 2) break;
        link(*fault, text(because), 1);
    }
    if (desk_.from_review()) {
        say_quietly(*chain_, text(now_.findings().focus()->why));
        const QStringList good = now_.findings().what_is_good().mid(0, 2);
        if (!good.isEmpty()) say_in(*chain_, "✓  " + good.join(", "));
    }
}

void PrescribeView::refresh_exercise(const app::RidersPlan& plan) {
    const core::Exercise* e = desk_.exercise();
    const bool given = desk_.is_given();
    ladder_->setVisible(e != nullptr);
    if (!e) {
        if (!plan.fault) return;
        say_quietly(*exercise_,
                    tr("No exercise in the library answers this for this rider. E shows them all."));
        return refresh_choice(plan);
    }
    if (!given) refresh_choice(plan);
    const int size = given ? 26 : 18;
    exercise_->add(QString("name %1 %2").arg(size).arg(text(e->name)),
                   [&] { return heading_label(text(e->name), this, size); });
    say_in(*exercise_, text(e->purpose));
    say_quietly(*exercise_, QString::fromUtf8("“%1”   %2").arg(text(e->cue_picture), text(e->cue_plain)));
    QStringList waits;
    for (std::size_t i = 0; i < e->dose.ladder.size(); ++i)
        waits << text(yard_.knowledge().exercises.rung_offer(*e, static_cast<int>(i), plan.needs).set_aside);
    const core::LadderPlace at = given ? plan.given->place : core::LadderPlace{};
    ladder_->show_ladder(*e, at.rung, at.good_in_a_row, at.done, waits);
    if (given && at.stopped)
        say_in(*below_, tr("<b>It hurt last time.</b> Nothing more of it until you take it up again."));
    if (given && at.done) say_in(*below_, tr("<b>Climbed.</b> Film it, and look whether it holds."));
    refresh_below(*e, plan);
    give_->setVisible(!given);
    give_->setText(tr("Give it to ") + first_name() + "   G");
    log_->setVisible(given && !practice_->isVisible());
    page_->setVisible(desk_.plan() && desk_.plan()->fault);
    // What was given today goes out first; from then on rides come back.
    const bool page_next =
        given && plan.given->log.empty() && paged_ != desk_.rider() && page_->isVisibleTo(this);
    const bool ask_year = page_next && !plan.rider.birth_year;
    born_->setVisible(ask_year);
    born_->setText(tr("%1 was born in …").arg(first_name()));
    const bool ask_consent =
        page_next && !ask_year && !app::ask_for_rider(yard_, desk_.rider(), app::Use::page);
    agreed_->setVisible(ask_consent);
    agreed_->setText(tr("Record who agreed for %1").arg(first_name()));
    const std::pair<QPushButton*, bool> next[] = {{log_, given && !page_next},
                                                  {page_, page_next && !ask_year && !ask_consent},
                                                  {born_, ask_year},
                                                  {agreed_, ask_consent}};
    for (const auto& [button, on] : next) give_look(*button, on ? "next" : "");
    page_->setText(tr("Save the page") + "   S");
    again_->setVisible(plan.given.has_value());
    again_->setText(given ? tr("Another exercise   A") : tr("Back to what is given   A"));
}

/// What stands before it, what makes it safe, what it needs, and what may be signed off.
void PrescribeView::refresh_below(const core::Exercise& e, const app::RidersPlan& plan) {
    if (!e.before.empty()) say_in(*below_, tr("<b>First stands:</b> ") + joined(e.before) + ".");
    QStringList needs;
    if (!e.people.empty()) needs << joined(e.people);
    if (!e.equipment.empty()) needs << joined(e.equipment);
    say_in(*below_,
           tr("<b>Safety.</b> ") + text(e.caution) +
               (needs.isEmpty() ? QString() : tr(" Needs: ") + needs.join(", ") + "."),
           12);
    const auto word = [this](const QString& words, const std::function<void()>& act) {
        below_->add(
            "word " + words,
            [&] {
                auto* b = new QPushButton(words, this);
                b->setObjectName("word");
                connect(b, &QPushButton::clicked, this, act);
                return b;
            },
            Qt::AlignLeft);
    };
    for (const std::string& what : e.equipment)
        word(desk_.has_equipment(what) ? tr("We have no %1").arg(text(what))
                                       : tr("We have %1 after all").arg(text(what)),
             [this, what] { desk_.set_equipment(what, !desk_.has_equipment(what)); });
    if (const QString other = other_way(e, plan); !other.isEmpty()) say_quietly(*below_, other);
    for (const std::string& gate : desk_.gates())
        word(tr("Sign off on %1: %2").arg(text(plan.horse->name), text(core::spoken_gate(gate))),
             [this, gate] {
                 const QString line = desk_.sign_off(gate);
                 emit say(line.isEmpty() ? tr("Signed off from today; it stands on the rider's card, [undo] "
                                              "takes it back.")
                                         : line);
             });
}

/// Three to choose from, each with what speaks for it and the strongest reason against.
void PrescribeView::refresh_choice(const app::RidersPlan& plan) {
    int n = 0;
    for (const core::Candidate& c : plan.candidates) {
        ++n;
        const bool chosen = c.exercise == desk_.exercise();
        const QString name = text(c.exercise->name), why = sentence(text(c.reason)) + ".",
                      against = tr("Against it: ") + text(c.against) + ".";
        exercise_->add(QString("%1 %2 %3\n%4\n%5").arg(n).arg(chosen).arg(name, why, against), [&] {
            auto* card = new CandidateCard(n, name, why, against, chosen, this);
            connect(card, &QPushButton::clicked, this, [this, n] { pick(n); });
            return card;
        });
    }
    QStringList aside;
    for (const core::Offer& o : plan.set_aside) {
        if (aside.size() == 3) break;
        aside << text(o.exercise->name).toLower() + " (" + text(o.set_aside) + ")";
    }
    if (!aside.isEmpty()) {
        const auto more = plan.set_aside.size() - static_cast<std::size_t>(aside.size());
        say_quietly(*exercise_, tr("Set aside: ") + aside.join(", ") +
                                    (more > 0 ? tr(" and %1 more.").arg(more) : QString(".")));
    }
    leave_room(*exercise_);
}

void PrescribeView::refresh_right(const app::RidersPlan& plan) {
    weeks_->show_weeks(plan, yard_.today().toString(Qt::ISODate));
    if (core::weekdays_in(plan.weeks.days).empty())
        say_quietly(*right_, tr("On which days does %1 ride? Click them above.").arg(first_name()));
    put_row(*right_, {{tr("Rides of %1 min").arg(plan.weeks.minutes), {}},
                      {QString::fromUtf8("− ,"), "shorter_ride"},
                      {"+ .", "longer_ride"}});
    put_row(*right_, {{plan.weeks.arena ? tr("arena there  N") : tr("no arena  N"), "arena_there"},
                      {plan.weeks.helper ? tr("helper there  H") : tr("nobody there  H"), "helper_there"}});
    const auto beside = [&](const std::string& id, const QString& whose, const QString& key,
                            const QString& deed) {
        const core::Exercise* e = id.empty() ? nullptr : yard_.knowledge().exercises.find(id, plan.needs);
        const bool goes = std::ranges::find(plan.lines, id, &core::HomeworkLine::id) != plan.lines.end();
        QString words = e ? text(e->name) : tr("nothing");
        if (e && !goes) words += tr(", not now");
        put_row(*right_, {{QString("%1: %2  %3").arg(whose, words, key), deed}});
    };
    if (plan.horse && !plan.horse_lines.empty())
        beside(plan.weeks.for_horse, tr("for %1").arg(text(plan.horse->name)), "B", "line_for_horse");
    if (!plan.off_lines.empty())
        beside(plan.weeks.off_horse, tr("off the horse"), tr("⇧B"), "line_off_horse");
    refresh_next_clip(plan);
    if (plan.given) refresh_rides(plan);
}

void PrescribeView::refresh_next_clip(const app::RidersPlan& plan) {
    if (plan.homework) {
        leave_room(*right_);
        const QDate on = QDate::fromString(text(plan.homework->clip_on), Qt::ISODate);
        const QString day = QLocale(QLocale::English).toString(on, "ddd d MMM");
        say_in(*right_, on < yard_.today() ? tr("<b>Next clip, due since %1</b>").arg(day)
                                           : tr("<b>Next clip, %1</b>").arg(day));
        // What every clip needs stands on the page; here is what this one is for.
        if (!plan.homework->shots.empty()) say_quietly(*right_, text(plan.homework->shots.front()));
        for (const std::string& s : plan.homework->notes) say_quietly(*right_, text(s) + ".");
    } else if (desk_.exercise()) {
        say_quietly(*right_, tr("Next clip: ") + text(desk_.exercise()->next_clip) + ".");
    }
}

/// The last rides that were written down, why it stands still, and how the weeks go out and come in.
void PrescribeView::refresh_rides(const app::RidersPlan& plan) {
    leave_room(*right_);
    const auto& log = plan.given->log;
    say_in(*right_, log.empty() ? tr("<b>No ride is written down yet.</b>") : tr("<b>Rides</b>"));
    for (std::size_t i = log.size(); i-- > 0 && i + 3 > log.size();) {
        const core::Practice& p = log[i];
        const auto& ladder = plan.given->exercise->dose.ladder;
        const auto rung =
            std::clamp<std::size_t>(static_cast<std::size_t>(std::max(0, p.rung)), 0, ladder.size() - 1);
        QString line = spoken_date(text(p.day)) + "  " + text(core::said_of(p, ladder[rung]));
        if (p.guess >= 0) line += tr(" (guessed %1)").arg(p.guess);
        say_quietly(*right_, line);
    }
    if (!plan.given->stalled.empty()) say_in(*right_, tr("Stands still: ") + text(plan.given->stalled) + ".");
    if (const std::string far = core::toward_a_thousand(plan.attempts); !far.empty())
        say_quietly(*right_, text(far) + ".");
    // One word for the ways out and in; each has its key, and is found by its name.
    right_->add(
        "ways",
        [this] {
            auto* ways = new QPushButton(tr("The weeks for fridge, phone, calendar …"), this);
            ways->setObjectName("word");
            auto* menu = new QMenu(ways);
            for (const char* id : {"fridge_page", "log_page", "calendar", "take_in_log"})
                if (QAction* a = deeds_.find(id)) menu->addAction(a);
            ways->setMenu(menu);
            return ways;
        },
        Qt::AlignLeft);
}

void PrescribeView::refresh_session() {
    session_->show_session(desk_.session(), desk_.broken(), yard_.knowledge().exercises);
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

}  // namespace aspen::ui
