#include "ui/yard/yard_view.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLocale>
#include <QMenu>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/view_keys.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/shared/word_line.hpp"
#include "ui/yard/asking_card.hpp"
#include "ui/yard/consent_card.hpp"
#include "ui/yard/delegates.hpp"
#include "ui/yard/horse_form.hpp"
#include "ui/yard/rider_form.hpp"

/// What is seen and how it follows the records. What the keys do is in yard_deeds.cpp.
namespace aspen::ui {
namespace {

QListView* list(QWidget* parent, const QString& name) {
    auto* view = new QListView(parent);
    view->setAccessibleName(name);
    view->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    view->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    view->setSelectionMode(QAbstractItemView::SingleSelection);
    view->setUniformItemSizes(false);
    view->setFrameShape(QFrame::NoFrame);
    view->setMouseTracking(true);
    view->setContextMenuPolicy(Qt::CustomContextMenu);
    return view;
}

}  // namespace

YardView::YardView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent)
    : View(parent), yard_(yard), thumbs_(thumbs), model_(yard), rider_model_(yard) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 12, 16, 8);
    row->setSpacing(24);
    build_deeds();
    row->addWidget(build_left(), 1);
    row->addWidget(build_right());
    connect(&model_, &QAbstractItemModel::modelAboutToBeReset, this, &YardView::remember);
    connect(&model_, &QAbstractItemModel::modelReset, this, &YardView::after_reset);
    connect(&thumbs_, &app::Thumbs::changed, rides_->viewport(), qOverload<>(&QWidget::update));
    connect(rides_, &QListView::clicked, this, [this](const QModelIndex& i) {
        const QPoint at = rides_->viewport()->mapFromGlobal(QCursor::pos());
        open_row(i.row(), ride_look_->clip_at(rides_->visualRect(i), i.row(), at));
    });
    connect(rides_, &QListView::customContextMenuRequested, this, &YardView::show_ride_menu);
    connect(search_, &QLineEdit::textChanged, &model_, &app::RidesModel::look_for);
    connect(form_, &RiderForm::say, this, &YardView::say);
    connect(horse_form_, &HorseForm::say, this, &YardView::say);
    line_ = new WordLine(this);
    connect(line_, &WordLine::closed, rides_, qOverload<>(&QWidget::setFocus));
    rides_->installEventFilter(this);
    rides_->viewport()->installEventFilter(this);
    search_->installEventFilter(this);
    setFocusProxy(rides_);
    after_reset();
}

QWidget* YardView::build_left() {
    auto* left = new QWidget(this);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    heading_ = heading_label("", left, 26);
    heading_->setWordWrap(false);
    head->addWidget(heading_, 1);
    search_ = new QLineEdit(left);
    search_->setPlaceholderText(tr("Find a rider, horse, fault, note or day   /"));
    search_->setAccessibleName(tr("Find riders, horses, faults, notes and days"));
    search_->setClearButtonEnabled(true);
    search_->setMinimumWidth(scaled_px(150));
    search_->setMaximumWidth(scaled_px(340));
    head->addWidget(search_, 1, Qt::AlignBottom);
    auto* more = new QPushButton(tr("Records"), left);
    more->setObjectName("word");
    auto* menu = new QMenu(more);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fill_yard_menu(*menu); });
    more->setMenu(menu);
    more->setAccessibleName(tr("Records: back up, restore, merge, trash"));
    head->addWidget(more, 0, Qt::AlignBottom);
    add_ = verb_button(tr("Add clips"), "Ctrl+O", left);
    connect(add_, &QPushButton::clicked, this, &YardView::choose_file);
    head->addWidget(add_, 0, Qt::AlignBottom);
    column->addLayout(head);
    below_ = quiet_label("", left);
    column->addWidget(below_);
    rides_ = list(left, tr("What needs you today, then what is reviewed"));
    ride_look_ = new RideDelegate(model_, thumbs_, this);
    rides_->setItemDelegate(ride_look_);
    rides_->setModel(&model_);
    column->addWidget(rides_, 1);
    hint_ = new DeedsLine([this](const QString& id) { return deed(id); }, left);
    column->addWidget(hint_);
    return left;
}

