#include "ui/yard/limitation_list.hpp"

#include <QComboBox>
#include <QDate>
#include <QLabel>
#include <QLineEdit>
#include <algorithm>
#include <tuple>

#include "ui/shared/widgets.hpp"

namespace aspen::ui {

struct LimitationList::Row : QWidget {
    using QWidget::QWidget;
    store::Limitation as_read;
    QLineEdit *words = nullptr, *since = nullptr, *until = nullptr;
    QLineEdit *cleared_by = nullptr, *cleared_from = nullptr, *cleared_until = nullptr;
    QLabel* holds = nullptr;  ///< why all work waits
    QComboBox *side = nullptr, *loads = nullptr;
};

LimitationList::LimitationList(app::Yard& yard, QWidget* parent) : QWidget(parent), yard_(yard) {
    rows_layout_ = new QVBoxLayout(this);
    rows_layout_->setContentsMargins(0, 0, 0, 0);
    rows_layout_->setSpacing(8);
}

void LimitationList::add_row(const store::Limitation& l) {
    auto* row = new Row(this);
    row->as_read = l;
    auto* box = new QVBoxLayout(row);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    const auto field = [&](const std::string& value, const QString& name, const QString& hint) {
        auto* edit = new QLineEdit(text(value), row);
        edit->setAccessibleName(name);
        edit->setPlaceholderText(hint);
        connect(edit, &QLineEdit::editingFinished, this, &LimitationList::edited);
        return edit;
    };
    row->words = field(l.words, tr("What to mind"), tr("hip, knee replacement, back …"));
    box->addWidget(row->words);
    auto* more = new QHBoxLayout;
    more->setSpacing(4);
    row->side = new QComboBox(row);
    row->side->setAccessibleName(tr("Which side"));
    for (const auto& [words, side] :
         {std::pair{tr("side"), ""}, {tr("left"), "left"}, {tr("right"), "right"}, {tr("both"), "both"}})
        row->side->addItem(words, side);
    row->side->setCurrentIndex(std::max(0, row->side->findData(text(l.side))));
    connect(row->side, &QComboBox::activated, this, &LimitationList::edited);
    row->since = field(l.since, tr("Since"), tr("since"));
    row->until = field(l.until, tr("Until"), tr("until"));
    more->addWidget(row->side);
    more->addWidget(row->since, 1);
    more->addWidget(row->until, 1);
    box->addLayout(more);
    row->loads = new QComboBox(row);
    row->loads->setAccessibleName(tr("What it keeps from being loaded"));
    row->loads->addItem(QString(), "");
    for (const std::string& part : yard_.knowledge().exercises.parts())
        row->loads->addItem(tr("I say: the %1").arg(text(part)), text(part));
    row->loads->addItem(tr("I say: nothing is held back"), "nothing");
    if (row->loads->findData(text(l.loads)) < 0) row->loads->addItem(text(l.loads), text(l.loads));
    row->loads->setCurrentIndex(row->loads->findData(text(l.loads)));
    connect(row->loads, &QComboBox::activated, this, &LimitationList::edited);
    connect(row->words, &QLineEdit::textChanged, row, [this, row] { say_understood(*row); });
    box->addWidget(row->loads);
    row->holds = new QLabel(row);
    row->holds->setWordWrap(true);
    box->addWidget(row->holds);
    auto* cleared = new QHBoxLayout;
    cleared->setSpacing(4);
    row->cleared_by = field(l.cleared_by, tr("Cleared by"), tr("cleared by: doctor, physiotherapist …"));
    row->cleared_from = field(l.cleared_from, tr("Cleared from"), tr("from"));
    row->cleared_until = field(l.cleared_until, tr("Cleared until"), tr("until"));
    cleared->addWidget(row->cleared_by, 2);
    cleared->addWidget(row->cleared_from, 1);
    cleared->addWidget(row->cleared_until, 1);
    box->addLayout(cleared);
    connect(row->since, &QLineEdit::textChanged, row, [this, row] { say_understood(*row); });
    say_understood(*row);
    rows_.push_back(row);
    rows_layout_->addWidget(row);
}

/// The first choice says how the words read by themselves; an empty row has nothing to say.
void LimitationList::say_understood(Row& row) const {
    const std::string words = row.words->text().simplified().toStdString();
    row.loads->setVisible(!words.empty());
    const core::BodyReading read = yard_.knowledge().exercises.body().read(
        words, row.since->text().trimmed().toStdString(), yard_.today_iso());
    QStringList named;
    for (const std::string& p : read.parts) named << text(p);
    const bool holds = !words.empty() && !read.holds.empty();
    const QString spared = named.isEmpty() ? tr("nothing is held back") : named.join(", ");
    row.loads->setItemText(0, holds             ? tr("once cleared: %1").arg(spared)
                              : named.isEmpty() ? spared
                                                : tr("read as: %1").arg(spared));
    row.holds->setText(holds ? tr("Holds all work (%1) until somebody clears it.").arg(text(read.holds))
                             : QString());
    row.holds->setVisible(holds);
    const bool cleared = !row.cleared_by->text().trimmed().isEmpty();
    for (QLineEdit* edit : {row.cleared_by, row.cleared_from, row.cleared_until})
        edit->setVisible(holds || cleared);
}

/// What is shown already stays, so that the field one is writing in keeps its cursor.
void LimitationList::show_all(const std::vector<store::Limitation>& limitations) {
    const auto alike = [](const store::Limitation& a, const store::Limitation& b) {
        const auto all = [](const store::Limitation& l) {
            return std::tie(l.words, l.side, l.since, l.until, l.loads, l.cleared_by, l.cleared_from,
                            l.cleared_until);
        };
        return all(a) == all(b);
    };
    if (!rows_.empty() && rows_.size() >= limitations.size() &&
        std::ranges::equal(read(), limitations, alike)) {
        std::size_t at = 0;
        for (Row* row : rows_) {
            if (!row->words->text().trimmed().isEmpty()) row->as_read = limitations[at++];
        }
        if (!rows_.back()->words->text().trimmed().isEmpty()) add_row({});
        return;
    }
    clear(*rows_layout_);
    rows_.clear();
    for (const store::Limitation& l : limitations) add_row(l);
    add_row({});
}

std::vector<store::Limitation> LimitationList::read() {
    std::vector<store::Limitation> out;
    for (const Row* row : rows_) {
        store::Limitation l = row->as_read;
        l.words = row->words->text().simplified().toStdString();
        if (l.words.empty()) continue;
        l.side = row->side->currentData().toString().toStdString();
        l.loads = row->loads->currentData().toString().toStdString();
        l.cleared_by = row->cleared_by->text().simplified().toStdString();
        for (const auto& [edit, day] : {std::pair{row->since, &l.since},
                                        {row->until, &l.until},
                                        {row->cleared_from, &l.cleared_from},
                                        {row->cleared_until, &l.cleared_until}}) {
            const QString said = edit->text().trimmed();
            if (said.isEmpty() || QDate::fromString(said, Qt::ISODate).isValid())
                *day = said.toStdString();
            else
                emit say(tr("%1: \"%2\" is not a date; write it as 2026-11-24.")
                             .arg(edit->accessibleName(), said));
        }
        out.push_back(l);
    }
    return out;
}

}  // namespace aspen::ui

#include "moc_limitation_list.cpp"
