#include "app/files/cache_folder.hpp"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

#include "app/files/private_folder.hpp"

namespace aspen::app {
namespace {

constexpr qint64 kBudgetBytes = qint64{2} << 30;

void drop_oldest(const QDir& folder) {
    qint64 used = 0;
    for (const QFileInfo& f : folder.entryInfoList(QDir::Files, QDir::Time)) {  // newest first
        used += f.size();
        if (used > kBudgetBytes) QFile::remove(f.filePath());
    }
}

}  // namespace

QString cache_folder() {
    static const QString path = [] {
        const QString p =
            QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) + "/aspen-crest/clips";
        make_private_folder(QFileInfo(p).path());
        make_private_folder(p);
        drop_oldest(QDir(p));
        return p;
    }();
    return path;
}

}  // namespace aspen::app
