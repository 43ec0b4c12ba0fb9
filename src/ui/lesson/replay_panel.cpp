#include "ui/lesson/replay_panel.hpp"

#include <QDir>
#include <QPainter>
#include <algorithm>

#include "app/files/private_folder.hpp"
#include "app/review/figure_maker.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/lesson/device_camera.hpp"
#include "ui/shared/figure_painter.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr double kKept_s = 30;
constexpr auto kFigureSetting = "live_figure";
constexpr double kFigureOpacity = 0.85;

}  // namespace

ReplayPanel::ReplayPanel(app::LessonDesk& desk, QWidget* parent)
    : QWidget(parent), desk_(desk), importer_(desk.yard()) {
    setMinimumSize(scaled_px(320), scaled_px(200));
    setAccessibleName(tr("The camera, some seconds late"));
    figure_shown_ = desk_.yard().records().settings.setting(kFigureSetting, "on") == "on";
    connect(&figure_, &app::LiveFigure::trouble, this, &ReplayPanel::say);
}

void ReplayPanel::open() {
    auto camera = DeviceCamera::first();
    open(camera ? std::move(camera) : std::make_unique<app::SimulatedCamera>());
}

void ReplayPanel::open(std::unique_ptr<app::LiveCamera> camera) {
    close_camera();
    network_there_ = app::FigureMaker::has_model();
    camera_ = std::move(camera);
    connect(camera_.get(), &app::LiveCamera::picture, this, &ReplayPanel::take);
    connect(camera_.get(), &app::LiveCamera::trouble, this, &ReplayPanel::say);
    camera_->start();
}

void ReplayPanel::take(const QImage& picture, qint64 at_ms) {
    replay_.push(picture, at_ms);
    if (figure_shown_ && network_there_) figure_.push(picture, at_ms);
    shown_ = replay_.delayed(delay_s_);
    update();
}

void ReplayPanel::show_figure(bool shown) {
    figure_shown_ = shown;
    desk_.yard().set(kFigureSetting, shown ? "on" : "off");
    figure_.clear();
    update();
    if (shown && !app::FigureMaker::has_model())
        emit say(tr("The body-pose network is not there: ./aspen setup fetches it."));
}

std::optional<core::Figure> ReplayPanel::figure_now() const {
    const auto at_ms = figure_shown_ && figure_.keeps_up() ? replay_.delayed_at(delay_s_) : std::nullopt;
    return at_ms ? figure_.at(*at_ms) : std::nullopt;
}

void ReplayPanel::close_camera() {
    if (camera_) camera_->stop();
    camera_.reset();
    figure_.clear();
    replay_.clear();
    shown_ = {};
    update();
}

void ReplayPanel::change_delay(int by_s) {
    delay_s_ = std::clamp(delay_s_ + by_s, app::Replay::kLeastDelay_s, app::Replay::kMostDelay_s);
    shown_ = replay_.delayed(delay_s_);
    update();
}

void ReplayPanel::keep(int rider) {
    if (rider < 0 || rider >= static_cast<int>(desk_.riders().size())) return;
    if (keeping()) return emit say(tr("The last one is still being written."));
    const store::RideId ride = desk_.riders()[static_cast<std::size_t>(rider)].ride.id;
    auto pictures = replay_.last(kKept_s);
    const double span =
        pictures.size() < 2 ? 0 : static_cast<double>(pictures.back().at_ms - pictures.front().at_ms) / 1000;
    const QString begun = QDateTime::fromString(desk_.now(), Qt::ISODate)
                              .addSecs(-static_cast<qint64>(span))
                              .toString(Qt::ISODate);
    app::Yard& yard = desk_.yard();
    app::make_private_folder(yard.folder().filePath("clips"));
    const QString file = yard.folder().filePath("clips/ring-" + QString(begun).remove(':') + ".mp4");
    job_ = yard.jobs().run(
        app::JobLane::write, tr("Keeping the last half minute"), this,
        [pictures = std::move(pictures), file](app::Job& job) {
            return app::write_replay(pictures, file.toStdString(), job) ? app::look_at(file, &job.stopped())
                                                                        : app::IncomingClip{};
        },
        [this, file, ride, begun](const app::Outcome<app::IncomingClip>& written) {
            if (!written.value) return emit say(written.trouble);
            if (!written.value->trouble.isEmpty()) return emit say(written.value->trouble);
            app::IncomingClip incoming = *written.value;
            // When it was taken is known here better than from the file.
            incoming.recorded_at = begun;
            incoming.told_by = store::ToldBy::coach;
            bool known = false;
            const store::ClipId clip = importer_.record(incoming, known);
            const auto places = desk_.yard().records().rides.places(clip);
            if (!places.empty() && places.front().ride != ride) {
                app::join_rides(desk_.yard(), places.front().ride, ride);
            }
            emit say(tr("Kept: the last half minute is a clip of this ride."));
        });
}

void ReplayPanel::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().picture_ground);
    p.setPen(kSoft);
    p.setFont(text_font(14));
    if (!camera_) {
        p.drawText(rect(), Qt::AlignCenter, tr("No camera is on."));
        return;
    }
    if (shown_.isNull())
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("The first pictures come in %1 s.")
                       .arg(std::max(0.0, delay_s_ - replay_.seconds()), 0, 'f', 0));
    else
        paint_picture(p);
    p.setPen(kBone);
    p.setFont(text_font(14));
    p.drawText(rect().adjusted(8, 4, -8, -6), Qt::AlignLeft | Qt::AlignBottom, words());
}

void ReplayPanel::paint_picture(QPainter& p) {
    const QSize size = shown_.size().scaled(this->size(), Qt::KeepAspectRatio);
    const QRect there(QPoint((width() - size.width()) / 2, 0), size);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.drawImage(there, shown_);
    const auto figure = figure_now();
    if (!figure) return;
    const double scale = static_cast<double>(there.width()) / shown_.width();
    p.setRenderHint(QPainter::Antialiasing);
    p.setOpacity(kFigureOpacity);
    paint_moving_figure(p, *figure, [&](core::Point at) {
        return QPointF(there.x() + at.x * scale, there.y() + at.y * scale);
    });
    p.setOpacity(1);
}

QString ReplayPanel::words() const {
    const QString late = tr("%1, %2 s late").arg(camera_->name()).arg(delay_s_);
    if (!figure_shown_ || figure_.keeps_up()) return late;
    return late + tr("; the figure waits: this machine reads %1 pictures a second")
                      .arg(figure_.per_second(), 0, 'f', 1);
}

}  // namespace aspen::ui

#include "moc_replay_panel.cpp"
