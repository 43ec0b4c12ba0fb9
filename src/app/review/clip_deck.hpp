#pragma once

#include <QObject>
#include <QSize>

#include "app/review/frame_service.hpp"
#include "core/motion/capture_map.hpp"

namespace aspen::app {

/// Frames and clock of one clip: where one is, which picture is there, how its time runs. Writes nothing and
/// knows no records; several may live at once. Interface thread only.
class ClipDeck : public QObject {
    Q_OBJECT
  public:
    explicit ClipDeck(QObject* parent = nullptr);

    struct Options {
        FrameService::Options frames;
        int start_frame = 0;
        core::Capture capture;  ///< as the coach said it
    };
    /// opened() comes when the frames are counted, failed() with one line when they cannot be.
    void open(const QString& file, const Options& options);
    void close();
    const QString& file() const { return file_; }
    /// True once the frames are known.
    bool ready() const { return facts_.frames > 0; }
    const media::ClipFacts& facts() const { return facts_; }

    int frame() const { return frame_; }
    /// Goes to a frame; `motion` says how the hand moves, which decides what is shown at once.
    void go_to(int frame, media::Motion motion = media::Motion::rest);
    void step(int by) { go_to(frame_ + by); }
    /// The hand has come to rest: the exact picture at full size.
    void rest();
    /// Pixels in which the picture is seen while the hand moves.
    void set_view(QSize pixels) { frames_.set_view(pixels); }

    /// The picture that is shown and the frame it belongs to; null until it has come.
    const QImage& picture() const { return picture_; }
    int picture_frame() const { return picture_frame_; }
    media::ShownPicture::Kind picture_kind() const { return picture_kind_; }
    /// True when the picture is the very frame that was asked for, no stand-in: only then joints are taken.
    bool picture_is_current() const {
        return picture_frame_ == frame_ && picture_kind_ == media::ShownPicture::Kind::exact &&
               !picture_.isNull();
    }
    /// True when it is there at full display size too.
    bool picture_is_full() const { return picture_is_current() && picture_full_; }
    /// Display size of the clip; of the first picture while the frames are still counted.
    QSize display_size() const { return ready() ? QSize(facts_.width, facts_.height) : picture_.size(); }
    /// A small picture near a frame for looking, null while none is made.
    QImage small_picture(int frame) const { return frames_.preview(frame); }
    bool damaged(int frame) const;

    /// How stream time becomes real time: what the coach said, else what the clip's tags say.
    void set_capture(const core::Capture& capture) { capture_ = capture; }
    core::CaptureMap capture_map() const;
    /// Stream and real time of the frame; of its second field half a frame later.
    double stream_s(int frame) const;
    double real_s(int frame) const { return capture_map().real_s(stream_s(frame)); }
    /// 0 or 1: which field of an interlaced frame is shown.
    int field() const { return field_; }
    void show_field(int field);

  signals:
    void opening(double share);
    void opened();
    void closing();
    void leaving();  ///< the frame, just before another one is gone to
    void frame_changed(int frame);
    void picture_changed();
    void previews_made(int made, int total);
    void damage_found();
    void failed(const QString& line);

  private:
    void take_picture(const FramePicture& picture);
    FrameService frames_;
    QString file_;
    media::ClipFacts facts_;
    core::Capture capture_;
    int start_frame_ = 0, frame_ = 0, picture_frame_ = -1, field_ = 0;
    QImage picture_;
    media::ShownPicture::Kind picture_kind_ = media::ShownPicture::Kind::exact;
    bool picture_full_ = false;
};

}  // namespace aspen::app
