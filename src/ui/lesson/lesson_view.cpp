#include "ui/lesson/lesson_view.hpp"

#include <QAction>
#include <QKeyEvent>
#include <QMenu>
#include <algorithm>

#include "core/reading/refused.hpp"
#include "ui/lesson/lesson_clock.hpp"
#include "ui/lesson/replay_panel.hpp"
#include "ui/lesson/roster_delegate.hpp"
#include "ui/prescribe/session_view.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/delegates.hpp"

namespace aspen::ui {
namespace {

constexpr int kMostRiders = 8;
constexpr const char* kLessonRows[] = {"12345678", "QWERTYUI", "ASDFGHJK", "ZXCVBNM,"};
using State = app::LessonDesk::State;

}  // namespace

LessonView::LessonView(app::Yard& yard, QWidget* parent) : View(parent), desk_(yard), model_(yard) {
    setFocusPolicy(Qt::StrongFocus);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 12, 20, 10);
    build_deeds();
    build_roster();
    build_ring();
    all->addWidget(roster_page_, 1);
    all->addWidget(ring_page_, 1);
    timer_.setInterval(500);
    connect(&timer_, &QTimer::timeout, this, &LessonView::tick);
    connect(&desk_, &app::LessonDesk::changed, this, &LessonView::rebuild);
    rebuild();
}

void LessonView::build_deeds() {
    const auto deed = [this](const QString& id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, std::move(act));
    };
    deed("clock", tr("Start or stop the clock"), [this] {
        if (desk_.state() == State::none) return begin();
        desk_.state() == State::running ? desk_.stand() : start();
    });
    deed("next_block", tr("The next block"), [this] { desk_.next_block(1); });
    deed("block_before", tr("The block before"), [this] { desk_.next_block(-1); });
    deed("end_lesson", tr("End the lesson"), [this] { desk_.end(); });
    deed("absent", tr("The chosen rider is absent, or there after all"), [this] {
        if (selected_ < static_cast<int>(desk_.riders().size()))
            desk_.set_absent(selected_, !desk_.riders()[static_cast<std::size_t>(selected_)].place.absent);
    });
    deed("other_horse", tr("The chosen rider on another horse"), [this] { change_horse(); });
    deed("turn_up", tr("The chosen rider earlier in turn"), [this] {
        desk_.move(selected_, -1);
        select(std::max(0, selected_ - 1));
    });
    deed("turn_down", tr("The chosen rider later in turn"), [this] {
        desk_.move(selected_, 1);
        select(selected_ + 1);
    });
    deed("fence_jumped", tr("A fence of the chosen rider"), [this] { desk_.log(selected_, "fence"); });
    deed("on_left_rein", tr("On the left rein now"), [this] { desk_.log(selected_, "rein_left"); });
    deed("on_right_rein", tr("On the right rein now"), [this] { desk_.log(selected_, "rein_right"); });
    deed("unannounced", tr("An unannounced cue, stamped"),
         [this] { desk_.log(selected_, "aid", "what=unannounced"); });
    deed("lunge_sheet", tr("The lunge's or the mechanical horse's sheet"), [this] {
        sheet_->setVisible(sheet_->isHidden());
        show_side();
        rebuild_sheet();
    });
    deed("clicks", tr("Clicks at this horse's tempo, or silence"), [this] { clicks(); });
    deed("clicks_faster", tr("Clicks one stride a minute faster"), [this] { change_tempo(1); });
    deed("clicks_slower", tr("Clicks one stride a minute slower"), [this] { change_tempo(-1); });
    deed("camera", tr("The camera, some seconds late"), [this] {
        replay_->running() ? replay_->close_camera() : replay_->open();
        replay_->setVisible(replay_->running());
        show_side();
    });
    deed("later", tr("The camera five seconds later"), [this] { replay_->change_delay(5); });
    deed("sooner", tr("The camera five seconds sooner"), [this] { replay_->change_delay(-5); });
    deed("live_figure", tr("The figure on the camera's picture, or none"),
         [this] { replay_->show_figure(!replay_->figure_is_shown()); });
    deed("keep_half_minute", tr("Keep the last half minute as a clip of the chosen rider"),
         [this] { replay_->keep(selected_); });
    deed("whole_screen", tr("The whole screen"),
         [this] { emit wants_whole_screen(!window()->isFullScreen()); });
    deed("new_lesson", tr("Another lesson"), [this] { prepare({}); });
}

