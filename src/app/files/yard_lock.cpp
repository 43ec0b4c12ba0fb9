#include "app/files/yard_lock.hpp"

#include <QDateTime>
#include <QLockFile>

#include "core/reading/refused.hpp"

namespace aspen::app {

struct YardLock::Held {
    QLockFile file;
};

YardLock::YardLock(const std::string& folder)
    : held_(new Held{QLockFile(QString::fromStdString(folder) + "/yard.lock")}) {
    if (!held_->file.tryLock(0))
        throw core::Refused(folder + ": is open in a window; do it there, or close it first");
}
YardLock::~YardLock() = default;

std::string today_iso() { return QDate::currentDate().toString(Qt::ISODate).toStdString(); }
std::string now_utc_iso() {
    return QDateTime::currentDateTimeUtc().toString("yyyy-MM-ddThh:mm:ss").toStdString();
}

}  // namespace aspen::app
