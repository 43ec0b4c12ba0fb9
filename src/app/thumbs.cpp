#include "app/thumbs.hpp"

#include <QFileInfo>
#include <QPainter>
#include <QThreadPool>

#include "app/cache_folder.hpp"
#include "app/pictures.hpp"
#include "media/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr int kWidth = 320, kHeight = 180;
constexpr int kStillWidth = 256, kStillHeight = 144;

QThreadPool& pool() {
    static QThreadPool p;
    p.setMaxThreadCount(1);
    p.setThreadPriority(QThread::LowPriority);
    return p;
}

media::VideoReader open(const std::string& file, const std::string& hash, const std::atomic<bool>& stop) {
    return media::VideoReader(file, {&stop, {}},
                              {std::size_t{32} << 20, media::OrderCache(cache_folder().toStdString(), hash)});
}

}  // namespace

Thumbs::Thumbs(Yard& yard) : QObject(&yard), yard_(yard) { yard_.folder().mkpath("cache"); }

Thumbs::~Thumbs() {
    stop_ = true;
    pool().clear();
    pool().waitForDone();
}

QImage Thumbs::find_or_make(const QString& key, const store::Clip& clip, Make make) {
    if (const auto it = ready_.constFind(key); it != ready_.constEnd()) return *it;
    if (waiting_.contains(key)) return {};
    waiting_.insert(key);
    const std::string file = yard_.file_of(clip).toStdString(), hash = clip.hash;
    const QString kept = yard_.folder().filePath("cache/" + key + ".jpg");
    pool().start([this, key, file, hash, kept, make] {
        if (stop_) return;
        QImage image(kept);
        if (image.isNull()) {
            try {
                image = make(file, hash);
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

QImage Thumbs::of(const store::Clip& clip, int frame) {
    const QString key = QString::fromStdString(clip.hash).left(16) + "-" + QString::number(frame);
    return find_or_make(key, clip, [this, frame](const std::string& file, const std::string& hash) {
        auto reader = open(file, hash, stop_);
        const QImage image =
            to_image(reader.picture(std::min(frame, reader.facts().frames - 1), kWidth * 2, kHeight * 2));
        return image.scaled(kWidth, kHeight, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    });
}

QImage Thumbs::film(const store::Clip& clip) {
    return find_or_make(
        QString::fromStdString(clip.hash).left(16) + "-film", clip,
        [this](const std::string& file, const std::string& hash) {
            auto reader = open(file, hash, stop_);
            QImage strip(kStillWidth * kStills, kStillHeight, QImage::Format_RGB32);
            strip.fill(QColor(0x17, 0x1b, 0x1a));
            QPainter p(&strip);
            for (int i = 0; i < kStills; ++i) {
                const int frame =
                    std::min(reader.facts().frames - 1, reader.facts().frames * (2 * i + 1) / (2 * kStills));
                const QImage still = to_image(reader.picture(frame, kStillWidth, kStillHeight));
                p.drawImage(i * kStillWidth + (kStillWidth - still.width()) / 2,
                            (kStillHeight - still.height()) / 2, still);
            }
            return strip;
        });
}

}  // namespace aspen::app