QWidget* YardView::build_right() {
    auto* right = new QWidget(this);
    right->setFixedWidth(348);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    right_heading_ = heading_label(tr("Riders"), right, 26);
    column->addWidget(right_heading_);
    riders_ = list(right, tr("Riders"));
    rider_look_ = new RiderDelegate(this);
    riders_->setItemDelegate(rider_look_);
    riders_->setModel(&rider_model_);
    column->addWidget(riders_, 1);
    form_ = new RiderForm(yard_, right);
    horse_form_ = new HorseForm(yard_, right);
    form_area_ = scrolled(form_, right);
    horse_area_ = scrolled(horse_form_, right);
    asking_ = new AskingCard(yard_, right);
    asking_area_ = scrolled(asking_, right);
    consents_ = new ConsentCard(yard_, right);
    consents_area_ = scrolled(consents_, right);
    for (QWidget* area : {form_area_, horse_area_, asking_area_, consents_area_}) {
        area->hide();
        column->addWidget(area, 1);
    }
    rider_hint_ = new DeedsLine([this](const QString& id) { return deed(id); }, right);
    column->addWidget(rider_hint_);
    note_ = quiet_label("", right);
    note_->hide();
    column->addWidget(note_);
    join_cards();
    join_riders();
    rider_hint_->show_deeds({{"edit_rider", tr("The card")}, {"edit_horse", tr("A horse's card")}}, false);
    return right;
}

void YardView::join_cards() {
    connect(form_, &RiderForm::closed, this, [this] { show_card(nullptr); });
    connect(horse_form_, &HorseForm::closed, this, [this] { show_card(nullptr); });
    connect(asking_, &AskingCard::closed, this, [this] { show_card(nullptr); });
    connect(asking_, &AskingCard::say, this, &YardView::say);
    connect(form_, &RiderForm::consents_wanted, this, &YardView::show_consents);
    connect(consents_, &ConsentCard::closed, this, [this] { show_card(form_); });
    connect(consents_, &ConsentCard::say, this, &YardView::say);
}

void YardView::join_riders() {
    const auto edit = [this](const QModelIndex& i) {
        if (!i.isValid()) return;
        show_card(form_);
        form_->show_rider(rider_model_.rider_at(i.row()));
    };
    const auto show = [this](const QModelIndex& i) { emit open_rider(rider_model_.rider_at(i.row())); };
    connect(riders_, &QListView::clicked, this, show);
    connect(riders_, &QListView::customContextMenuRequested, this, [this](const QPoint& at) {
        const QModelIndex i = riders_->indexAt(at);
        if (!i.isValid()) return;
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        menu->addActions(riders_->actions());
        connect(menu->addAction(tr("Put in the trash")), &QAction::triggered, this,
                [this, id = rider_model_.rider_at(i.row())] { app::trash_rider(yard_, id); });
        menu->popup(riders_->viewport()->mapToGlobal(at));
    });
    const auto deed = [this](const QString& id, const QString& words, auto act) {
        auto* a = new QAction(words, riders_);
        a->setObjectName(id);
        a->setShortcuts(view_keys(id));
        a->setShortcutContext(Qt::WidgetShortcut);
        set_group(*a, tr("Rider"));
        connect(a, &QAction::triggered, this, [this, act] { act(riders_->currentIndex()); });
        riders_->addAction(a);
        deeds_ << a;
    };
    deed("show_rider", tr("Show the rider's progress"), show);
    deed("edit_rider", tr("Edit the rider's card"), edit);
    connect(riders_, &QListView::activated, this, show);
}

/// A rider's or horse's card in place of the riders; null brings them back.
void YardView::show_card(QWidget* card) {
    form_area_->setVisible(card == form_);
    horse_area_->setVisible(card == horse_form_);
    asking_area_->setVisible(card == asking_);
    consents_area_->setVisible(card == consents_);
    riders_->setVisible(!card);
    rider_hint_->setVisible(!card);
    right_heading_->setText(card == horse_form_ ? tr("Horses")
                            : card == asking_   ? tr("Ask for a clip")
                            : card == consents_ ? tr("Consents")
                                                : tr("Riders"));
    if (!card) riders_->setFocus();
}

void YardView::show_consents(store::RiderId rider) {
    show_card(consents_);
    consents_->show_rider(rider);
}

void YardView::show_asking(store::RiderId rider) {
    show_card(asking_);
    asking_->show_rider(rider);
}

void YardView::edit_horse(store::HorseId horse) {
    show_card(horse_form_);
    horse_form_->show_horse(horse);
}

void YardView::note(const QString& line) {
    note_->setText(line);
    note_->setVisible(!line.isEmpty());
}

