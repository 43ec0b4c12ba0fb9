#include "app/review/frame_service.hpp"

#include "app/review/pictures.hpp"

namespace aspen::app {

FrameService::FrameService(QObject* parent) : QObject(parent) {}
FrameService::~FrameService() { close(); }

/// Runs a piece of work on this object's thread, unless another clip was opened meanwhile. Called on the
/// engine's threads, which end before this object does.
template <typename Work>
void FrameService::tell(int generation, Work work) {
    mail_.post([this, generation, work = std::move(work)] {
        if (generation == generation_) work();
    });
}

void FrameService::open(const QString& file, const Options& options) {
    close();
    const int g = generation_;
    media::ClipEngine::Events e;
    e.opening = [this, g, last = -1.0](double share) mutable {
        if (share - last < 0.02) return;
        last = share;
        tell(g, [this, share] { emit opening(share); });
    };
    e.first = [this, g](const media::Picture& p) {
        tell(g, [this, image = to_image(p)] { emit first_picture(image); });
    };
    e.opened = [this, g](const media::ClipFacts& f) { tell(g, [this, f] { emit opened(f); }); };
    e.picture = [this, g](media::ShownPicture p) {
        const FramePicture shown{to_image(std::move(p.picture)), p.frame, p.wanted, p.kind, p.full};
        tell(g, [this, shown] { emit picture_ready(shown); });
    };
    e.previews = [this, g](int made, int total) {
        tell(g, [this, made, total] { emit previews_made(made, total); });
    };
    e.damage = [this, g](const std::vector<int>& frames) {
        tell(g, [this, frames] { emit damage_found(frames); });
    };
    e.failed = [this, g](const std::string& line) {
        tell(g, [this, text = QString::fromStdString(line)] { emit failed(text); });
    };
    engine_ = std::make_unique<media::ClipEngine>(
        file.toStdString(),
        media::ClipEngine::Options{options.cache_bytes, options.cache_folder.toStdString(),
                                   options.content_hash.toStdString(), true},
        std::move(e));
    engine_->set_view(view_.width(), view_.height());
    engine_->set_field(field_);
}

void FrameService::close() {
    ++generation_;
    engine_.reset();
    field_ = media::Field::first;
}

void FrameService::request(int frame, media::Motion motion) {
    if (engine_) engine_->request(frame, motion);
}

void FrameService::set_view(QSize pixels) {
    view_ = pixels;
    if (engine_) engine_->set_view(pixels.width(), pixels.height());
}

void FrameService::set_field(media::Field field) {
    field_ = field;
    if (engine_) engine_->set_field(field);
}

QImage FrameService::preview(int frame) const {
    const auto hit = engine_ ? engine_->preview(frame) : std::nullopt;
    return hit ? to_image(media::read_jpeg(*hit->jpeg)) : QImage();
}

}  // namespace aspen::app

#include "moc_frame_service.cpp"
