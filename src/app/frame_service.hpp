#pragma once

#include <QImage>
#include <QObject>
#include <QString>
#include <memory>

#include "media/video_reader.hpp"

namespace aspen::app {

/// Gives a window exact frames of one clip without ever making it wait. One worker thread owns the reader; requests
/// come from the object's own thread, answers are signals there. Of several waiting requests only the newest is
/// answered; opening another clip drops everything that belonged to the one before.
class FrameService : public QObject {
    Q_OBJECT
  public:
    explicit FrameService(QObject* parent = nullptr);
    ~FrameService() override;

    void open(const QString& file);
    void close();
    void request(int frame);

  signals:
    void opening(double share);  ///< while the order of the frames is settled by decoding
    void opened(const aspen::media::ClipFacts& facts);
    void frame_ready(int frame, const QImage& picture);  ///< full display size
    void failed(const QString& line);

  private:
    class Worker;
    std::unique_ptr<Worker> worker_;
};

}  // namespace aspen::app
