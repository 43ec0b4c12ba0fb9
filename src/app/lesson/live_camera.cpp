#include "app/lesson/live_camera.hpp"

#include <cmath>

namespace aspen::app {
namespace {

simulate::ClipPlan plan_of(int fps) {
    simulate::ClipPlan plan;
    plan.camera.width = 640;
    plan.camera.height = 360;
    plan.camera.fps = fps;
    plan.camera.shake = 0.004;
    plan.ride.seed = 7;
    return plan;
}

}  // namespace

SimulatedCamera::SimulatedCamera(QObject* parent, int fps)
    : LiveCamera(parent), plan_(plan_of(fps)), ride_(plan_.ride), arena_(plan_.camera, plan_.ride.seed) {
    timer_.setInterval(1000 / fps);
    connect(&timer_, &QTimer::timeout, this, [this] { take(clock_.elapsed()); });
}

QString SimulatedCamera::name() const { return tr("simulated camera"); }
void SimulatedCamera::start() {
    clock_.start();
    timer_.start();
}
void SimulatedCamera::stop() { timer_.stop(); }

void SimulatedCamera::take(qint64 at_ms) {
    // The ride begins anew every minute, so that the ground never ends.
    const double t = std::fmod(static_cast<double>(at_ms) / 1000, 60.0);
    emit picture(simulate::paint_frame(plan_, arena_, simulate::projection_at(plan_, ride_, t), ride_.at(t)),
                 at_ms);
}

}  // namespace aspen::app

#include "moc_live_camera.cpp"
