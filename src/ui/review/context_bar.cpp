#include "ui/review/context_bar.hpp"

#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QStyle>
#include <QTimer>
#include <QWidgetAction>
#include <algorithm>

#include "app/review/first_look.hpp"
#include "app/yard/changes.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kContextHigh = 32;

QString phase_words(const std::string& phase) { return text(core::spoken_phase(phase)); }

QString own_words(const store::OwnSide& own) {
    if (!own.hurts.empty()) return QObject::tr("hurts: ") + text(own.hurts).left(18);
    if (!own.question.empty()) return QObject::tr("asks: ") + text(own.question).left(18);
    return own.goal.empty() ? QObject::tr("rider says …") : text(own.goal).left(24);
}

QString place_words(store::Place place) {
    switch (place) {
        case store::Place::lesson:
            return QObject::tr("lesson");
        case store::Place::home:
            return QObject::tr("at home");
        case store::Place::show:
            return QObject::tr("at a show");
        case store::Place::unknown:
            break;
    }
    return {};
}

/// Where the ride was and in which saddle, and at what level that day.
QString day_words(const store::Ride& r) {
    QStringList said;
    for (const QString& w : {place_words(r.place), text(r.saddle), text(r.level)})
        if (!w.isEmpty()) said << w;
    return said.isEmpty() ? QObject::tr("where, saddle …") : said.join(" · ").left(28);
}

/// Whether the clip plays slower than life, and who says so.
QString filmed_words(const app::BenchState& bench) {
    const core::Capture& c = bench.review().clip().capture;
    const core::CaptureMap map = bench.deck().capture_map();
    if (map.is_plain()) return QObject::tr("real time");
    const double slower = map.slowed(c.from_s.value_or(bench.deck().facts().pts_s.front()));
    return QString(c.filmed_fps > 0 ? QObject::tr("plays %1 × slower%2")
                                    : QObject::tr("plays %1 × slower, says the clip"))
        .arg(slower, 0, 'g', 3)
        .arg(c.from_s || c.to_s ? QObject::tr(", a part") : "");
}

}  // namespace

ContextBar::ContextBar(const app::BenchState& now, app::Player& player, QWidget* parent)
    : BenchPanel(now, parent), player_(player) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 2, 8, 2);
    row->setSpacing(0);
    setFixedHeight(scaled_px(kContextHigh));  // whatever is asked, the picture below stays where it is
    make_words(*row);
    turn_ = new QPushButton(tr("Does the horse travel the other way?   T"), this);
    turn_->setObjectName("ask");
    connect(turn_, &QPushButton::clicked, this, [this] { emit wants(app::TurnTravel{}); });
    row->addWidget(turn_);
    row->addStretch(1);
    part_ = new QLabel(this);
    part_->setObjectName("small");
    row->addWidget(part_);
    copy_ = new QPushButton(tr("Keep a copy in the yard"), this);
    copy_->setObjectName("word");
    connect(copy_, &QPushButton::clicked, this, [this] { emit wants(app::KeepCopy{}); });
    row->addWidget(copy_);
    connect(&now_.yard(), &app::Yard::clips_changed, this, [this] { show_state(app::BenchPart::records); });
    refresh();
}

void ContextBar::make_words(QHBoxLayout& row) {
    const QString names[] = {tr("Rider"),
                             tr("Horse"),
                             tr("School"),
                             tr("Gait"),
                             tr("Seat"),
                             tr("View"),
                             tr("Direction of travel"),
                             tr("Filmed at"),
                             tr("What the rider says"),
                             tr("Where, saddle, level that day"),
                             tr("Moment in the stride")};
    for (int i = 0; i < kWords; ++i) {
        auto* button = new QPushButton(this);
        button->setObjectName("said");
        button->setProperty("aspen", names[i]);
        button->setAccessibleName(names[i]);
        auto* menu = new QMenu(button);
        connect(menu, &QMenu::aboutToShow, this, [this, i, menu] {
            menu->clear();
            fill(static_cast<Word>(i), *menu);
        });
        // The keys belong to the bench again once a word is said: Space must play, not open the menu anew.
        connect(menu, &QMenu::aboutToHide, this, &ContextBar::answered);
        button->setMenu(menu);
        words_[static_cast<std::size_t>(i)] = button;
        row.addWidget(button);
    }
}

