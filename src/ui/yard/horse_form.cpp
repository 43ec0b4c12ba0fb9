#include "ui/yard/horse_form.hpp"

#include <QFormLayout>
#include <QPushButton>
#include <QVBoxLayout>
#include <tuple>

#include "app/review/event_log.hpp"
#include "app/yard/changes.hpp"
#include "core/motion/happening_words.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

HorseForm::HorseForm(app::Yard& yard, QWidget* parent) : QWidget(parent), yard_(yard) {
    setObjectName("panel");
    setAttribute(Qt::WA_StyledBackground);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 12, 16, 16);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(8);
    const auto field = [&](const QString& label, const QString& hint) {
        auto* edit = new QLineEdit(this);
        edit->setPlaceholderText(hint);
        edit->setAccessibleName(label);
        connect(edit, &QLineEdit::editingFinished, this, &HorseForm::keep);
        form->addRow(label, edit);
        return edit;
    };
    const auto choice = [&](const QString& label,
                            std::initializer_list<std::pair<QString, const char*>> all) {
        auto* combo = new QComboBox(this);
        combo->setAccessibleName(label);
        for (const auto& [words, value] : all) combo->addItem(words, value);
        connect(combo, &QComboBox::activated, this, &HorseForm::keep);
        form->addRow(label, combo);
        return combo;
    };
    const auto tick = [&](const QString& words) {
        auto* check = new QCheckBox(words, this);
        connect(check, &QCheckBox::toggled, this, &HorseForm::keep);
        form->addRow(QString(), check);
        return check;
    };
    name_ = field(tr("Name"), {});
    height_ = field(tr("Height"), tr("at the withers, in cm"));
    stage_ = choice(tr("Stage"), {{tr("not said"), ""},
                                  {tr("green"), "green"},
                                  {tr("schooled"), "schooled"},
                                  {tr("established"), "established"}});
    stiff_ = choice(tr("Stiff side"), {{tr("not said"), ""}, {tr("left"), "left"}, {tr("right"), "right"}});
    half_seat_ = tick(tr("goes better under a half seat"));
    cold_backed_ = tick(tr("cold-backed"));
    words_ = field(tr("Words"), tr("what else a rider should know"));
    box->addWidget(heading_label(tr("Horse's card"), this));
    box->addLayout(form);
    seen_ = quiet_label("", this);
    seen_->setAccessibleName(tr("Seen of this horse"));
    box->addWidget(seen_);
    auto* close = verb_button(tr("Close the card"), "", this);
    connect(close, &QPushButton::clicked, this, [this] {
        keep();
        emit closed();
    });
    box->addWidget(close, 0, Qt::AlignLeft);
    box->addStretch(1);
    connect(&yard_, &app::Yard::riders_changed, this, &HorseForm::load);
}

void HorseForm::show_horse(store::HorseId id) {
    id_ = id;
    load();
    name_->setFocus();
}

void HorseForm::load() {
    const auto h = id_ ? yard_.records().people.horse(id_) : std::nullopt;
    if (!h) return;
    loading_ = true;
    name_->setText(text(h->name));
    height_->setText(h->height_cm ? QString::number(*h->height_cm) : QString());
    stage_->setCurrentIndex(std::max(0, stage_->findData(text(h->stage))));
    stiff_->setCurrentIndex(std::max(0, stiff_->findData(text(h->stiff_side))));
    half_seat_->setChecked(h->half_seat_better);
    cold_backed_->setChecked(h->cold_backed);
    words_->setText(text(h->words));
    QStringList seen;  // its answers, as they were named in its rides
    for (const auto& [id, rides] : yard_.records().people.named_on(id_)) {
        const core::Fault* f = yard_.knowledge().faults.find(id);
        const bool answer =
            f && (f->kind == core::Fault::Kind::answer || f->kind == core::Fault::Kind::good_answer);
        if (answer)
            seen << tr("%1 (%2)").arg(text(f->name).toLower(),
                                      rides == 1 ? tr("one ride") : tr("%1 rides").arg(rides));
    }
    QStringList lines;
    if (!seen.isEmpty()) lines << tr("Seen of this horse: ") + seen.join(", ") + ".";
    const auto [leads, rides] = app::leads_on(yard_, id_);
    if (const std::string words = core::leads_in_words(leads); !words.empty())
        lines << (rides == 1 ? tr("Leads: %1, in one ride.").arg(text(words))
                             : tr("Leads: %1, in %2 rides.").arg(text(words)).arg(rides));
    seen_->setText(lines.join("\n"));
    loading_ = false;
}

void HorseForm::keep() {
    const auto before = id_ && !loading_ ? yard_.records().people.horse(id_) : std::nullopt;
    if (!before) return;
    store::Horse h = *before;
    if (const QString n = name_->text().trimmed(); !n.isEmpty()) h.name = n.toStdString();
    bool number = false;
    const QString said = height_->text().trimmed();
    const int cm = said.toInt(&number);
    if (said.isEmpty())
        h.height_cm.reset();
    else if (number && cm >= 60 && cm <= 220)
        h.height_cm = cm;
    else
        emit say(tr("Height: \"%1\" is not a horse's height; write centimetres from 60 to 220.").arg(said));
    h.stage = stage_->currentData().toString().toStdString();
    h.stiff_side = stiff_->currentData().toString().toStdString();
    h.half_seat_better = half_seat_->isChecked();
    h.cold_backed = cold_backed_->isChecked();
    h.words = words_->text().trimmed().toStdString();
    const auto fields = [](const store::Horse& x) {
        return std::tie(x.name, x.height_cm, x.stage, x.stiff_side, x.half_seat_better, x.cold_backed,
                        x.words);
    };
    if (fields(h) != fields(*before)) app::change_horse(yard_, h);
}

}  // namespace aspen::ui

#include "moc_horse_form.cpp"
