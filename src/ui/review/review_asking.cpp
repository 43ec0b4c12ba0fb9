#include <QMenu>
#include <algorithm>
#include <set>

#include "app/review/annotated.hpp"
#include "app/review/first_look.hpp"
#include "app/review/ground_marks.hpp"
#include "app/review/leathers.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/riding.hpp"
#include "app/review/seeing.hpp"
#include "ui/review/lines_on_picture.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/name_line.hpp"
#include "ui/review/review_view.hpp"
#include "ui/review/strip.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/shared/word_line.hpp"

/// What the bench asks the coach for: a word, a choice from a list, a line on the picture.
namespace aspen::ui {

QStringList ReviewView::phrases() const {
    QStringList out;
    for (const std::string& p : bench_.yard().records().reviews.phrases(200))
        out << QString::fromStdString(p);
    return out;
}

void ReviewView::write_note() {
    if (!bench_.deck().ready()) return;
    const int frame = bench_.deck().frame();  // the instant the key was pressed, while it plays on
    line_->ask(tr("Note at frame %1").arg(frame), phrases(), [this, frame](const QString& words) {
        app::add_note(bench_, store::NoteKind::words, words, frame);
    });
}

/// The joints of this frame once more, without seeing where they were put: what the coach's own error is.
void ReviewView::mark_again() {
    if (bench_.marking().blind()) return bench_.marking().leave_blind();
    if (!bench_.marking().start_blind())
        return emit say(
            tr("Mark and confirm at least five joints here first; then they can be marked again, blind."));
    emit say(tr("Blind: the joints are hidden. Click them again; [let_go] leaves it."));
}

void ReviewView::note_stirrups() {
    line_->ask(app::leathers_asked(bench_), {},
               [this](const QString& words) { emit say(app::note_leathers(bench_, words)); });
}

/// Names a fault, a strength or what the horse answers on this frame, by how it begins.
void ReviewView::name_by_letters() {
    if (!bench_.deck().ready()) return;
    player_.pause();
    name_->ask(bench_.yard().knowledge(), [this](const app::Named& named) {
        app::name_here(bench_, named);
        emit say(
            tr("Frame %1: %2. The same again takes it back.").arg(bench_.deck().frame()).arg(named.name));
    });
}

void ReviewView::choose_movement(bool asked) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const std::string_view m : core::movements()) {
        connect(menu->addAction(text(m).replace('_', ' ')), &QAction::triggered, this,
                [this, m, asked] { app::movement_from_here(bench_, std::string(m), asked); });
    }
    connect(menu, &QMenu::aboutToHide, picture_, qOverload<>(&QWidget::setFocus));
    give_keys(*menu);
    menu->popup(strip_->mapToGlobal(QPoint(24, -menu->sizeHint().height())));
}

void ReviewView::choose_riding() {
    if (!bench_.deck().ready()) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    QString group;
    for (const app::RidingChoice& c :
         app::riding_choices(core::ridden_at(bench_.review().stretches(), bench_.deck().frame()))) {
        if (group != c.group) menu->addSection(group = c.group);
        QAction* a = menu->addAction(c.words);
        a->setCheckable(true);
        a->setChecked(c.holds);
        connect(a, &QAction::triggered, this, [this, c] { app::riding_from_here(bench_, c); });
    }
    connect(menu, &QMenu::aboutToHide, picture_, qOverload<>(&QWidget::setFocus));
    give_keys(*menu);
    menu->popup(strip_->mapToGlobal(QPoint(24, -menu->sizeHint().height())));
}

void ReviewView::name_moment() {
    const core::Setting s = bench_.review().setting();
    if (!bench_.review().moment()) app::mark_moment(bench_.review());
    const auto names = core::phases(s.gait, s.seat);
    if (names.empty()) return emit say(tr("Say the gait first; then its moments have names."));
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    int n = 0;
    for (const std::string_view w : names) {
        connect(menu->addAction(QString("%1  %2").arg(++n).arg(text(core::spoken_phase(w)))),
                &QAction::triggered, this, [this, w] { app::set_phase(bench_.review(), std::string(w)); });
    }
    connect(menu, &QMenu::aboutToHide, picture_, qOverload<>(&QWidget::setFocus));
    give_keys(*menu);
    menu->popup(strip_->mapToGlobal(QPoint(24, -menu->sizeHint().height())));
}

void ReviewView::rename(std::size_t stretch) {
    if (stretch >= bench_.review().stretches().size()) return;
    line_->ask(
        tr("Name this stretch"), phrases(),
        [this, stretch](const QString& words) { app::name_stretch(bench_, stretch, words); },
        QString::fromStdString(bench_.review().stretches()[stretch].name));
}