void ContextBar::show_state(app::BenchParts what) {
    if (!(what & (app::BenchPart::records | app::BenchPart::clip))) return;
    say_part();
    refresh();
}

void ContextBar::show_frame() { refresh(); }

/// Which of the ride's clips this is. Not in refresh(): that runs at every frame, and the clips are read from
/// the records.
void ContextBar::say_part() {
    if (!now_.is_open()) return;
    const auto films = now_.records().rides.clips_of(now_.review().ride().id);
    const auto film = std::ranges::find(films, now_.review().clip().id, &store::Clip::id);
    part_->setVisible(films.size() > 1 && film != films.end());
    part_->setText(tr("clip %1 of this ride's %2   ").arg(film - films.begin() + 1).arg(films.size()));
}

void ContextBar::add_name_field(QMenu& menu, const QString& hint, bool nobody,
                                const std::function<void(const QString&)>& take) {
    menu.addSeparator();
    auto* edit = new QLineEdit;
    edit->setPlaceholderText(hint);
    edit->setMinimumWidth(220);
    auto* action = new QWidgetAction(&menu);
    action->setDefaultWidget(edit);
    menu.addAction(action);
    if (nobody) {  // to choose from: who opens it wants to write
        QTimer::singleShot(0, edit, [edit, action, &menu] {
            menu.setActiveAction(action);
            edit->setFocus();
        });
    }
    connect(edit, &QLineEdit::returnPressed, &menu, [edit, take, &menu] {
        const QString name = edit->text().trimmed();
        if (name.isEmpty()) return;
        menu.close();
        take(name);
    });
}

void ContextBar::choice(QMenu& menu, const QString& words, const app::Intent& intent) {
    connect(menu.addAction(words), &QAction::triggered, this, [this, intent] { emit wants(intent); });
}

void ContextBar::fill(Word word, QMenu& menu) {
    if (!now_.is_open()) return;
    switch (word) {
        case kRider:
        case kHorse:
            return fill_pair(word, menu);
        case kSchool:
            for (const core::School& s : now_.knowledge().schools.all()) {
                choice(menu, QString::fromStdString(s.name),
                       app::ChangeRide{"school", [id = s.id](store::Ride& r) { r.school = id; }});
            }
            return;
        case kFilmed:
            return fill_filmed(menu);
        case kOwn:
            return fill_lines(menu, tr("what the rider says"),
                              {{tr("what for: the goal"), [](store::Ride& r) { return &r.own.goal; }},
                               {tr("the question"), [](store::Ride& r) { return &r.own.question; }},
                               {tr("anything that hurts"), [](store::Ride& r) { return &r.own.hurts; }}});
        case kDay:
            return fill_day(menu);
        default:
            return fill_ridden(word, menu);
    }
}

void ContextBar::fill_pair(Word word, QMenu& menu) {
    if (word == kRider) {
        const auto riders = now_.records().people.riders();
        for (const store::Rider& r : riders)
            choice(menu, QString::fromStdString(r.name), app::SayRider{r.id});
        return add_name_field(
            menu, tr("A new rider's name, Enter"), riders.empty(),
            [this](const QString& name) { emit wants(app::SayNewRider{name.toStdString()}); });
    }
    const auto horses = now_.records().people.horses();
    for (const store::Horse& h : horses) choice(menu, QString::fromStdString(h.name), app::SayHorse{h.id});
    choice(menu, tr("on the mechanical horse"), app::ChangeRide{"horse", [](store::Ride& r) {
                                                                    r.horse = {};
                                                                    r.mount = core::Mount::mechanical;
                                                                }});
    add_name_field(menu, tr("A new horse's name, Enter"), horses.empty(),
                   [this](const QString& name) { emit wants(app::SayNewHorse{name.toStdString()}); });
}

