#pragma once

#include <filesystem>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "media/reading/decoder.hpp"
#include "media/reading/frame_order.hpp"
#include "media/reading/jpeg.hpp"
#include "media/reading/picture_maker.hpp"

namespace aspen::media {

/// Small pictures of a clip, one for every frame, of long clips one for every second, third … so that they
/// stay within a budget. They are for looking, never for measuring. Any thread.
class Previews {
  public:
    static constexpr int kWidth = 640, kHeight = 360, kMost = 1800;
    using Jpeg = std::shared_ptr<const std::string>;
    struct Hit {
        int frame;
        Jpeg jpeg;
    };

    explicit Previews(int frames);
    /// Every so-manieth frame has one.
    int stride() const { return stride_; }
    bool wants(int frame) const { return frame % stride_ == 0; }
    void put(int frame, std::string jpeg);
    /// The nearest frame that has one, not farther off than the stride; nothing while it is not made yet.
    std::optional<Hit> near(int frame) const;
    int made() const;
    int total() const { return static_cast<int>(jpegs_.size()); }
    std::size_t bytes() const;

    /// Reads those kept in a file; false when it is none of this clip's.
    bool load(const std::filesystem::path& file);
    /// A folder that cannot be written is no error: they are made again next time.
    void save(const std::filesystem::path& file) const;

  private:
    int stride_;
    mutable std::mutex mutex_;
    std::vector<Jpeg> jpegs_;
    int made_ = 0;
    std::size_t bytes_ = 0;
};

/// Makes the previews by decoding the clip once straight through, a packet at a time. One thread.
class PreviewMaker {
  public:
    PreviewMaker(const ClipSource& source, const PacketStore& packets, const FrameOrder& order,
                 Previews& into);
    /// Decodes one packet; false when the clip's end is reached.
    bool advance();
    /// True when the decoder complained of damage on the way.
    bool heard_complaints() const { return complained_; }

  private:
    void take();
    const ClipSource& source_;
    const PacketStore& packets_;
    const FrameOrder& order_;
    Previews& into_;
    Decoder decoder_;
    PictureMaker maker_;
    JpegWriter writer_;
    int next_ = 0, counted_ = 0;
    bool complained_ = false;
};

}  // namespace aspen::media