void LessonView::build_roster() {
    roster_page_ = new QWidget(this);
    auto* box = new QVBoxLayout(roster_page_);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(8);
    box->addWidget(heading_label(tr("Who rides?"), this, 26));
    roster_words_ = quiet_label({}, this);
    box->addWidget(roster_words_);
    roster_ = new QListView(this);
    roster_->setModel(&model_);
    roster_->setSelectionMode(QAbstractItemView::MultiSelection);
    tile_painter_ = new RosterDelegate(desk_, this);
    roster_->setItemDelegate(tile_painter_);
    connect(&model_, &QAbstractItemModel::modelReset, this, [this] { tile_painter_->forget(); });
    roster_->setViewMode(QListView::IconMode);
    roster_->setMovement(QListView::Static);
    roster_->setResizeMode(QListView::Adjust);
    roster_->setUniformItemSizes(true);
    roster_->setMouseTracking(true);
    roster_->setAccessibleName(tr("Riders of the lesson"));
    roster_->installEventFilter(this);
    box->addWidget(roster_, 1);
    begin_ = verb_button(tr("Begin the lesson"), QString::fromUtf8("↵"), this, true);
    connect(begin_, &QPushButton::clicked, this, &LessonView::begin);
    connect(roster_->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &LessonView::rebuild_roster);
    preview_ = new SessionView(this);
    preview_->setFocusPolicy(Qt::NoFocus);
    box->addWidget(preview_);
    box->addWidget(begin_, 0, Qt::AlignLeft);
}

void LessonView::build_ring() {
    ring_page_ = new QWidget(this);
    auto* box = new QVBoxLayout(ring_page_);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(10);
    title_ = quiet_label({}, this);
    box->addWidget(title_);
    clock_ = new LessonClock(desk_, this);
    box->addWidget(clock_);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(14);
    auto* holder = new QWidget(this);
    grid_ = new QGridLayout(holder);
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setSpacing(12);
    middle->addWidget(holder, 1);
    side_ = new QWidget(this);
    side_->setFixedWidth(scaled_px(380));
    auto* beside = new QVBoxLayout(side_);
    beside->setContentsMargins(0, 0, 0, 0);
    replay_ = new ReplayPanel(desk_, this);
    replay_->setFixedHeight(scaled_px(240));
    replay_->hide();
    connect(replay_, &ReplayPanel::say, this, &LessonView::say);
    beside->addWidget(replay_);
    sheet_ = new QWidget(this);
    auto* sheet_box = new QVBoxLayout(sheet_);
    sheet_box->setContentsMargins(0, 0, 0, 0);
    sheet_lines_ = std::make_unique<StandingLines>(*sheet_box);
    sheet_->hide();
    beside->addWidget(sheet_);
    beside->addStretch(1);
    side_->hide();
    middle->addWidget(side_);
    box->addLayout(middle, 1);
    auto* line = new QHBoxLayout;
    word_for_ = text_label({}, this, 18, true);
    word_for_->setWordWrap(false);
    word_ = new QLineEdit(this);
    word_->setPlaceholderText(tr("a word, or the digit of one of yours"));
    word_->setMaxLength(300);
    word_->installEventFilter(this);
    phrases_ = quiet_label({}, this);
    line->addWidget(word_for_);
    line->addWidget(word_, 1);
    box->addLayout(line);
    box->addWidget(phrases_);
    connect(word_, &QLineEdit::returnPressed, this, &LessonView::word_given);
    for (QWidget* w : std::initializer_list<QWidget*>{word_for_, word_, phrases_}) w->hide();
}

void LessonView::open() {
    if (desk_.state() == State::none || desk_.state() == State::ended) {
        if (!desk_.take_up() && desk_.state() == State::none) prepare({});
    }
    timer_.start();
    rebuild();
    desk_.state() == State::none ? roster_->setFocus() : setFocus();
}