/// What is ridden here and how it is seen.
void ContextBar::fill_ridden(Word word, QMenu& menu) {
    if (word == kGait) {
        for (const core::Gait g : core::kGaits) choice(menu, text(core::spoken(g)), app::SayGait{g});
    } else if (word == kSeat) {
        for (const core::Seat s : core::kSeats) choice(menu, text(core::spoken(s)), app::SaySeat{s});
    } else if (word == kView) {
        choice(menu, tr("from the side"), app::SayView{core::View::side});
        choice(menu, tr("from behind"), app::SayView{core::View::rear});
        choice(menu, tr("from the front"), app::SayView{core::View::front});
    } else if (word == kTravel) {
        choice(menu, tr("travels to the left  ←"), app::SayTravel{core::Travel::left});
        choice(menu, tr("travels to the right  →"), app::SayTravel{core::Travel::right});
    } else if (const core::Stretch& s = now_.review().stretch(); word == kPhase && s.gait && s.seat) {
        const core::Setting here = now_.review().setting();
        for (const std::string_view w : core::phases(here.gait, here.seat))
            choice(menu, phase_words(std::string(w)), app::NamePhase{std::string(w)});
    }
}

void ContextBar::fill_day(QMenu& menu) {
    for (const store::Place p : {store::Place::lesson, store::Place::home, store::Place::show})
        choice(menu, place_words(p), app::ChangeRide{"place", [p](store::Ride& r) { r.place = p; }});
    menu.addSeparator();
    fill_lines(menu, tr("the ride"),
               {{tr("the saddle"), [](store::Ride& r) { return &r.saddle; }},
                {tr("the rider's level that day"), [](store::Ride& r) { return &r.level; }},
                {tr("your word on this ride"), [](store::Ride& r) { return &r.coach_word; }}});
}

void ContextBar::fill_filmed(QMenu& menu) {
    if (!now_.deck().ready()) return;
    const double stored = now_.deck().facts().average_fps;
    const auto filmed = [&](const QString& words, const core::Capture& capture) {
        choice(menu, words, app::SayCapture{capture});
    };
    filmed(tr("as fast as it plays"), {stored, {}, {}});
    for (const double fps : {60.0, 120.0, 240.0, 480.0, 960.0}) {
        if (fps > 1.5 * stored)
            filmed(tr("filmed at %1 pictures a second (plays %2 × slower)")
                       .arg(fps)
                       .arg(fps / stored, 0, 'g', 3),
                   {fps, {}, {}});
    }
    menu.addSeparator();
    if (!player_.from() && !player_.to()) {
        menu.addAction(tr("Only a part? Mark it with [ and ], then come back here"))->setEnabled(false);
        return;
    }
    const auto end_of = [&](int frame) {
        return frame + 1 < now_.deck().facts().frames
                   ? now_.deck().facts().pts_s[static_cast<std::size_t>(frame) + 1]
                   : now_.deck().facts().pts_s.front() + now_.deck().facts().duration_s;
    };
    const std::optional<double> from =
        player_.from() ? std::optional(now_.deck().facts().pts_s[static_cast<std::size_t>(*player_.from())])
                       : std::nullopt;
    const std::optional<double> to = player_.to() ? std::optional(end_of(*player_.to())) : std::nullopt;
    for (const double fps : {120.0, 240.0, 480.0}) {
        if (fps > 1.5 * stored) filmed(tr("only the marked part at %1").arg(fps), {fps, from, to});
    }
}

void ContextBar::fill_lines(QMenu& menu, const QString& what, const std::vector<Line>& lines) {
    store::Ride ride = now_.review().ride();
    QLineEdit* first = nullptr;
    for (const Line& line : lines) {
        auto* edit = new QLineEdit(text(*line.of(ride)));
        edit->setPlaceholderText(line.hint);
        edit->setAccessibleName(line.hint);
        edit->setMinimumWidth(320);
        auto* action = new QWidgetAction(&menu);
        action->setDefaultWidget(edit);
        menu.addAction(action);
        if (!first) first = edit;
        connect(edit, &QLineEdit::editingFinished, this, [this, edit, what, of = line.of] {
            const std::string said = edit->text().trimmed().toStdString();
            if (now_.is_open())
                emit wants(app::ChangeRide{what, [of, said](store::Ride& r) { *of(r) = said; }});
        });
        connect(edit, &QLineEdit::returnPressed, &menu, &QMenu::close);
    }
    QTimer::singleShot(0, first, [first] { first->setFocus(); });
}

void ContextBar::open_own_side() { open_word(kOwn); }
void ContextBar::open_rider() { open_word(kRider); }
void ContextBar::open_horse() { open_word(kHorse); }

