#include "ui/progress/progress_view.hpp"

#include <QAction>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QVBoxLayout>

#include "app/files/file_name.hpp"
#include "app/leaving/gate.hpp"
#include "app/leaving/season.hpp"
#include "ui/progress/horse_page.hpp"
#include "ui/progress/lane_painter.hpp"
#include "ui/progress/lanes_widget.hpp"
#include "ui/progress/season_page.hpp"
#include "ui/progress/time_head.hpp"
#include "ui/progress/yard_wide_page.hpp"
#include "ui/shared/save_place.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/shared/word_line.hpp"

namespace aspen::ui {

ProgressView::ProgressView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent)
    : View(parent), yard_(yard), desk_(yard) {
    setFocusPolicy(Qt::StrongFocus);
    desk_.set_live(false);
    build_deeds();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 12, 8, 8);
    row->setSpacing(20);
    stack_ = new QStackedWidget(this);
    lanes_ = new Lanes(axis_, thumbs, this);
    stack_->addWidget(build_rider_page());
    wide_ = new YardWidePage(yard, this);
    stack_->addWidget(scrolled(wide_, this));
    horse_ = new HorsePage(yard, thumbs, this);
    stack_->addWidget(scrolled(horse_, this));
    row->addWidget(stack_, 1);
    setFocusProxy(lanes_);
    line_ = new WordLine(this);
    connect(line_, &WordLine::closed, this, [this] { lanes_->setFocus(); });
    connect(lanes_, &Lanes::open_clip, this, &ProgressView::open_clip);
    connect(lanes_, &Lanes::chosen, this, &ProgressView::tell_current);
    connect(lanes_, &Lanes::moved, head_, qOverload<>(&QWidget::update));
    connect(head_, &TimeHead::moved, this, &ProgressView::draw_anew);
    connect(head_, &TimeHead::mark_pressed, this, [this](int i) {
        const app::TimeMark& m = head_->marks()[static_cast<std::size_t>(i)];
        emit say(head_->row_words(i) + (m.milestone ? tr(".  [take_note_away] takes it away.") : QString()));
    });
    connect(wide_, &YardWidePage::rider_pressed, this, [this](const QString& name) {
        for (const store::Rider& r : yard_.records().people.riders()) {
            if (QString::fromStdString(r.name) != name) continue;
            show_rider(r.id);
            emit rider_shown(r.id);
        }
        to_lanes();
    });
    connect(&desk_, &app::ProgressDesk::changed, this, [this] {
        if (isVisible()) refill();
    });
}

QWidget* ProgressView::build_rider_page() {
    auto* page = new QWidget(this);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    glance_ = text_label({}, page, 14);
    const auto find = [this](const QString& id) { return deeds_.find(id); };
    filters_ = new HintLine(find, page, 14);
    column->addWidget(glance_);
    column->addWidget(filters_);
    head_ = new TimeHead(axis_, page);
    column->addWidget(head_);
    column->addWidget(scrolled(lanes_, page), 1);
    story_ = text_label({}, page, 14);
    story_->setWordWrap(true);
    story_->setTextFormat(Qt::RichText);
    story_->setMinimumHeight(scaled_px(42));
    story_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    hint_ = new DeedsLine(find, page);
    column->addWidget(story_);
    column->addWidget(hint_);
    return page;
}

