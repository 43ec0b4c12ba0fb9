#include "ui/yard/asking_card.hpp"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/leaving/outbox.hpp"
#include "app/yard/changes.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

AskingCard::AskingCard(app::Yard& yard, QWidget* parent) : QWidget(parent), yard_(yard) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 8, 0);
    all->setSpacing(8);
    name_ = heading_label({}, this, 18);
    about_ = text_label({}, this, 14);
    about_->setWordWrap(true);
    words_ = new QPlainTextEdit(this);
    words_->setAccessibleName(tr("What is asked"));
    words_->setMinimumHeight(scaled_px(260));
    all->addWidget(name_);
    all->addWidget(about_);
    all->addWidget(words_, 3);
    auto* row = new QHBoxLayout;
    ask_ = verb_button(tr("Into the outbox"), {}, this, true);
    no_longer_ = verb_button(tr("Wait no longer"), {}, this);
    row->addWidget(ask_);
    row->addWidget(no_longer_);
    row->addStretch(1);
    all->addLayout(row);
    build_outbox(*all);
    auto* close = verb_button(tr("Close"), {}, this);
    all->addWidget(close, 0, Qt::AlignLeft);
    connect(close, &QPushButton::clicked, this, &AskingCard::closed);
    join();
}

void AskingCard::build_outbox(QVBoxLayout& all) {
    box_head_ = heading_label(tr("Outbox"), this, 18);
    all.addWidget(box_head_);
    outbox_ = new QListWidget(this);
    outbox_->setAccessibleName(tr("Outbox"));
    outbox_->setWordWrap(true);
    outbox_->setMinimumHeight(scaled_px(72));
    all.addWidget(outbox_, 1);
    auto* below = new QHBoxLayout;
    write_ = verb_button(tr("Write as files"), {}, this);
    withdraw_ = verb_button(tr("Take it out"), {}, this);
    below->addWidget(write_);
    below->addWidget(withdraw_);
    below->addStretch(1);
    all.addLayout(below);
    auto* term = new QHBoxLayout;
    term->addWidget(quiet_label(tr("Forgotten after"), this));
    wait_ = new QSpinBox(this);
    wait_->setRange(1, 90);
    wait_->setSuffix(tr(" days"));
    wait_->setButtonSymbols(QAbstractSpinBox::NoButtons);  // Up and Down turn it
    wait_->setAccessibleName(tr("Days until a promised clip counts as forgotten"));
    term->addWidget(wait_);
    term->addStretch(1);
    all.addLayout(term);
}

void AskingCard::join() {
    connect(ask_, &QPushButton::clicked, this, &AskingCard::put_in);
    connect(no_longer_, &QPushButton::clicked, this, [this] {
        if (promise_) app::close_promise(yard_, *promise_);
        emit say(tr("You wait for it no longer; [undo] takes that back."));
        emit closed();
    });
    connect(write_, &QPushButton::clicked, this, &AskingCard::write_out);
    connect(withdraw_, &QPushButton::clicked, this, [this] {
        const auto id = outbox_->currentItem() ? outbox_->currentItem()->data(Qt::UserRole).toLongLong() : 0;
        for (const store::Outgoing& o : yard_.records().following.outbox()) {
            if (o.id.value == id && o.state == "waiting") app::withdraw(yard_, o);
        }
    });
    connect(wait_, &QSpinBox::valueChanged, this, [this](int days) { app::set_days_to_wait(yard_, days); });
    connect(&yard_, &app::Yard::followed_changed, this, [this] {
        if (isVisible()) renew();
    });
}

void AskingCard::show_rider(store::RiderId rider) {
    rider_ = rider;
    asking_.reset();
    promise_.reset();
    for (const app::PromiseLine& l : app::promises(yard_)) {
        if (l.promise.rider == rider && !l.kept_by) promise_ = l.promise;
    }
    const auto lanes = rider ? app::lanes_of(yard_.records(), yard_.knowledge(), rider, yard_.today_iso())
                             : std::vector<app::Lane>{};
    if (!lanes.empty()) asking_ = app::asking_for(yard_, lanes.front());
    words_->setPlainText(asking_ ? QString::fromStdString(asking_->message.words) : QString());
    renew();
    if (asking_) words_->setFocus();
}

void AskingCard::renew() {
    const auto rider = yard_.records().people.rider(rider_);
    const bool some = rider && asking_;
    name_->setText(rider ? text(rider->name) : tr("Messages"));
    for (QWidget* w : {static_cast<QWidget*>(words_), static_cast<QWidget*>(ask_)}) w->setVisible(some);
    no_longer_->setVisible(promise_.has_value());
    about_->setText(
        promise_ ? tr("A clip was promised for %1. Ask again, or wait no longer.")
                       .arg(spoken_date(text(promise_->due_on)))
        : some ? tr("What would tell whether it is better: change the words as you like.")
               : tr("Nothing is really sent: messages are written as files into the yard's outbox folder."));
    const int at = outbox_->currentRow();
    outbox_->clear();
    int waiting = 0;
    for (const store::Outgoing& o : yard_.records().following.outbox()) {
        if (o.state == "withdrawn") continue;
        const bool waits = o.state == "waiting";
        waiting += waits ? 1 : 0;
        auto* item = new QListWidgetItem(
            QString("%1 — %2\n%3")
                .arg(text(o.to), text(o.subject),
                     waits ? tr("waits since %1").arg(spoken_date(text(o.made_at.substr(0, 10))))
                           : tr("written: %1").arg(text(o.file))));
        item->setData(Qt::UserRole, static_cast<qlonglong>(o.id.value));
        outbox_->addItem(item);
    }
    outbox_->setCurrentRow(std::min(at, outbox_->count() - 1));
    write_->setEnabled(waiting > 0);
    withdraw_->setEnabled(waiting > 0);
    box_head_->setText(waiting == 0 ? tr("Outbox: nothing waits") : tr("Outbox: %1 wait").arg(waiting));
    const QSignalBlocker quiet(wait_);
    wait_->setValue(app::days_to_wait(yard_));
}

void AskingCard::put_in() {
    if (!asking_) return;
    asking_->message.words = words_->toPlainText().toStdString();
    promise_ = asking_->promise;
    promise_->id = app::ask_for_clip(yard_, asking_->promise, asking_->message);
    emit say(tr("In the outbox. The yard shows when the clip comes; [undo] takes it back."));
    renew();
}

void AskingCard::write_out() { emit say(app::write_outbox(yard_)); }

}  // namespace aspen::ui

#include "moc_asking_card.cpp"
