#include "ui/schools/band_table.hpp"

#include <algorithm>
#include <sstream>

#include "app/yard/own_knowledge.hpp"
#include "core/measures/measures.hpp"
#include "core/reading/refused.hpp"
#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

QString limit_text(const std::optional<double>& v) {
    return v ? value_text(*v).remove(".0") : QObject::tr("open");
}

QString band_words(const core::BandOrReason& band) {
    if (const auto* b = std::get_if<core::Band>(&band)) return limit_text(b->lo) + " … " + limit_text(b->hi);
    return "–";
}

/// The section of a school that this setting is judged by, and the key of a measure's cell in it.
std::string section_of(const core::Setting& s) {
    return s.gait == core::Gait::jump ? "jump" : std::string(core::word(s.seat));
}
std::string key_of(const core::MeasureInfo& info, const core::Setting& s) {
    const bool by_phase =
        s.gait == core::Gait::jump || (s.seat == core::Seat::rising && info.id == "knee_angle");
    return std::string(info.id) + (by_phase && !s.phase.empty() ? "@" + s.phase : "");
}

}  // namespace

bool is_own(const core::School& school) { return school.file.starts_with("own/"); }

BandTable::BandTable(app::Yard& yard, QObject* parent) : QAbstractTableModel(parent), yard_(yard) {}

void BandTable::show(const core::Setting& setting, const std::string& other_school) {
    beginResetModel();
    setting_ = setting;
    other_ = other_school;
    rows_.clear();
    core::Setting beside = setting;
    beside.school = other_school;
    const core::Schools& schools = yard_.knowledge().schools;
    for (const auto measures : {core::measures_of(core::View::side), core::measures_of(core::View::rear),
                                core::measures_of_strides()}) {
        for (const core::MeasureInfo& info : measures) {
            Row row{&info, schools.band(info.id, setting), schools.band(info.id, beside)};
            const bool held = std::holds_alternative<core::Band>(row.here) ||
                              std::holds_alternative<core::Band>(row.beside);
            if (held) rows_.push_back(std::move(row));
        }
    }
    endResetModel();
}

int BandTable::row_of(std::string_view measure) const {
    const auto at = std::ranges::find(rows_, measure, [](const Row& r) { return r.info->id; });
    return at == rows_.end() ? -1 : static_cast<int>(at - rows_.begin());
}
int BandTable::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}
int BandTable::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : column_count; }

QVariant BandTable::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
    const core::School* beside = yard_.knowledge().schools.find(other_);
    const QString titles[] = {tr("Measure"), tr("Lowest"), tr("Highest"), tr("From"),
                              beside ? QString::fromStdString(beside->name) : QString()};
    return titles[section];
}

QVariant BandTable::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    const auto* band = std::get_if<core::Band>(&row.here);
    if (role == Qt::ToolTipRole)
        return band ? QString::fromStdString(band->why + "\n" + band->source)
                    : QString::fromStdString(std::get<std::string>(row.here));
    if (role == Qt::TextAlignmentRole && index.column() != measure_column && index.column() != from)
        return static_cast<int>(Qt::AlignRight | Qt::AlignVCenter);
    if (role == Qt::FontRole && band && band->school == setting_.school && index.column() <= highest)
        return text_font(14, true);  // its own, not a parent's
    if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
    switch (index.column()) {
        case measure_column:
            return sentence(text(row.info->spoken)) + (row.info->unit == "deg" ? " °" : " %");
        case lowest:
            if (role == Qt::EditRole) return band && band->lo ? QVariant(*band->lo) : QVariant(QString());
            return band ? limit_text(band->lo) : QString("–");
        case highest:
            if (role == Qt::EditRole) return band && band->hi ? QVariant(*band->hi) : QVariant(QString());
            return band ? limit_text(band->hi) : QString("–");
        case from: {
            if (!band) return QString::fromStdString(std::get<std::string>(row.here));
            const core::School* school = yard_.knowledge().schools.find(band->school);
            return school ? QString::fromStdString(school->name) : tr("the other bands");
        }
        default:
            return band_words(row.beside);
    }
}

Qt::ItemFlags BandTable::flags(const QModelIndex& index) const {
    Qt::ItemFlags out = QAbstractTableModel::flags(index);
    const core::School* school = yard_.knowledge().schools.find(setting_.school);
    const bool number = index.column() == lowest || index.column() == highest;
    const bool follows =
        index.isValid() && rows_[static_cast<std::size_t>(index.row())].info->id == "hip_angle";
    if (school && is_own(*school) && number && !follows) out |= Qt::ItemIsEditable;
    return out;
}

bool BandTable::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !(flags(index) & Qt::ItemIsEditable)) return false;
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    core::School school = *yard_.knowledge().schools.find(setting_.school);
    const QString words = value.toString().trimmed().replace(',', '.');
    core::School::Cell cell = std::monostate{};
    if (words != "-") {
        core::School::Range range;
        if (const auto* b = std::get_if<core::Band>(&row.here)) range = {b->lo, b->hi};
        bool is_number = false;
        const double number = words.toDouble(&is_number);
        if (!words.isEmpty() && !is_number) {
            emit say(tr("%1: is no number; write one, nothing for open, or - for not held.").arg(words));
            return false;
        }
        (index.column() == lowest ? range.lo : range.hi) =
            words.isEmpty() ? std::nullopt : std::optional(number);
        cell = range;
    }
    school.sections[section_of(setting_)].bands[key_of(*row.info, setting_)] = cell;
    std::ostringstream out;
    core::save_school(school, out);
    try {
        app::put_own_school(yard_, school.id, out.str());
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
        return false;
    }
    return true;  // the knowledge that changed shows the table anew
}

}  // namespace aspen::ui

#include "moc_band_table.cpp"
