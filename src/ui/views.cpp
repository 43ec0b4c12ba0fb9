#include "ui/views.hpp"

#include <QStackedWidget>

#include "app/yard/changes.hpp"
#include "ui/arena/arena_view.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/eye/eye_view.hpp"
#include "ui/files_in_out.hpp"
#include "ui/handover/hand_over_view.hpp"
#include "ui/lesson/lesson_view.hpp"
#include "ui/prescribe/exercises_view.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/progress/progress_view.hpp"
#include "ui/review/review_view.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/yard_view.hpp"

namespace aspen::ui {

Views::Views(app::Yard& yard, app::Bench& bench, app::Importer& importer, app::Preparing& preparing,
             KeyMap& keys, QStackedWidget* stack)
    : yard_(yard), bench_(bench), preparing_(preparing), stack_(stack), bundles_(yard), thumbs_(yard) {
    yard_view_ = new YardView(yard, thumbs_, stack);
    review_ = new ReviewView(bench, importer, keys, stack);
    compare_ = new CompareView(yard, stack);
    prescribe_ = new PrescribeView(bench, stack);
    lesson_ = new LessonView(yard, stack);
    arena_ = new ArenaView(yard, stack);
    progress_ = new ProgressView(yard, thumbs_, stack);
    eye_ = new EyeView(yard, stack);
    schools_ = new SchoolsView(bench, stack);
    exercises_ = new ExercisesView(yard, stack);
    hand_over_ = new HandOverView(yard, bundles_, thumbs_, stack);
    files_ = new FilesInOut(yard, bench, review_->strides(), stack);
    all_ = {yard_view_, review_, compare_, prescribe_, progress_, hand_over_,
            lesson_,    arena_,  eye_,     schools_,   exercises_};
    for (View* v : all_) {
        stack_->addWidget(v);
        connect(v, &View::say, this, &Views::say);
    }
    join_yard();
    join_review();
    join_compare();
    join_training();
    join_hand_over();
    join_recorder();
    join_prepared();
    join_rider();
}

ViewName Views::shown() const { return static_cast<ViewName>(stack_->currentIndex()); }

void Views::show(ViewName view) {
    if (of_one_rider(view)) page_ = view;
    if (view == ViewName::review && hand_ && bench_.is_open() && bench_.review().rider() &&
        bench_.review().rider() != hand_) {
        if (const store::ClipId clip = newest_clip(hand_)) bench_.open(clip);
    }
    View* to = all_[static_cast<std::size_t>(view)];
    for (View* v : all_) {
        if (v != to) v->leave();
    }
    stack_->setCurrentWidget(to);
    emit changed(view);
    emit rider_changed(head_rider());
    to->setFocus();
    emit to->opening();
    to->open();
}

void Views::join_yard() {
    connect(yard_view_, &YardView::wants_backup, files_, &FilesInOut::back_up);
    connect(yard_view_, &YardView::wants_restore, files_, &FilesInOut::restore);
    connect(files_, &FilesInOut::say, this, &Views::say);
    connect(yard_view_, &YardView::choose_file, this, &Views::wants_files);
    connect(yard_view_, &YardView::open_clip, this, &Views::open_clip);
    connect(yard_view_, &YardView::open_rider, this, [this](store::RiderId id) {
        hand_ = id;
        show(ViewName::progress);
    });
    connect(progress_, &ProgressView::open_clip, this, &Views::open_clip);
}

void Views::open_next_clip() {
    const auto next =
        bench_.is_open() ? yard_view_->next_after(bench_.review().clip().id) : yard_view_->next_clip();
    if (next)
        open_clip(next);
    else
        emit say(tr("No other clip waits."));
}

void Views::join_review() {
    connect(review_, &ReviewView::wants_next_clip, this, &Views::open_next_clip);
    connect(review_, &ReviewView::wants_exercise, this, [this] { show(ViewName::prescribe); });
    connect(review_, &ReviewView::wants_band, this, [this](const QString& measure) {
        show(ViewName::schools);
        schools_->show_measure(measure);
    });
    connect(eye_, &EyeView::wants_blind_mark, this, [this](store::ClipId clip, int frame) {
        open_moment(clip, frame);
        emit say(tr("Mark the joints again: [mark_again] hides the marks that are there."));
    });
}

void Views::join_compare() {
    connect(compare_, &View::opening, this, [this] { compare_->begin(rider_in_hand()); });
    const auto shown = [this](const QString& line) {
        show(ViewName::compare);
        if (!line.isEmpty()) emit say(line);
    };
    connect(progress_, &ProgressView::wants_compare, this,
            [this, shown](const app::Lane&, const app::LanePoint& then, const app::LanePoint& now) {
                shown(compare_->comparison().show(then.clip, then.frame, now.clip, now.frame));
            });
    connect(review_, &ReviewView::wants_compare, this, [this, shown](store::ClipId clip, int frame) {
        shown(compare_->comparison().show(clip, frame));
    });
    connect(compare_, &CompareView::open_moment, this, &Views::open_moment);
}

void Views::join_training() {
    connect(prescribe_, &PrescribeView::wants_lesson, this, [this](store::RiderId id) {
        show(ViewName::lesson);
        lesson_->prepare(id);
    });
    connect(prescribe_, &PrescribeView::wants_exercises, this, [this] {
        if (const core::Exercise* e = prescribe_->desk().exercise()) return show_exercise(e->id);
        show(ViewName::exercises);
    });
    connect(prescribe_, &PrescribeView::wants_consents, this, [this](store::RiderId id) {
        show(ViewName::yard);
        yard_view_->show_consents(id);
    });
    connect(schools_, &SchoolsView::wants_exercises, this, [this] { show(ViewName::exercises); });
    connect(exercises_, &ExercisesView::wants_schools, this, [this] { show(ViewName::schools); });
    connect(exercises_, &ExercisesView::closed, this, [this] { show(ViewName::prescribe); });
    connect(lesson_, &LessonView::wants_whole_screen, this, &Views::wants_whole_screen);
    connect(prescribe_, &PrescribeView::given, this, [this](store::RiderId id) {
        progress_->show_rider(id);
        emit say(tr("Given. It stands on the rider's card; [undo] takes it back."));
    });
}

void Views::join_hand_over() {
    connect(hand_over_, &View::opening, this, [this] {
        const bool open = bench_.is_open();
        const bool theirs = open && (!bench_.review().rider() || bench_.review().rider() == rider_in_hand());
        hand_over_->begin(rider_in_hand(), theirs ? bench_.review().clip().id : store::ClipId{},
                          theirs ? bench_.review().slot() : 0, bench_.deck().facts());
    });
    connect(review_, &ReviewView::wants_hand_over, this, [this] { show(ViewName::hand_over); });
    connect(hand_over_, &HandOverView::open_moment, this, &Views::open_moment);
    connect(&bundles_, &app::Bundles::finished, this, [this](const QString& line) { emit say(line); });
}

void Views::join_recorder() {
    connect(review_, &ReviewView::recorded, this, [this](store::SpokenId id) {
        show(ViewName::hand_over);
        hand_over_->show_review(id);
        emit say(tr("Recorded. Look at it here, cut what is too long, then write the film."));
    });
    connect(hand_over_, &HandOverView::talk_new, this, [this] {
        show(ViewName::review);
        if (!review_->recorder().recording()) review_->act("record");
    });
    connect(
        hand_over_, &HandOverView::talk, this,
        [this](const store::Spoken& spoken, std::size_t place, store::ClipId clip, int frame) {
            open_moment(clip, frame);
            when_ready([this, spoken, place] { emit say(review_->recorder().start_into(spoken, place)); });
        });
    // What is compared while a review is spoken stands side by side in it.
    const auto two = [this] {
        app::Comparison& c = compare_->comparison();
        if (!review_->recorder().recording() || this->shown() != ViewName::compare || c.count() < 2) return;
        const auto frame = [&](std::size_t i) {
            return core::ShownFrame{c.side(i).subject.ridden.clip.id.value, c.deck(i).frame()};
        };
        review_->recorder().show_two(std::pair{frame(0), frame(1)});
    };
    connect(&compare_->comparison(), &app::Comparison::changed, this, two);
    connect(&compare_->comparison(), &app::Comparison::picture_changed, this, two);
    connect(this, &Views::changed, this, two);
}

void Views::join_prepared() {
    connect(&preparing_, &app::Preparing::prepared, this, [this](store::ClipId id) {
        if (bench_.is_open() && bench_.review().clip().id == id) review_->prepared().reload();
        yard_view_->model().refresh();
    });
}

/// Once the bench has its clip; now, where it has it already.
void Views::when_ready(const std::function<void()>& then) {
    if (bench_.is_open() && bench_.deck().ready()) return then();
    auto* once = new QObject(this);
    connect(&bench_.deck(), &app::ClipDeck::opened, once, [once, then] {
        once->deleteLater();
        then();
    });
}

void Views::open_clip(store::ClipId id) {
    // What was said in the lesson while this was filmed.
    int laid = 0;
    for (const store::Slot& s : yard_.records().rides.places(id)) laid += app::lay_under_clips(yard_, s.ride);
    if (laid > 0)
        emit say(
            laid == 1
                ? tr("One note of the lesson falls on this ride's clips; [undo] takes it back.")
                : tr("%1 notes of the lesson fall on this ride's clips; [undo] takes them back.").arg(laid));
    bench_.open(id);
    show(ViewName::review);
}

void Views::open_moment(store::ClipId id, int frame) {
    open_clip(id);
    when_ready([this, frame] { bench_.deck().go_to(frame); });
}

void Views::find_words() {
    show(ViewName::yard);
    yard_view_->search().setFocus();
    yard_view_->search().selectAll();
}

void Views::show_outbox() {
    show(ViewName::yard);
    yard_view_->show_asking({});
}

void Views::show_consents(store::RiderId rider) {
    show(ViewName::yard);
    yard_view_->show_consents(rider);
}

void Views::show_exercise(const std::string& id) {
    exercises_->show_exercise(id);
    show(ViewName::exercises);
}

void Views::show_school(const std::string& id) {
    show(ViewName::schools);
    schools_->show_school(id);
}

void Views::on_bench(const QString& action) { review_->act(action); }
void Views::note(const QString& line) { yard_view_->note(line); }

/// Who rides in the clip on the bench is in hand as soon as it is opened or said.
void Views::join_rider() {
    connect(&bench_, &app::Bench::changed, this, [this](const app::BenchState&, app::BenchParts what) {
        if (!(what & (app::BenchPart::records | app::BenchPart::clip))) return;
        const store::RiderId now = bench_.is_open() ? bench_.review().rider() : store::RiderId{};
        if (now && now != on_bench_) hand_ = now;
        on_bench_ = now;
        emit rider_changed(head_rider());
    });
    connect(&yard_, &app::Yard::riders_changed, this, [this] { emit rider_changed(head_rider()); });
    connect(prescribe_, &View::opening, this, [this] { prescribe_->show_rider(rider_in_hand()); });
    connect(progress_, &View::opening, this, [this] { progress_->show_rider(rider_in_hand()); });
    connect(progress_, &ProgressView::rider_shown, this, [this](store::RiderId id) {
        if (id != rider_in_hand()) choose_rider(id);
    });
}

void Views::choose_rider(store::RiderId id) {
    if (!id) return;
    hand_ = id;
    const ViewName now = shown();
    const ViewName to = of_one_rider(now) ? now : page_;
    if (to == ViewName::review && !newest_clip(id)) {
        show(ViewName::progress);
        return emit say(tr("No clip of this rider yet."));
    }
    show(to);
}

store::ClipId Views::newest_clip(store::RiderId rider) const {
    const auto ridden = yard_.records().rides.ridden_by(rider);
    return ridden.empty() ? store::ClipId{} : ridden.front().clip.id;
}

/// On the bench the ride that lies there, elsewhere the newest.
HeadRider Views::head_rider() const {
    const bool bench = shown() == ViewName::review && bench_.is_open();
    const store::RiderId id = bench ? bench_.review().rider() : rider_in_hand();
    const auto rider = yard_.records().people.rider(id);
    if (!rider) return {bench ? tr("Who rides?") : QString(), {}};
    std::optional<store::Ride> ride;
    if (bench)
        ride = bench_.review().ride();
    else if (const auto rides = yard_.records().rides.rides_of(id); !rides.empty())
        ride = rides.front();
    QStringList about;
    if (ride) {
        if (const auto horse = yard_.records().people.horse(ride->horse)) about << text(horse->name);
        about << spoken_date(text(ride->day));
    }
    return {text(rider->name), about.join(QString::fromUtf8(" · "))};
}

store::RiderId Views::rider_in_hand() const {
    if (hand_ && yard_.records().people.rider(hand_)) return hand_;
    if (bench_.is_open() && bench_.review().rider()) return bench_.review().rider();
    const auto riders = yard_.records().people.riders();
    return riders.empty() ? store::RiderId{} : riders.front().id;
}

}  // namespace aspen::ui

#include "moc_views.cpp"
