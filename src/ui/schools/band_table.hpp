#pragma once

#include <QAbstractTableModel>

#include "app/yard/yard.hpp"
#include "core/judging/schools.hpp"

namespace aspen::ui {

/// The bands of one school in one seat and phase as a plain table, beside another school's; cells of the
/// coach's own schools can be written in.
class BandTable : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { measure_column, lowest, highest, from, other, column_count };
    explicit BandTable(app::Yard& yard, QObject* parent = nullptr);
    /// `setting` says seat, gait and phase; its school is the one that is shown.
    void show(const core::Setting& setting, const std::string& other_school);

    /// The row of a measure; -1 where the table has none.
    int row_of(std::string_view measure) const;
    const core::MeasureInfo& measure(int row) const { return *rows_[static_cast<std::size_t>(row)].info; }
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    /// A number, nothing for an open limit, or "-" in the lowest for a measure that is not held.
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

  signals:
    void say(const QString& line);

  private:
    struct Row {
        const core::MeasureInfo* info = nullptr;
        core::BandOrReason here, beside;
    };
    app::Yard& yard_;
    core::Setting setting_;
    std::string other_;
    std::vector<Row> rows_;
};

/// Whether this school is the coach's own: the shipped ones stay as they ship.
bool is_own(const core::School& school);

}  // namespace aspen::ui
