#include "ui/yard/consent_card.hpp"

#include <QFormLayout>
#include <QHBoxLayout>

#include "core/reading/refused.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

QString title(app::Use use) {
    return use == app::Use::page   ? ConsentCard::tr("Pages, tables, messages")
           : use == app::Use::clip ? ConsentCard::tr("Pictures, films, bundles")
                                   : ConsentCard::tr("Shown to others, to teach");
}

}  // namespace

ConsentCard::ConsentCard(app::Yard& yard, QWidget* parent) : QWidget(parent), yard_(yard) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 8, 0);
    all->setSpacing(8);
    name_ = heading_label({}, this, 18);
    about_ = text_label({}, this, 14);
    about_->setWordWrap(true);
    auto* uses = new QVBoxLayout;
    uses->setSpacing(12);
    uses_ = std::make_unique<StandingLines>(*uses, false);
    all->addWidget(name_);
    all->addWidget(about_);
    all->addSpacing(8);
    all->addLayout(uses);
    form_ = form();
    all->addWidget(form_);
    all->addSpacing(8);
    log_head_ = heading_label({}, this, 18);
    all->addWidget(log_head_);
    log_ = new QListWidget(this);
    log_->setAccessibleName(tr("What left"));
    log_->setWordWrap(true);
    log_->setMinimumHeight(scaled_px(96));
    all->addWidget(log_, 1);
    auto* close = verb_button(tr("Back to the card"), {}, this);
    all->addWidget(close, 0, Qt::AlignLeft);
    all->addStretch(1);
    connect(close, &QPushButton::clicked, this, &ConsentCard::closed);
    connect(&yard_, &app::Yard::leaving_changed, this, [this] {
        if (isVisible()) renew();
    });
}

QWidget* ConsentCard::form() {
    auto* box = new QWidget(this);
    auto* rows = new QFormLayout(box);
    rows->setContentsMargins(0, 0, 0, 0);
    for_ = heading_label({}, box);
    by_ = new QLineEdit(box);
    by_->setPlaceholderText(tr("who agreed, in words"));
    on_ = new QLineEdit(box);
    until_ = new QLineEdit(box);
    until_->setPlaceholderText(tr("open end"));
    face_ = new QCheckBox(tr("The face may be seen"), box);
    keep_ = verb_button(tr("Record it"), {}, box, true);
    rows->addRow(for_);
    rows->addRow(tr("Agreed by"), by_);
    rows->addRow(tr("on"), on_);
    rows->addRow(tr("until"), until_);
    rows->addRow(QString(), face_);
    rows->addRow(QString(), keep_);
    connect(keep_, &QPushButton::clicked, this, &ConsentCard::give);
    connect(by_, &QLineEdit::returnPressed, this, &ConsentCard::give);
    box->setVisible(false);
    return box;
}

void ConsentCard::show_rider(store::RiderId rider) {
    rider_ = rider;
    recording_.reset();
    renew();
}

void ConsentCard::record(app::Use use) {
    recording_ = use;
    const auto rider = yard_.records().people.rider(rider_);
    const bool minor = rider && app::is_minor(*rider, yard_.today());
    by_->setText(rider && !minor ? text(rider->name) : QString());
    on_->setText(yard_.today().toString(Qt::ISODate));
    until_->setText(yard_.today().addYears(1).toString(Qt::ISODate));
    face_->setChecked(false);
    face_->setEnabled(!minor);
    face_->setToolTip(minor ? tr("A minor's face never leaves bare.") : QString());
    renew();
    by_->setFocus();
}

void ConsentCard::give() {
    if (!recording_) return;
    store::Consent c;
    c.rider = rider_;
    c.use = app::word(*recording_);
    c.given_by = by_->text().trimmed().toStdString();
    c.given_on = on_->text().trimmed().toStdString();
    c.until = until_->text().trimmed().toStdString();
    c.face = face_->isChecked();
    try {
        app::give_consent(yard_, c);
        recording_.reset();
        emit say(tr("Recorded; it holds until it ends or is withdrawn here."));
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
    renew();
}

/// A use with what was agreed to for it, and the way to record or withdraw it.
QWidget* ConsentCard::row_of(const app::ConsentLine& l, bool held) {
    auto* row = new QWidget(this);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* words = new QVBoxLayout;
    words->setSpacing(0);
    words->addWidget(heading_label(title(l.use), row, 14));
    auto* state = quiet_label((l.open ? QString() : tr("Stays here: ")) + l.words, row);
    state->setWordWrap(true);
    words->addWidget(state);
    line->addLayout(words, 1);
    auto* act = new QPushButton(held ? tr("Withdraw") : tr("Record"), row);
    act->setObjectName("word");
    act->setAccessibleName((held ? tr("Withdraw: ") : tr("Record: ")) + title(l.use));
    connect(act, &QPushButton::clicked, this, [this, l, held] {
        QMetaObject::invokeMethod(
            this,
            [this, l, held] {
                if (!held) return record(l.use);
                app::withdraw_consent(yard_, *l.consent);
                const auto gone = app::what_left(yard_, rider_, l.use).size();
                emit say(gone == 0 ? tr("Withdrawn; nothing had left for it.")
                                   : tr("Withdrawn. What left for it before stands below: %1.").arg(gone));
            },
            Qt::QueuedConnection);
    });
    line->addWidget(act, 0, Qt::AlignTop);
    return row;
}

void ConsentCard::renew() {
    const auto rider = yard_.records().people.rider(rider_);
    name_->setText(rider ? text(rider->name) : QString());
    about_->setText(
        rider && app::is_minor(*rider, yard_.today())
            ? tr("A minor: what is not agreed to here does not leave, and the face stays covered.")
            : tr("What is withdrawn or has run out does not leave."));
    uses_->begin();
    for (const app::ConsentLine& l : app::consents(yard_, rider_)) {
        const bool held = l.consent && app::holds(*l.consent, yard_.today());
        const QString says = QString("%1 %2 %3 %4").arg(title(l.use)).arg(l.open).arg(held).arg(l.words) +
                             (l.consent ? QString::number(l.consent->id.value) : QString());
        uses_->add(says, [&] { return row_of(l, held); });
    }
    uses_->end();
    form_->setVisible(recording_.has_value());
    if (recording_) for_->setText(title(*recording_));
    log_->clear();
    const QStringList left = app::what_left(yard_, rider_);
    log_->addItems(left);
    log_->setVisible(!left.isEmpty());
    log_head_->setText(left.isEmpty() ? tr("Nothing left this machine yet")
                                      : tr("What left: %1").arg(left.size()));
}

}  // namespace aspen::ui

#include "moc_consent_card.cpp"
