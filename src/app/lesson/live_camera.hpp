#pragma once

#include <QElapsedTimer>
#include <QImage>
#include <QObject>
#include <QTimer>
#include <memory>

#include "simulate/clip_maker.hpp"

namespace aspen::app {

/// A source of live pictures at the ring. Interface thread only.
class LiveCamera : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    virtual QString name() const = 0;
    virtual void start() = 0;
    virtual void stop() = 0;

  signals:
    /// `at_ms` rises; counted from any instant.
    void picture(const QImage& picture, qint64 at_ms);
    void trouble(const QString& line);
};

/// The stand-in that ships: the simulator's ride, painted as it goes.
class SimulatedCamera : public LiveCamera {
    Q_OBJECT
  public:
    explicit SimulatedCamera(QObject* parent = nullptr, int fps = 15);
    QString name() const override;
    void start() override;
    void stop() override;
    /// One picture now, as the timer takes it; tests say when.
    void take(qint64 at_ms);

  private:
    simulate::ClipPlan plan_;
    simulate::Simulation ride_;
    simulate::ArenaPainter arena_;
    QTimer timer_;
    QElapsedTimer clock_;
};

}  // namespace aspen::app