void ProgressView::build_deeds() {
    const auto deed = [this](const QString& id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, std::move(act));
    };
    using By = app::ProgressDesk::By;
    deed("take_stage", tr("Call it what its rides propose"),
         [this] { with_lane([this](const app::Lane& l) { return desk_.take_proposed(l); }); });
    deed("leave_stage", tr("Leave it at the stage it has"),
         [this] { with_lane([this](const app::Lane& l) { return desk_.leave_as_it_is(l); }); });
    deed("word_on_ride", tr("A word on this ride's entry"), [this] { take_word(); });
    deed("ask_clip", tr("Ask for the clip that would tell"),
         [this] { with_lane([this](const app::Lane& l) { return desk_.ask_for_clip(l); }); });
    deed("then_and_now", tr("Compare then and now"), [this] { compare(); });
    deed("note_time", tr("Note something on the time line"), [this] { take_note(); });
    deed("take_note_away", tr("Take the last note of the time line away"), [this] {
        for (auto m = desk_.marks().rbegin(); m != desk_.marks().rend(); ++m) {
            if (m->milestone) return void(emit say(desk_.take_note_away(*m)));
        }
        emit say(tr("You noted nothing on this rider's time line."));
    });
    deed("filter_horse", tr("Of one horse, or all"), [this] { desk_.next(By::horse); });
    deed("filter_gait", tr("Of one gait, or all"), [this] { desk_.next(By::gait); });
    deed("filter_side", tr("Of one side, or both"), [this] { desk_.next(By::side); });
    deed("filter_class", tr("Of one class, or all"), [this] { desk_.next(By::group); });
    deed("filter_none", tr("Show all corrections"), [this] { desk_.show_all(); });
    deed("time_apart", tr("Draw the time apart"), [this] { zoom(1.6); });
    deed("time_together", tr("Draw the time together"), [this] { zoom(1 / 1.6); });
    deed("time_whole", tr("The whole time"), [this] {
        axis_.show_whole();
        draw_anew();
    });
    deed("whole_yard", tr("The whole yard"), [this] { toggle_yard(); });
    deed("horse_page", tr("The horse over all its riders; again: the next horse"),
         [this] { toggle_horse(); });
    deed("back_to_lanes", tr("Back to the corrections"), [this] { to_lanes(); });
    deed("lane_picture", tr("Take this lane out as a picture"), [this] {
        if (!lanes_->current()) return emit say(tr("There is no correction here yet."));
        const QString file = ask_for_file(tr("Save the picture"), "lane.png", tr("Picture (*.png)"));
        if (!file.isEmpty()) emit say(write_lane(file));
    });
    deed("print_season", tr("Print the season"), [this] {
        const QString file = ask_for_file(tr("Print the season"), "season.pdf", tr("PDF (*.pdf)"));
        if (!file.isEmpty()) emit say(write_season(file));
    });
    deed("save_table", tr("Save all entries as a table"), [this] {
        const QString file = ask_for_file(tr("Save the entries"), "entries.csv", tr("Table (*.csv)"));
        if (!file.isEmpty()) emit say(write_table(file));
    });
}

void ProgressView::with_lane(const std::function<QString(const app::Lane&)>& act) {
    const app::Lane* lane = lanes_->current();
    if (!lane) return emit say(tr("There is no correction here yet."));
    const app::Lane kept = *lane;  // what is done may read everything anew
    const QString line = act(kept);
    if (!line.isEmpty()) emit say(line);
}

void ProgressView::take_word() {
    const app::LanePoint* entry = lanes_->current_entry();
    if (!lanes_->current() || !entry) return emit say(tr("Choose a ride in a lane first."));
    const app::Lane lane = *lanes_->current();
    const app::LanePoint kept = *entry;
    line_->ask(tr("Your word on the ride of %1").arg(spoken_date(kept.day)), {},
               [this, lane, kept](const QString& words) { emit say(desk_.say(lane, kept, words)); });
}

void ProgressView::take_note() {
    QMenu menu(this);
    const std::pair<const char*, QString> kinds[] = {
        {"saddle", tr("New saddle")}, {"bit", tr("New bit")}, {"horse", tr("New horse")},
        {"injury", tr("Injury")},     {"pause", tr("Pause")}, {"other", tr("Something else")}};
    for (const auto& [kind, words] : kinds) {
        menu.addAction(words, this, [this, kind = QString(kind), words = words] {
            const app::Lane* lane = lanes_->current();
            const bool of_horse = lane && (kind == "saddle" || kind == "bit");
            const store::HorseId horse = of_horse ? lane->correction.horse : store::HorseId{};
            line_->ask(words, {},
                       [this, kind, horse](const QString& said) { emit say(desk_.note(kind, said, horse)); });
        });
    }
    give_keys(menu);
    menu.exec(lanes_->mapToGlobal(QPoint(scaled_px(40), 8)));
}

