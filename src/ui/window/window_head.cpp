#include "ui/window/window_head.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QSvgRenderer>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kHeadHigh = 48;
constexpr int kProgramFrom = 1180;             // pixels of the window from which the program's name has room
constexpr int kWhoWide = 420, kWhoLess = 330;  // name, horse and day, in a wide and in a narrow window

QPixmap leaf_of(int size) {
    QPixmap out(size, size);
    out.fill(Qt::transparent);
    QPainter p(&out);
    QSvgRenderer(QString(":/aspen/icons/leaf.svg")).render(&p);
    return out;
}

QHBoxLayout* row_in(QWidget* holder) {
    auto* row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    return row;
}

}  // namespace

QString key_of(ViewName view) { return QString("Ctrl+%1").arg((static_cast<int>(view) + 1) % 10); }

WindowHead::WindowHead(const KeyMap& keys, app::Jobs& jobs, QWidget* window) : QWidget(window) {
    setFixedHeight(scaled_px(kHeadHigh));  // whatever runs or is said, what lies below stays where it is
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 4, 16, 0);
    row->setSpacing(8);
    auto* mark = new QLabel(this);
    mark->setPixmap(leaf_of(24));
    row->addWidget(mark);
    yard_ = new QWidget(this);
    one_ = new QWidget(this);
    build_yard(*row_in(yard_));
    build_rider(*row_in(one_));
    row->addWidget(yard_);
    row->addWidget(one_);
    said_ = new SaidLine(keys, this, window);
    row->addWidget(said_->beside(), 1);
    jobs_ = new JobsLine(jobs, this);
    row->addWidget(jobs_);
    show_view(now_);
}

QPushButton* WindowHead::view_button(ViewName view, const QString& words, QWidget* parent) {
    auto* b = new QPushButton(words, parent);
    b->setObjectName("view");
    b->setCheckable(true);
    b->setToolTip(key_of(view));
    connect(b, &QPushButton::clicked, this,
            [this, view] { emit wants_view(on_shelf(view) ? shelf_ : view); });
    buttons_.emplace_back(view, b);
    return b;
}

void WindowHead::build_yard(QHBoxLayout& row) {
    program_ = heading_label(tr("Aspen Crest"), yard_);
    program_->setWordWrap(false);
    row.addWidget(program_);
    row.addSpacing(12);
    row.addWidget(view_button(ViewName::yard, tr("Yard"), yard_));
    row.addWidget(view_button(ViewName::lesson, tr("Lesson"), yard_));
    row.addWidget(view_button(ViewName::arena, tr("Arena"), yard_));
    row.addWidget(view_button(ViewName::eye, tr("Eye"), yard_));
    row.addWidget(view_button(ViewName::schools, tr("Shelf"), yard_));
    back_to_rider_ = new QPushButton(yard_);
    back_to_rider_->setObjectName("word");
    back_to_rider_->setToolTip(tr("Back to this rider's pages"));
    connect(back_to_rider_, &QPushButton::clicked, this, [this] { emit wants_view(page_); });
    row.addSpacing(12);
    row.addWidget(back_to_rider_);
}

void WindowHead::build_rider(QHBoxLayout& row) {
    row.addWidget(view_button(ViewName::yard, QString::fromUtf8("‹ ") + tr("Yard"), one_));
    row.addSpacing(8);
    auto* who = new QWidget(one_);
    auto* in = row_in(who);
    in->setSpacing(10);
    name_ = new QPushButton(who);
    name_->setObjectName("who");
    name_->setToolTip(tr("Another rider (Ctrl+R)"));
    connect(name_, &QPushButton::clicked, this, &WindowHead::wants_riders);
    about_ = quiet_label({}, who);
    about_->setWordWrap(false);
    about_->setContentsMargins(0, 6, 0, 0);  // its line stands on the name's
    in->addWidget(name_);
    in->addWidget(about_);
    in->addStretch(1);
    row.addWidget(who);
    row.addWidget(view_button(ViewName::review, tr("Ride"), one_));
    row.addWidget(view_button(ViewName::compare, tr("Compare"), one_));
    row.addWidget(view_button(ViewName::prescribe, tr("Plan"), one_));
    row.addWidget(view_button(ViewName::progress, tr("Progress"), one_));
    row.addWidget(view_button(ViewName::hand_over, tr("Hand over"), one_));
}

QPushButton* WindowHead::button(ViewName view) const {
    QPushButton* out = nullptr;
    for (const auto& [of, b] : buttons_) {
        const bool leads = of == view || (on_shelf(of) && on_shelf(view));
        if (leads && (!out || b->isVisibleTo(this))) out = b;
    }
    return out;
}

void WindowHead::show_view(ViewName now) {
    now_ = now;
    if (of_one_rider(now)) page_ = now;
    if (on_shelf(now)) shelf_ = now;
    yard_->setVisible(!of_one_rider(now));
    one_->setVisible(of_one_rider(now));
    for (const auto& [view, b] : buttons_) b->setChecked(view == now || (on_shelf(view) && on_shelf(now)));
    fit();
}

void WindowHead::show_rider(const HeadRider& rider) {
    if (rider == rider_) return;
    rider_ = rider;
    fit();
}

/// The pages stand where they stand, whoever is in hand: who it is has a fixed room and is cut to it.
void WindowHead::fit() {
    const bool wide = width() >= kProgramFrom;
    program_->setVisible(wide);
    back_to_rider_->setVisible(!rider_.name.isEmpty());
    back_to_rider_->setText(
        QFontMetrics(text_font(14)).elidedText(rider_.name, Qt::ElideRight, scaled_px(180)) +
        QString::fromUtf8("  ›"));
    back_to_rider_->setAccessibleName(tr("Back to %1").arg(rider_.name));
    const int room = scaled_px(wide ? kWhoWide : kWhoLess);
    name_->parentWidget()->setFixedWidth(room);
    const QString name = rider_.name.isEmpty() ? tr("Nobody yet") : rider_.name;
    const QFontMetrics large(heading_font(26)), small(text_font(14));
    const int name_room = std::min(large.horizontalAdvance(name) + 4, room - scaled_px(60));
    name_->setText(large.elidedText(name, Qt::ElideRight, name_room));
    name_->setAccessibleName(tr("Rider: %1").arg(name));
    about_->setText(small.elidedText(rider_.about, Qt::ElideRight,
                                     room - large.horizontalAdvance(name_->text()) - scaled_px(26)));
    about_->setToolTip(rider_.about);
}

void WindowHead::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    fit();
    said_->place();
}

}  // namespace aspen::ui

#include "moc_window_head.cpp"
