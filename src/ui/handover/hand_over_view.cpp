#include "ui/handover/hand_over_view.hpp"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <array>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/handover/start_panel.hpp"
#include "ui/handover/telling_picture.hpp"
#include "ui/handover/thing_delegate.hpp"
#include "ui/handover/wave_strip.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kThingRole = Qt::UserRole, kSpokenRole = Qt::UserRole + 1;
QString about_bundle() {
    return HandOverView::tr(
        "One file that another yard opens: every ride with its films (faces covered where they must be), "
        "marked moments, events, and what you said of it. There it becomes rides of their own; your words "
        "stand apart from theirs.\n\nIt is checked when it is opened: each file against its sum.");
}
QString about_tables() {
    return HandOverView::tr(
        "Five tables of this rider for a spreadsheet (CSV, UTF-8): the rides, the findings with your word on "
        "each, every measure with its error and band, the strides, and the practice log.");
}

constexpr std::array kSizes{0, 16, 25, 64};  // MB: what mail and messengers usually take (common practice)

}  // namespace

HandOverView::HandOverView(app::Yard& yard, app::Bundles& bundles, app::Thumbs& thumbs, QWidget* parent)
    : View(parent),
      yard_(yard),
      desk_(yard),
      writer_(yard),
      maker_(yard),
      bundles_(bundles),
      thumbs_(thumbs) {
    setFocusPolicy(Qt::StrongFocus);
    build_deeds();
    build_cutting();
    build();
    connect(&desk_, &app::TellingDesk::changed, this, &HandOverView::tell_keys);
    connect(&desk_, &app::TellingDesk::say, this, &HandOverView::say);
    connect(&yard_, &app::Yard::leaving_changed, this, [this] {
        if (isVisible()) refill();
    });
    connect(&yard_, &app::Yard::notes_changed, this, [this] {
        if (isVisible() && thing() == Thing::new_review) show_thing();
    });
    connect(&writer_, &app::FilmWriter::finished, this, [this](const QString& line, bool written) {
        emit say(line);
        put_waiting(written);
    });
    connect(&writer_, &app::FilmWriter::wants_face, this,
            [this](store::ClipId clip, int frame) { emit open_moment(clip, frame); });
    connect(&bundles_, &app::Bundles::finished, this,
            [this](const QString&, bool good) { put_waiting(good); });
    connect(&maker_, &app::PageMaker::made, this, [this](const app::MadePage& made) {
        // Another rider was opened meanwhile, or a page for a child is wanted.
        if (std::exchange(anew_, false) || made.rider != rider_) return make_page();
        page_ = made;
        show_page();
    });
    connect(&maker_, &app::PageMaker::failed, this, [this](const QString& line) {
        if (std::exchange(anew_, false) || maker_.rider() != rider_) return make_page();
        page_trouble_ = line;
        show_page();
    });
}

void HandOverView::build() {
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(20, 12, 20, 8);
    all->setSpacing(20);
    auto* left = new QVBoxLayout;
    left->setSpacing(4);
    about_ = quiet_label({}, this);
    about_->setWordWrap(true);
    things_ = new QListWidget(this);
    things_->setAccessibleName(tr("What the rider gets"));
    things_->setItemDelegate(new ThingDelegate(things_));
    things_->setFocusPolicy(Qt::NoFocus);
    things_->setUniformItemSizes(true);
    left->addWidget(about_);
    left->addSpacing(8);
    left->addWidget(things_, 1);
    auto* beside = new QWidget(this);
    beside->setLayout(left);
    beside->setFixedWidth(scaled_px(264));
    all->addWidget(beside);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    build_stack();
    right->addWidget(stack_, 1);
    keys_ = new DeedsLine([this](const QString& id) { return deeds_.find(id); }, this);
    right->addWidget(keys_);
    all->addLayout(right, 1);
    connect(things_, &QListWidget::currentRowChanged, this, &HandOverView::show_thing);
}

