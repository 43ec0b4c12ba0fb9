#include "ui/review/event_panel.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QHash>
#include <QMenu>
#include <QTimer>
#include <algorithm>

#include "app/review/ground_marks.hpp"
#include "core/motion/happening_words.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

/// What a key stands for, short enough to stand on it.
QString on_key(const app::EventKey& k) {
    const QHash<QString, QString> words{{"with=calf", QObject::tr("aid, calf")},
                                        {"with=heel", QObject::tr("aid, heel")},
                                        {"with=stronger", QObject::tr("stronger aid")},
                                        {"with=voice", QObject::tr("aid, voice")},
                                        {"with=hand", QObject::tr("aid, hand")},
                                        {"answer", QObject::tr("answer")},
                                        {"aid_off", QObject::tr("aid off")},
                                        {"break", QObject::tr("break")},
                                        {"halt", QObject::tr("halt")},
                                        {"back_step", QObject::tr("step back")},
                                        {"walk_off", QObject::tr("walked off")},
                                        {"pole", QObject::tr("pole")},
                                        {"fence", QObject::tr("fence")},
                                        {"take_off", QObject::tr("take-off")},
                                        {"landing", QObject::tr("landing")},
                                        {"lead_left", QObject::tr("left lead")},
                                        {"lead_right", QObject::tr("right lead")},
                                        {"wrong_lead", QObject::tr("wrong lead")},
                                        {"diagonal_left", QObject::tr("left diag.")},
                                        {"diagonal_right", QObject::tr("right diag.")},
                                        {"wrong_diagonal", QObject::tr("wrong diag.")},
                                        {"rein_left", QObject::tr("left rein")},
                                        {"rein_right", QObject::tr("right rein")},
                                        {"lap_line", QObject::tr("lap line")},
                                        {"let_go", QObject::tr("let go")},
                                        {"set_again", QObject::tr("set again")},
                                        {"iron_lost", QObject::tr("iron lost")},
                                        {"iron_found", QObject::tr("iron found")},
                                        {"sit", QObject::tr("sit")},
                                        {"rise", QObject::tr("rise")},
                                        {"bounce", QObject::tr("bounce")},
                                        {"spook", QObject::tr("spook")},
                                        {"half_halt", QObject::tr("half-halt")},
                                        {"attempt", QObject::tr("attempt")},
                                        {"good_one", QObject::tr("good one")},
                                        {"hoof=left_hind", QObject::tr("left hind")},
                                        {"hoof=left_fore", QObject::tr("left fore")},
                                        {"hoof=right_hind", QObject::tr("right hind")},
                                        {"hoof=right_fore", QObject::tr("right fore")}};
    const QString on = words.value(*k.detail ? k.detail : k.event);
    return std::string_view(k.event) == "hoof_off" ? QObject::tr("it lifts") : on;
}

const app::EventKey* shifted(const app::EventKey& plain, bool hooves) {
    const auto all = app::event_keys(hooves);
    const auto at = std::ranges::find_if(
        all, [&](const app::EventKey& k) { return k.row == plain.row + 4 && k.place == plain.place; });
    return at == all.end() ? nullptr : &*at;
}

}  // namespace

EventPanel::EventPanel(const app::BenchState& now, app::EventLog& log, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent), log_(log) {
    setObjectName("ground");
    setAccessibleName(tr("Log what happens"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 4, 16, 4);
    row->setSpacing(20);
    hands_ = new QStackedWidget(this);
    hands_->addWidget(hand(false));
    hands_->addWidget(hand(true));
    row->addWidget(hands_, 6);
    auto* side = new QVBoxLayout;
    side->setSpacing(2);
    auto* top = new QHBoxLayout;
    top->setSpacing(6);
    chosen_ = text_label("", this, 14, true);
    chosen_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    top->addWidget(chosen_, 1);
    const auto deed = [&](const QString& words) {
        auto* b = new QPushButton(words, this);
        b->setObjectName("deed");
        b->setFocusPolicy(Qt::TabFocus);
        top->addWidget(b);
        return b;
    };
    more_ = deed(tr("Say more  Enter"));
    away_ = deed(tr("Take away  ⌫"));
    measure_ = deed(tr("Measure my reaction"));
    side->addLayout(top);
    auto* holder = new QWidget;
    auto* list = new QVBoxLayout(holder);
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(1);
    list_ = std::make_unique<StandingLines>(*list);
    side->addWidget(scrolled(holder, this), 1);
    foot_ = new HintLine(keys, this, 12);
    side->addWidget(foot_);
    row->addLayout(side, 5);
    connect(foot_, &HintLine::pressed, this, [this] { log_.set_hooves(!log_.hooves()); });
    connect(more_, &QPushButton::clicked, this, &EventPanel::say_more);
    connect(away_, &QPushButton::clicked, &log_, &app::EventLog::take_away);
    connect(measure_, &QPushButton::clicked, this, &EventPanel::start_drill);
    connect(&log_, &app::EventLog::changed, this, &EventPanel::refresh);
    connect(&drill_, &app::ReactionDrill::changed, this, &EventPanel::refresh_drill);
    connect(&drill_, &app::ReactionDrill::measured, this, [this](int ms) {
        emit wants(app::SayReaction{ms});
        emit say(tr("Your reaction: %1 ms. What you log while it plays is pulled back by it.").arg(ms));
        refresh();
    });
    connect(&drill_, &app::ReactionDrill::failed, this, [this] {
        emit say(tr("Too few lights were answered; try again: any letter as soon as the field lights up."));
        refresh();
    });
}

QWidget* EventPanel::hand(bool hooves) {
    auto* keys = new QWidget(this);
    auto* grid = new QGridLayout(keys);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(2);
    for (const app::EventKey& k : app::event_keys(hooves)) {
        if (k.row > 3) continue;
        const app::EventKey* under = shifted(k, hooves);
        QString words = QString("%1  %2").arg(k.key, on_key(k));
        if (under) words += QString("\n⇧  %1").arg(on_key(*under));
        auto* b = new QPushButton(words, keys);
        b->setObjectName("cell");
        b->setFocusPolicy(Qt::TabFocus);
        b->setAccessibleName(on_key(k));
        b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Expanding);
        connect(b, &QPushButton::clicked, this, [this, k] { log_.log(k.event, k.detail); });
        grid->addWidget(b, k.row, k.place);
    }
    for (int c = 0; c < 5; ++c) grid->setColumnStretch(c, 1);
    return keys;
}

