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
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/delegates.hpp"
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
    : QWidget(parent), yard_(yard), thumbs_(thumbs), model_(yard), rider_model_(yard) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 12, 16, 8);
    row->setSpacing(24);
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
    head->addWidget(heading_, 1);
    search_ = new QLineEdit(left);
    search_->setPlaceholderText("Find a rider, horse, fault, note or day   /");
    search_->setAccessibleName("Find riders, horses, faults, notes and days");
    search_->setClearButtonEnabled(true);
    search_->setMinimumWidth(300);
    head->addWidget(search_, 0, Qt::AlignBottom);
    auto* more = new QPushButton("Records", left);
    more->setObjectName("word");
    auto* menu = new QMenu(more);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fill_yard_menu(*menu); });
    more->setMenu(menu);
    more->setAccessibleName("Records: back up, restore, merge, trash");
    head->addWidget(more, 0, Qt::AlignBottom);
    auto* open = verb_button("Add clips", "Ctrl+O", left);
    connect(open, &QPushButton::clicked, this, &YardView::choose_file);
    head->addWidget(open, 0, Qt::AlignBottom);
    column->addLayout(head);
    below_ = quiet_label("", left);
    column->addWidget(below_);
    rides_ = list(left, "What needs you today, then what is reviewed");
    ride_look_ = new RideDelegate(model_, thumbs_, this);
    rides_->setItemDelegate(ride_look_);
    rides_->setModel(&model_);
    column->addWidget(rides_, 1);
    hint_ = quiet_label("", left);
    hint_->setTextInteractionFlags(Qt::LinksAccessibleByMouse);
    connect(hint_, &QLabel::linkActivated, this,
            [this](const QString& deed) { act_on(deed.at(0).toLatin1()); });
    column->addWidget(hint_);
    return left;
}

QWidget* YardView::build_right() {
    auto* right = new QWidget(this);
    right->setFixedWidth(348);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(heading_label("Riders", right, 26));
    riders_ = list(right, "Riders");
    rider_look_ = new RiderDelegate(this);
    riders_->setItemDelegate(rider_look_);
    riders_->setModel(&rider_model_);
    column->addWidget(riders_, 1);
    form_ = new RiderForm(yard_, right);
    form_->hide();
    column->addWidget(form_, 1);
    auto* hint = quiet_label("Enter shows a rider's progress · E edits the card", right);
    column->addWidget(hint);
    note_ = quiet_label("", right);
    note_->hide();
    column->addWidget(note_);
    const auto edit = [this, hint](const QModelIndex& i) {
        if (!i.isValid()) return;
        riders_->hide();
        hint->hide();
        form_->show();
        form_->show_rider(rider_model_.rider_at(i.row()));
    };
    connect(form_, &RiderForm::closed, this, [this, hint] {
        form_->hide();
        hint->show();
        riders_->show();
        riders_->setFocus();
    });
    const auto show = [this](const QModelIndex& i) { emit open_rider(rider_model_.rider_at(i.row())); };
    connect(riders_, &QListView::clicked, this, show);
    connect(riders_, &QListView::customContextMenuRequested, this, [this, edit, show](const QPoint& at) {
        const QModelIndex i = riders_->indexAt(at);
        if (!i.isValid()) return;
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        connect(menu->addAction("Show progress\tEnter"), &QAction::triggered, this, [show, i] { show(i); });
        connect(menu->addAction("Edit the card\tE"), &QAction::triggered, this, [edit, i] { edit(i); });
        connect(menu->addAction("Put in the trash"), &QAction::triggered, this,
                [this, id = rider_model_.rider_at(i.row())] { app::trash_rider(yard_, id); });
        menu->popup(riders_->viewport()->mapToGlobal(at));
    });
    auto* edit_key = new QAction(riders_);
    edit_key->setShortcut(Qt::Key_E);
    edit_key->setShortcutContext(Qt::WidgetShortcut);
    connect(edit_key, &QAction::triggered, this, [this, edit] { edit(riders_->currentIndex()); });
    riders_->addAction(edit_key);
    connect(riders_, &QListView::activated, this, show);
    return right;
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
    heading_->setText(model_.looks()      ? (model_.is_empty() ? "Nothing found" : "Found")
                      : model_.is_empty() ? "An empty yard"
                      : n == 0            ? "Nothing waits"
                      : n == 1            ? "One ride waits for you"
                                          : QString("%1 rides wait for you").arg(n));
    below_->setText(model_.looks() || n > 0 ? QString()
                    : model_.is_empty()
                        ? "Drop a rider's clip on this window, or add one. Stop on a telling frame, click "
                          "nine joints, keep one thing to work on."
                        : "Drop new clips on this window when they come.");
    below_->setVisible(!below_->text().isEmpty());
    const auto word = [](char deed, const QString& words) {
        return QString("<a href='%1' style='color:%2; text-decoration:none'>%3</a>")
            .arg(QChar(deed))
            .arg(theme().quiet.name(), words);
    };
    hint_->setText(QStringList{word('o', "Enter opens"), "1–9 says who rides",
                               word('y', "Y takes what is proposed"), word('j', "J joins with the one above"),
                               word('s', "S takes apart"), word('p', "P promises for tomorrow"),
                               word('d', "Del trash")}
                       .join("   ·   "));
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
    const auto clips = yard_.records().clips_of(next_ride());
    return clips.empty() ? store::ClipId{} : clips.front().id;
}

store::ClipId YardView::next_after(store::ClipId clip) const {
    std::vector<store::ClipId> order;
    for (const store::RideLine& line : yard_.records().waiting()) {
        for (const store::Clip& c : yard_.records().clips_of(line.ride.id)) order.push_back(c.id);
    }
    // Of its own ride first, also when that is done.
    for (const store::Slot& s : yard_.records().places(clip)) {
        const auto clips = yard_.records().clips_of(s.ride);
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