/// What is handed over, one at a time.
void HandOverView::build_stack() {
    stack_ = new QStackedWidget(this);
    auto* telling = new QWidget(stack_);
    auto* rows = new QVBoxLayout(telling);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(6);
    picture_ = new TellingPicture(desk_, telling);
    wave_ = new WaveStrip(desk_, telling);
    rows->addWidget(picture_, 1);
    rows->addWidget(wave_);
    page_label_ = new QLabel;
    page_label_->setAlignment(Qt::AlignHCenter | Qt::AlignTop);
    page_label_->setWordWrap(true);
    page_label_->setAccessibleName(tr("The page as it will be printed"));
    page_area_ = scrolled(page_label_, stack_);
    message_ = new QPlainTextEdit(stack_);
    message_->setAccessibleName(tr("The message"));
    message_->document()->setDefaultFont(text_font(18));
    message_->setStyleSheet(QString("font-size: %1px").arg(scaled_px(18)));
    message_->setMaximumWidth(scaled_px(760));
    stack_->addWidget(telling);
    stack_->addWidget(page_area_);
    stack_->addWidget(message_);
    about_file_ = text_label({}, stack_, 18);
    about_file_->setWordWrap(true);
    about_file_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    about_file_->setMaximumWidth(scaled_px(640));
    stack_->addWidget(about_file_);
    start_ = new StartPanel(
        thumbs_, [this](const QString& id) { return deeds_.find(id); }, stack_);
    stack_->addWidget(start_);
}

void HandOverView::build_deeds() {
    const auto deed = [this](const char* id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, std::move(act));
    };
    deed("thing_above", tr("The one above"),
         [this] { things_->setCurrentRow(std::max(0, things_->currentRow() - 1)); });
    deed("thing_below", tr("The one below"),
         [this] { things_->setCurrentRow(std::min(things_->count() - 1, things_->currentRow() + 1)); });
    deed("talk_new", tr("To the bench, and talk"), [this] {
        if (clip_) emit talk_new();
    });
    deed("from_notes", tr("Make a review from my notes"), [this] { from_notes(); });
    deed("for_child", tr("A page for a child, for a grown-up"), [this] {
        child_ = !(page_ ? page_->page.child : child_.value_or(false));
        make_page();
    });
    deed("copy_message", tr("Copy the message"), [this] {
        if (thing() != Thing::message || !page_) return;
        const QString line = app::hand_over(
            yard_, page_->permit, {"message", tr("the message").toStdString(), tr("clipboard"), false},
            [this] { QGuiApplication::clipboard()->setText(message_->toPlainText()); });
        emit say(line.isEmpty() ? tr("Copied; paste it where you write to the rider.") : line);
    });
    deed("write_it", tr("Write it as a file"), [this] {
        const QString file = ask_for_file();
        if (file.isEmpty()) return;
        if (const QString line = write(file); !line.isEmpty()) emit say(line);
    });
    deed("into_outbox", tr("Into the outbox"), [this] { to_outbox(); });
    deed("size_limit", tr("How large it may be"), [this] {
        const auto at = std::find(kSizes.begin(), kSizes.end(), wish_.most_mb);
        wish_.most_mb = at == kSizes.end() || std::next(at) == kSizes.end() ? kSizes.front() : *std::next(at);
        emit say(wish_.most_mb == 0 ? tr("As large as it becomes.")
                                    : tr("At most %1 MB.").arg(wish_.most_mb));
        tell_keys();
    });
    deed("burn_captions", tr("Captions in the picture: on, off"), [this] {
        wish_.burn = !wish_.burn;
        emit say(wish_.burn
                     ? tr("Captions stand in the picture too.")
                     : tr("Captions go along as a text track; without a voice they stand in the picture."));
        tell_keys();
    });
}