void LessonView::prepare(store::RiderId rider) {
    desk_.close();
    tile_painter_->forget();
    roster_->selectionModel()->clear();
    const int row = rider ? model_.row_of(rider) : -1;
    if (row >= 0) roster_->selectionModel()->select(model_.index(row, 0), QItemSelectionModel::Select);
    roster_->setCurrentIndex(model_.index(std::max(0, row), 0));
    if (row >= 0) roster_->selectionModel()->select(model_.index(row, 0), QItemSelectionModel::Select);
    rebuild();
    roster_->setFocus();
}

void LessonView::leave() {
    timer_.stop();
    clicks_.stop();
    if (replay_->running()) {
        replay_->close_camera();
        replay_->hide();
        show_side();
    }
}

/// The clock waits for what is looked at before mounting. Started once more by what is still open, it is the
/// coach's own word.
void LessonView::start() {
    const QString open = desk_.open_before_mounting();
    if (!open.isEmpty() && open != answered_for_) {
        answered_for_ = open;
        return emit say(open + tr(" Start once more, and it is your word."));
    }
    answered_for_.clear();
    desk_.give_word();
    emit say(desk_.start());  // nothing to say takes back what was asked
}

void LessonView::told(const QString& line) {
    if (!line.isEmpty()) emit say(line);
}

void LessonView::begin() {
    std::vector<store::RiderId> riders;
    QModelIndexList chosen = roster_->selectionModel()->selectedIndexes();
    std::sort(chosen.begin(), chosen.end());
    for (const QModelIndex& i : chosen) riders.push_back(model_.rider_at(i.row()));
    if (riders.size() > kMostRiders) return emit say(tr("Eight riders at most: take some out."));
    if (const QString line = desk_.begin(riders, minutes_); !line.isEmpty()) return emit say(line);
    if (desk_.own_order_left())
        emit say(tr("Your own order holds what may not be ridden now; it was planned anew."));
    selected_ = 0;
    setFocus();
}

void LessonView::rebuild() {
    const bool ring = desk_.state() != State::none;
    roster_page_->setVisible(!ring);
    ring_page_->setVisible(ring);
    rebuild_roster();
    if (!ring) return;
    const auto& lesson = *desk_.lesson();
    QString words = lesson.task.empty() ? tr("A lesson") : tr("Together: ") + text(lesson.task).toLower();
    words += tr("  ·  %1 min planned").arg(desk_.session().seconds() / 60);
    if (!lesson.started_at.empty()) words += tr("  ·  begun at ") + text(lesson.started_at).mid(11, 5);
    if (desk_.state() == State::ended)
        words += tr("  ·  over after %1 min. One line each: touch a name, or Z, X, C …")
                     .arg(desk_.seconds_ridden() / 60);
    words += tr("  ·  F1 shows all keys");
    title_->setText(words);
    rebuild_tiles();
    rebuild_sheet();
    clock_->update();
}

void LessonView::rebuild_roster() {
    const auto n = roster_->selectionModel()->selectedIndexes().size();
    begin_->setEnabled(n > 0);
    const bool nobody = roster_->model()->rowCount() == 0;
    begin_->setVisible(!nobody);
    roster_words_->setText(
        nobody ? tr("Nobody is in the yard yet. Drop a rider's clip on this window; who rides in it stands "
                    "here.")
               : tr("Touch who rides, or mark them by Space; Enter begins. Each rides the horse ridden last. "
                    ", and . make the lesson shorter and longer."));
    begin_->setText((n == 0   ? tr("Choose who rides")
                     : n == 1 ? tr("Begin a lesson of %1 min for one").arg(minutes_)
                              : tr("Begin a lesson of %1 min for %2").arg(minutes_).arg(n)) +
                    QString::fromUtf8("   ↵"));
    // What the first one's plan makes of the time, before anybody mounts.
    core::Session session;
    if (n > 0) {
        const store::RiderId first =
            model_.rider_at(roster_->selectionModel()->selectedIndexes().front().row());
        const store::YardStore& records = desk_.yard().records();
        const std::string today = desk_.yard().today_iso();
        if (const auto plan = app::plan_for(records, desk_.yard().knowledge(), first, today)) {
            core::SessionAsk ask = app::session_ask(records, desk_.yard().knowledge(), *plan, today);
            ask.minutes = minutes_;
            try {
                session = core::plan_session(ask, desk_.yard().knowledge().exercises);
            } catch (const core::Refused& e) {
                roster_words_->setText(sentence(QString::fromUtf8(e.what())) + ".");
            }
        }
    }
    preview_->show_session(session, {}, desk_.yard().knowledge().exercises);
    preview_->setVisible(n > 0);
}

