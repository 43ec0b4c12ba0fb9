#include "app/models/riders_model.hpp"

#include <QLocale>
#include <QTimer>
#include <map>

#include "app/files/text.hpp"
#include "app/yard/changes.hpp"

namespace aspen::app {
namespace {

constexpr int kRidersAfterMs = 30;

}  // namespace

RidersModel::RidersModel(Yard& yard, QObject* parent) : QAbstractListModel(parent), yard_(yard) {
    const auto later = [this] {
        if (std::exchange(pending_, true)) return;
        QTimer::singleShot(kRidersAfterMs, this, [this] {
            pending_ = false;
            refresh();
        });
    };
    connect(&yard_, &Yard::riders_changed, this, later);
    connect(&yard_, &Yard::corrections_changed, this, later);
    refresh();
}

void RidersModel::refresh() {
    std::map<store::RiderId, store::Work::Running> running;
    for (auto& r : yard_.records().work.running()) running[r.rider] = r;
    const std::string today = yard_.today_iso();
    std::vector<Row> rows;
    for (const store::Rider& r : yard_.records().people.riders()) {
        Row row{r.id, text(r.name), {}, {}};
        QStringList about;
        if (const core::School* school = yard_.knowledge().schools.find(r.school))
            about << text(school->name);
        if (!r.level.empty()) about << text(r.level);
        if (const QString limits = limitations_in_words(yard_, r.id); !limits.isEmpty())
            about << tr("mind the ") + limits;
        row.about = about.isEmpty() ? tr("nothing noted yet") : about.join(" · ");
        const auto it = running.find(r.id);
        const core::Fault* fault =
            it == running.end() ? nullptr : yard_.knowledge().faults.find(it->second.fault);
        if (fault) {
            row.work = text(fault->name);
            if (const core::Exercise* e = yard_.knowledge().exercises.find(it->second.exercise)) {
                const QDate until = QDate::fromString(text(it->second.until), Qt::ISODate);
                row.work += " · " + text(e->name) +
                            (it->second.until < today ? tr(", ended ") : tr(", until ")) +
                            QLocale().toString(until, "d MMM");
            }
        }
        rows.push_back(std::move(row));
    }
    beginResetModel();
    rows_ = std::move(rows);
    endResetModel();
}

int RidersModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QVariant RidersModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    switch (role) {
        case Qt::DisplayRole:
            return row.name;
        case Qt::AccessibleTextRole:
            return QStringList{row.name, row.about, row.work}.join(", ");
        case id_role:
            return static_cast<qlonglong>(row.id.value);
        case about_role:
            return row.about;
        case work_role:
            return row.work;
        case number_role:
            return index.row() < 9 ? index.row() + 1 : 0;
        default:
            return {};
    }
}

store::RiderId RidersModel::rider_at(int row) const {
    return row < 0 || row >= rowCount() ? store::RiderId{} : rows_[static_cast<std::size_t>(row)].id;
}
int RidersModel::row_of(store::RiderId id) const {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (rows_[i].id == id) return static_cast<int>(i);
    }
    return -1;
}

}  // namespace aspen::app

#include "moc_riders_model.cpp"
