#pragma once

#include <QMarginsF>
#include <QPdfWriter>
#include <QString>
#include <functional>

namespace aspen::exchange {

/// Writes an A4 PDF with margins in millimetres; the file gets its name when it is whole. Throws
/// core::Refused when it cannot be written.
void write_a4(const QString& file, const QString& title, int dpi, const QMarginsF& margins_mm,
              const std::function<void(QPdfWriter& writer)>& paint);

}  // namespace aspen::exchange
