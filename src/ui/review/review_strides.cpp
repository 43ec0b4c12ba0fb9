#include "app/review/ground_marks.hpp"
#include "core/motion/motion_curves.hpp"
#include "ui/review/column.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/prepared_line.hpp"
#include "ui/review/review_view.hpp"
#include "ui/review/strip.hpp"

/// The bench's keys for what was followed, and for what was prepared before anyone looked.
namespace aspen::ui {

bool ReviewView::shows_strides() const {
    using Shows = LowerPanel::Shows;
    return lower_->isVisible() && (lower_->shows() == Shows::strides || lower_->shows() == Shows::curves ||
                                   lower_->shows() == Shows::fences);
}

/// What is out of its band is seen on the film, not only in the panel.
void ReviewView::light_strides() {
    std::vector<std::pair<int, int>> lit;
    if (const core::MotionReport* r = shows_strides() ? strides_.report() : nullptr) {
        for (const std::size_t i : core::strides_outside(*r))
            lit.emplace_back(strides_.frame_at(r->strides[i].start_s),
                             strides_.frame_at(r->strides[i].end_s));
    }
    strip_->light(std::move(lit));
    column_->refresh();
    // What was followed is looked at there; nothing asks for joints meanwhile.
    quiet_down();
}

void ReviewView::bind_strides() {
    does("strides", [this] {
        lower_->toggle(LowerPanel::Shows::strides);
        const bool shown = lower_->shows() == LowerPanel::Shows::strides;
        if (shown && !strides_.busy() && !strides_.followed()) strides_.follow();
    });
    connect(&strides_, &app::StrideWork::say, this, &ReviewView::say);
    does("curves", [this] {
        lower_->toggle(LowerPanel::Shows::curves);
        const bool shown = lower_->shows() == LowerPanel::Shows::curves;
        if (shown && !strides_.busy() && !strides_.followed()) strides_.follow();
    });
    does("curves_over", [this] {
        if (lower_->shows() != LowerPanel::Shows::curves) lower_->toggle(LowerPanel::Shows::curves);
        lower_->curves().lay_over(!lower_->curves().laid_over());
    });
    does("worst_stride", [this] {
        if (lower_->shows() != LowerPanel::Shows::curves) lower_->toggle(LowerPanel::Shows::curves);
        if (!lower_->curves().go_to_worst()) emit say(tr("This curve has no stride that stands out."));
    });
    does("other_rein", [this] {
        if (lower_->shows() != LowerPanel::Shows::curves) lower_->toggle(LowerPanel::Shows::curves);
        if (!lower_->curves().set_against_other_rein(!lower_->curves().against_other_rein()))
            emit say(tr("No stretch of this ride was followed on the other rein at this gait and seat."));
    });
    does("stride_start", [this] { strides_.say_stride_starts(); });
    does("stride_off", [this] { strides_.say_stride_off(); });
    does("fences", [this] { lower_->toggle(LowerPanel::Shows::fences); });
    connect(&lower_->fences(), &FencesPanel::say, this, &ReviewView::say);
    picture_->set_followed([this](int frame) {
        return shows_strides() ? strides_.followed_at(frame) : std::optional<core::Figure>{};
    });
    column_->set_followed([this](int frame) {
        return shows_strides() ? strides_.followed_at(frame) : std::optional<core::Figure>{};
    });
    connect(&strides_, &app::StrideWork::changed, this, &ReviewView::light_strides);
    connect(lower_, &QStackedWidget::currentChanged, this, &ReviewView::light_strides);
}

void ReviewView::bind_prepared() {
    connect(&prepared_, &app::PreparedHere::say, this, &ReviewView::say);
    const auto show = [this] {
        std::vector<int> frames;
        for (const app::PreparedMoment& m : prepared_.open_moments()) frames.push_back(m.frame);
        picture_->set_waiting(prepared_.has_moments() ? 0 : frames.size());
        strip_->propose(std::move(frames));
    };
    connect(&prepared_, &app::PreparedHere::changed, this, show);
    picture_->set_read([this](int frame) { return prepared_.seen_on(frame); });
    does("take_seems", [this] {
        if (!prepared_.can_take()) return emit say(tr("Nothing is proposed that is not said already."));
        prepared_.take();
    });
    const auto go = [this](int direction) {
        if (!prepared_.go(direction))
            return emit say(direction > 0 ? tr("No further moment is proposed here.")
                                          : tr("No moment is proposed before this one."));
        // What is to be taken is shown large, head to heel.
        if (bench_.marking().offered()) picture_->see(PictureView::Part::rider);
    };
    does("seems_next", [go] { go(1); });
    does("seems_previous", [go] { go(-1); });
    does("laps_seen", [this] {
        const core::Tracks* followed = prepared_.tracks() ? prepared_.tracks() : strides_.tracks();
        if (!followed) return emit say(tr("Nothing was followed here yet: [strides] follows."));
        const int n = app::log_laps_seen(bench_, *followed);
        emit say(
            n == 0 ? tr("No crossing of the lap line was seen that is not logged; [lap_line] draws the line.")
            : n == 1 ? tr("One crossing of the lap line logged.")
                     : tr("%1 crossings of the lap line logged.").arg(n));
    });
    does("mark_seen", [this] { prepared_.mark_here(); });
}

}  // namespace aspen::ui