void YardView::showEvent(QShowEvent*) {
    rides_->setFocus();
    if (!rides_->currentIndex().isValid()) rides_->setCurrentIndex(model_.index(0));
}

/// The ride under the keys stays under them, whatever comes in meanwhile.
void YardView::remember() {
    kept_row_ = std::max(0, rides_->currentIndex().row());
    // Where nobody has gone anywhere yet, the most urgent one stays in hand.
    if (!kept_ && kept_row_ > 0) kept_ = model_.ride_at(kept_row_).value_or(store::RideId{});
}

void YardView::after_reset() {
    const int n = model_.waiting();
    // In an empty yard it is the one thing to do.
    give_look(*add_, model_.is_empty() && !model_.looks() ? "next" : "");
    heading_->setText(model_.looks()      ? (model_.is_empty() ? tr("Nothing found") : tr("Found"))
                      : model_.is_empty() ? tr("An empty yard")
                      : n == 0            ? tr("Nothing waits")
                      : n == 1            ? tr("One ride waits for you")
                                          : tr("%1 rides wait for you").arg(n));
    below_->setText(model_.looks() || n > 0 ? QString()
                    : model_.is_empty()
                        ? tr("Drop a rider's clip on this window, or add one. Stop on a telling frame, click "
                             "nine joints, keep one thing to work on.")
                        : tr("Drop new clips on this window when they come."));
    below_->setVisible(!below_->text().isEmpty());
    hint_->show_deeds({{"open_ride", tr("Open this ride")},
                       {"take_proposed", tr("Yes to what is proposed")},
                       {"promise", tr("Promise it for tomorrow")},
                       {"search", tr("Find")}});
    hint_->setVisible(!model_.looks() && n > 0);
    rider_look_->show_numbers(n > 0);
    riders_->viewport()->update();
    int row = kept_ ? model_.row_of(kept_) : -1;
    if (row < 0) row = std::min(kept_row_, std::max(0, model_.rowCount() - 1));
    kept_ = {};
    if (!search_->hasFocus() || model_.looks()) rides_->setCurrentIndex(model_.index(row));
}

store::RideId YardView::next_ride() const {
    for (int i = 0; i < model_.waiting(); ++i) {
        if (const auto id = model_.ride_at(i)) return *id;
    }
    return {};
}

store::ClipId YardView::next_clip() const {
    const auto clips = yard_.records().rides.clips_of(next_ride());
    return clips.empty() ? store::ClipId{} : clips.front().id;
}

store::ClipId YardView::next_after(store::ClipId clip) const {
    std::vector<store::ClipId> order;
    for (const store::RideLine& line : yard_.records().rides.waiting()) {
        for (const store::Clip& c : yard_.records().rides.clips_of(line.ride.id)) order.push_back(c.id);
    }
    // Of its own ride first, also when that is done.
    for (const store::Slot& s : yard_.records().rides.places(clip)) {
        const auto clips = yard_.records().rides.clips_of(s.ride);
        const auto it = std::ranges::find(clips, clip, &store::Clip::id);
        if (it != clips.end() && it + 1 != clips.end()) return (it + 1)->id;
    }
    const auto it = std::ranges::find(order, clip);
    if (it != order.end() && it + 1 != order.end()) return *(it + 1);
    for (const store::ClipId id : order) {
        if (id != clip) return id;
    }
    return {};
}

bool YardView::eventFilter(QObject* watched, QEvent* e) {
    if (watched == rides_->viewport()) {
        if (e->type() == QEvent::MouseMove) {
            ride_look_->set_pointer(static_cast<QMouseEvent*>(e)->pos());
            rides_->viewport()->update();
        } else if (e->type() == QEvent::Leave) {
            ride_look_->set_pointer(std::nullopt);
            rides_->viewport()->update();
        }
    } else if (watched == rides_ && e->type() == QEvent::KeyPress) {
        if (take_key(*static_cast<QKeyEvent*>(e))) return true;
    } else if (watched == search_ && e->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(e)->key();
        if (key == Qt::Key_Escape) search_->clear();
        if (key == Qt::Key_Escape || key == Qt::Key_Down || key == Qt::Key_Return) {
            rides_->setFocus();
            if (key == Qt::Key_Return && model_.looks()) open_row(0);
            return true;
        }
    }
    return QWidget::eventFilter(watched, e);
}

}  // namespace aspen::ui

#include "moc_yard_view.cpp"
