#pragma once

#include <QImage>
#include <QObject>
#include <QSize>
#include <QString>
#include <memory>
#include <vector>

#include "app/jobs/mail_box.hpp"
#include "media/reading/clip_engine.hpp"

namespace aspen::app {

/// A frame of the open clip on its way to a view.
struct FramePicture {
    QImage image;
    int frame = -1;   ///< whose picture this is
    int wanted = -1;  ///< which was asked for
    media::ShownPicture::Kind kind = media::ShownPicture::Kind::exact;
    bool full = false;  ///< full display size
};

/// The video engine for one window: its events become signals on the thread this object lives in; what
/// belonged to a clip that was closed meanwhile is dropped.
class FrameService : public QObject {
    Q_OBJECT
  public:
    explicit FrameService(QObject* parent = nullptr);
    ~FrameService() override;

    struct Options {
        QString cache_folder, content_hash;
        std::size_t cache_bytes = std::size_t{512} << 20;
    };
    void open(const QString& file, const Options& options);
    void close();
    void request(int frame, media::Motion motion = media::Motion::rest);
    void set_view(QSize pixels);
    void set_field(media::Field field);
    /// A small picture near this frame, null while none is made.
    QImage preview(int frame) const;

  signals:
    void opening(double share);                 ///< while the order of the frames is settled by decoding
    void first_picture(const QImage& picture);  ///< before the frames are counted
    void opened(const aspen::media::ClipFacts& facts);
    void picture_ready(const aspen::app::FramePicture& picture);
    void previews_made(int made, int total);
    void damage_found(const std::vector<int>& frames);
    void failed(const QString& line);

  protected:
    void customEvent(QEvent*) override { mail_.empty(); }

  private:
    template <typename Work>
    void tell(int generation, Work work);
    MailBox mail_{*this};  ///< before the engine, whose threads use it to their end
    std::unique_ptr<media::ClipEngine> engine_;
    int generation_ = 0;
    QSize view_;
    media::Field field_ = media::Field::first;
};

}  // namespace aspen::app