void HandOverView::build_cutting() {
    const auto deed = [this](const char* id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, [this, act = std::move(act)] {
            if (thing() == Thing::review && desk_.is_open()) act();
        });
    };
    const auto told = [this](const QString& line) { emit say(line); };
    deed("play_review", tr("Play, pause"), [this] { desk_.playing() ? desk_.pause() : desk_.play(); });
    deed("second_back", tr("A second back"), [this] { desk_.go_to(desk_.at_s() - 1); });
    deed("second_on", tr("A second on"), [this] { desk_.go_to(desk_.at_s() + 1); });
    deed("chapter_before", tr("Chapter before"), [this] {
        double to = 0;
        for (const core::Chapter& c : desk_.telling().chapters()) {
            if (c.at_s < desk_.at_s() - 0.5) to = c.at_s;
        }
        desk_.go_to(to);
    });
    deed("chapter_next", tr("Next chapter"), [this] {
        for (const core::Chapter& c : desk_.telling().chapters()) {
            if (c.at_s > desk_.at_s() + 0.01) return desk_.go_to(c.at_s);
        }
    });
    deed("choose_from", tr("Choose from here"), [this] {
        const double to = desk_.chosen() ? desk_.chosen()->to_s : desk_.telling().length_s();
        desk_.choose(core::Cut{desk_.at_s(), std::max(to, desk_.at_s())});
    });
    deed("choose_to", tr("Choose to here"), [this] {
        const double from = desk_.chosen() ? desk_.chosen()->from_s : 0;
        desk_.choose(core::Cut{std::min(from, desk_.at_s()), desk_.at_s()});
    });
    deed("leave_out", tr("Leave out what is chosen"), [this, told] { told(desk_.leave_out()); });
    deed("begin_here", tr("Begin here"), [this, told] { told(desk_.begin_here()); });
    deed("end_here", tr("End here"), [this, told] { told(desk_.end_here()); });
    deed("shorten_pause", tr("Shorten the next pause"), [this, told] { told(desk_.shorten_pause()); });
    deed("shorten_all", tr("Shorten all pauses"), [this, told] { told(desk_.shorten_all_pauses()); });
    deed("talk_on", tr("Talk anew from here"), [this] { talk_on(false); });
    deed("talk_chapter", tr("Talk this chapter anew"), [this] { talk_on(true); });
    deed("take_review_away", tr("Take the review away"), [this] {
        desk_.remove();
        emit say(tr("Taken away; [undo] brings it back."));
    });
}

HandOverView::Thing HandOverView::thing() const {
    const QListWidgetItem* item = things_->currentItem();
    return item ? static_cast<Thing>(item->data(kThingRole).toInt()) : Thing::new_review;
}

void HandOverView::begin(store::RiderId rider, store::ClipId clip, int slot, const media::ClipFacts& facts) {
    if (rider != rider_) {  // another rider's words, page and permit
        child_.reset();
        message_->clear();
        message_->document()->setModified(false);
    }
    rider_ = rider;
    clip_ = clip;
    slot_ = slot;
    facts_ = facts;
    page_.reset();
    page_trouble_.clear();
    refill();
    if (things_->currentRow() < 0) things_->setCurrentRow(0);
    show_thing();
    setFocus();
}

void HandOverView::leave() { desk_.pause(); }

void HandOverView::show_review(store::SpokenId id) {
    refill();
    for (int i = 0; i < things_->count(); ++i) {
        if (things_->item(i)->data(kSpokenRole).toLongLong() == id.value) things_->setCurrentRow(i);
    }
    desk_.open(id);
    show_thing();
}