bool EventPanel::take_key(const QKeyEvent& e) {
    const QKeySequence pressed((e.modifiers() & Qt::ShiftModifier) | e.key());
    const bool bare = (e.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0;
    for (const app::EventKey& k : app::event_keys(log_.hooves())) {
        if (!bare || QKeySequence(k.key) != pressed) continue;
        if (drill_.running())
            drill_.press();
        else if (!e.isAutoRepeat())
            log_.log(k.event, k.detail);
        return true;
    }
    if (bare && e.key() == Qt::Key_H && !drill_.running()) {
        if (!e.isAutoRepeat()) log_.set_hooves(!log_.hooves());
        return true;
    }
    if (!drill_.running() || e.key() != Qt::Key_Space) return false;
    drill_.press();
    return true;
}

void EventPanel::say_more() {
    const auto e = log_.chosen();
    if (!e) return emit say(tr("Log something first, or point at a mark over the film."));
    const auto choices = app::choices_of(*e);
    if (choices.empty()) return emit say(tr("There is nothing more to say of that."));
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    QString group;
    for (const app::EventChoice& c : choices) {
        if (!group.isEmpty() && group != text(c.key)) menu->addSeparator();
        group = text(c.key);
        QAction* a = menu->addAction(c.words);
        a->setCheckable(true);
        a->setChecked(c.holds);
        connect(a, &QAction::triggered, this, [this, c] { log_.say_more(c); });
    }
    connect(menu, &QMenu::aboutToHide, this, &EventPanel::closed);
    give_keys(*menu);
    menu->popup(more_->mapToGlobal(QPoint(0, -menu->sizeHint().height())));
}

void EventPanel::start_drill() { drill_.running() ? drill_.stop() : drill_.start(); }

void EventPanel::refresh_drill() {
    measure_->setText(drill_.running() ? tr("Leave the drill") : tr("Measure my reaction"));
    if (!drill_.running()) return refresh();
    chosen_->setText(drill_.lit() ? tr("●  Now!") : tr("○  Press any letter as soon as this lights up"));
    chosen_->setStyleSheet(drill_.lit() ? QString("background: %1; color: %2; padding: 2px 8px;")
                                              .arg(theme().sky.name(), theme().ground.name())
                                        : QString());
}

void EventPanel::refresh() {
    if (!isVisible() && !log_.on()) return;
    hands_->setCurrentIndex(log_.hooves() ? 1 : 0);
    chosen_->setStyleSheet({});
    const auto e = log_.chosen();
    chosen_->setText(e ? tr("%1 s  %2")
                             .arg(e->time_s, 0, 'f', 2)
                             .arg(text(core::spoken(core::Happening{0, e->event, e->detail})))
                       : tr("Press a key as it happens"));
    more_->setVisible(e && !app::choices_of(*e).empty());
    away_->setVisible(e.has_value());
    measure_->setVisible(!e);
    list_->begin();
    lines_ = log_.words_here() + app::ground_in_words(now_);
    for (const QString& line : lines_) {
        list_->add(line, [&] {
            auto* label = text_label(line, this, 14);
            label->setWordWrap(true);
            return label;
        });
    }
    if (lines_.isEmpty())
        list_->add("none", [this] {
            return quiet_label(tr("Counts, delays, laps and how long it held stand here."), this);
        });
    list_->end();
    const int ms = app::reaction_ms(now_.yard());
    const QString other = log_.hooves() ? tr("all events") : tr("hooves");
    foot_->say(app::reaction_measured(now_.yard())
                   ? tr("[play] plays · [log_events] leaves · [=H] %2 · pulled back by your %1 ms")
                         .arg(ms)
                         .arg(other)
                   : tr("[play] plays · [log_events] leaves · [=H] %2 · pulled back by %1 ms, not yet yours")
                         .arg(ms)
                         .arg(other));
}

}  // namespace aspen::ui

#include "moc_event_panel.cpp"