/// Without waiting in the menu: the bench goes on beneath it.
void ContextBar::open_word(Word word) {
    const QPushButton& at = *words_[word];  // where it stands in the head, its menu opens at the line's begin
    words_[word]->menu()->popup(at.isVisible() ? at.mapToGlobal(QPoint(0, at.height()))
                                               : mapToGlobal(QPoint(scaled_px(14), height())));
}

/// What is said of each word; "" where nothing is.
std::array<QString, ContextBar::kWords> ContextBar::said() const {
    const core::Stretch& c = now_.review().stretch();
    const store::Ride& ride = now_.review().ride();
    const auto& rider = now_.review().rider_card();
    const auto& horse = now_.review().horse_card();
    const core::School* school = now_.knowledge().schools.find(ride.school);
    const store::Moment* moment = now_.review().moment();
    return {rider ? QString::fromStdString(rider->name) : QString(),
            horse                                   ? QString::fromStdString(horse->name)
            : ride.mount == core::Mount::mechanical ? tr("mechanical horse")
                                                    : QString(),
            school ? QString::fromStdString(school->name) : QString(),
            c.gait ? text(core::spoken(*c.gait)) : QString(),
            c.seat ? text(core::spoken(*c.seat)) : QString(),
            c.view == core::View::side   ? tr("from the side")
            : c.view == core::View::rear ? tr("from behind")
                                         : tr("from the front"),
            c.travel == core::Travel::left    ? tr("travels ←")
            : c.travel == core::Travel::right ? tr("travels →")
                                              : QString(),
            filmed_words(now_),
            own_words(ride.own),
            day_words(ride),
            moment ? phase_words(moment->phase) : QString()};
}

void ContextBar::refresh() {
    setVisible(now_.is_open());
    if (!now_.is_open()) return shown_.clear();
    const core::Stretch& c = now_.review().stretch();
    const core::Setting here = now_.review().setting();
    const bool rise = here.gait == core::Gait::trot &&
                      here.seat == core::Seat::rising;  // there the moment decides the band
    const bool phases =
        c.gait && c.seat && !core::phases(here.gait, here.seat).empty() && now_.review().moment();
    const auto said = this->said();
    turn_->setVisible(now_.review().travel_doubtful());
    copy_->setVisible(QDir::isAbsolutePath(QString::fromStdString(now_.review().clip().path)));
    QStringList now{phases ? "phases" : "", c.view == core::View::side ? "side" : "", rise ? "rising" : ""};
    for (const QString& w : said) now << w;
    if (now == std::exchange(shown_, now)) return;
    const std::array<QString, kWords> asks{tr("Who rides?"),
                                           tr("Which horse?"),
                                           tr("Which school?"),
                                           tr("Which gait?"),
                                           tr("Which seat?"),
                                           "",
                                           tr("Which way?"),
                                           "",
                                           "",
                                           "",
                                           rise ? tr("Which moment of the rise?") : tr("name this moment")};
    bool asked = false;
    for (std::size_t i = 0; i < kWords; ++i) {
        QPushButton& b = *words_[i];
        const bool in_head = (i == kRider || i == kHorse) && !said[i].isEmpty();  // it stands in the head
        const bool wanted = in_head        ? false
                            : i == kTravel ? c.view == core::View::side
                            : i == kPhase  ? phases
                                           : true;
        const bool missing = said[i].isEmpty(), aside = i == kPhase && !rise;
        b.setVisible(wanted);
        b.setText(missing ? asks[i] : said[i]);
        b.setObjectName(missing && wanted && !asked && !aside ? "ask" : "said");
        if (missing && wanted) asked = true;
        b.style()->unpolish(&b);
        b.style()->polish(&b);
    }
}

void ContextBar::ask_next() {
    static const std::pair<const char*, Word> order[] = {{"rider", kRider},   {"horse", kHorse},
                                                         {"school", kSchool}, {"gait", kGait},
                                                         {"seat", kSeat},     {"travel", kTravel}};
    if (!now_.is_open()) return;
    const auto missing = now_.review().missing();
    if (missing.empty()) return;
    for (const auto& [name, word] : order) {
        if (missing.front() == name) open_word(word);
    }
}

}  // namespace aspen::ui

#include "moc_context_bar.cpp"