void HandOverView::refill() {
    const auto rider = yard_.records().people.rider(rider_);
    const auto permit =
        rider ? app::ask_for_rider(yard_, rider_, app::Use::clip)
              : app::PermitOrLine(tl::unexpected(tr("Open a clip first, or choose a rider in the yard.")));
    about_->setText(!permit                  ? permit.error()
                    : permit->covers_faces() ? tr("May leave, face covered.")
                                             : tr("May leave, face to be seen."));
    const auto was = things_->currentItem() ? things_->currentItem()->data(kSpokenRole).toLongLong() : 0;
    const int row = std::max(0, things_->currentRow());
    const QSignalBlocker quiet(things_);
    things_->clear();
    const auto add = [this](Thing t, const QString& title, const QString& under, store::SpokenId id = {}) {
        auto* item = new QListWidgetItem(title);
        item->setData(ThingDelegate::kUnderRole, under);
        item->setData(Qt::AccessibleDescriptionRole, under);
        item->setData(kThingRole, static_cast<int>(t));
        item->setData(kSpokenRole, static_cast<qlonglong>(id.value));
        things_->addItem(item);
    };
    if (clip_) {
        for (const store::Spoken& s : yard_.records().leaving.spoken_over(clip_)) {
            QString length;
            try {
                length = tr("%1 s").arg(core::read_telling(s.timeline).length_s(), 0, 'f', 0);
            } catch (const core::Refused& e) {
                length = QString::fromUtf8(e.what());
            }
            add(Thing::review, s.title.empty() ? tr("Spoken review") : text(s.title),
                spoken_date(text(s.made_at.substr(0, 10))) + ", " + length, s.id);
        }
        add(Thing::new_review, tr("A new spoken review"),
            tr("talk over the clip on the bench, or from notes"));
    }
    if (rider) {
        add(Thing::page, tr("The page"), tr("to pin up, or as one web page"));
        add(Thing::message, tr("The message"), tr("to paste, good first"));
        const auto rides = app::rides_with_clips(yard_, rider_).size();
        if (rides > 0)
            add(Thing::bundle, tr("A bundle for another yard"),
                rides == 1 ? tr("one ride with films and marks")
                           : tr("%1 rides with films and marks").arg(rides));
        add(Thing::tables, tr("Tables"), tr("rides, findings, measures, strides, log"));
    }
    things_->setCurrentRow(std::min(row, things_->count() - 1));
    for (int i = 0; i < things_->count(); ++i) {
        if (was != 0 && things_->item(i)->data(kSpokenRole).toLongLong() == was) things_->setCurrentRow(i);
    }
    tell_keys();
}

void HandOverView::show_thing() {
    const QListWidgetItem* item = things_->currentItem();
    const store::SpokenId id{item ? item->data(kSpokenRole).toLongLong() : 0};
    if (thing() == Thing::review) {
        if (desk_.spoken().id != id) {
            if (const QString line = desk_.open(id); !line.isEmpty()) emit say(line);
        }
    } else if (desk_.is_open()) {
        desk_.open({});
    }
    QWidget* shown = nullptr;
    switch (thing()) {
        case Thing::review:
            shown = stack_->widget(0);
            break;
        case Thing::new_review:
            show_start();
            shown = start_;
            break;
        case Thing::page:
            shown = page_area_;
            break;
        case Thing::message:
            shown = message_;
            break;
        case Thing::bundle:
        case Thing::tables:
            about_file_->setText(thing() == Thing::bundle ? about_bundle() : about_tables());
            shown = about_file_;
            break;
    }
    stack_->setCurrentWidget(shown);
    if ((thing() == Thing::page || thing() == Thing::message) && !page_ && page_trouble_.isEmpty())
        make_page();
    wave_->setVisible(thing() == Thing::review);
    show_page();
    tell_keys();
}

void HandOverView::make_page() {
    page_.reset();
    page_trouble_.clear();
    anew_ = maker_.busy();  // what is under way is not this one; when it is there this is made
    try {
        app::PageDraft draft = app::page_of(yard_, rider_, nullptr, {}, child_);
        const auto asked = app::ask_for_page(yard_, rider_, draft);
        if (!asked)
            page_trouble_ = asked.error();
        else if (!anew_)
            page_trouble_ = maker_.start(rider_, std::move(draft), *asked);
    } catch (const core::Refused& e) {
        page_trouble_ = QString::fromUtf8(e.what());
    }
    show_page();
}

