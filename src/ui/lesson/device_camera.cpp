#include "ui/lesson/device_camera.hpp"

#include <QCameraDevice>
#include <QMediaDevices>
#include <QVideoFrame>

namespace aspen::ui {
namespace {

constexpr qint64 kEvery_ms = 40;  // 25 a second are enough to see a leg
constexpr int kCameraWidest = 960;

}  // namespace

std::unique_ptr<app::LiveCamera> DeviceCamera::first() {
    const auto devices = QMediaDevices::videoInputs();
    if (devices.isEmpty()) return nullptr;
    return std::make_unique<DeviceCamera>(devices.front());
}

DeviceCamera::DeviceCamera(const QCameraDevice& device) : name_(device.description()), camera_(device) {
    session_.setCamera(&camera_);
    session_.setVideoSink(&sink_);
    connect(&sink_, &QVideoSink::videoFrameChanged, this, [this](const QVideoFrame& frame) {
        const qint64 now = clock_.elapsed();
        if (now - last_ms_ < kEvery_ms) return;
        QImage shown = frame.toImage();
        if (shown.isNull()) return;
        if (shown.width() > kCameraWidest) shown = shown.scaledToWidth(kCameraWidest, Qt::FastTransformation);
        last_ms_ = now;
        emit picture(shown, now);
    });
    connect(&camera_, &QCamera::errorOccurred, this,
            [this](QCamera::Error, const QString& what) { emit trouble(tr("The camera: %1").arg(what)); });
}

void DeviceCamera::start() {
    clock_.start();
    last_ms_ = -1000;
    camera_.start();
}
void DeviceCamera::stop() { camera_.stop(); }

}  // namespace aspen::ui

#include "moc_device_camera.cpp"
