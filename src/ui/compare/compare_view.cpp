#include "ui/compare/compare_view.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <cmath>

#include "app/leaving/compared_out.hpp"
#include "app/review/pictures.hpp"
#include "ui/compare/compare_stage.hpp"
#include "ui/compare/curve_strip.hpp"
#include "ui/compare/difference_list.hpp"
#include "ui/shared/save_place.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

CompareView::CompareView(app::Yard& yard, QWidget* parent)
    : View(parent), yard_(yard), comparison_(yard), in_step_(comparison_) {
    setFocusPolicy(Qt::StrongFocus);
    build_deeds();
    const auto find = [this](const QString& id) { return deeds_.find(id); };
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 8, 16, 8);
    row->setSpacing(16);
    auto* left = new QVBoxLayout;
    left->setSpacing(4);
    stage_ = new CompareStage(comparison_, this);
    left->addWidget(stage_, 1);
    auto* under = new QVBoxLayout;
    under->setContentsMargins(16, 0, 0, 0);
    curves_ = new CurveStrip(comparison_, this);
    under->addWidget(curves_);
    keys_ = new DeedsLine(find, this);
    under->addWidget(keys_);
    left->addLayout(under);
    row->addLayout(left, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    ways_ = new HintLine(find, this, 14);
    ways_->setWordWrap(true);
    right->addWidget(ways_);
    list_ = new DifferenceList(comparison_, this);
    right->addWidget(scrolled(list_, this), 1);
    auto* column = new QWidget(this);
    column->setFixedWidth(scaled_px(330));
    column->setLayout(right);
    right->setContentsMargins(0, 0, 0, 0);
    row->addWidget(column);
    connect(stage_, &CompareStage::side_chosen, this, [this](std::size_t side) {
        list_->show_against(side);
        tell();
    });
    connect(&comparison_, &app::Comparison::changed, this, &CompareView::tell);
    connect(&comparison_, &app::Comparison::picture_changed, this, [this] {
        // Strides need the list of a clip's frames, which is there once its first picture is.
        if (!curves_->isVisible() && isVisible() && !in_step_.playing()) curves_->rebuild();
    });
    connect(&in_step_, &app::InStep::changed, this, &CompareView::tell);
    connect(curves_, &CurveStrip::phase_pressed, &in_step_, &app::InStep::go_to_phase);
}

void CompareView::build_deeds() {
    const auto deed = [this](const QString& id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, std::move(act));
    };
    deed("then_now", tr("Then and now"), [this] { told(comparison_.then_and_now()); });
    deed("two_reins", tr("Left and right rein"), [this] { told(comparison_.two_reins()); });
    deed("two_horses", tr("Two horses"), [this] { told(comparison_.two_horses()); });
    deed("against_target", tr("Rider and the school's range"),
         [this] { told(comparison_.against_target()); });
    deed("two_riders", tr("Two riders"), [this] { told(comparison_.two_riders()); });
    deed("pane_next", tr("The next picture"),
         [this] { stage_->choose(comparison_.count() ? (stage_->chosen() + 1) % comparison_.count() : 0); });
    deed("other_earlier", tr("An earlier moment there"),
         [this] { told(comparison_.other(stage_->chosen(), -1)); });
    deed("other_later", tr("A later moment there"), [this] { told(comparison_.other(stage_->chosen(), 1)); });
    deed("pane_more", tr("One picture more"), [this] { told(comparison_.more()); });
    deed("pane_less", tr("Without this picture"), [this] { told(comparison_.less(stage_->chosen())); });
    deed("lay_over", tr("Beside, laid over, taking turns, figures alone"), [this] {
        stage_->next_way();
        tell();
    });
    deed("line_up", tr("Lined up on hip and trunk, or the saddle"), [this] {
        stage_->line_up_otherwise();
        tell();
    });
    deed("mirror", tr("Mirror what travels the other way, or not"), [this] {
        stage_->toggle_mirror();
        tell();
    });
    deed("play_in_step", tr("Play in step, or stop"), [this] { in_step_.toggle(); });
    deed("follow_strides", tr("Follow the joints, to play by the stride"),
         [this] { told(comparison_.follow_strides()); });
    deed("slower", tr("Slower"), [this] { in_step_.change_speed(-1); });
    deed("faster", tr("Faster"), [this] { in_step_.change_speed(1); });
    deed("back_to_moments", tr("Back to the marked moments"), [this] { in_step_.back_to_moments(); });
    deed("next_curve", tr("The next curve"), [this] { curves_->next(); });
    deed("open_on_bench", tr("Open this picture on the bench"), [this] {
        if (stage_->chosen() >= comparison_.count()) return;
        const app::Subject& s = comparison_.side(stage_->chosen()).subject;
        emit open_moment(s.ridden.clip.id, s.moment.frame);
    });
    deed("save_picture", tr("Save what is shown as a picture"), [this] {
        const QString file = QFileDialog::getSaveFileName(
            this, tr("Save the picture"), save_place(Kept::picture, "compared.png"), tr("Picture (*.png)"));
        if (!file.isEmpty()) told(write_picture(file));
    });
}

