#pragma once

#include <QCamera>
#include <QElapsedTimer>
#include <QMediaCaptureSession>
#include <QVideoSink>

#include "app/lesson/live_camera.hpp"

namespace aspen::ui {

/// A camera that is plugged in, through the desktop's own (V4L2 on Linux).
class DeviceCamera : public app::LiveCamera {
    Q_OBJECT
  public:
    /// Nothing where none is there.
    static std::unique_ptr<app::LiveCamera> first();
    explicit DeviceCamera(const QCameraDevice& device);
    QString name() const override { return name_; }
    void start() override;
    void stop() override;

  private:
    QString name_;
    QCamera camera_;
    QVideoSink sink_;
    QMediaCaptureSession session_;
    QElapsedTimer clock_;
    qint64 last_ms_ = -1000;
};

}  // namespace aspen::ui