/// At the body part of the selected joint, the measure drawn on the picture or the current finding; else the
/// whole rider.
void ReviewView::write_remark(store::RemarkKind kind) {
    if (!bench_.deck().ready()) return;
    core::BodyPart part = findings().current_part().value_or(core::BodyPart::trunk);
    if (const core::MeasureInfo* m = core::find_measure(picture_->measure_shown().toStdString()))
        part = m->part;
    if (const auto l = bench_.marking().selected()) {
        for (const core::MeasureInfo& m : core::measures_of(bench_.marking().figure().view)) {
            if (!m.needs.empty() && std::ranges::find(m.needs, *l) != m.needs.end()) {
                part = m.part;
                break;
            }
        }
    }
    QStringList offered = phrases();
    const core::Knowledge& known = bench_.yard().knowledge();
    if (kind == store::RemarkKind::strength) {
        for (const core::StrengthRule& s : known.strengths.all()) offered << QString::fromStdString(s.name);
    } else {
        for (const core::Fault& f : known.faults.faults()) offered << QString::fromStdString(f.name);
    }
    offered.removeDuplicates();
    line_->ask(QString(kind == store::RemarkKind::strength ? tr("Good, at the %1") : tr("I see, at the %1"))
                   .arg(text(core::spoken(part))),
               offered,
               [this, kind, part](const QString& words) { bench_.findings().add_remark(kind, part, words); });
}

QString ReviewView::name_of(store::RiderId id) const {
    const auto r = id ? bench_.yard().records().people.rider(id) : std::nullopt;
    return r ? QString::fromStdString(r->name) : tr("not said who");
}

void ReviewView::next_rider() {
    if (!bench_.is_open()) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    int n = 0;
    std::set<store::RiderId> there;
    for (const store::Slot& s : bench_.review().places()) {
        const auto ride = bench_.yard().records().rides.ride(s.ride);
        const store::RiderId rider = ride ? ride->rider : store::RiderId{};
        there.insert(rider);
        connect(menu->addAction(QString("%1  %2").arg(++n).arg(name_of(rider))), &QAction::triggered, this,
                [this, slot = s.slot] { bench_.review().show_slot(slot); });
    }
    menu->addSection(tr("also in this clip"));
    for (const store::Rider& r : bench_.yard().records().people.riders()) {
        if (!there.contains(r.id))
            connect(menu->addAction(QString::fromStdString(r.name)), &QAction::triggered, this,
                    [this, id = r.id] { app::add_companion(bench_.review(), id, {}); });
    }
    connect(menu, &QMenu::aboutToHide, picture_, qOverload<>(&QWidget::setFocus));
    give_keys(*menu);
    menu->popup(mapToGlobal(QPoint(24, 40)));
}

void ReviewView::take_line(PictureView::Line line, core::Point a, core::Point b) {
    if (line == PictureView::Line::upright) return app::set_upright(bench_.review(), a, b);
    if (line == PictureView::Line::level) return app::set_level(bench_.review(), a, b);
    if (line == PictureView::Line::cover) return take_face(a, b);
    if (const auto kind = ground_kind(line)) {
        if (core::distance(a, b) < 4) return emit say(tr("Both ends lie on one spot; nothing was marked."));
        app::mark_ground(bench_, *kind, a, b);
        return;
    }
    if (line == PictureView::Line::words) {
        line_->ask(tr("Write beside it"), phrases(), [this, a](const QString& words) {
            const QString refused = app::draw_here(bench_, store::SketchKind::words, a, a, words);
            if (!refused.isEmpty()) emit say(refused);
        });
        return;
    }
    if (line == PictureView::Line::arrow || line == PictureView::Line::circle) {
        if (core::distance(a, b) < 6) return emit say(tr("Too short to be seen; nothing was drawn."));
        const QString refused = app::draw_here(
            bench_, line == PictureView::Line::arrow ? store::SketchKind::arrow : store::SketchKind::circle,
            a, b);
        if (!refused.isEmpty()) emit say(refused);
        return;
    }
    if (line != PictureView::Line::scale || core::distance(a, b) < 20) return;
    const auto horse = bench_.yard().records().people.horse(bench_.review().horse());
    const QString start =
        horse && horse->height_cm ? QString::number(*horse->height_cm / 100.0, 'f', 2) : QString("3.00");
    line_->ask(
        tr("How long is that, in metres?"), {},
        [this, a, b](const QString& words) {
            const double metres = QString(words).replace(',', '.').toDouble();
            if (!(metres > 0.1 && metres < 100))
                return emit say(words +
                                tr(": is no length in metres between 0.1 and 100; nothing was changed."));
            app::set_scale(bench_.review(), a, b, metres);
            emit say(tr("One metre is %1 pixels here.").arg(core::distance(a, b) / metres, 0, 'f', 0));
        },
        start);
}

}  // namespace aspen::ui
