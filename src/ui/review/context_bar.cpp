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
QString filmed_words(app::Bench& bench) {
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

ContextBar::ContextBar(app::Bench& bench, app::Importer& importer, app::Player& player, QWidget* parent)
    : QWidget(parent), bench_(bench), importer_(importer), player_(player) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 2, 8, 2);
    row->setSpacing(0);
    setFixedHeight(scaled_px(kContextHigh));  // whatever is asked, the picture below stays where it is
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
        row->addWidget(button);
    }
    turn_ = new QPushButton(tr("Does the horse travel the other way?   T"), this);
    turn_->setObjectName("ask");
    connect(turn_, &QPushButton::clicked, &bench_.review(), &app::Review::turn_travel);
    row->addWidget(turn_);
    row->addStretch(1);
    part_ = new QLabel(this);
    part_->setObjectName("small");
    row->addWidget(part_);
    copy_ = new QPushButton(tr("Keep a copy in the yard"), this);
    copy_->setObjectName("word");
    connect(copy_, &QPushButton::clicked, this, [this] { importer_.keep_copy(bench_.review().clip().id); });
    row->addWidget(copy_);
    // Not in refresh(): that runs at every frame, and the ride's clips are read from the records.
    const auto say_part = [this] {
        if (!bench_.is_open()) return;
        const auto films = bench_.yard().records().clips_of(bench_.review().ride().id);
        const auto film = std::ranges::find(films, bench_.review().clip().id, &store::Clip::id);
        part_->setVisible(films.size() > 1 && film != films.end());
        part_->setText(tr("clip %1 of this ride's %2   ").arg(film - films.begin() + 1).arg(films.size()));
    };
    connect(&bench_, &app::Bench::changed, this,
            [this, say_part](const app::BenchState&, app::BenchParts what) {
                if (!(what & (app::BenchPart::records | app::BenchPart::clip))) return;
                say_part();
                refresh();
            });
    connect(&bench_, &app::Bench::frame_moved, this, &ContextBar::refresh);
    connect(&bench_.yard(), &app::Yard::clips_changed, this, [this, say_part] {
        say_part();
        refresh();
    });
    refresh();
}

void ContextBar::change_ride(const QString& what, const std::function<void(store::Ride&)>& change) {
    store::Ride r = bench_.review().ride();
    change(r);
    bench_.review().set_ride(r, what);
}

