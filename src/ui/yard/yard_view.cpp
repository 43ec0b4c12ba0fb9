#include "ui/yard/yard_view.hpp"

#include <QApplication>
#include <QKeyEvent>
#include <QLocale>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/cards.hpp"
#include "ui/yard/rider_form.hpp"

namespace aspen::ui {
namespace {

constexpr int kCardStep = ClipCard::kWidth + 12;

}  // namespace

YardView::YardView(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent)
    : QWidget(parent), yard_(yard), thumbs_(thumbs) {
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 16, 8);
    row->setSpacing(24);
    auto* left = new QWidget;
    clips_ = new QVBoxLayout(left);
    clips_->setContentsMargins(0, 0, 14, 0);
    clips_->setSpacing(12);
    row->addWidget(scrolled(left, this), 1);
    auto* right = new QVBoxLayout;
    right->setContentsMargins(0, 0, 0, 0);
    riders_holder_ = new QWidget;
    riders_ = new QVBoxLayout(riders_holder_);
    riders_->setContentsMargins(0, 0, 8, 0);
    riders_->setSpacing(10);
    auto* scroll = scrolled(riders_holder_, this);
    scroll->setFixedWidth(400);
    right->addWidget(scroll, 1);
    form_ = new RiderForm(yard_, this);
    form_->setFixedWidth(392);
    form_->hide();
    right->addWidget(form_);
    note_ = quiet_label("", this);
    right->addWidget(note_);
    row->addLayout(right);
    connect(form_, &RiderForm::closed, this, [this, scroll] {
        form_->hide();
        scroll->show();
    });
    connect(form_, &RiderForm::say, this, &YardView::say);
    for (auto signal : {&app::Yard::clips_changed, &app::Yard::riders_changed})
        connect(&yard_, signal, this, &YardView::later);
    connect(&yard_, &app::Yard::corrections_changed, this, &YardView::later);
}

void YardView::note(const QString& line) { note_->setText(line); }
void YardView::showEvent(QShowEvent*) { rebuild(); }

void YardView::resizeEvent(QResizeEvent*) {
    const int columns = std::max(1, (width() - 400 - 78 + 12) / kCardStep);
    if (columns == columns_) return;
    columns_ = columns;
    later();
}

/// Several changes at once (a demo review, a Sunday evening's forty clips) rebuild the view once.
void YardView::later() {
    if (pending_ || !isVisible()) return;
    pending_ = true;
    QTimer::singleShot(30, this, [this] {
        pending_ = false;
        rebuild();
    });
}

void YardView::add_grid(const std::vector<store::Clip>& clips, bool mark_next) {
    auto* grid = new QGridLayout;
    grid->setSpacing(12);
    int n = 0;
    for (const store::Clip& clip : clips) {
        auto* card = new ClipCard(yard_, thumbs_, clip, mark_next && n == 0, this);
        connect(card, &ClipCard::open, this, &YardView::open_clip);
        connect(card, &ClipCard::trash, this, [this](store::ClipId id) {
            yard_.trash_clip(id);
            emit say("In the trash; Ctrl+Z brings it back.");
        });
        connect(card, &ClipCard::rides, this, &YardView::assign);
        if (focus_after_ && clip.id == focus_after_) card->take_focus_when_shown();
        grid->addWidget(card, n / columns_, n % columns_);
        ++n;
    }
    for (int c = 0; c < columns_; ++c) grid->setColumnStretch(c, 1);
    clips_->addLayout(grid);
}