void CompareView::begin(store::RiderId rider) {
    const bool others = comparison_.rider() && comparison_.rider() != rider;
    if ((comparison_.count() == 0 || others) && rider) told(comparison_.show_rider(rider));
    tell();
    setFocus();
}
void CompareView::leave() { in_step_.pause(); }

void CompareView::tell() {
    ways_->say(
        tr("[then_now] then and now   ·   [two_reins] two reins   ·   [two_horses] two horses   ·   "
           "[against_target] the school's range   ·   [two_riders] two riders"));
    if (comparison_.count() == 0) {  // what does not apply is not shown
        ways_->say({});
        keys_->show_deeds({});
        curves_->rebuild();
        return;
    }
    const QString ways[] = {tr("Beside each other"), tr("Laid over"), tr("Taking turns"),
                            tr("Figures alone")};
    std::vector<DeedsLine::Deed> deeds;
    // By the stride they can be played only where the joints were followed.
    const bool strides = comparison_.count() > 1 && comparison_.without_strides() > 0;
    if (strides && !in_step_.playing() && !comparison_.following())
        deeds.push_back({"follow_strides", tr("Follow the joints, to play by the stride")});
    else
        deeds.push_back({"play_in_step", in_step_.playing() ? in_step_.words() : tr("Play in step")});
    deeds.push_back({"lay_over", ways[static_cast<int>(stage_->way())]});
    if (comparison_.count() > 1) deeds.push_back({"other_earlier", tr("An earlier moment there")});
    deeds.push_back({"save_picture", tr("Take the picture out")});
    keys_->show_deeds(deeds);
    if (in_step_.by_stride() && in_step_.playing())
        curves_->show_phase(in_step_.position() - std::floor(in_step_.position()));
    if (!in_step_.playing()) curves_->rebuild();
}

QString CompareView::write_picture(const QString& file) {
    if (comparison_.count() == 0) return tr("There is nothing to save yet.");
    const auto asked = app::ask_for_compared(yard_, comparison_);
    if (!asked) return asked.error();
    const auto& permit = *asked;
    const auto covers = app::covers_in(yard_, comparison_, permit);
    if (!covers) return covers.error();
    const QImage picture = stage_->covered_picture(*covers);
    const QString line = app::leave(yard_, permit, {"picture", tr("moments compared").toStdString(), file},
                                    [&](const QString& to) { return app::write_picture(picture, to); });
    return line.isEmpty() ? tr("Written: ") + file : line;
}

bool CompareView::focusNextPrevChild(bool) { return false; }  // Tab goes from picture to picture

void CompareView::keyPressEvent(QKeyEvent* e) {
    if (deeds_.take(*e)) return;
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_compare_view.cpp"