void LessonView::rebuild_tiles() {
    const auto n = desk_.riders().size();
    if (tiles_.size() != n) {
        for (RiderTile* t : tiles_) t->deleteLater();
        tiles_.clear();
        const int columns = n <= 1 ? 1 : n <= 4 ? 2 : n <= 6 ? 3 : 4;
        for (std::size_t i = 0; i < n; ++i) {
            auto* tile = new RiderTile(desk_, static_cast<int>(i), this);
            connect(tile, &RiderTile::touched, this, &LessonView::touched);
            connect(tile, &RiderTile::looked, &desk_, &app::LessonDesk::toggle_looked);
            grid_->addWidget(tile, static_cast<int>(i) / columns, static_cast<int>(i) % columns);
            tiles_.push_back(tile);
        }
    }
    selected_ = std::clamp(selected_, 0, std::max(0, static_cast<int>(n) - 1));
    for (std::size_t i = 0; i < tiles_.size(); ++i) {
        tiles_[i]->set_selected(static_cast<int>(i) == selected_ && n > 1);
        tiles_[i]->update();
    }
}

/// One thing to be said of the ground: its name, and a button for each value.
QWidget* LessonView::ground_choice(const QString& words, const QString& key, const QStringList& values,
                                   const QString& now) {
    auto* holder = new QWidget(this);
    auto* box = new QVBoxLayout(holder);
    box->setContentsMargins(0, 0, 0, 0);
    box->addWidget(quiet_label(words, holder));
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    for (const QString& v : values) {
        auto* b = new QPushButton(v, holder);
        b->setCheckable(true);
        b->setChecked(now == QString(v).replace(' ', '_'));
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, [this, key, v] { desk_.set_ground(selected_, key, v); });
        row->addWidget(b);
    }
    row->addStretch(1);
    box->addLayout(row);
    return holder;
}

/// Line, who asks, what is let go, and the minutes a rein; on the mechanical horse its gait and its drill.
void LessonView::rebuild_sheet() {
    if (sheet_->isHidden() || selected_ >= static_cast<int>(desk_.riders().size())) return;
    const app::LessonRider& r = desk_.riders()[static_cast<std::size_t>(selected_)];
    const bool mechanical = r.ride.mount == core::Mount::mechanical;
    sheet_lines_->begin();
    const QString title = mechanical ? tr("Mechanical horse") : tr("On the lunge");
    sheet_lines_->add(title, [&] { return heading_label(title, this); });
    sheet_lines_->add(r.name, [&] { return quiet_label(r.name, this); });
    const auto choice = [&](const QString& words, const QString& key, const QStringList& values) {
        const QString now = desk_.ground(selected_, key);
        sheet_lines_->add(QString("%1 %2 %3").arg(words, now).arg(selected_),
                          [&] { return ground_choice(words, key, values, now); });
    };
    if (mechanical) {
        choice(tr("Its gait"), "gait", {tr("walk"), tr("trot"), tr("canter")});
        choice(tr("Drill"), "drill", {tr("loose, quiet"), tr("irons"), tr("turn")});
    } else {
        choice(tr("Line, m"), "line", {"5", "6", "7", "8"});
        choice(tr("Who asks for the change"), "asks", {tr("handler"), tr("rider")});
        choice(tr("Let go next"), "let_go", {tr("one rein"), tr("reins"), tr("irons"), tr("nothing")});
        choice(tr("Handler"), "handler", {tr("coach"), tr("helper")});
    }
    const int left = desk_.rein_s(selected_, "left"), right = desk_.rein_s(selected_, "right");
    const QString reins =
        tr("Left %1 min, right %2 min").arg(left / 60.0, 0, 'f', 1).arg(right / 60.0, 0, 'f', 1);
    sheet_lines_->add(reins, [&] { return text_label(reins, this); });
    int cues = 0;
    for (const store::Event& e : desk_.yard().records().training.clock_events(r.ride.id))
        cues += e.detail == "what=unannounced" ? 1 : 0;
    const QString stamped = tr("Unannounced cues: %1. F4 stamps one, F2 and F3 change the rein.").arg(cues);
    sheet_lines_->add(stamped, [&] { return quiet_label(stamped, this); });
    sheet_lines_->end();
}

