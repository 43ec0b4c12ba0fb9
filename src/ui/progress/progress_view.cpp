#include "ui/progress/progress_view.hpp"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "ui/progress/lanes_widget.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

ProgressView::ProgressView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent)
    : QWidget(parent), yard_(yard), model_(yard) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 16, 8, 8);
    row->setSpacing(16);
    riders_ = new QListView(this);
    riders_->setFixedWidth(200);
    riders_->setFont(heading_font(18));
    riders_->setStyleSheet(
        QString("QListView { font-family: Vollkorn; font-size: %1px; }").arg(scaled_px(18)));
    riders_->setAccessibleName(tr("Riders"));
    riders_->setModel(&model_);
    row->addWidget(riders_);
    lanes_ = new Lanes(yard, thumbs, this);
    row->addWidget(scrolled(lanes_, this), 1);
    connect(lanes_, &Lanes::open_clip, this, &ProgressView::open_clip);
    connect(
        riders_->selectionModel(), &QItemSelectionModel::currentChanged, this,
        [this](const QModelIndex& now) {
            if (!now.isValid() || model_.rider_at(now.row()) == shown_) return;
            shown_ = model_.rider_at(now.row());
            lanes_->show_lanes(app::lanes_of(yard_.records(), yard_.knowledge(), shown_, yard_.today_iso()));
        });
    const auto again = [this] {
        if (isVisible()) refill();
    };
    connect(&model_, &QAbstractItemModel::modelReset, this, again);
    connect(&yard_, &app::Yard::corrections_changed, this, again);
    connect(&yard_, &app::Yard::clips_changed, this, again);
    connect(&yard_, &app::Yard::marks_changed, this, again);
}

const std::vector<app::Lane>& ProgressView::lanes() const { return lanes_->lanes(); }

void ProgressView::showEvent(QShowEvent*) { refill(); }

void ProgressView::show_rider(store::RiderId id) {
    shown_ = id;
    refill();
}

void ProgressView::refill() {
    if (!shown_) shown_ = model_.rider_at(0);
    riders_->setCurrentIndex(model_.index(std::max(0, model_.row_of(shown_))));
    lanes_->show_lanes(shown_ ? app::lanes_of(yard_.records(), yard_.knowledge(), shown_, yard_.today_iso())
                              : std::vector<app::Lane>{});
}

}  // namespace aspen::ui
