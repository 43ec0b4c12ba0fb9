#include "ui/progress/progress_view.hpp"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "ui/progress/lanes_widget.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

ProgressView::ProgressView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent)
    : QWidget(parent), yard_(yard) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 16, 8, 8);
    row->setSpacing(16);
    riders_ = new QListWidget(this);
    riders_->setFixedWidth(200);
    riders_->setFont(heading_font(18));
    riders_->setStyleSheet("QListWidget { font-family: Vollkorn; font-size: 18px; }");
    riders_->setAccessibleName("Riders");
    row->addWidget(riders_);
    lanes_ = new Lanes(yard, thumbs, this);
    row->addWidget(scrolled(lanes_, this), 1);
    connect(lanes_, &Lanes::open_clip, this, &ProgressView::open_clip);
    connect(riders_, &QListWidget::currentRowChanged, this, [this](int now) {
        if (now < 0) return;
        shown_ = {riders_->item(now)->data(Qt::UserRole).toLongLong()};
        lanes_->show_lanes(app::lanes_of(yard_, shown_));
    });
    const auto again = [this] {
        if (isVisible()) refill();
    };
    connect(&yard_, &app::Yard::riders_changed, this, again);
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
    const QSignalBlocker quiet(riders_);
    riders_->clear();
    int row = 0;
    for (const store::Rider& r : yard_.records().riders()) {
        auto* item = new QListWidgetItem(QString::fromStdString(r.name), riders_);
        item->setData(Qt::UserRole, static_cast<qlonglong>(r.id.value));
        if (!shown_) shown_ = r.id;
        if (r.id == shown_) row = riders_->count() - 1;
    }
    riders_->setCurrentRow(row);
    lanes_->show_lanes(shown_ ? app::lanes_of(yard_, shown_) : std::vector<app::Lane>{});
}

}  // namespace aspen::ui