/// The chosen ride against the one before it that can be seen, or the first.
void ProgressView::compare() {
    const app::Lane* lane = lanes_->current();
    const app::LanePoint* now = lanes_->current_entry();
    const app::LanePoint* then = nullptr;
    if (lane && now && now->clip) {
        for (const app::LanePoint& e : lane->entries) {
            if (e.clip && e.ride != now->ride) {
                then = &e;
                break;
            }
        }
    }
    if (!then) return emit say(tr("Two rides of this correction with a marked moment are needed."));
    emit wants_compare(*lane, *then, *now);
}

void ProgressView::zoom(double by) {
    const app::LanePoint* e = lanes_->current_entry();
    axis_.zoom(by, e ? std::clamp(axis_.x(when(*e)), axis_.left(), axis_.right())
                     : (axis_.left() + axis_.right()) / 2);
    draw_anew();
}

void ProgressView::draw_anew() {
    head_->update();
    lanes_->update_lanes();
}

bool ProgressView::shows_yard() const { return stack_->currentIndex() == 1; }
void ProgressView::toggle_yard() {
    if (shows_yard()) return to_lanes();
    stack_->setCurrentIndex(1);
    wide_->open();
    setFocusProxy(wide_);
    wide_->setFocus();
}
void ProgressView::toggle_horse() {
    if (stack_->currentIndex() == 2) return horse_->next();
    const app::Lane* lane = lanes_->current();
    show_horse(lane ? lane->correction.horse : store::HorseId{});
}
void ProgressView::show_horse(store::HorseId id) {
    id ? horse_->show_horse(id) : horse_->next();
    stack_->setCurrentIndex(2);
    setFocusProxy(horse_);
    horse_->setFocus();
}
void ProgressView::to_lanes() {
    stack_->setCurrentIndex(0);
    refill();
    setFocusProxy(lanes_);
    lanes_->setFocus();
}

QString ProgressView::ask_for_file(const QString& title, const QString& name, const QString& kind) {
    const QString first = app::as_file_name(desk_.rider_name().section(' ', 0, 0));
    return QFileDialog::getSaveFileName(this, title, save_place(Kept::paper, first + "-" + name), kind);
}

QString ProgressView::write_season(const QString& file) {
    const auto permit = app::ask_for_rider(yard_, desk_.rider(), app::Use::page);
    if (!permit) return permit.error();
    const QString line = print_season(*permit, desk_, file);
    return line;
}

QString ProgressView::write_lane(const QString& file) {
    const auto permit = app::ask_for_rider(yard_, desk_.rider(), app::Use::page);
    if (!permit) return permit.error();
    const app::Lane* lane = lanes_->current();
    return lane ? save_lane_picture(*permit, desk_, *lane, file) : tr("There is no correction here yet.");
}

QString ProgressView::write_table(const QString& file) {
    const auto permit = app::ask_for_rider(yard_, desk_.rider(), app::Use::page);
    if (!permit) return permit.error();
    return app::write_entries(yard_, *permit, desk_.rider_name(), desk_.all_lanes(), file);
}

void ProgressView::hideEvent(QHideEvent*) { desk_.set_live(false); }

void ProgressView::showEvent(QShowEvent*) {
    desk_.set_live(true);
    refill();
    if (stack_->currentIndex() == 0) lanes_->setFocus();
}

void ProgressView::show_rider(store::RiderId id) {
    desk_.show(id);
    if (isVisible()) refill();
}

