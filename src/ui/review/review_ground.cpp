#include "ui/review/column.hpp"
#include "ui/review/ground_column.hpp"
#include "ui/review/review_view.hpp"

/// The bench's key for the ground: the plan takes the place of the column.
namespace aspen::ui {

void ReviewView::show_ground(bool on) {
    column_->setVisible(!on);
    ground_->setVisible(on);
    on ? ground_->open() : ground_->leave();
    quiet_down();
    picture_->setFocus();
}

void ReviewView::bind_ground() {
    picture_->set_tool(ground_);
    does("ground", [this] { show_ground(!ground_->is_on()); });
    connect(ground_, &GroundColumn::say, this, &ReviewView::say);
    connect(ground_, &GroundColumn::repaint_picture, picture_, qOverload<>(&QWidget::update));
}

}  // namespace aspen::ui