void HandOverView::show_page() {
    if (page_) {
        const double ratio = devicePixelRatioF();
        const int wide = std::clamp(page_area_->viewport()->width() - 24, 320, 900);
        QImage picture = exchange::page_picture(page_->page, static_cast<int>(wide * ratio));
        picture.setDevicePixelRatio(ratio);
        page_label_->setPixmap(QPixmap::fromImage(picture));
        if (!message_->document()->isModified()) message_->setPlainText(exchange::message_text(page_->page));
        return;
    }
    page_label_->setFont(text_font(18));
    page_label_->setText(page_trouble_.isEmpty() ? tr("The page is being made …") : page_trouble_);
    message_->setPlaceholderText(page_trouble_);
    if (!page_trouble_.isEmpty()) message_->clear();
}

void HandOverView::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    if (thing() == Thing::page) show_page();
}

void HandOverView::tell_keys() {
    using Deeds = std::vector<DeedsLine::Deed>;
    const DeedsLine::Deed outbox{"into_outbox", tr("Into the outbox")};
    switch (thing()) {
        case Thing::review:
            if (!desk_.is_open()) return keys_->show_deeds({});
            return keys_->show_deeds({{"write_it", tr("Write the film")},
                                      {"play_review", desk_.playing() ? tr("Pause") : tr("Play")},
                                      {"shorten_all", tr("Shorten all pauses")},
                                      outbox});
        case Thing::new_review:
            return keys_->show_deeds({});  // they stand in the panel
        case Thing::page:
            return keys_->show_deeds({{"write_it", tr("Save as PDF or web page")},
                                      outbox,
                                      {"for_child", tr("For a child, for a grown-up")}});
        case Thing::message:
            return keys_->show_deeds({{"copy_message", tr("Copy the message")}, outbox});
        case Thing::bundle:
            return keys_->show_deeds({{"write_it", tr("Write the bundle")}, outbox});
        case Thing::tables:
            return keys_->show_deeds(Deeds{{"write_it", tr("Write them into a folder")}});
    }
}

std::optional<core::Telling> HandOverView::told_by_notes() const {
    const auto clip = yard_.records().rides.clip(clip_);
    if (!clip || facts_.frames == 0) return std::nullopt;
    return app::telling_from_notes(yard_, *clip, slot_, facts_);
}

void HandOverView::show_start() {
    std::optional<core::Telling> told;
    try {
        told = told_by_notes();
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
    start_->offer(clip_ ? yard_.records().rides.clip(clip_) : std::nullopt, told);
}

void HandOverView::from_notes() {
    if (!yard_.records().rides.clip(clip_) || facts_.frames == 0)
        return emit say(tr("Open a clip on the bench first."));
    try {
        const auto telling = told_by_notes();
        if (!telling)
            return emit say(
                tr("There is neither a note nor a marked finding in this clip: on the bench [note_good] and "
                   "[note_words] write one."));
        store::Spoken s;
        s.clip = clip_;
        s.slot = slot_;
        s.made_at = app::now_iso(yard_);
        s.title = tr("From my notes").toStdString();
        s.timeline = core::write_telling(*telling);
        yard_.step(tr("Make a review from notes"), [&](store::YardStore& records) { s.id = records.add(s); });
        show_review(s.id);
        emit say(tr("Made from your notes; play it and see."));
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

void HandOverView::talk_on(bool chapter_only) {
    const core::Scene scene = desk_.telling().scene(desk_.telling().raw_at(desk_.at_s()));
    const auto room = desk_.make_room(chapter_only);
    if (room) emit talk(room->spoken, room->place, {scene.shown.clip}, scene.shown.frame);
}

void HandOverView::keyPressEvent(QKeyEvent* e) {
    if (deeds_.take(*e)) return;
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_hand_over_view.cpp"
