#include "exchange/pdf_file.hpp"

#include <QSaveFile>

#include "core/reading/refused.hpp"

namespace aspen::exchange {

void write_a4(const QString& file, const QString& title, int dpi, const QMarginsF& margins_mm,
              const std::function<void(QPdfWriter& writer)>& paint) {
    QSaveFile target(file);
    if (!target.open(QIODevice::WriteOnly))
        throw core::Refused(
            (file + ": cannot be written (" + target.errorString() + "); choose another folder")
                .toStdString());
    {
        QPdfWriter writer(&target);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(margins_mm, QPageLayout::Millimeter);
        writer.setTitle(title);
        writer.setCreator("Aspen Crest");
        writer.setResolution(dpi);
        paint(writer);
    }
    if (!target.commit())
        throw core::Refused((file + ": could not be finished; check the free space").toStdString());
}

}  // namespace aspen::exchange