/// What stands beside the riders: only as wide as something is in it.
void LessonView::show_side() { side_->setVisible(!replay_->isHidden() || !sheet_->isHidden()); }

void LessonView::select(int rider) {
    selected_ = std::clamp(rider, 0, std::max(0, static_cast<int>(desk_.riders().size()) - 1));
    rebuild_tiles();
    rebuild_sheet();
}

void LessonView::touched(int rider, RiderTile::Touch what) {
    select(rider);
    if (desk_.state() == State::ended) return ask_word(rider);
    if (desk_.state() == State::before && what != RiderTile::Touch::name) return;
    switch (what) {
        case RiderTile::Touch::good:
            return desk_.good(rider);
        case RiderTile::Touch::look:
            return desk_.look(rider);
        case RiderTile::Touch::attempt:
            return told(desk_.attempt(rider));
        case RiderTile::Touch::good_one:
            return told(desk_.good_one(rider));
        case RiderTile::Touch::hold:
            return told(desk_.hold(rider));
        case RiderTile::Touch::word:
            return ask_word(rider);
        case RiderTile::Touch::name:
            return;
    }
}

void LessonView::ask_word(int rider) {
    if (rider < 0 || rider >= static_cast<int>(desk_.riders().size())) return;
    word_rider_ = rider;
    says_at_end_ = desk_.state() == State::ended;
    const app::LessonRider& r = desk_.riders()[static_cast<std::size_t>(rider)];
    word_for_->setText((says_at_end_ ? tr("One line for ") : tr("To ")) + r.name.section(' ', 0, 0) + ":");
    word_->clear();
    if (says_at_end_)
        word_->setText(r.place.said.empty() ? app::proposed_line(desk_.yard(), r) : text(r.place.said));
    QStringList own;
    int n = 0;
    for (const std::string& p : desk_.yard().records().reviews.phrases(9))
        own << QString("%1 %2").arg(++n).arg(text(p));
    phrases_->setText(says_at_end_ ? QString() : own.join("   "));
    for (QWidget* w : std::initializer_list<QWidget*>{word_for_, word_, phrases_}) w->show();
    word_->setFocus();
}

void LessonView::word_given() {
    const QString words = word_->text();
    for (QWidget* w : std::initializer_list<QWidget*>{word_for_, word_, phrases_}) w->hide();
    setFocus();
    const int rider = std::exchange(word_rider_, -1);
    if (rider < 0) return;
    says_at_end_ ? desk_.set_said(rider, words) : desk_.word(rider, words);
}

/// This horse's own good tempo in the gait that is ridden now, as it was set last; typical ones else (common
/// practice, no source: walk 50 to 60, trot 75 to 85, canter 95 to 105 strides a minute).
std::pair<std::string, double> LessonView::tempo_here() const {
    const core::Block* block = desk_.block();
    const core::Work work = block ? block->work : core::Work::trot;
    const double typical = work == core::Work::canter ? 100 : work == core::Work::trot ? 80 : 55;
    if (selected_ >= static_cast<int>(desk_.riders().size())) return {"", typical};
    const std::string key =
        "tempo:" + std::to_string(desk_.riders()[static_cast<std::size_t>(selected_)].ride.horse.value) +
        ":" + std::string(core::word(work));
    const double kept = QString::fromStdString(desk_.yard().records().settings.setting(key)).toDouble();
    return {key, kept > 0 ? kept : typical};
}