void ContextBar::add_name_field(QMenu& menu, const QString& hint,
                                const std::function<void(const QString&)>& take) {
    menu.addSeparator();
    auto* edit = new QLineEdit;
    edit->setPlaceholderText(hint);
    edit->setMinimumWidth(220);
    auto* action = new QWidgetAction(&menu);
    action->setDefaultWidget(edit);
    const bool alone = menu.actions().size() <= 1;  // nobody to choose from: who opens it wants to write
    menu.addAction(action);
    if (alone) {
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

void ContextBar::fill(Word word, QMenu& menu) {
    if (!bench_.is_open()) return;
    app::Yard& yard = bench_.yard();
    const auto choice = [&](const QString& text, const std::function<void()>& take) {
        connect(menu.addAction(text), &QAction::triggered, this, take);
    };
    switch (word) {
        case kRider:
            for (const store::Rider& r : yard.records().riders()) {
                choice(QString::fromStdString(r.name),
                       [this, id = r.id] { app::say_rider(bench_.yard(), bench_.review().ride().id, id); });
            }
            add_name_field(menu, tr("A new rider's name, Enter"), [this, &yard](const QString& name) {
                store::Rider r;
                r.name = name.toStdString();
                yard.step(tr("New rider"),
                          [&] { app::say_rider(yard, bench_.review().ride().id, app::add_rider(yard, r)); });
            });
            break;
        case kHorse:
            for (const store::Horse& h : yard.records().horses()) {
                choice(QString::fromStdString(h.name),
                       [this, h] { bench_.review().set_pair(bench_.review().rider(), h.id, "horse"); });
            }
            choice(tr("on the mechanical horse"), [this] {
                change_ride("horse", [](store::Ride& r) {
                    r.horse = {};
                    r.mount = core::Mount::mechanical;
                });
            });
            add_name_field(menu, tr("A new horse's name, Enter"), [this, &yard](const QString& name) {
                store::Horse h;
                h.name = name.toStdString();
                yard.step(tr("New horse"), [&] {
                    app::set_pair(yard, bench_.review().ride().id, bench_.review().rider(),
                                  app::add_horse(yard, h), "horse");
                });
            });
            break;
        case kSchool:
            for (const core::School& s : yard.knowledge().schools.all()) {
                choice(QString::fromStdString(s.name),
                       [this, id = s.id] { change_ride("school", [&](store::Ride& r) { r.school = id; }); });
            }
            break;
        case kGait:
            for (const core::Gait g : core::kGaits)
                choice(text(core::spoken(g)), [this, g] { app::ridden_here(bench_, g); });
            break;
        case kSeat:
            for (const core::Seat s : core::kSeats)
                choice(text(core::spoken(s)), [this, s] { app::ridden_here(bench_, s); });
            break;
        case kView:
            for (const auto& [view, text] : {std::pair{core::View::side, tr("from the side")},
                                             {core::View::rear, tr("from behind")},
                                             {core::View::front, tr("from the front")}}) {
                choice(text, [this, v = view] { bench_.review().set_view(v); });
            }
            break;
        case kTravel:
            choice(tr("travels to the left  ←"), [this] { bench_.review().set_travel(core::Travel::left); });
            choice(tr("travels to the right  →"),
                   [this] { bench_.review().set_travel(core::Travel::right); });
            break;
        case kFilmed:
            fill_filmed(menu);
            break;
        case kOwn:
            fill_lines(menu, tr("what the rider says"),
                       {{tr("what for: the goal"), [](store::Ride& r) { return &r.own.goal; }},
                        {tr("the question"), [](store::Ride& r) { return &r.own.question; }},
                        {tr("anything that hurts"), [](store::Ride& r) { return &r.own.hurts; }}});
            break;
        case kDay:
            for (const store::Place p : {store::Place::lesson, store::Place::home, store::Place::show})
                choice(place_words(p),
                       [this, p] { change_ride("place", [p](store::Ride& r) { r.place = p; }); });
            menu.addSeparator();
            fill_lines(menu, tr("the ride"),
                       {{tr("the saddle"), [](store::Ride& r) { return &r.saddle; }},
                        {tr("the rider's level that day"), [](store::Ride& r) { return &r.level; }},
                        {tr("your word on this ride"), [](store::Ride& r) { return &r.coach_word; }}});
            break;
        case kPhase:
            if (const core::Stretch& s = bench_.review().stretch(); s.gait && s.seat) {
                const core::Setting here = bench_.review().setting();
                for (const std::string_view w : core::phases(here.gait, here.seat)) {
                    choice(phase_words(std::string(w)),
                           [this, w] { bench_.review().set_phase(std::string(w)); });
                }
            }
            break;
        case kWords:
            break;
    }
}

void ContextBar::fill_filmed(QMenu& menu) {
    if (!bench_.deck().ready()) return;
    const double stored = bench_.deck().facts().average_fps;
    const auto choice = [&](const QString& words, const core::Capture& capture) {
        connect(menu.addAction(words), &QAction::triggered, this, [this, capture] {
            store::Clip clip = bench_.review().clip();
            clip.capture = capture;
            bench_.review().set_clip(clip, tr("slow motion"));
        });
    };
    choice(tr("as fast as it plays"), {stored, {}, {}});
    for (const double fps : {60.0, 120.0, 240.0, 480.0, 960.0}) {
        if (fps > 1.5 * stored)
            choice(tr("filmed at %1 pictures a second (plays %2 × slower)")
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
        return frame + 1 < bench_.deck().facts().frames
                   ? bench_.deck().facts().pts_s[static_cast<std::size_t>(frame) + 1]
                   : bench_.deck().facts().pts_s.front() + bench_.deck().facts().duration_s;
    };
    const std::optional<double> from =
        player_.from() ? std::optional(bench_.deck().facts().pts_s[static_cast<std::size_t>(*player_.from())])
                       : std::nullopt;
    const std::optional<double> to = player_.to() ? std::optional(end_of(*player_.to())) : std::nullopt;
    for (const double fps : {120.0, 240.0, 480.0}) {
        if (fps > 1.5 * stored) choice(tr("only the marked part at %1").arg(fps), {fps, from, to});
    }
}

void ContextBar::fill_lines(QMenu& menu, const QString& what, const std::vector<Line>& lines) {
    store::Ride ride = bench_.review().ride();
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
            if (bench_.is_open())
                change_ride(what, [&](store::Ride& r) { *of(r) = edit->text().trimmed().toStdString(); });
        });
        connect(edit, &QLineEdit::returnPressed, &menu, &QMenu::close);
    }
    QTimer::singleShot(0, first, [first] { first->setFocus(); });
}