void YardView::rebuild() {
    // The card under the keys stays under them, whatever comes in meanwhile.
    if (const auto* card = qobject_cast<ClipCard*>(QApplication::focusWidget()); card && !focus_after_)
        focus_after_ = card->clip();
    clear(*clips_);
    clear(*riders_);
    std::vector<store::Clip> waiting, reviewed;
    for (const store::Clip& c : yard_.records().clips())
        (c.state == store::ClipState::done ? reviewed : waiting).push_back(c);
    next_ = waiting.empty() ? store::ClipId{} : waiting.front().id;
    auto* open = verb_button(waiting.empty() && reviewed.empty() ? "Open a clip" : "Add clips", "Ctrl+O",
                             this, waiting.empty());
    connect(open, &QPushButton::clicked, this, &YardView::choose_file);
    auto* head = new QHBoxLayout;
    head->addWidget(heading_label(waiting.empty() ? (reviewed.empty() ? "An empty yard" : "Nothing waits")
                                                  : QString("%1 waiting for you")
                                                        .arg(waiting.size() == 1
                                                                 ? QStringLiteral("One clip")
                                                                 : QString("%1 clips").arg(waiting.size())),
                                  this, 26),
                    1);
    auto* yard_menu = new QPushButton("Yard", this);
    yard_menu->setObjectName("word");
    auto* menu = new QMenu(yard_menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fill_yard_menu(*menu); });
    yard_menu->setMenu(menu);
    yard_menu->setAccessibleName("Yard: back up, restore, trash");
    head->addWidget(yard_menu, 0, Qt::AlignBottom);
    head->addWidget(open, 0, Qt::AlignBottom);
    clips_->addLayout(head);
    if (waiting.empty())
        clips_->addWidget(quiet_label(reviewed.empty()
                                          ? "Drop a rider's clip on this window, or open one. Stop on a "
                                            "telling frame, click nine joints, keep one thing to work on."
                                          : "Drop new clips on this window when they come.",
                                      this));
    if (!waiting.empty()) add_grid(waiting, true);
    if (!reviewed.empty()) {
        clips_->addSpacing(12);
        clips_->addWidget(heading_label("Reviewed", this));
        add_grid(reviewed, false);
    }
    clips_->addStretch(1);
    focus_after_ = {};

    riders_->addWidget(heading_label("Riders", this, 26));
    const auto riders = yard_.records().riders();
    if (riders.empty())
        riders_->addWidget(quiet_label("A rider's card starts with the first clip: say who rides.", this));
    int number = 0;
    for (const store::Rider& r : riders) {
        ++number;
        auto* card = new RiderCard(yard_, r, !waiting.empty() && number <= 9 ? number : 0, this);
        connect(card, &RiderCard::open, this, &YardView::open_rider);
        connect(card, &RiderCard::edit, this, [this](store::RiderId id) {
            riders_holder_->parentWidget()->parentWidget()->hide();
            form_->show();
            form_->show_rider(id);
        });
        riders_->addWidget(card);
    }
    riders_->addStretch(1);
}

store::ClipId YardView::next_after(store::ClipId clip) const {
    std::vector<store::Clip> waiting;
    for (const store::Clip& c : yard_.records().clips()) {
        if (c.state != store::ClipState::done || c.id == clip) waiting.push_back(c);
    }
    const auto it = std::ranges::find(waiting, clip, &store::Clip::id);
    if (it != waiting.end() && it + 1 != waiting.end()) return (it + 1)->id;
    for (const store::Clip& c : waiting) {
        if (c.id != clip) return c.id;
    }
    return {};
}

/// A digit on a clip's card: this rider rides in it. The next card gets the focus, so that forty go one after
/// the other.
void YardView::assign(store::ClipId id, int number) {
    const auto riders = yard_.records().riders();
    const auto clip = yard_.records().clip(id);
    if (!clip || number < 1 || static_cast<std::size_t>(number) > riders.size())
        return emit say(QString("There is no rider %1.").arg(number));
    const store::Rider& rider = riders[static_cast<std::size_t>(number) - 1];
    store::ClipContext c = clip->context;
    c.rider = rider.id;
    if (c.school.empty()) c.school = rider.school;
    focus_after_ = next_after(id);
    yard_.set_context(id, c, "rider");
    emit say(text(rider.name) + " rides in it; Ctrl+Z takes it back.");
}

void YardView::fill_yard_menu(QMenu& menu) {
    menu.clear();
    connect(menu.addAction("Back up the yard …"), &QAction::triggered, this, &YardView::wants_backup);
    connect(menu.addAction("Restore a backup …"), &QAction::triggered, this, &YardView::wants_restore);
    auto* trash = menu.addMenu("Trash");
    fill_trash(*trash);
}

void YardView::fill_trash(QMenu& menu) {
    const auto entry = [&](const QString& words, const std::function<void()>& back,
                           const std::function<void()>& for_good) {
        auto* one = menu.addMenu(words);
        connect(one->addAction("Put back"), &QAction::triggered, this, back);
        if (for_good) connect(one->addAction("Delete for good"), &QAction::triggered, this, for_good);
    };
    for (const store::Clip& c : yard_.records().trashed_clips()) {
        const auto rider = c.context.rider ? yard_.records().rider(c.context.rider) : std::nullopt;
        entry(
            QString("Clip of %1, %2")
                .arg(rider ? text(rider->name) : QStringLiteral("nobody yet"),
                     spoken_date(text(c.filmed_on))),
            [this, id = c.id] { yard_.put_back(id); }, [this, id = c.id] { yard_.delete_for_good(id); });
    }
    for (const store::Rider& r : yard_.records().trashed_riders())
        entry(text(r.name), [this, id = r.id] { yard_.put_back(id); }, {});
    for (const store::Moment& m : yard_.records().trashed_moments()) {
        entry(
            QString("Moment at frame %1").arg(m.frame),
            [this, m] {
                if (!yard_.put_back(m))
                    emit say(QString("Frame %1 has another moment now; take that away first.").arg(m.frame));
            },
            {});
    }
    if (menu.isEmpty()) menu.addAction("nothing in it")->setEnabled(false);
}

void YardView::keyPressEvent(QKeyEvent* e) {
    if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) && next_) return emit open_clip(next_);
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui
