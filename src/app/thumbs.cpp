#include "app/thumbs.hpp"

#include <QFileInfo>
#include <QThreadPool>

#include "app/pictures.hpp"
#include "media/video_reader.hpp"

namespace aspen::app {
namespace {
constexpr int kWidth = 320, kHeight = 180;

QThreadPool& pool() {
    static QThreadPool p;
    p.setMaxThreadCount(1);
    p.setThreadPriority(QThread::LowPriority);
    return p;
}
}  // namespace

Thumbs::Thumbs(Yard& yard) : QObject(&yard), yard_(yard) { yard_.folder().mkpath("cache"); }

Thumbs::~Thumbs() {
    stop_ = true;
    pool().clear();
    pool().waitForDone();
}

QImage Thumbs::of(const store::Clip& clip, int frame) {
    const QString key = QString::fromStdString(clip.hash).left(16) + "-" + QString::number(frame);
    if (const auto it = ready_.constFind(key); it != ready_.constEnd()) return *it;
    if (waiting_.contains(key)) return {};
    waiting_.insert(key);
    const QString file = yard_.file_of(clip);
    const QString kept = yard_.folder().filePath("cache/" + key + ".jpg");
    pool().start([this, key, file, kept, frame] {
        if (stop_) return;
        QImage image(kept);
        if (image.isNull()) {
            try {
                media::VideoReader reader(file.toStdString(), {&stop_, {}});
                image = to_image(reader.picture(std::min(frame, reader.facts().frames - 1), kWidth * 2, kHeight * 2));
                image = image.scaled(kWidth, kHeight, Qt::KeepAspectRatio, Qt::SmoothTransformation);
                image.save(kept, "JPG", 85);
            } catch (...) {
                return;  // a clip that cannot be read has no picture; opening it says why
            }
        }
        QMetaObject::invokeMethod(this, [this, key, image] {
            ready_[key] = image;
            emit changed();
        });
    });
    return {};
}

}  // namespace aspen::app
