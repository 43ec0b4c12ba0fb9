#include "app/files/yard_lock.hpp"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <QDateTime>
#include <QObject>
#include <array>
#include <cerrno>
#include <utility>

#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

/// The number of the program that wrote it; 0 where none is written yet.
int writer_of(int file) {
    std::array<char, 16> text{};
    return ::pread(file, text.data(), text.size() - 1, 0) > 0 ? std::atoi(text.data()) : 0;
}

}  // namespace

YardLock::YardLock(const std::string& folder, int wait_ms) {
    constexpr int kStepMs = 20;
    held_ = ::open((folder + "/yard.lock").c_str(), O_RDWR | O_CREAT | O_CLOEXEC, S_IRUSR | S_IWUSR);
    if (held_ < 0) return;  // who opens the records there says better what is wrong with the folder
    for (int left = wait_ms; ::flock(held_, LOCK_EX | LOCK_NB) != 0; left -= kStepMs) {
        if (errno != EWOULDBLOCK && errno != EINTR) return;  // no such locks on this file system
        if (left > 0) {
            ::usleep(kStepMs * 1000);
            continue;
        }
        const int who = writer_of(held_);
        ::close(std::exchange(held_, -1));
        throw core::Refused(
            (QString::fromStdString(folder) +
             QObject::tr(": this yard is open in another window (process %1); go on there, or "
                         "close it first")
                 .arg(who))
                .toStdString());
    }
    const std::string own = std::to_string(::getpid()) + "\n";
    if (::ftruncate(held_, 0) != 0 || ::pwrite(held_, own.data(), own.size(), 0) < 0) return;
}
YardLock::~YardLock() {
    if (held_ >= 0) ::close(held_);
}

std::string today_iso() { return QDate::currentDate().toString(Qt::ISODate).toStdString(); }
std::string now_utc_iso() {
    return QDateTime::currentDateTimeUtc().toString("yyyy-MM-ddThh:mm:ss").toStdString();
}

}  // namespace aspen::app
