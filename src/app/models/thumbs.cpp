#include "app/models/thumbs.hpp"

#include <QFileInfo>
#include <QPainter>
#include <QSaveFile>
#include <algorithm>

#include "app/files/cache_folder.hpp"
#include "app/files/private_folder.hpp"
#include "app/review/pictures.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr int kWidth = 320, kHeight = 180;
constexpr int kBlackBelow = 14;
constexpr int kKeptBytes = 48 << 20;
constexpr int kStillWidth = 256, kStillHeight = 144;

media::VideoReader open(const std::string& file, const std::string& hash, const std::atomic<bool>& stop) {
    return media::VideoReader(file, {&stop, {}},
                              {std::size_t{32} << 20, media::OrderCache(cache_folder().toStdString(), hash)});
}

/// Hardly anything to see on it.
bool is_black(const QImage& picture) {
    const QImage small = picture.scaled(16, 9).convertToFormat(QImage::Format_Grayscale8);
    int sum = 0;
    for (int y = 0; y < small.height(); ++y) {
        for (int x = 0; x < small.width(); ++x) sum += qGray(small.pixel(x, y));
    }
    return sum < kBlackBelow * small.width() * small.height();
}

}  // namespace

Thumbs::Thumbs(Yard& yard) : QObject(&yard), yard_(yard), ready_(kKeptBytes) {
    make_private_folder(yard_.folder().filePath("cache"));
}

QImage Thumbs::find_or_make(const QString& key, const store::Clip& clip, Make make) {
    if (const QImage* there = ready_.object(key)) return *there;
    if (waiting_.contains(key)) return {};
    waiting_.insert(key);
    const std::string file = yard_.file_of(clip).toStdString(), hash = clip.hash;
    const QString kept = yard_.folder().filePath("cache/" + key + ".jpg");
    yard_.jobs().run_quietly(
        JobLane::thumbs, tr("Small picture"), this,
        [file, hash, kept, make](Job& job) {
            QImage image(kept);
            if (image.isNull()) {
                image = make(file, hash, job.stopped());
                QSaveFile out(kept);
                if (out.open(QIODevice::WriteOnly) && image.save(&out, "JPG", 85)) out.commit();
            }
            return image;
        },
        [this, key](const Outcome<QImage>& made) {
            if (!made.value) return;  // a clip that cannot be read has no picture; opening it says why
            waiting_.remove(key);
            ready_.insert(key, new QImage(*made.value), std::max<qsizetype>(1, made.value->sizeInBytes()));
            emit changed();
        });
    return {};
}

QImage Thumbs::of(const store::Clip& clip, int frame) {
    const QString key = QString::fromStdString(clip.hash).left(16) + "-" + QString::number(frame);
    return find_or_make(
        key, clip, [frame](const std::string& file, const std::string& hash, const std::atomic<bool>& stop) {
            auto reader = open(file, hash, stop);
            const int frames = reader.facts().frames;
            const auto at = [&](int n) {
                const QImage image =
                    to_image(reader.picture(std::clamp(n, 0, frames - 1), kWidth * 2, kHeight * 2));
                return image.scaled(kWidth, kHeight, Qt::KeepAspectRatio, Qt::SmoothTransformation);
            };
            QImage picture = at(frame);
            // A film that begins black is shown by what comes after.
            for (int part = 1; frame == 0 && part <= 3 && is_black(picture); ++part)
                picture = at(frames * part / 8);
            return picture;
        });
}

QImage Thumbs::film(const store::Clip& clip) {
    return find_or_make(
        QString::fromStdString(clip.hash).left(16) + "-film", clip,
        [](const std::string& file, const std::string& hash, const std::atomic<bool>& stop) {
            auto reader = open(file, hash, stop);
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

#include "moc_thumbs.cpp"