void ProgressView::refill() {
    const app::ProgressDesk::Glance g = desk_.glance();
    QStringList parts;
    const auto part = [&](int n, const QString& words) {
        if (n > 0) parts << QString("%1 %2").arg(n).arg(words);
    };
    part(g.settled, tr("settled"));
    part(g.holding, tr("holding"));
    part(g.in_work, tr("in work"));
    part(g.came_back, tr("came back"));
    part(g.noticed, tr("noticed"));
    for (const app::Lane& lane : desk_.all_lanes()) {
        if (lane.stalled.isEmpty()) continue;
        parts << tr("%1 stands still: %2")
                     .arg(QString::fromStdString(lane.fault->name).toLower(), lane.stalled);
        break;
    }
    glance_->setText(parts.join("   ·   "));
    double first = 1e300;
    const double today = TimeAxis::days(QString::fromStdString(yard_.today_iso()));
    for (const app::Lane& lane : desk_.all_lanes()) {
        first = std::min(first, TimeAxis::days(QString::fromStdString(lane.correction.noticed_on)));
        if (!lane.entries.empty()) first = std::min(first, when(lane.entries.front()));
    }
    if (first > today) first = today;
    if (drawn_ == desk_.rider())
        axis_.renew_whole(first, today);
    else
        axis_.set_whole(first, today);
    drawn_ = desk_.rider();
    head_->show_marks(desk_.marks(), today);
    lanes_->show_lanes(desk_.lanes(), today);
    tell_filters();
    tell_current();
}

void ProgressView::tell_filters() {
    using By = app::ProgressDesk::By;
    const std::pair<By, const char*> all[] = {{By::horse, "filter_horse"},
                                              {By::gait, "filter_gait"},
                                              {By::side, "filter_side"},
                                              {By::group, "filter_class"}};
    QStringList out;
    for (const auto& [by, id] : all) {
        if (desk_.offers(by)) out << QString("[%1] %2").arg(id, desk_.words(by));
    }
    if (desk_.filtered()) out << tr("[filter_none] all of them");
    if (out.empty()) out << tr("[whole_yard] the whole yard");
    filters_->say(out.join("   ·   "));
}

void ProgressView::tell_current() {
    const app::Lane* lane = lanes_->current();
    if (!lane) {
        story_->clear();
        return hint_->show_deeds(
            {{"whole_yard", tr("The whole yard")}, {"note_time", tr("Note on the time line")}});
    }
    QStringList said;
    const QString stage = text(core::spoken(lane->stage));
    said << (lane->life.proposes
                 ? tr("<b>%1?</b> %2.").arg(sentence(stage), sentence(lane->why).toHtmlEscaped())
                 : tr("<b>%1:</b> %2.").arg(sentence(stage), lane->why.toHtmlEscaped()));
    if (!lane->trend_says.isEmpty()) said << sentence(lane->trend_says).toHtmlEscaped() + ".";
    if (!lane->stalled.isEmpty())
        said << sentence(tr("stands still: ") + lane->stalled).toHtmlEscaped() + ".";
    story_->setText(said.join(" "));
    std::vector<DeedsLine::Deed> deeds;
    if (lane->life.proposes) {
        deeds.push_back({"take_stage", tr("Call it %1").arg(stage)});
        deeds.push_back({"leave_stage", tr("Leave it %1").arg(text(core::spoken(lane->life.stands)))});
    }
    if (lane->entries.size() > 1) deeds.push_back({"then_and_now", tr("Then and now")});
    deeds.push_back({"ask_clip", tr("Ask for a clip")});
    if (lanes_->current_entry()) deeds.push_back({"word_on_ride", tr("A word on this ride")});
    deeds.push_back({"lane_picture", tr("Take the picture out")});
    hint_->show_deeds(deeds);
}

void ProgressView::keyPressEvent(QKeyEvent* e) {
    if (deeds_.take(*e)) return;
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_progress_view.cpp"
