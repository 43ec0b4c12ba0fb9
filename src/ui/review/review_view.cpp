#include "ui/review/review_view.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QShortcut>
#include <QVBoxLayout>

#include "app/leaving/phase_strip.hpp"
#include "app/review/annotated.hpp"
#include "app/review/first_look.hpp"
#include "app/review/ground_marks.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/riding.hpp"
#include "app/review/seeing.hpp"
#include "core/ride/ride.hpp"
#include "ui/review/ask_panel.hpp"
#include "ui/review/column.hpp"
#include "ui/review/context_bar.hpp"
#include "ui/review/event_lane.hpp"
#include "ui/review/ground_column.hpp"
#include "ui/review/last_line.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/name_line.hpp"
#include "ui/review/notice_band.hpp"
#include "ui/review/prepared_line.hpp"
#include "ui/review/strip.hpp"
#include "ui/review/turned_horse.hpp"
#include "ui/shared/save_place.hpp"
#include "ui/shared/view_keys.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/shared/word_line.hpp"

namespace aspen::ui {

ReviewView::ReviewView(app::Bench& bench, app::Importer& importer, KeyMap& keys, QWidget* parent)
    : View(parent),
      bench_(bench),
      commands_(bench, importer),
      keys_(keys),
      player_(bench.deck()),
      stretch_(bench),
      sound_(bench.deck(), player_, bench.yard().jobs()),
      maker_(bench),
      log_(bench, player_),
      strides_(bench),
      fence_pictures_(bench, strides_),
      way_(bench),
      prepared_(bench),
      recorder_(bench, player_, sound::any_microphone()) {
    setFocusPolicy(Qt::StrongFocus);
    const app::BenchState now = bench.state();
    context_ = new ContextBar(now, player_, this);
    picture_ = new PictureView(now, keys, this);
    ask_ = new AskPanel(now, picture_);
    turned_ = new TurnedHorse(now, keys, picture_);
    strip_ = new Strip(now, player_, this);
    events_ = new EventLane(now, log_, this);
    lower_ = new LowerPanel(now, log_, strides_, fence_pictures_, keys, this);
    last_ = new LastLine(now, this);
    seems_ = new PreparedLine(prepared_, keys, this);
    name_ = new NameLine(this);
    column_ = new Column(now, keys, this);
    line_ = new WordLine(this);
    ground_ = new GroundColumn(now, way_, player_, *line_, keys, this);
    band_ = new NoticeBand(now, recorder_, seems_, last_, keys, this);
    lay_out();
    join_panels();
    join_parts();
    bind_looking();
    bind_notes();
    bind_stretches();
    bind_joints();
    bind_seeing();
    bind_findings();
    bind_events();
    bind_strides();
    bind_prepared();
    bind_ground();
    bind_faces();
    bind_telling();
    bind_saving();
}

/// What the bench says reaches the panel, what the coach wants there is carried out.
void ReviewView::join(BenchPanel& panel) {
    connect(&panel, &BenchPanel::wants, &commands_, &app::Commands::carry_out);
    connect(&bench_, &app::Bench::changed, &panel,
            [&panel](const app::BenchState&, app::BenchParts what) { panel.show_state(what); });
    connect(&bench_, &app::Bench::frame_moved, &panel, [&panel] { panel.show_frame(); });
    connect(&bench_, &app::Bench::clip_opened, &panel, &BenchPanel::clip_opened);
    connect(&bench_, &app::Bench::closing, &panel, &BenchPanel::clip_closing);
}

void ReviewView::join_panels() {
    for (BenchPanel* p :
         std::initializer_list<BenchPanel*>{context_, picture_, ask_, turned_, strip_, events_})
        join(*p);
    for (BenchPanel* p : lower_->panels()) join(*p);
    for (BenchPanel* p : std::initializer_list<BenchPanel*>{last_, column_, ground_, band_}) join(*p);
    connect(&bench_, &app::Bench::clip_opened, lower_, &LowerPanel::show_findings);
    connect(&commands_, &app::Commands::say, this, &ReviewView::say);
    connect(&lower_->fences(), &FencesPanel::wants_logged, this,
            [this] { app::log_proposed_fences(bench_, strides_); });
}

void ReviewView::lay_out() {
    auto* left = new QVBoxLayout;
    left->setContentsMargins(0, 0, 0, 0);
    left->setSpacing(0);
    left->addWidget(band_);
    left->addWidget(picture_, 1);
    left->addWidget(events_);
    left->addWidget(strip_);
    lower_->setFixedHeight(152);
    left->addWidget(lower_);
    auto* middle = new QHBoxLayout;
    middle->setContentsMargins(0, 0, 0, 0);
    middle->setSpacing(0);
    middle->addLayout(left, 1);
    column_->setFixedWidth(384);
    middle->addWidget(column_);
    ground_->setFixedWidth(384);
    ground_->hide();
    middle->addWidget(ground_);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(context_);
    all->addLayout(middle, 1);
}

/// What one part wants of another.
void ReviewView::join_parts() {
    const auto back_to_picture = [this] { picture_->setFocus(); };
    connect(context_, &ContextBar::answered, picture_, back_to_picture);
    connect(line_, &WordLine::closed, picture_, back_to_picture);
    connect(turned_, &TurnedHorse::closed, picture_, back_to_picture);
    connect(&findings(), &FindingsPanel::wants_exercise, this, &ReviewView::wants_exercise);
    connect(&findings(), &FindingsPanel::wants_why, this, [this] { act("why"); });
    connect(last_, &LastLine::say, this, &ReviewView::say);
    connect(&lower_->why(), &WhyPanel::say, this, &ReviewView::say);
    connect(&lower_->why(), &WhyPanel::wants_band, this, &ReviewView::wants_band);
    connect(&lower_->why(), &WhyPanel::wants_words, this,
            [this](const QString& hint, const QString& now,
                   const std::function<void(const QString&)>& taken) { line_->ask(hint, {}, taken, now); });
    connect(name_, &NameLine::closed, picture_, back_to_picture);
    connect(&lower_->checks(), &ChecksPanel::opened, picture_, back_to_picture);
    connect(column_, &Column::wants_measure, picture_, &PictureView::show_measure);
    connect(strip_, &Strip::wants_name, this, &ReviewView::rename);
    connect(picture_, &PictureView::say, this, &ReviewView::say);
    connect(picture_, &PictureView::line_drawn, this, &ReviewView::take_line);
    connect(picture_, &PictureView::three_clicked, this,
            [this](core::Point top, core::Point second, core::Point third, app::FigureMaker::Way way) {
                maker_.lay(top, second, third, picture_->zoom(), way);
            });
    connect(&maker_, &app::FigureMaker::say, this, &ReviewView::say);
    connect(&bench_.marking(), &app::Marking::blind_done, this, &ReviewView::say);
    connect(&player_, &app::Player::changed, this, [this] { quiet_down(); });
    connect(&stretch_, &app::StretchWriter::finished, this, &ReviewView::say);
    connect(&stretch_, &app::StretchWriter::wants_face, this, [this](int frame) {
        bench_.deck().go_to(frame);
        ask_for_face({}, std::exchange(again_with_face_, nullptr));
    });
}

void ReviewView::bind_saving() {
    const auto key = [this](const char* id, auto act) {
        auto* shortcut =
            new QShortcut(view_keys(id).front(), this, nullptr, nullptr, Qt::WidgetWithChildrenShortcut);
        connect(shortcut, &QShortcut::activated, this, act);
    };
    key("copy_frame", [this] { copy_frame(true); });
    key("copy_bare_frame", [this] { copy_frame(false); });
    key("save_frame", [this] { save_frame(); });
    key("save_stretch", [this] { save_stretch(); });
    key("save_slowed", [this] { save_slowed(); });
    key("save_phases", [this] {
        if (!bench_.is_open()) return;
        QString file =
            QFileDialog::getSaveFileName(this, tr("Save the phases beside each other"),
                                         save_place(Kept::picture, tr("phases.png")), tr("Picture (*.png)"));
        if (file.isEmpty()) return;
        if (!file.endsWith(".png", Qt::CaseInsensitive)) file += ".png";
        const QString line = app::write_phases(bench_, file, [this](const QString& said) { emit say(said); });
        if (!line.isEmpty()) emit say(line);
    });
}

void ReviewView::bind_looking() {
    does("play", [this] { player_.playing() ? player_.pause() : player_.play(1); });
    does("play_back", [this] { player_.playing() ? player_.pause() : player_.play(-1); });
    does("slower", [this] { player_.change_speed(-1); });
    does("faster", [this] { player_.change_speed(1); });
    does("step_back", [this] { bench_.deck().step(-1); });
    does("step_on", [this] { bench_.deck().step(1); });
    does("ten_back", [this] { bench_.deck().step(-10); });
    does("ten_on", [this] { bench_.deck().step(10); });
    does("first", [this] { bench_.deck().go_to(0); });
    does("last", [this] { bench_.deck().go_to(bench_.deck().facts().frames - 1); });
    does("loop_from", [this] { player_.mark_from(bench_.deck().frame()); });
    does("loop_to", [this] { player_.mark_to(bench_.deck().frame()); });
    does("loop", [this] { player_.loops() ? player_.clear_marks() : player_.set_loops(true); });
}

void ReviewView::bind_notes() {
    does("other_field", [this] { bench_.deck().show_field(1 - bench_.deck().field()); });
    does("note_good", [this] { app::add_note(bench_, store::NoteKind::good); });
    does("note_look", [this] { app::add_note(bench_, store::NoteKind::look); });
    does("note_words", [this] { write_note(); });
    does("note_next", [this] {
        if (!app::go_to_note(bench_, 1)) emit say(tr("That was the last note."));
    });
    does("note_previous", [this] {
        if (!app::go_to_note(bench_, -1)) emit say(tr("That was the first note."));
    });
    does("note_remove", [this] {
        if (!app::remove_note_here(bench_)) emit say(tr("There is no note at this frame."));
    });
    does("moment_previous", [this] { app::go_to_moment(bench_.review(), -1); });
    does("moment_next", [this] { app::go_to_moment(bench_.review(), 1); });
    does("mark_moment", [this] { app::mark_moment(bench_.review()); });
    does("name_moment", [this] { name_moment(); });
    does("next_stride", [this] {
        if (app::guess_next_stride(bench_.review()))
            emit say(tr("One stride on, as a guess: nudge it with ← →."));
        else
            emit say(tr("There is no next stride to guess: mark a moment first, and say the gait."));
    });
    does("remove_moment", [this] {
        if (!bench_.review().moment()) return emit say(tr("There is no moment at this frame."));
        app::remove_moment(bench_.review());
        emit say(tr("In the trash; [undo] brings it back."));
    });
    does("ask", [this] {
        if (bench_.review().missing().empty()) return emit say(tr("All is said."));
        ask_->open();
        if (!ask_->isVisible()) context_->ask_next();
    });
    does("turn_travel", [this] { app::turn_travel(bench_.review()); });
    does("riders", [this] { next_rider(); });
    for (int n = 0; n < 4; ++n) {
        does(QString("rider_%1").arg(n + 1), [this, n] {
            if (static_cast<std::size_t>(n) >= bench_.review().places().size())
                return emit say(tr("Nobody else is in this clip yet: [riders] adds a rider."));
            bench_.review().show_slot(bench_.review().places()[static_cast<std::size_t>(n)].slot);
            emit say(name_of(bench_.review().rider()) +
                     tr(": figure, findings and notes are this rider's now."));
        });
    }
    does("own_side", [this] { context_->open_own_side(); });
    does("say_rider", [this] { context_->open_rider(); });
    does("say_horse", [this] { context_->open_horse(); });
    does("next_clip", [this] { emit wants_next_clip(); });
}

void ReviewView::bind_stretches() {
    for (const core::Gait g : core::kGaits)
        does("gait_" + text(core::word(g)), [this, g] { app::ride_from_here(bench_, g); });
    for (const core::Seat s : core::kSeats)
        does("seat_" + text(core::word(s)), [this, s] { app::ride_from_here(bench_, s); });
    for (const core::Rein r : {core::Rein::left, core::Rein::right, core::Rein::straight})
        does("rein_" + text(core::word(r)), [this, r] { app::ride_from_here(bench_, r); });
    does("movement", [this] { choose_movement(false); });
    does("movement_asked", [this] { choose_movement(true); });
    does("riding", [this] { choose_riding(); });
    does("cannot_judge", [this] { app::toggle_judged_here(bench_); });
    does("split", [this] { app::split_here(bench_); });
    does("join", [this] {
        if (!app::join_here(bench_))
            emit say(tr("There is no stretch here: cut one first, for instance with [gait_trot]."));
    });
    does("rename", [this] { rename(core::stretch_at(bench_.review().stretches(), bench_.deck().frame())); });
}

void ReviewView::bind_joints() {
    does("three_clicks", [this] { picture_->ask_three(app::FigureMaker::Way::usual_pose); });
    does("mirror_clicks", [this] {
        if (maker_.has_other_rein())
            picture_->ask_three(app::FigureMaker::Way::mirrored);
        else
            emit say(tr("No figure of this rider on the other rein yet."));
    });
    does("carry", [this] { maker_.carry(); });
    does("paste", [this] { maker_.paste(); });
    does("confirm", [this] { bench_.marking().confirm(); });
    does("confirm_one", [this] {
        const auto waiting = bench_.marking().waiting();
        if (waiting.empty()) return emit say(tr("Every joint that is there is confirmed."));
        const auto selected = bench_.marking().selected();
        const bool waits = selected && std::ranges::find(waiting, *selected) != waiting.end();
        bench_.marking().confirm(waits ? *selected : waiting.front());
    });
    does("cannot_see", [this] { bench_.marking().skip(); });
    does("others", [this] { bench_.marking().ask_for_others(!bench_.marking().asks_others()); });
    does("joint_next", [this] { bench_.marking().select_next(1); });
    does("joint_previous", [this] { bench_.marking().select_next(-1); });
    does("reticle", [this] {
        bench_.marking().select(std::nullopt);
        picture_->show_reticle(!picture_->has_reticle());
    });
    does("take_away", [this] { bench_.marking().take_away_selected(); });
    does("let_go", [this] { let_go(); });
}

void ReviewView::bind_seeing() {
    using Part = PictureView::Part;
    const std::pair<const char*, Part> parts[] = {{"see_whole", Part::whole}, {"see_head", Part::head},
                                                  {"see_trunk", Part::trunk}, {"see_leg", Part::leg},
                                                  {"see_hand", Part::hand},   {"see_horse", Part::horse}};
    for (const auto& [id, part] : parts) does(id, [this, p = part] { see(p); });
    const auto at_pointer = [this] {
        const QPointF p = picture_->to_widget(picture_->pointer_in_picture());
        return picture_->rect().contains(p.toPoint()) && picture_->underMouse()
                   ? p
                   : QPointF(picture_->width(), picture_->height()) / 2;
    };
    does("zoom_in", [this, at_pointer] { picture_->zoom_by(1.5, at_pointer()); });
    does("zoom_out", [this, at_pointer] { picture_->zoom_by(1 / 1.5, at_pointer()); });
    does("lift", [this] {
        picture_->set_lift(picture_->lift() + 1);
        emit say(
            picture_->lift() == 0
                ? tr("The picture as it is.")
                : tr("Lightened for looking, step %1 of 2; nothing else changes.").arg(picture_->lift()));
    });
    const auto line = [this](PictureView::Line l) {
        picture_->draw_line(picture_->drawing() == l ? PictureView::Line::none : l);
    };
    does("point_at", [line] { line(PictureView::Line::arrow); });
    does("circle", [line] { line(PictureView::Line::circle); });
    does("write_beside", [line] { line(PictureView::Line::words); });
    does("undraw", [this] {
        if (!app::undraw_here(bench_)) emit say(tr("Nothing was drawn on this frame."));
    });
    does("mark_again", [this] { mark_again(); });
    does("upright", [line] { line(PictureView::Line::upright); });
    does("level", [line] { line(PictureView::Line::level); });
    does("scale", [line] { line(PictureView::Line::scale); });
    does("turned", [this] { turned_->open(); });
    does("two_at_once", [this] {
        if (!bench_.review().moment() || bench_.marking().figure().marked() < core::kFewestJoints)
            return emit say(tr("Mark this moment first; then it can be held against another."));
        emit wants_compare(bench_.review().clip().id, bench_.deck().frame());
    });
}

void ReviewView::bind_events() {
    does("log_events", [this] { log_.set_on(!log_.on()); });
    does("event_next", [this] { log_.go(1); });
    does("event_previous", [this] { log_.go(-1); });
    const auto line = [this](PictureView::Line l) {
        picture_->draw_line(picture_->drawing() == l ? PictureView::Line::none : l);
    };
    does("lap_line", [line] { line(PictureView::Line::lap_line); });
    does("overstep", [line] { line(PictureView::Line::overstep); });
    does("step_length", [line] { line(PictureView::Line::step); });
    does("unmark_ground", [this] {
        if (!app::unmark_ground(bench_)) emit say(tr("Nothing is marked on the ground here."));
    });
    connect(&log_, &app::EventLog::changed, this, [this] {
        if (log_.on()) ask_->leave();
        quiet_down();
        const bool shown = lower_->shows() == LowerPanel::Shows::events;
        if (log_.on() != shown) lower_->toggle(LowerPanel::Shows::events);
    });
    connect(&lower_->events(), &EventPanel::say, this, &ReviewView::say);
    connect(&lower_->events(), &EventPanel::closed, picture_, qOverload<>(&QWidget::setFocus));
}

/// While what happens is logged, the keys are events; only playing, stepping and leaving remain beside them.
bool ReviewView::event_key(const QString& action, const QKeyEvent& e) {
    if (!log_.on()) return false;
    if (lower_->events().take_key(e)) return true;
    switch (e.key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
            lower_->events().say_more();
            return true;
        case Qt::Key_Backspace:
        case Qt::Key_Delete:
            log_.take_away();
            return true;
        case Qt::Key_Up:
        case Qt::Key_Down:
            player_.change_speed(e.key() == Qt::Key_Up ? 1 : -1);
            return true;
        case Qt::Key_Escape:
            if (lower_->events().drill().running())
                lower_->events().start_drill();
            else
                log_.set_on(false);
            return true;
        default:
            break;
    }
    static const QStringList kept{"play",           "play_back", "step_back", "step_on",     "ten_back",
                                  "ten_on",         "first",     "last",      "log_events",  "event_next",
                                  "event_previous", "lap_line",  "overstep",  "step_length", "unmark_ground",
                                  "loop_from",      "loop_to"};
    if (kept.contains(action)) return false;
    if (!action.isEmpty()) emit say(tr("Logging: the keys are events now. [log_events] leaves it."));
    return true;
}

void ReviewView::bind_findings() {
    does("accept", [this] { findings().decide_current(store::Decision::accepted); });
    does("reject", [this] { findings().decide_current(store::Decision::rejected); });
    does("change", [this] { findings().change_current(); });
    does("ask_back", [this] { findings().decide_current(store::Decision::asked_back); });
    does("attach", [this] { findings().attach_current(); });
    does("own_finding", [this] { write_remark(store::RemarkKind::finding); });
    does("strength", [this] { write_remark(store::RemarkKind::strength); });
    does("finding_up", [this] { lower_->move(-1); });
    does("finding_down", [this] { lower_->move(1); });
    does("marks", [this] {
        picture_->show_marks(!picture_->shows_marks());
        emit say(picture_->shows_marks() ? tr("Findings are drawn on the frame.")
                                         : tr("The bare figure; [marks] draws the findings again."));
    });
    does("all_values", [this] { column_->show_all(!column_->shows_all()); });
    does("checks", [this] {
        ask_->leave();  // the digits are the eye's now
        lower_->toggle(LowerPanel::Shows::checks);
    });
    does("summary", [this] { lower_->toggle(LowerPanel::Shows::summary); });
    does("why", [this] { lower_->toggle(LowerPanel::Shows::why); });
    does("stirrups", [this] { note_stirrups(); });
    does("name_by_letters", [this] { name_by_letters(); });
    does("exercise", [this] {
        if (bench_.findings().focus()) emit wants_exercise();
    });
}

FindingsPanel& ReviewView::findings() { return lower_->findings(); }

void ReviewView::see(PictureView::Part part) {
    if (!picture_->see(part)) emit say(tr("Mark a joint of it first; then this frames it."));
}

void ReviewView::let_go() {
    if (maker_.busy()) return maker_.cancel();
    if (bench_.marking().blind()) return bench_.marking().leave_blind();
    if (picture_->drawing() != PictureView::Line::none) return picture_->draw_line(PictureView::Line::none);
    if (picture_->asks_three()) return picture_->leave_three();
    if (picture_->has_reticle()) return picture_->show_reticle(false);
    if (!picture_->measure_shown().isEmpty()) return picture_->zoom_to_fit();
    if (ask_->isVisible()) return ask_->leave();
    if (ground_->is_on()) return ground_->step_back() ? void() : show_ground(false);
    if (lower_->shows() != LowerPanel::Shows::findings) return lower_->toggle(LowerPanel::Shows::findings);
    bench_.marking().select(std::nullopt);
}

/// Arrows move what is in hand: the reticle, a selected joint; else they go through frames and findings.
bool ReviewView::arrow(const QString& action, const QKeyEvent& e) {
    const bool sideways = e.key() == Qt::Key_Left || e.key() == Qt::Key_Right;
    const bool upright = e.key() == Qt::Key_Up || e.key() == Qt::Key_Down;
    if ((!sideways && !upright) || e.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) return false;
    const int sign = e.key() == Qt::Key_Right || e.key() == Qt::Key_Down ? 1 : -1;
    const bool shift = e.modifiers() & Qt::ShiftModifier;
    const double zoom = std::max(1.0, picture_->zoom());
    if (picture_->has_reticle()) {
        const double by = sign * (shift ? 1.0 : 12.0) / zoom;  // two speeds
        picture_->move_reticle(sideways ? by : 0, upright ? by : 0);
        return true;
    }
    if (!bench_.marking().selected()) return action.isEmpty();
    const double by = sign * (shift ? 5.0 : 1.0) / zoom;
    bench_.marking().nudge_selected(sideways ? by : 0, upright ? by : 0);
    return true;
}

/// Digits answer what is asked; while it plays they add the coach's own phrases.
bool ReviewView::digit(const QKeyEvent& e) {
    if (e.key() < Qt::Key_1 || e.key() > Qt::Key_9 || e.modifiers() & ~Qt::KeypadModifier) return false;
    const int n = e.key() - Qt::Key_0;
    if (player_.playing()) {
        if (!app::add_phrase(bench_, n))
            emit say(tr("No phrase %1 yet: [note_words] writes one, and it is kept.").arg(n));
        return true;
    }
    if (ask_->isVisible() && ask_->answer(n)) return true;
    return lower_->shows() == LowerPanel::Shows::checks && lower_->checks().answer(n);
}

void ReviewView::does(const QString& id, std::function<void()> act) {
    QAction* action = keys_.action(id);
    Q_ASSERT_X(action, "ReviewView::does", "an action that the key map does not know");
    connect(action, &QAction::triggered, this, [this, act = std::move(act)] {
        if (bench_.is_open()) act();
    });
}

QList<QAction*> ReviewView::deeds() const { return bench_.is_open() ? keys_.actions() : QList<QAction*>{}; }

void ReviewView::open() {
    picture_->setFocus();
    recorder_.show_two(std::nullopt);
}

void ReviewView::act(const QString& action) {
    if (QAction* a = keys_.action(action)) a->trigger();
}

void ReviewView::keyPressEvent(QKeyEvent* e) {
    const QString action = keys_.action_of(*e);
    if (bench_.is_open()) {
        const bool enter = e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter;
        if (ground_->take_key(*e) || event_key(action, *e)) return e->accept();
        if (enter && picture_->has_reticle()) return picture_->press_reticle();
        if (digit(*e) || arrow(action, *e)) return e->accept();
        if (action == "record" && e->isAutoRepeat()) return e->accept();
        if (action == "record") held_record_ = !recorder_.recording();
        if (!action.isEmpty()) {
            act(action);
            return e->accept();
        }
    }
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_review_view.cpp"