void LessonView::clicks() {
    if (clicks_.playing()) return clicks_.stop();
    const auto [key, tempo] = tempo_here();
    core::ClickWish wish;
    wish.tempo_per_min = tempo;
    const core::Block* block = desk_.block();
    wish.beats = !block || block->work == core::Work::trot ? 2 : block->work == core::Work::canter ? 3 : 4;
    if (block && block->exercise == "two_up_one_down" && wish.beats == 2)
        wish.pattern = core::ClickPattern::two_up_one_down;
    try {
        if (!clicks_.play(wish)) return emit say(tr("The click track could not be played."));
        emit say(
            tr("%1 strides a minute; Alt+Up and Alt+Down change it, F10 stops it.").arg(tempo, 0, 'f', 0));
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

void LessonView::change_tempo(int by) {
    const auto [key, tempo] = tempo_here();
    if (key.empty()) return;
    desk_.yard().set(key, std::to_string(std::clamp(tempo + by, 30.0, 150.0)));
    const bool on = clicks_.playing();
    clicks_.stop();
    if (on) clicks();
    emit say(tr("%1 strides a minute for this horse.").arg(tempo_here().second, 0, 'f', 0));
}

void LessonView::change_horse() {
    if (selected_ >= static_cast<int>(desk_.riders().size())) return;
    QMenu menu(this);
    for (const store::Horse& h : desk_.yard().records().people.horses())
        connect(menu.addAction(text(h.name)), &QAction::triggered, this,
                [this, id = h.id] { desk_.set_horse(selected_, id); });
    give_keys(menu);
    menu.exec(mapToGlobal(rect().center()));
}

bool LessonView::eventFilter(QObject* watched, QEvent* e) {
    if (e->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, e);
    auto* key = static_cast<QKeyEvent*>(e);
    if (watched == word_) {
        const int digit = key->key() - Qt::Key_1;
        if (key->key() == Qt::Key_Escape) {
            word_->clear();
            word_rider_ = -1;
            word_given();
            return true;
        }
        const auto own = desk_.yard().records().reviews.phrases(9);
        if (!says_at_end_ && word_->text().isEmpty() && digit >= 0 && digit < static_cast<int>(own.size())) {
            word_->setText(text(own[static_cast<std::size_t>(digit)]));
            word_given();
            return true;
        }
        return false;
    }
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
        begin();
        return true;
    }
    if (key->key() == Qt::Key_Comma || key->key() == Qt::Key_Period) {
        minutes_ = std::clamp(minutes_ + (key->key() == Qt::Key_Period ? 5 : -5), 20, 90);
        rebuild_roster();
        return true;
    }
    return QWidget::eventFilter(watched, e);
}

/// A rider's column of the keyboard.
bool LessonView::rider_key(QKeyEvent& e) {
    if (e.modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier)) return false;
    const bool shift = e.modifiers() & Qt::ShiftModifier;
    // With Shift a layout gives other characters on the digits: the key itself counts.
    static const QString shifted = QString::fromUtf8("!@#$%^&*");
    const QString typed = e.text().isEmpty() ? QString() : QString(e.text().at(0)).toUpper();
    for (int row = 0; row < 4; ++row) {
        for (int i = 0; i < kMostRiders; ++i) {
            const QChar c(kLessonRows[row][i]);
            const bool by_key = e.key() == c.unicode();
            const bool is_shifted = row == 0 && shift && (by_key || typed == QString(shifted[i]));
            if (!by_key && !is_shifted) continue;
            if (i >= static_cast<int>(desk_.riders().size())) return false;
            using T = RiderTile::Touch;
            const T what = row == 0   ? (shift ? T::look : T::good)
                           : row == 1 ? (shift ? T::hold : T::attempt)
                           : row == 2 ? T::good_one
                                      : T::word;
            if (desk_.state() == State::before) {
                select(i);
                return true;
            }
            touched(i, what);
            return true;
        }
    }
    return false;
}

void LessonView::keyPressEvent(QKeyEvent* e) {
    if (desk_.state() != State::none && rider_key(*e)) return;
    if (deeds_.take(*e)) return;
    if (e->key() == Qt::Key_Escape) return emit wants_whole_screen(false);
    QWidget::keyPressEvent(e);
}

void LessonView::tick() {
    if (desk_.state() != State::running || !isVisible()) return;
    clock_->update();
    for (RiderTile* t : tiles_) t->update();
}

}  // namespace aspen::ui

#include "moc_lesson_view.cpp"
