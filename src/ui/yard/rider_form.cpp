#include "ui/yard/rider_form.hpp"

#include <QDate>
#include <QFormLayout>
#include <QLocale>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/leaving/consents.hpp"
#include "app/yard/changes.hpp"
#include "core/training/exercises.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/limitation_list.hpp"

namespace aspen::ui {
RiderForm::RiderForm(app::Yard& yard, QWidget* parent) : QWidget(parent), yard_(yard) {
    setObjectName("panel");
    setAttribute(Qt::WA_StyledBackground);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 12, 16, 16);
    box->addWidget(heading_label(tr("Rider's card"), this));
    box->addLayout(build_fields());
    box->addLayout(build_foot());
    box->addStretch(1);
    connect(&yard_, &app::Yard::riders_changed, this, &RiderForm::load);
    connect(&yard_, &app::Yard::leaving_changed, this, &RiderForm::load);
}

QLayout* RiderForm::build_fields() {
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(8);
    const auto field = [&](const QString& label, const QString& hint) {
        auto* edit = new QLineEdit(this);
        edit->setPlaceholderText(hint);
        edit->setAccessibleName(label);
        connect(edit, &QLineEdit::editingFinished, this, &RiderForm::keep);
        form->addRow(label, edit);
        return edit;
    };
    name_ = field(tr("Name"), "");
    year_ = field(tr("Born in"), tr("year, e.g. 2012"));
    school_ = new QComboBox(this);
    school_->addItem(tr("not said"), "");
    for (const core::School& s : yard_.knowledge().schools.all()) school_->addItem(text(s.name), text(s.id));
    form->addRow(tr("School"), school_);
    level_ = new QComboBox(this);
    level_->addItem(tr("not said"), "");
    for (const auto& [words, level] : {std::pair{tr("beginner"), "beginner"},
                                       {tr("novice"), "novice"},
                                       {tr("established"), "established"}})
        level_->addItem(words, level);
    form->addRow(tr("Level"), level_);
    goal_ = field(tr("Goal"), tr("what the rider wants"));
    limits_ = new LimitationList(yard_, this);
    connect(limits_, &LimitationList::edited, this, &RiderForm::keep);
    connect(limits_, &LimitationList::say, this, &RiderForm::say);
    form->addRow(quiet_label(tr("What to mind of the body"), this));
    form->addRow(limits_);
    auto* signs = new QVBoxLayout;
    signs->setSpacing(0);
    signed_ = std::make_unique<StandingLines>(*signs, false);
    form->addRow(quiet_label(tr("Signed off, by horse"), this));
    form->addRow(signs);
    consents_ = new QPushButton(this);
    consents_->setObjectName("word");
    consents_->setStyleSheet("text-align: left");
    consents_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(consents_, &QPushButton::clicked, this, [this] {
        keep();
        emit consents_wanted(id_);
    });
    form->addRow(quiet_label(tr("Consents, and what left"), this));
    form->addRow(consents_);
    for (QComboBox* c : {school_, level_}) connect(c, &QComboBox::activated, this, &RiderForm::keep);
    return form;
}

QLayout* RiderForm::build_foot() {
    auto* close = verb_button(tr("Close the card"), "", this);
    connect(close, &QPushButton::clicked, this, [this] {
        keep();
        emit closed();
    });
    auto* foot = new QHBoxLayout;
    foot->addWidget(close);
    auto* away = new QPushButton(tr("Put in the trash"), this);
    away->setObjectName("word");
    connect(away, &QPushButton::clicked, this, [this] {
        keep();
        app::trash_rider(yard_, id_);
        emit say(tr("In the trash, nothing is lost; [undo] or Records › Trash brings the rider back."));
        emit closed();
    });
    foot->addWidget(away);
    foot->addStretch(1);
    return foot;
}

void RiderForm::show_rider(store::RiderId id) {
    id_ = id;
    load();
    name_->setFocus();
}

void RiderForm::load() {
    const auto r = id_ ? yard_.records().people.rider(id_) : std::nullopt;
    if (!r) return;
    loading_ = true;
    name_->setText(text(r->name));
    year_->setText(r->birth_year ? QString::number(*r->birth_year) : QString());
    school_->setCurrentIndex(std::max(0, school_->findData(text(r->school))));
    level_->setCurrentIndex(std::max(0, level_->findData(text(r->level))));
    goal_->setText(text(r->goal));
    limits_->show_all(yard_.records().people.limitations(id_));
    consents_->setText(app::consents_in_short(yard_, id_) + "  ›");
    load_sign_offs();
    loading_ = false;
}

/// What the coach lets this rider do, horse by horse, each with a way back.
void RiderForm::load_sign_offs() {
    signed_->begin();
    const auto all = yard_.records().people.sign_offs(id_);
    for (const store::SignOff& s : all) {
        const auto horse = yard_.records().people.horse(s.horse);
        const QDate day = QDate::fromString(text(s.day), Qt::ISODate);
        const QString words =
            tr("%1 on %2, since %3")
                .arg(QString::fromUtf8(core::spoken_gate(s.gate).data()),
                     horse ? text(horse->name) : QString(), QLocale().toString(day, QLocale::ShortFormat));
        signed_->add(QString("%1 %2").arg(s.id.value).arg(words), [&] {
            auto* b = new QPushButton("✕  " + words, this);
            b->setObjectName("word");
            b->setStyleSheet("text-align: left");
            b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);  // a long name must not widen it
            b->setToolTip(tr("Take it back: %1").arg(words));
            b->setAccessibleName(tr("Take back: ") + words);
            connect(b, &QPushButton::clicked, this, [this, s] {
                QMetaObject::invokeMethod(
                    this, [this, s] { app::take_back_sign_off(yard_, s); }, Qt::QueuedConnection);
            });
            return b;
        });
    }
    if (all.empty())
        signed_->add(
            "none", [this] { return quiet_label(tr("nothing yet; exercises that need it offer it"), this); });
    signed_->end();
}

void RiderForm::keep() {
    const auto before = id_ && !loading_ ? yard_.records().people.rider(id_) : std::nullopt;
    if (!before) return;
    store::Rider r = *before;
    if (const QString n = name_->text().trimmed(); !n.isEmpty()) r.name = n.toStdString();
    bool number = false;
    const int year = year_->text().trimmed().toInt(&number);
    if (year_->text().trimmed().isEmpty()) {
        r.birth_year.reset();
    } else if (number && year >= 1900 && year <= yard_.today().year()) {
        r.birth_year = year;
    } else {
        emit say(tr("Born in: \"") + year_->text() +
                 tr("\" is not a year from 1900 to now; write four digits."));
    }
    r.school = school_->currentData().toString().toStdString();
    r.level = level_->currentData().toString().toStdString();
    r.goal = goal_->text().trimmed().toStdString();
    const auto same = [](const store::Rider& a, const store::Rider& b) {
        return std::tie(a.name, a.birth_year, a.school, a.level, a.goal) ==
               std::tie(b.name, b.birth_year, b.school, b.level, b.goal);
    };
    yard_.step(tr("Change rider"), [&] {
        app::set_limitations(yard_, id_, limits_->read());
        if (!same(r, *before)) app::change_rider(yard_, r);
    });
}

}  // namespace aspen::ui

#include "moc_rider_form.cpp"