void ContextBar::open_own_side() { open_word(kOwn); }

/// Without waiting in the menu: the bench goes on beneath it.
void ContextBar::open_word(Word word) {
    words_[word]->menu()->popup(words_[word]->mapToGlobal(QPoint(0, words_[word]->height())));
}

void ContextBar::refresh() {
    const bool open = bench_.is_open();
    setVisible(open);
    if (!open) return shown_.clear();
    app::Yard& yard = bench_.yard();
    const core::Stretch& c = bench_.review().stretch();
    const store::Ride& ride = bench_.review().ride();
    const auto& rider = bench_.review().rider_card();
    const auto& horse = bench_.review().horse_card();
    const core::School* school = yard.knowledge().schools.find(bench_.review().ride().school);
    const store::Moment* moment = bench_.review().moment();
    const core::Setting here = bench_.review().setting();
    const bool rise = here.gait == core::Gait::trot &&
                      here.seat == core::Seat::rising;  // there the moment decides the band
    const bool phases = c.gait && c.seat && !core::phases(here.gait, here.seat).empty() && moment;
    const QString said[kWords] = {rider ? QString::fromStdString(rider->name) : QString(),
                                  horse ? QString::fromStdString(horse->name)
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
                                  filmed_words(bench_),
                                  own_words(ride.own),
                                  day_words(ride),
                                  moment ? phase_words(moment->phase) : QString()};
    const QString asks[] = {tr("Who rides?"),
                            tr("Which horse?"),
                            tr("Which school?"),
                            tr("Which gait?"),
                            tr("Which seat?"),
                            "",
                            tr("Which way?"),
                            "",
                            "",
                            "",
                            tr("Which moment of the rise?")};
    turn_->setVisible(bench_.review().travel_doubtful());
    copy_->setVisible(QDir::isAbsolutePath(QString::fromStdString(bench_.review().clip().path)));
    QStringList now{phases ? "phases" : "", c.view == core::View::side ? "side" : "", rise ? "rising" : ""};
    for (const QString& w : said) now << w;
    if (now == shown_) return;
    shown_ = now;
    bool asked = false;
    for (int i = 0; i < kWords; ++i) {
        QPushButton& b = *words_[static_cast<std::size_t>(i)];
        const bool wanted = i == kTravel ? c.view == core::View::side : i == kPhase ? phases : true;
        const bool missing = said[i].isEmpty();
        b.setVisible(wanted);
        b.setText(!missing ? said[i] : i == kPhase && !rise ? tr("name this moment") : asks[i]);
        b.setObjectName(missing && wanted && !asked && !(i == kPhase && !rise) ? "ask" : "said");
        if (missing && wanted) asked = true;
        b.style()->unpolish(&b);
        b.style()->polish(&b);
    }
}

void ContextBar::ask_next() {
    static const std::pair<const char*, Word> order[] = {{"rider", kRider},   {"horse", kHorse},
                                                         {"school", kSchool}, {"gait", kGait},
                                                         {"seat", kSeat},     {"travel", kTravel}};
    if (!bench_.is_open()) return;
    const auto missing = bench_.review().missing();
    if (missing.empty()) return;
    for (const auto& [name, word] : order) {
        if (missing.front() == name) open_word(word);
    }
}

}  // namespace aspen::ui

#include "moc_context_bar.cpp"
