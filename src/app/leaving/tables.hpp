#pragma once

#include <QString>
#include <array>

#include "app/leaving/gate.hpp"

/// The records as tables: CSV, UTF-8, a header, decimals with a point (docs/formats.md).
namespace aspen::app {

enum class Table { rides, findings, measures, strides, log };
inline constexpr std::array kAllTables{Table::rides, Table::findings, Table::measures, Table::strides,
                                       Table::log};
std::string word(Table table);

/// Of the riders the permit is for.
std::string table_csv(Yard& yard, const Permit& permit, Table table);

/// Writes it, and notes that it left. Gives one line of trouble, or nothing.
QString write_table(Yard& yard, const Permit& permit, Table table, const QString& file);

}  // namespace aspen::app
